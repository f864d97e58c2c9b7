"""Tempo and metre over time: from beats to seconds and frames, exactly.

Beats here are quarter notes, whatever the metre; a pattern counts in beats of its metre and says how many quarters one
is (`Metre.beat`).
"""

from fractions import Fraction
from itertools import pairwise
from typing import Annotated, Self

from pydantic import Field, model_validator

from drumcore.grooves.beats import Beats, exact, rounded_half_up
from drumcore.value import Value

LEAST_BPM, MOST_BPM = 10.0, 600.0
Bpm = Annotated[float, Field(ge=LEAST_BPM, le=MOST_BPM)]


class Metre(Value):
    """A time signature. The beat is the lower figure; in 6/8, 9/8 and 12/8 it is a dotted quarter."""

    upper: Annotated[int, Field(ge=1, le=32)] = 4
    lower: Annotated[int, Field(ge=1, le=32)] = 4

    @model_validator(mode="after")
    def _whole(self) -> Self:
        if self.lower not in (1, 2, 4, 8, 16, 32):
            raise ValueError("the lower figure of a metre is 1, 2, 4, 8, 16 or 32")
        return self

    @property
    def compound(self) -> bool:
        return self.lower == 8 and self.upper in (6, 9, 12)

    @property
    def beat(self) -> Fraction:
        """Quarter notes in a beat."""
        return Fraction(3, 2) if self.compound else Fraction(4, self.lower)

    @property
    def beats(self) -> int:
        """Beats in a bar."""
        return self.upper // 3 if self.compound else self.upper

    @property
    def bar(self) -> Fraction:
        """Quarter notes in a bar."""
        return Fraction(4 * self.upper, self.lower)


class TempoChange(Value):
    """From quarter note `at` on, `bpm` quarter notes a minute."""

    at: Beats
    bpm: Bpm


class MetreChange(Value):
    """From quarter note `at` on, which begins a bar, this metre."""

    at: Beats
    metre: Metre


class TempoMap(Value):
    """Tempo and metre changes, each list in order and from quarter note 0 on."""

    tempos: Annotated[tuple[TempoChange, ...], Field(min_length=1, max_length=20_000)]
    metres: Annotated[tuple[MetreChange, ...], Field(min_length=1, max_length=20_000)]

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        for changes in (self.tempos, self.metres):
            places = [change.at for change in changes]
            if places[0] != 0 or any(b <= a for a, b in pairwise(places)):
                raise ValueError("tempo and metre changes begin at 0 and come in order")
        return self

    def seconds_at(self, quarters: Fraction) -> Fraction:
        """The time of a position, in seconds from quarter note 0. Before 0 the first tempo holds."""
        time_s = Fraction(0)
        for change, following in pairwise((*self.tempos, None)):
            assert change is not None
            until = following.at if following is not None and following.at < quarters else quarters
            time_s += (until - change.at) * 60 / exact(change.bpm)
            if until == quarters:
                return time_s
        return time_s

    def frame_at(self, quarters: Fraction, rate_hz: int, offset_ms: float = 0.0) -> int:
        """The frame of a position, rounded half up, moved by an offset in ms."""
        return rounded_half_up((self.seconds_at(quarters) + exact(offset_ms) / 1000) * rate_hz)

    def scaled(self, percent: float) -> "TempoMap":
        """The same music at another tempo: every tempo in percent of what it was. Raises ValueError beyond the range."""
        return TempoMap(
            tempos=tuple(TempoChange(at=t.at, bpm=float(exact(t.bpm) * exact(percent) / 100)) for t in self.tempos),
            metres=self.metres,
        )


def steady(bpm: float, metre: Metre) -> TempoMap:
    """One tempo and one metre throughout; `bpm` counts the metre's beats."""
    quarters = float(exact(bpm) * metre.beat)
    return TempoMap(
        tempos=(TempoChange(at=Fraction(0), bpm=min(MOST_BPM, max(LEAST_BPM, quarters))),),
        metres=(MetreChange(at=Fraction(0), metre=metre),),
    )
