"""How loud an articulation plays at each velocity: the target its layers follow, and where it falls."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from drumcore.kit.memoization import remembered
from drumcore.kit.values import Articulation, Piece, Tracking
from drumcore.layers.from_takes import sounding_levels_db
from drumcore.layers.ranges import BlendedRange, blended
from drumcore.layers.splits import velocity_of_level
from drumcore.touch.tracking import level_gain_db

MOST_LIFT_DB = 6.0
"""A layer is played no louder than this over its recordings: a soft strike is not blown up to a hard one."""
FLAT_DB, FLAT_FROM = 12.0, 32
"""A target that rises less than this from velocity 32 to 127 says nothing of strength: its recordings are equally loud."""
NO_FALL_DB = 0.05
"""Less than this is rounding."""
VELOCITIES = range(1, 128)


@dataclass(frozen=True)
class Target:
    """The level an articulation aims at by velocity: points (velocity, dB), joined by straight lines over log velocity."""

    points: tuple[tuple[float, float], ...]

    @property
    def lowest_centre(self) -> float:
        """The velocity at which the softest layer plays at its recorded level."""
        return self.points[0][0]

    def level_db(self, velocity: float) -> float:
        first, lowest = self.points[0]
        if velocity <= first:
            return lowest + level_gain_db(velocity, first)
        for (a, from_db), (b, to_db) in pairwise(self.points):
            if velocity <= b:
                return from_db + (to_db - from_db) * math.log(velocity / a) / math.log(b / a)
        return self.points[-1][1]

    def rise_db(self) -> float:
        return self.level_db(127) - self.level_db(FLAT_FROM)

    def is_flat(self) -> bool:
        return self.rise_db() < FLAT_DB


def target_of(articulation: Articulation) -> Target | None:
    """The target of an articulation; None if no layer has an enabled take.

    Each layer gives a point (c, L). L is the median level of its enabled takes with their own gains. c is the velocity
    at which 40 dB per decade gives that level below the loudest (`splits.velocity_of_level`), clamped to the layer's
    range; for the last layer by `low`, then `high`, it is 127. Of points with equal c the louder stays. The target is
    the running maximum of L; below the lowest point it falls on by 40 · log10(v / c). Source: the design's rules
    ("Tracking, level, inside layers").
    """
    levels = sounding_levels_db(articulation)
    sounding = [(layer, level) for layer, level in zip(articulation.layers, levels, strict=True) if level is not None]
    if not sounding:
        return None
    sounding.sort(key=lambda each: (each[0].low, each[0].high))
    loudest = max(level for _, level in sounding)
    by_centre: dict[float, float] = {}
    for layer, level in sounding:
        last = layer is sounding[-1][0]
        c = 127.0 if last else min(max(velocity_of_level(level, loudest), float(layer.low)), float(layer.high))
        by_centre[c] = max(level, by_centre.get(c, level))
    points: list[tuple[float, float]] = []
    for c, level in sorted(by_centre.items()):
        points.append((c, max(level, points[-1][1]) if points else level))
    return Target(tuple(points))


def following_strength(piece: Piece) -> Piece:
    """The piece, with each articulation whose target is almost flat set to follow velocity over the whole range."""
    return piece.but(articulations=tuple(articulation_following_strength(a) for a in piece.articulations))


def articulation_following_strength(articulation: Articulation) -> Articulation:
    target = target_of(articulation)
    return articulation.but(whole=True) if target is not None and target.is_flat() else articulation


@dataclass(frozen=True)
class Playing:
    """How a layer plays over the velocities it covers, blends included: gains in dB over its recordings, and its share
    of the power at each (0 to 1).
    """

    low: int
    high: int
    gains_db: tuple[float, ...]
    powers: tuple[float, ...]


@remembered(limit=2000)
def playing_of(articulation: Articulation, tracking: Tracking) -> tuple[Playing, ...]:
    """How every layer of an articulation plays, by velocity.

    Inside layers the gain at v is p · (T(v) − L), with p at most 1 and T(v) at most 6 dB over L; over the whole range
    it is 40 · p · log10(v / 127). The layer's own gain is added. Where several layers sound at one velocity, blending
    or overlapping, their powers sum to one. Source: the design's rules ("Tracking").
    """
    ranges, levels, target = blended(articulation.layers), sounding_levels_db(articulation), target_of(articulation)
    whole: dict[int, float] = dict.fromkeys(VELOCITIES, 0.0)
    for blended_range, level in zip(ranges, levels, strict=True):
        if level is not None:
            for v, part in zip(range(blended_range.low, blended_range.high + 1), blended_range.gains, strict=True):
                whole[v] += part * part

    def gain_db(v: int, level: float | None) -> float:
        if tracking.whole:
            return level_gain_db(v, 127.0, tracking.level)
        if level is None or target is None:
            return 0.0
        return min(1.0, tracking.level) * (min(target.level_db(v), level + MOST_LIFT_DB) - level)

    return tuple(
        Playing(
            low=blended_range.low,
            high=blended_range.high,
            gains_db=tuple(gain_db(v, level) + layer.gain_db for v in range(blended_range.low, blended_range.high + 1)),
            powers=_shares(blended_range, whole) if level is not None else (0.0,) * len(blended_range.gains),
        )
        for layer, blended_range, level in zip(articulation.layers, ranges, levels, strict=True)
    )


def _shares(blended_range: BlendedRange, whole: dict[int, float]) -> tuple[float, ...]:
    parts = zip(range(blended_range.low, blended_range.high + 1), blended_range.gains, strict=True)
    return tuple(part * part / whole[v] for v, part in parts)


@remembered(limit=2000)
def played_db(articulation: Articulation, tracking: Tracking) -> tuple[float | None, ...]:
    """The computed level of an articulation at velocities 1 to 127: the power sum of the layers that sound, each at its
    own level and gain. None where nothing sounds.
    """
    levels, playing = sounding_levels_db(articulation), playing_of(articulation, tracking)
    power: list[float] = [0.0] * 128
    sounds: list[bool] = [False] * 128
    for layer, level in zip(playing, levels, strict=True):
        if level is None:
            continue
        for v, gain, share in zip(range(layer.low, layer.high + 1), layer.gains_db, layer.powers, strict=True):
            power[v] += share * 10.0 ** ((level + gain) / 10.0)
            sounds[v] = True
    return tuple(10.0 * math.log10(power[v]) if sounds[v] and power[v] > 0.0 else None for v in VELOCITIES)


@dataclass(frozen=True)
class Fall:
    """A place where a harder strike plays softer: `by_db` less at velocity `to` than at the lower velocity `at`."""

    at: int
    to: int
    by_db: float


def greatest_fall(played: Sequence[float | None]) -> Fall | None:
    """The greatest fall in level as velocity rises from 1 to 127; None if the level never falls."""
    best: Fall | None = None
    top, top_at = -math.inf, 0
    for v, level in zip(VELOCITIES, played, strict=True):
        if level is None:
            continue
        if level >= top:
            top, top_at = level, v
        elif top - level > (best.by_db if best else NO_FALL_DB):
            best = Fall(at=top_at, to=v, by_db=top - level)
    return best


def layers_at(articulation: Articulation, tracking: Tracking, velocity: int) -> list[int]:
    """The numbers, from 0, of the layers that sound at a velocity."""
    return [
        number
        for number, layer in enumerate(playing_of(articulation, tracking))
        if layer.low <= velocity <= layer.high and layer.powers[velocity - layer.low] > 0.0
    ]
