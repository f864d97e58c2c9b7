"""A pattern: a groove written on a grid of rows and steps."""

from collections.abc import Iterable
from fractions import Fraction
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from drumcore.grooves.tempo import Bpm, Metre
from drumcore.kit.values import Family, Identifier, MidiNote, Name, Velocity
from drumcore.value import Value

DIVISIONS = (1, 2, 3, 4, 6, 8, 12)
"""Steps in a beat, as a row may have."""
UNBENT = (3, 6, 12)
"""Divisions that swing leaves alone: they are triplets already."""
ROLLS = (1, 2, 3, 4, 6)
"""Strikes that a step may be divided into."""
MOST_BARS, MOST_ROWS = 256, 256
FLAM_VELOCITY = 0.6
MOST_NUDGE_MS = 200.0


class Target(Value):
    """An articulation as a row names it, so that it is found in any kit: by the piece's name, or else by family and number
    among the kit's pieces of that family (from 1, in the kit's order).
    """

    family: Family
    articulation: Annotated[str, Field(min_length=1, max_length=120)]
    piece: Annotated[str, Field(max_length=120)] = ""
    number: Annotated[int, Field(ge=1, le=64)] = 1


class Step(Value):
    """What a step plays. `at` counts the row's steps from the pattern's beginning. A step at `rest` keeps its settings and
    is silent. Divided into several strikes, their velocities run in equal steps from `velocity` to `to_velocity` (the
    same if None). `chance` is the probability in percent that a pass plays it. `nudge_ms` moves it, early if negative.
    """

    at: Annotated[int, Field(ge=0)]
    velocity: Velocity
    rest: bool = False
    strikes: int = 1
    to_velocity: Velocity | None = None
    flam: bool = False
    chance: Annotated[int, Field(ge=1, le=100)] = 100
    nudge_ms: Annotated[float, Field(ge=-MOST_NUDGE_MS, le=MOST_NUDGE_MS)] = 0.0

    @model_validator(mode="after")
    def _rolls(self) -> Self:
        if self.strikes not in ROLLS:
            raise ValueError(f"a step divides into {', '.join(map(str, ROLLS))} strikes")
        return self


class Row(Value):
    """One articulation's steps, `division` to a beat, in order; no two at one place."""

    id: Identifier
    target: Target
    division: int = 4
    muted: bool = False
    steps: Annotated[tuple[Step, ...], Field(max_length=20_000)] = ()

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.division not in DIVISIONS:
            raise ValueError(f"a row has {', '.join(map(str, DIVISIONS))} steps in a beat")
        if any(b.at <= a.at for a, b in zip(self.steps, self.steps[1:], strict=False)):
            raise ValueError("a row's steps come in order, one at a place")
        return self


class Swing(Value):
    """The first half of each pair of `unit` is stretched to `percent` of the pair: 50 is straight, 66.7 a triplet."""

    percent: Annotated[float, Field(ge=50.0, le=75.0)] = 50.0
    unit: Literal["eighths", "sixteenths"] = "sixteenths"


class Feel(Value):
    """How far timing and velocity wander: standard deviations in ms and in velocities. One `seed` plays the same each time."""

    name: Annotated[str, Field(max_length=120)] = ""
    timing_ms: Annotated[float, Field(ge=0.0, le=40.0)] = 0.0
    velocity: Annotated[float, Field(ge=0.0, le=40.0)] = 0.0
    seed: Annotated[int, Field(ge=0, lt=2**32)] = 0


class PedalPoint(Value):
    """From step `at` of the pedal row on, the hi-hat pedal stands at this openness."""

    at: Annotated[int, Field(ge=0)]
    openness: MidiNote


class PedalRow(Value):
    """The pedal as a stepped line, `division` steps to a beat."""

    division: int = 4
    points: Annotated[tuple[PedalPoint, ...], Field(max_length=20_000)] = ()

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        if self.division not in DIVISIONS:
            raise ValueError(f"the pedal's row has {', '.join(map(str, DIVISIONS))} steps in a beat")
        if any(b.at <= a.at for a, b in zip(self.points, self.points[1:], strict=False)):
            raise ValueError("the pedal's points come in order, one at a place")
        return self


class HandStop(Value):
    """A hand stops the piece of row `row`, at step `at` of it."""

    row: Identifier
    at: Annotated[int, Field(ge=0)]


class Pattern(Value):
    """A groove on a grid: bars of one metre at one tempo, in beats a minute of that metre."""

    kind: Literal["pattern"] = "pattern"
    name: Name
    bars: Annotated[int, Field(ge=1, le=MOST_BARS)] = 1
    metre: Metre = Metre()
    bpm: Bpm = 100.0
    rows: Annotated[tuple[Row, ...], Field(max_length=MOST_ROWS)] = ()
    pedal: PedalRow = PedalRow()
    hand_stops: Annotated[tuple[HandStop, ...], Field(max_length=20_000)] = ()
    swing: Swing = Swing()
    feel: Feel = Feel()
    flam_ms: Annotated[float, Field(ge=10.0, le=60.0)] = 25.0

    @property
    def beats(self) -> int:
        return self.bars * self.metre.beats

    @property
    def length(self) -> Fraction:
        """Its length in quarter notes."""
        return self.bars * self.metre.bar

    @model_validator(mode="after")
    def _holds(self) -> Self:
        ids = [row.id for row in self.rows]
        if len(set(ids)) < len(ids):
            raise ValueError("two rows of a pattern have one id")
        for row in self.rows:
            if row.steps and row.steps[-1].at >= self.beats * row.division:
                raise ValueError(f"a step of {row.target.articulation} lies beyond the last bar")
        if self.pedal.points and self.pedal.points[-1].at >= self.beats * self.pedal.division:
            raise ValueError("the pedal moves beyond the last bar")
        divisions = {row.id: row.division for row in self.rows}
        if any(stop.row not in divisions or stop.at >= self.beats * divisions[stop.row] for stop in self.hand_stops):
            raise ValueError("a hand stop lies beyond the last bar, or belongs to no row")
        return self


def steps_between(row: Row, first: int, last: int) -> Iterable[Step]:
    """A row's steps from `first` up to `last`, which is left out."""
    return (step for step in row.steps if first <= step.at < last)
