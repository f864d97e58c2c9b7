"""Whether groups of files sound unlike: in brightness or in how long they sound."""

from collections.abc import Callable, Hashable, Mapping, Sequence
from math import log
from statistics import median, pstdev

from drumcore.recordings.files import Measured
from drumcore.recordings.measurement import Measurements

UNLIKE = {"centroid_hz": 1.25, "length_ms": 1.4}
UNLIKE_AND_LOUDER = {"centroid_hz": 1.3, "length_ms": 1.7}
"""How many times brighter or longer one group sounds than another, at least; more is asked of groups that differ in level
too, because a harder strike is brighter and longer.
"""
STEADY = 2.5
"""How many standard deviations of the differences (in logarithms) their middle is from none, at least."""
LEAST_SPREAD = 0.02
AS_LOUD_DB = 3.0


def sound_unlike(groups: Sequence[Mapping[Hashable, Measured]]) -> bool:
    """Whether brightness or decay differs more between groups than within them. Every group has its files by their
    place (microphone, velocity layer, round robin); files at the same place are compared.
    """
    others = groups[1:]
    louder = [_differences(groups[0], group, lambda m: m.level_db) for group in others]
    if not others or not all(louder):
        return False
    as_loud = all(abs(median(found)) <= AS_LOUD_DB for found in louder)
    for measure, enough in (UNLIKE if as_loud else UNLIKE_AND_LOUDER).items():
        logs = [_differences(groups[0], group, _logarithm_of(measure)) for group in others]
        if all(abs(median(found)) >= max(log(enough), STEADY * _spread(found)) for found in logs):
            return True
    return False


def _logarithm_of(measure: str) -> Callable[[Measurements], float]:
    return lambda measured: log(max(float(getattr(measured, measure)), 1.0))


def _differences(
    base: Mapping[Hashable, Measured], group: Mapping[Hashable, Measured], of: Callable[[Measurements], float]
) -> list[float]:
    """How much more a measure is in a group than at the same places of another."""
    return [of(file.measurements) - of(base[place].measurements) for place, file in group.items() if place in base]


def _spread(found: Sequence[float]) -> float:
    return max(LEAST_SPREAD, pstdev(found))
