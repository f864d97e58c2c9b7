"""Which layers recorded strikes reach through the curves."""

from collections.abc import Iterable

from drumcore.kit import values
from drumcore.kit.lookup import articulation_of, input_of
from drumcore.kit.values import STRAIGHT, Articulation, Curve, Kit, Velocity
from drumcore.touch.curves import curve_table
from drumcore.value import Value


class StrikeCount(Value):
    """The number of strikes of an articulation with one incoming velocity."""

    input: str
    articulation: str
    velocity: Velocity
    times: int


class Reach(Value):
    """Where strikes of a piece landed. Counts by velocity, 128 each: `came_in` as received, `entering` after the
    input's curve; `ignored` did not play. `layers` counts, for the `of_shown` strikes of one articulation, those in
    each layer.
    """

    total: int
    of_shown: int
    ignored: int
    came_in: tuple[int, ...]
    entering: tuple[int, ...]
    layers: tuple[int, ...]
    hardest_in: int
    hardest_plays: int


def entering_curve(kit: Kit, input_id: str) -> Curve:
    """The curve of an input: its own, else that of all inputs."""
    known = input_of(kit, input_id)
    return known.curve if known and known.curve else kit.curve


def own_curve(piece: values.Piece, articulation: Articulation) -> Curve:
    """The articulation's curve, else the piece's, else a straight line."""
    return articulation.curve or piece.curve or STRAIGHT


def played_velocity(kit: Kit, input_id: str, piece: values.Piece, articulation: Articulation, velocity: int) -> int:
    """The velocity that plays, 0 for an ignored strike: the input's curve, rounded, then the piece's or articulation's."""
    entering = curve_table(entering_curve(kit, input_id))[velocity]
    return curve_table(own_curve(piece, articulation))[entering] if entering else 0


def reach(kit: Kit, strikes: Iterable[StrikeCount], shown: Articulation) -> Reach:
    """Where strikes land; layers are counted for the articulation `shown`."""
    came_in, entering, layers = [0] * 128, [0] * 128, [0] * len(shown.layers)
    total = of_shown = ignored = hardest_in = hardest_plays = 0
    for struck in strikes:
        piece, articulation = articulation_of(kit, struck.articulation)
        plays = played_velocity(kit, struck.input, piece, articulation, struck.velocity)
        total += struck.times
        came_in[struck.velocity] += struck.times
        entering[curve_table(entering_curve(kit, struck.input))[struck.velocity]] += struck.times
        if not plays:
            ignored += struck.times
        of_shown += struck.times if struck.articulation == shown.id else 0
        for number, layer in enumerate(shown.layers):
            if struck.articulation == shown.id and layer.low <= plays <= layer.high:
                layers[number] += struck.times
        if struck.velocity > hardest_in:
            hardest_in, hardest_plays = struck.velocity, plays
    return Reach(
        total=total,
        of_shown=of_shown,
        ignored=ignored,
        came_in=tuple(came_in),
        entering=tuple(entering),
        layers=tuple(layers),
        hardest_in=hardest_in,
        hardest_plays=hardest_plays,
    )
