"""Where one layer ends and the next begins."""

import itertools
import math
from collections.abc import Sequence
from statistics import median

MIN_WIDTH = 4
Range = tuple[int, int]


def even_split(count: int) -> list[Range]:
    """127 velocities divided among `count` layers as equally as possible, softest first."""
    edges = [math.floor(i * 127 / count + 0.5) for i in range(count + 1)]
    return [(low + 1, high) for low, high in itertools.pairwise(edges)]


def split_by_loudness(levels_db: Sequence[float]) -> list[Range]:
    """Velocity ranges from layer levels in dB, softest first.

    A layer's centre is the velocity at which its level is expected (`velocity_of_level`); boundaries lie midway between
    neighbouring centres. Every layer keeps at least 4 velocities (fewer only with more than 31 layers); the first
    begins at 1, the last ends at 127.
    """
    count = len(levels_db)
    if count == 0:
        return []
    width = min(MIN_WIDTH, 127 // count)
    loudest = max(levels_db)
    centres = [velocity_of_level(level, loudest) for level in levels_db]
    edges = [0] + [math.floor((a + b) / 2.0 + 0.5) for a, b in itertools.pairwise(centres)] + [127]
    for i in range(1, count):
        edges[i] = max(edges[i], edges[i - 1] + width)
    for i in range(count - 1, 0, -1):
        edges[i] = min(edges[i], edges[i + 1] - width)
    return [(low + 1, high) for low, high in itertools.pairwise(edges)]


def velocity_of_level(level_db: float, loudest_db: float) -> float:
    """The velocity at which a level below the loudest is expected: 127 · 10^((L − Lmax) / 40). Source: the inverse of
    velocity to attenuation in General MIDI 2 / DLS Level 2.
    """
    return float(127.0 * 10.0 ** ((level_db - loudest_db) / 40.0))


def layer_level_db(take_levels_db: Sequence[float]) -> float:
    """A layer's level: the median of its takes."""
    return float(median(take_levels_db))


def spread_db(take_levels_db: Sequence[float]) -> float:
    """Loudest take minus quietest take of one layer."""
    return max(take_levels_db) - min(take_levels_db) if take_levels_db else 0.0
