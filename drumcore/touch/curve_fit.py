"""A curve fitted to somebody's soft, medium and hard strikes."""

from collections.abc import Sequence

from drumcore.kit.values import Curve, Kit, Layer, Node, Velocity
from drumcore.refusals import Refusal
from drumcore.touch.curves import curve_table
from drumcore.touch.layer_reach import entering_curve
from drumcore.value import Value

FEWEST = 3
NARROWEST = 32
"""Strikes that all come in closer together than this cannot be spread over layers without every one being a jump."""
KNOTS = (0.0, 0.5, 1.0)
SOFTEST_PLAYS = 16
"""36 dB under the hardest by the tracking of level (40 · log10(16 / 127)): as soft as a strike that was meant should be."""


class Strikes(Value):
    """Velocities that came in while somebody played softly, in between, and hard."""

    soft: tuple[Velocity, ...]
    medium: tuple[Velocity, ...]
    hard: tuple[Velocity, ...]


class Fit(Value):
    """A fitted curve, and for each group the velocities its strikes play; `reached` counts the strikes of each layer."""

    curve: Curve
    soft: tuple[int, ...]
    medium: tuple[int, ...]
    hard: tuple[int, ...]
    reached: tuple[int, ...]
    note: str = ""


def entering(kit: Kit, input_id: str, strikes: Strikes) -> Strikes:
    """The strikes as they come to the curve of a piece or an articulation: past the curve of what comes in.

    One that is ignored there counts as the softest.
    """
    table = curve_table(entering_curve(kit, input_id))
    soft, medium, hard = (
        tuple(max(1, table[v]) for v in group) for group in (strikes.soft, strikes.medium, strikes.hard)
    )
    return Strikes(soft=soft, medium=medium, hard=hard)


def fit(strikes: Strikes, layers: Sequence[Layer], lowest_centre: float | None) -> Fit:
    """The curve that lands soft strikes in the lower third of the layers, medium ones in the middle, hard ones on top.

    How: each group is given its third of the layers (of the velocities where there are fewer than three) as a range of
    velocities to play. Its strikes, sorted, are spread over that range at (k + 1/2) / n, so that a group uses all of
    its range. The pairs of velocity in and velocity wanted are then made to rise by isotonic regression (pool adjacent
    violators; Barlow and others, Statistical Inference under Order Restrictions, 1972), which is the closest rising
    line to them in least squares: where groups overlap, they share. Nodes stand at quantiles of each group; the softest
    strike plays `lowest_centre`, the velocity at which the lowest layer plays as it was recorded (`layers.dynamics`;
    None where nothing plays), and no more than 16; the hardest plays 127.
    Softer ones still play, down to velocity 1: none is ignored. Since nodes rise and segments are straight, the curve
    never falls. Where it would jump past a layer, a straight line from the softest strike to the hardest is
    taken: with at least 32 velocities between them it rises by no more than 4 at a step, and no layer made here is
    narrower. Raises Refusal where strikes are too few or all alike.
    """
    groups = [("soft", strikes.soft), ("medium", strikes.medium), ("hard", strikes.hard)]
    for name, group in groups:
        if len(group) < FEWEST:
            raise Refusal(f"{len(group)} {name} strikes are too few; play at least {FEWEST} of each strength.")
    everything = [v for _, group in groups for v in group]
    softest, hardest = min(everything), max(everything)
    if hardest - softest < NARROWEST:
        raise Refusal(
            f"Your strikes all came in from {softest} to {hardest}; play the soft ones softer and the hard ones harder."
        )
    bottom = SOFTEST_PLAYS if lowest_centre is None else max(1, min(SOFTEST_PLAYS, round(lowest_centre)))
    bottom = min(bottom, layers[0].high) if layers else bottom
    thirds = _thirds(layers, bottom)
    pairs = [pair for (_, group), third in zip(groups, thirds, strict=True) for pair in _spread(group, third)]
    rising = _rising(pairs)
    at = sorted({_quantile(sorted(group), q) for _, group in groups for q in KNOTS} - {softest, hardest})
    inner = [Node(x=x, y=_read(rising, x)) for x in at]
    curve = _through([Node(x=softest, y=bottom), *inner, Node(x=hardest, y=127)])
    note = ""
    if _missed(curve, layers, softest, hardest):
        curve = _through([Node(x=softest, y=bottom), Node(x=hardest, y=127)])
        note = "A straight line: a bent curve would skip a layer."
    table = curve_table(curve)
    landed = [tuple(table[v] for v in group) for _, group in groups]
    reached = tuple(sum(layer.low <= v <= layer.high for group in landed for v in group) for layer in layers)
    return Fit(curve=curve, soft=landed[0], medium=landed[1], hard=landed[2], reached=reached, note=note)


def _thirds(layers: Sequence[Layer], bottom: int) -> list[tuple[float, float]]:
    """Each strength's range of velocities to play: a third of the layers, or of the velocities, from `bottom` on."""
    if len(layers) < 3:
        return [(float(bottom), 42.0), (43.0, 85.0), (86.0, 127.0)]
    count = len(layers)
    first, second = round(count / 3), round(2 * count / 3)
    return [
        (float(bottom), float(layers[first - 1].high)),
        (float(layers[first].low), float(layers[second - 1].high)),
        (float(layers[second].low), float(layers[-1].high)),
    ]


def _spread(group: Sequence[int], third: tuple[float, float]) -> list[tuple[int, float]]:
    low, high = third
    return [(v, low + (high - low) * (k + 0.5) / len(group)) for k, v in enumerate(sorted(group))]


def _rising(pairs: list[tuple[int, float]]) -> list[tuple[float, float]]:
    """Isotonic regression by pooling adjacent violators: (velocity in, velocity wanted), rising in both."""
    blocks: list[tuple[float, float, int]] = []  # mean in, mean wanted, weight
    for x, y in sorted(pairs):
        blocks.append((float(x), y, 1))
        while len(blocks) > 1 and (blocks[-2][1] >= blocks[-1][1] or blocks[-2][0] >= blocks[-1][0]):
            (x1, y1, n1), (x2, y2, n2) = blocks[-2:]
            total = n1 + n2
            blocks[-2:] = [((x1 * n1 + x2 * n2) / total, (y1 * n1 + y2 * n2) / total, total)]
    return [(x, y) for x, y, _ in blocks]


def _read(rising: list[tuple[float, float]], x: int) -> int:
    """The rising line at x: straight between its points, level beyond them."""
    before = [point for point in rising if point[0] <= x]
    after = [point for point in rising if point[0] > x]
    if not before or not after:
        return round((before[-1] if before else after[0])[1])
    (x0, y0), (x1, y1) = before[-1], after[0]
    return round(y0 + (y1 - y0) * (x - x0) / (x1 - x0))


def _quantile(ordered: Sequence[int], share: float) -> int:
    return ordered[round((len(ordered) - 1) * share)]


def _through(nodes: list[Node]) -> Curve:
    """A curve through nodes that rise in x, made to rise in y as well. It ignores nothing: that is for the pads' rules."""
    made, highest = [Node(x=0, y=0)], 1
    if nodes[0].x > 1:
        made.append(Node(x=1, y=1))  # what is softer than anything that was played is no louder, and still plays
    for node in nodes:
        highest = max(highest, min(127, max(1, node.y)))
        if 0 < node.x < 127:
            made.append(Node(x=node.x, y=highest))
    return Curve(nodes=(*made, Node(x=127, y=127)))


def _missed(curve: Curve, layers: Sequence[Layer], softest: int, hardest: int) -> bool:
    played = {curve_table(curve)[v] for v in range(softest, hardest + 1)}
    return any(not any(layer.low <= v <= layer.high for v in played) for layer in layers)
