"""Irregularities in layers: gaps, overlaps, narrow layers, and takes far from their layer's level."""

from collections.abc import Callable, Iterator, Sequence

from drumcore.kit.values import Articulation, Layer, Take
from drumcore.layers.from_takes import enabled_takes, played_level_db
from drumcore.layers.splits import MIN_WIDTH, spread_db
from drumcore.value import Value

MOST_SPREAD_DB = 3.0
STANDS_OUT_DB = 3.0


class Stretch(Value):
    """Velocities `low`..`high`, both included."""

    low: int
    high: int


def unanswered(layers: Sequence[Layer]) -> tuple[Stretch, ...]:
    """Velocities that no layer covers."""
    return tuple(_stretches(layers, lambda playing: playing == 0))


def doubled(layers: Sequence[Layer]) -> tuple[Stretch, ...]:
    """Velocities that more than one layer covers, blends not counted."""
    return tuple(_stretches(layers, lambda playing: playing > 1))


def _stretches(layers: Sequence[Layer], wanted: Callable[[int], bool]) -> Iterator[Stretch]:
    begun = None
    for velocity in range(1, 129):
        playing = sum(layer.low <= velocity <= layer.high for layer in layers) if velocity < 128 else -1
        if velocity < 128 and wanted(playing):
            begun = velocity if begun is None else begun
        elif begun is not None:
            yield Stretch(low=begun, high=velocity - 1)
            begun = None


def is_narrow(layer: Layer) -> bool:
    return layer.high - layer.low + 1 < MIN_WIDTH


def meets_neighbours(layers: Sequence[Layer], number: int) -> tuple[bool, bool]:
    """Whether a layer leaves a gap to a neighbour, and whether it overlaps one."""
    here = layers[number]
    below = layers[number - 1] if number > 0 else None
    above = layers[number + 1] if number + 1 < len(layers) else None
    apart = bool((below and here.low > below.high + 1) or (above and above.low > here.high + 1))
    twice = bool((below and here.low <= below.high) or (above and above.low <= here.high))
    return apart, twice


def layer_spread_db(articulation: Articulation, layer: Layer) -> float:
    """The level spread of a layer's enabled takes; above `MOST_SPREAD_DB` a roll would be uneven."""
    return spread_db([played_level_db(t) for t in enabled_takes(articulation, layer)])


def away_db(take: Take, layer_level_db: float) -> float:
    """How far a take is from its layer's level, in dB, without the layer's own gain."""
    return played_level_db(take) - layer_level_db
