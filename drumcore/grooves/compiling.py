"""From a pattern to what the players play: the strikes, pedal moves and hand stops of one pass, each on its own frame."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from drumcore.grooves.beats import exact, rounded_half_up
from drumcore.grooves.pattern import FLAM_VELOCITY, MOST_NUDGE_MS, Pattern, Row, Step, Target
from drumcore.grooves.swing import swung
from drumcore.grooves.tempo import TempoMap, steady
from drumcore.grooves.values import DirectStrike, HandOn, PedalMove, PlayedEvent
from drumcore.grooves.wander import SHARED, TIMING, VELOCITY, chances, wander

SHARED_STEPS_A_BEAT = 12
"""The common grid on which the shared part of feel is drawn: every division of a beat but eight lies on it."""
HALF = 0.5**0.5
"""Two independent halves of this size add up to one in standard deviation."""


@dataclass(frozen=True)
class PlannedStrike:
    """A strike of a pass: where it stands in the pass, in exact quarter notes, moved by an offset in ms; of `step` in
    `row`. `grace` is the strike before a flam.
    """

    quarters: Fraction
    offset_ms: float
    target: Target
    velocity: int
    row: str
    step: int
    grace: bool = False


@dataclass(frozen=True)
class PlannedMove:
    """The pedal at an openness, from a position on."""

    quarters: Fraction
    openness: int


@dataclass(frozen=True)
class PlannedStop:
    """A hand that stops the piece of a target."""

    quarters: Fraction
    target: Target


@dataclass(frozen=True)
class Pass:
    """One time through a pattern. Positions count from the beginning of the pass; a strike may lie before it."""

    strikes: tuple[PlannedStrike, ...]
    moves: tuple[PlannedMove, ...]
    stops: tuple[PlannedStop, ...]


def compile_pass(pattern: Pattern, pass_number: int = 0, only: Sequence[str] | None = None) -> Pass:
    """One pass of a pattern; passes count from 0. With `only`, these rows are heard, by id, whether muted or not: a solo.

    Feel wanders on from pass to pass and is always the same for one pass. Strikes come in the order of their times.
    """
    strikes: list[PlannedStrike] = []
    for place, row in enumerate(pattern.rows):
        if row.id in only if only is not None else not row.muted:
            strikes += _of_row(pattern, place, row, pass_number)
    tempo = tempo_of(pattern)
    strikes.sort(key=lambda s: (tempo.seconds_at(s.quarters) + exact(s.offset_ms) / 1000, s.row, s.step))
    beat, pedal = pattern.metre.beat, pattern.pedal
    targets = {row.id: row for row in pattern.rows}
    return Pass(
        strikes=tuple(strikes),
        moves=tuple(
            PlannedMove(swung(pattern, p.at * beat / pedal.division, pedal.division), p.openness) for p in pedal.points
        ),
        stops=tuple(
            PlannedStop(swung(pattern, stop.at * beat / row.division, row.division), row.target)
            for stop in pattern.hand_stops
            for row in (targets[stop.row],)
        ),
    )


def tempo_of(pattern: Pattern) -> TempoMap:
    """A pattern's tempo and metre as a map."""
    return steady(pattern.bpm, pattern.metre)


def _of_row(pattern: Pattern, place: int, row: Row, pass_number: int) -> Iterator[PlannedStrike]:
    feel, total = pattern.feel, pattern.beats * row.division
    drawn = chances(feel.seed, pass_number, place, total) if any(step.chance < 100 for step in row.steps) else None
    for step in row.steps:
        if step.rest or (drawn is not None and drawn[step.at] >= step.chance):
            continue
        moved_ms = step.nudge_ms + feel.timing_ms * _wandering(pattern, TIMING, pass_number, place, row, step)
        louder = feel.velocity * _wandering(pattern, VELOCITY, pass_number, place, row, step)
        moved_ms = round(max(-MOST_NUDGE_MS, min(MOST_NUDGE_MS, moved_ms)), 6)
        yield from _of_step(pattern, row, step, moved_ms, louder)


def _wandering(pattern: Pattern, of: int, pass_number: int, place: int, row: Row, step: Step) -> float:
    """A step's share of the feel, in standard deviations: half of it common to all rows, half the row's own."""
    feel = pattern.feel
    if not (feel.timing_ms if of == TIMING else feel.velocity):
        return 0.0
    common = wander(feel.seed, of, pass_number, SHARED, pattern.beats * SHARED_STEPS_A_BEAT)
    own = wander(feel.seed, of, pass_number, place, pattern.beats * row.division)
    return HALF * float(common[step.at * SHARED_STEPS_A_BEAT // row.division] + own[step.at])


def _of_step(pattern: Pattern, row: Row, step: Step, moved_ms: float, louder: float) -> Iterator[PlannedStrike]:
    """The strikes of a step: one, or a division of it, the first with a grace strike before it if it is a flam."""
    beat = pattern.metre.beat
    for number, velocity in enumerate(_slope(step)):
        position = (step.at + Fraction(number, step.strikes)) * beat / row.division
        quarters = swung(pattern, position, row.division)
        played = _within(velocity + louder)
        if number == 0 and step.flam:
            grace_ms = round(moved_ms - pattern.flam_ms, 6)
            softer = _within(played * FLAM_VELOCITY)
            yield PlannedStrike(quarters, grace_ms, row.target, softer, row.id, step.at, grace=True)
        yield PlannedStrike(quarters, moved_ms, row.target, played, row.id, step.at)


def _slope(step: Step) -> list[int]:
    """The velocities of a step's strikes, in equal steps from the first to the last, rounded half up."""
    last = step.velocity if step.to_velocity is None else step.to_velocity
    between = max(1, step.strikes - 1)
    return [rounded_half_up(step.velocity + Fraction((last - step.velocity) * k, between)) for k in range(step.strikes)]


def _within(velocity: float) -> int:
    return max(1, min(127, rounded_half_up(exact(round(velocity, 6)))))


def pre_roll_ms(pattern: Pattern, first: Pass) -> float:
    """How long before the first beat the first pass begins, because something stands early or is a flam."""
    tempo = tempo_of(pattern)
    starts = [float(tempo.seconds_at(s.quarters)) * 1000 + s.offset_ms for s in first.strikes]
    return max(0.0, -min(starts, default=0.0))


def events_of(
    pattern: Pattern,
    passes: Sequence[int],
    articulations: Mapping[Target, str],
    rate_hz: int,
    bars: tuple[int, int] | None = None,
) -> tuple[PlayedEvent, ...]:
    """What a player plays of some passes one after another, each event on the frame that exact arithmetic gives.

    With `bars`, only these of each pass, counted from 1, both included. What would begin before the first pass makes it
    begin later; in later passes it falls into the end of the one before. Targets that are not in `articulations` are
    silent.
    """
    tempo, bar = tempo_of(pattern), pattern.metre.bar
    first, last = bars or (1, pattern.bars)
    start, length = (first - 1) * bar, (last - first + 1) * bar
    compiled = [_only(compile_pass(pattern, each), pattern, start, start + length) for each in passes]
    lead_ms = pre_roll_ms(pattern, compiled[0]) if compiled else 0.0
    found: list[tuple[int, int, PlayedEvent]] = []

    def at(number: int, quarters: Fraction, offset_ms: float = 0.0) -> tuple[int, float]:
        frame = tempo.frame_at(number * length + quarters, rate_hz, round(offset_ms + lead_ms, 6))
        return frame, frame / rate_hz

    for number, each in enumerate(compiled):
        for move in each.moves:
            frame, time_s = at(number, move.quarters)
            found.append((frame, 0, PedalMove(time_s=time_s, openness=move.openness)))
        for stop in each.stops:
            if stop.target in articulations:
                frame, time_s = at(number, stop.quarters)
                found.append((frame, 1, HandOn(time_s=time_s, articulation=articulations[stop.target])))
        for strike in each.strikes:
            if strike.target in articulations:
                frame, time_s = at(number, strike.quarters, strike.offset_ms)
                struck = articulations[strike.target]
                found.append((frame, 2, DirectStrike(time_s=time_s, articulation=struck, velocity=strike.velocity)))
    return tuple(event for _, _, event in sorted(found, key=lambda item: item[:2]))


def _only(whole: Pass, pattern: Pattern, start: Fraction, end: Fraction) -> Pass:
    """The part of a pass from one bar line to another, counted from the first: by where a step is written, so that one
    that is played early stays with its bar.
    """
    if start == 0 and end == pattern.length:
        return whole
    beat, divisions = pattern.metre.beat, {row.id: row.division for row in pattern.rows}
    strikes = (s for s in whole.strikes if start <= s.step * beat / divisions[s.row] < end)
    return Pass(
        strikes=tuple(replace(s, quarters=s.quarters - start) for s in strikes),
        moves=tuple(replace(m, quarters=m.quarters - start) for m in whole.moves if start <= m.quarters < end),
        stops=tuple(replace(s, quarters=s.quarters - start) for s in whole.stops if start <= s.quarters < end),
    )
