"""Fits a velocity curve to somebody's soft, medium and hard strikes."""

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
    """Velocities received while somebody played softly, medium and hard."""

    soft: tuple[Velocity, ...]
    medium: tuple[Velocity, ...]
    hard: tuple[Velocity, ...]


class Fit(Value):
    """A fitted curve, and for each group the velocities its strikes play; `reached` counts strikes by layer."""

    curve: Curve
    soft: tuple[int, ...]
    medium: tuple[int, ...]
    hard: tuple[int, ...]
    reached: tuple[int, ...]
    note: str = ""


def entering(kit: Kit, input_id: str, strikes: Strikes) -> Strikes:
    """The strikes as they reach a piece's or articulation's curve: after the input's curve. An ignored strike counts as
    the softest.
    """
    table = curve_table(entering_curve(kit, input_id))
    soft, medium, hard = (
        tuple(max(1, table[v]) for v in group) for group in (strikes.soft, strikes.medium, strikes.hard)
    )
    return Strikes(soft=soft, medium=medium, hard=hard)


def fit(strikes: Strikes, layers: Sequence[Layer], lowest_centre: float | None) -> Fit:
    """A curve that puts soft strikes in the lower third of the layers, medium ones in the middle third, hard ones in
    the upper third.

    Each group gets its third of the layers (or of the velocities, with fewer than three layers) as a range of output
    velocities. Its sorted strikes are spread over that range at (k + 1/2) / n. Isotonic regression (pool adjacent
    violators; Barlow and others, Statistical Inference under Order Restrictions, 1972) then makes the pairs of velocity
    in and out monotonic with the least squared error, so overlapping groups share. Nodes are placed at quantiles of
    each group. The softest strike plays `lowest_centre`, the velocity at which the lowest layer plays at its recorded
    level (`layers.dynamics`; None where nothing plays), at most 16; the hardest plays 127. Softer strikes still play,
    down to velocity 1; none is ignored. If the curve would jump past a layer, a straight line from softest to hardest
    strike is used instead: over at least 32 velocities it rises by at most 4 per step, and no layer made here is
    narrower. Raises Refusal if there are too few strikes or all are alike.
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
    """Each group's range of output velocities: a third of the layers, or of the velocities, from `bottom` up."""
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
    """Isotonic regression by pooling adjacent violators: (velocity in, velocity out), rising in both."""
    blocks: list[tuple[float, float, int]] = []  # mean in, mean out, weight
    for x, y in sorted(pairs):
        blocks.append((float(x), y, 1))
        while len(blocks) > 1 and (blocks[-2][1] >= blocks[-1][1] or blocks[-2][0] >= blocks[-1][0]):
            (x1, y1, n1), (x2, y2, n2) = blocks[-2:]
            total = n1 + n2
            blocks[-2:] = [((x1 * n1 + x2 * n2) / total, (y1 * n1 + y2 * n2) / total, total)]
    return [(x, y) for x, y, _ in blocks]


def _read(rising: list[tuple[float, float]], x: int) -> int:
    """The rising line at x: straight between its points, constant beyond them."""
    before = [point for point in rising if point[0] <= x]
    after = [point for point in rising if point[0] > x]
    if not before or not after:
        return round((before[-1] if before else after[0])[1])
    (x0, y0), (x1, y1) = before[-1], after[0]
    return round(y0 + (y1 - y0) * (x - x0) / (x1 - x0))


def _quantile(ordered: Sequence[int], share: float) -> int:
    return ordered[round((len(ordered) - 1) * share)]


def _through(nodes: list[Node]) -> Curve:
    """A curve through nodes with rising x, with y made to rise as well. It ignores no strike: that is up to the minimum
    velocity and pad settings.
    """
    made, highest = [Node(x=0, y=0)], 1
    if nodes[0].x > 1:
        made.append(Node(x=1, y=1))  # strikes softer than any played are no louder, and still play
    for node in nodes:
        highest = max(highest, min(127, max(1, node.y)))
        if 0 < node.x < 127:
            made.append(Node(x=node.x, y=highest))
    return Curve(nodes=(*made, Node(x=127, y=127)))


def _missed(curve: Curve, layers: Sequence[Layer], softest: int, hardest: int) -> bool:
    played = {curve_table(curve)[v] for v in range(softest, hardest + 1)}
    return any(not any(layer.low <= v <= layer.high for v in played) for layer in layers)
