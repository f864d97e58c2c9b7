"""From strikes as they were played to a row of steps: what does not fall on a step becomes its offset."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from drumcore.grooves.beats import exact, rounded_half_up
from drumcore.grooves.pattern import DIVISIONS, FLAM_VELOCITY, MOST_NUDGE_MS, ROLLS, Pattern, Step
from drumcore.grooves.swing import swung

ON_STEP_MS = 12.0
"""Strikes this near to steps are meant to be on them."""
MOSTLY = 0.9
DEFAULT_DIVISION = 4


@dataclass(frozen=True)
class PlayedStrike:
    """A strike at a position in quarter notes, with a velocity."""

    quarters: Fraction
    velocity: int


@dataclass(frozen=True)
class Placement:
    """The steps of a row, and the strikes that no step could hold."""

    steps: tuple[Step, ...]
    left: tuple[PlayedStrike, ...]


def place(pattern: Pattern, division: int, strikes: Sequence[PlayedStrike], clock: "Clock") -> Placement:
    """Puts strikes of one articulation on steps, `division` to a beat, with the metre, swing and length of a pattern that
    has no rows yet. Strikes closer than half a step become divisions or flams where those play on the same ticks.
    """
    placer = _Placer(pattern, division, clock)
    waiting = sorted(strikes, key=lambda s: (s.quarters, s.velocity))
    while waiting:
        waiting = waiting[placer.take(waiting) :]
    return Placement(tuple(sorted(placer.steps.values(), key=lambda step: step.at)), tuple(placer.left))


def likely_division(pattern: Pattern, strikes: Sequence[PlayedStrike], clock: "Clock") -> int:
    """The fewest steps to a beat on which nearly all strikes fall; four if none does."""
    for division in DIVISIONS:
        placer = _Placer(pattern, division, clock)
        near = [abs(placer.off_ms(s.quarters, placer.nearest(s.quarters))) <= ON_STEP_MS for s in strikes]
        if sum(near) >= MOSTLY * len(near):
            return division
    return DEFAULT_DIVISION


@dataclass(frozen=True)
class Clock:
    """One tempo, as a file counts it: the length of a quarter note in ms, and its ticks."""

    quarter_ms: Fraction
    ticks: int

    def tick(self, quarters: Fraction, offset_ms: float) -> int:
        """The tick of a position that is moved by an offset, rounded half up."""
        return rounded_half_up((quarters + exact(offset_ms) / self.quarter_ms) * self.ticks)


class _Placer:
    def __init__(self, pattern: Pattern, division: int, clock: Clock) -> None:
        self.pattern, self.division, self.clock = pattern, division, clock
        self.total = pattern.beats * division
        self.steps: dict[int, Step] = {}
        self.left: list[PlayedStrike] = []

    def position(self, at: Fraction) -> Fraction:
        return swung(self.pattern, at * self.pattern.metre.beat / self.division, self.division)

    def off_ms(self, quarters: Fraction, at: int) -> float:
        """How much later than a step a position is, in ms."""
        return round(float((quarters - self.position(Fraction(at))) * self.clock.quarter_ms), 6)

    def nearest(self, quarters: Fraction) -> int:
        guess = int(quarters * self.division / self.pattern.metre.beat)
        around = [at for at in range(guess - 1, guess + 3) if 0 <= at < self.total]
        return min(
            around or [min(max(guess, 0), self.total - 1)], key=lambda at: abs(self.position(Fraction(at)) - quarters)
        )

    def take(self, strikes: Sequence[PlayedStrike]) -> int:
        """Makes a step of the first strike and of those that belong to it; returns how many that were."""
        flam = len(strikes) > 1 and self._is_flam(strikes[0], strikes[1])
        group = strikes[1:] if flam else strikes
        at = self._free(group[0].quarters)
        if at is None:
            self.left.append(strikes[0])
            return 1
        rolled = next((n for n in reversed(ROLLS) if n > 1 and self._is_roll(group[:n], n, at)), 1)
        first, last = group[0].velocity, group[rolled - 1].velocity
        self.steps[at] = Step(
            at=at,
            velocity=first,
            strikes=rolled,
            to_velocity=last if rolled > 1 and last != first else None,
            flam=flam,
            nudge_ms=self.off_ms(group[0].quarters, at),
        )
        return rolled + flam

    def _free(self, quarters: Fraction) -> int | None:
        """The nearest step that is not taken and not too far away."""
        nearest = self.nearest(quarters)
        near = sorted(
            (at for at in range(nearest - 1, nearest + 2) if 0 <= at < self.total and at not in self.steps),
            key=lambda at: abs(self.position(Fraction(at)) - quarters),
        )
        return next((at for at in near if abs(self.off_ms(quarters, at)) <= MOST_NUDGE_MS), None)

    def _stands(self, strike: PlayedStrike, quarters: Fraction, offset_ms: float) -> bool:
        return self.clock.tick(quarters, offset_ms) == strike.quarters * self.clock.ticks

    def _is_flam(self, grace: PlayedStrike, strike: PlayedStrike) -> bool:
        """Whether two strikes are one with a grace strike, as the pattern plays it."""
        at = self._free(strike.quarters)
        softer = max(1, rounded_half_up(exact(round(strike.velocity * FLAM_VELOCITY, 6))))
        if at is None or grace.velocity != softer:
            return False
        early_ms = self.off_ms(strike.quarters, at) - self.pattern.flam_ms
        return self._stands(grace, self.position(Fraction(at)), round(early_ms, 6))

    def _is_roll(self, strikes: Sequence[PlayedStrike], number: int, at: int) -> bool:
        """Whether strikes divide a step as it would be played."""
        if len(strikes) < number:
            return False
        first, last = strikes[0].velocity, strikes[-1].velocity
        off_ms = self.off_ms(strikes[0].quarters, at)
        return all(
            self._stands(strike, self.position(at + Fraction(k, number)), off_ms)
            and strike.velocity == rounded_half_up(first + Fraction((last - first) * k, number - 1))
            for k, strike in enumerate(strikes)
        )
