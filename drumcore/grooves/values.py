"""A groove as a value: a sequence of played events. `formats.midi` reads and writes it as MIDI."""

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from drumcore.kit.values import MidiNote, Velocity
from drumcore.value import Value

Time = Annotated[float, Field(ge=0.0, le=1e6)]


class Strike(Value):
    """A note struck."""

    kind: Literal["strike"] = "strike"
    time_s: Time
    note: MidiNote
    velocity: Velocity


class PedalMove(Value):
    """The hi-hat pedal moved to `openness` (CC 4)."""

    kind: Literal["pedal"] = "pedal"
    time_s: Time
    openness: MidiNote


class Press(Value):
    """A hand pressing the pad of a note (aftertouch)."""

    kind: Literal["press"] = "press"
    time_s: Time
    note: MidiNote
    pressure: MidiNote


class DirectStrike(Value):
    """An articulation struck directly, not by a note: its velocity passes its own curve, not the input's."""

    kind: Literal["direct_strike"] = "direct_strike"
    time_s: Time
    articulation: str
    velocity: Velocity


class HandOn(Value):
    """A hand put on the piece of an articulation, which stops it."""

    kind: Literal["hand_on"] = "hand_on"
    time_s: Time
    articulation: str


GrooveEvent = Annotated[Strike | PedalMove | Press, Field(discriminator="kind")]

PlayedEvent = Strike | PedalMove | Press | DirectStrike | HandOn
"""What a player plays: the events of a file, and those of a pattern, which name articulations."""


class Groove(Value):
    """A performance: tempo and metre at its first strike, length to the end of its last bar, events in order of time."""

    name: str
    bpm: float
    beats_a_bar: float
    length_s: float
    events: tuple[GrooveEvent, ...]

    @property
    def strikes(self) -> int:
        return sum(1 for event in self.events if isinstance(event, Strike))

    @model_validator(mode="before")
    @classmethod
    def _of_an_older_version(cls, raw: Any) -> Any:
        """Older grooves had one event type for all three kinds of events."""
        if not isinstance(raw, Mapping) or not isinstance(raw.get("events"), list | tuple):
            return raw
        return {**raw, "events": tuple(_distinct(event) for event in raw["events"])}


def _distinct(event: Any) -> Any:
    if not isinstance(event, Mapping) or "kind" in event:
        return event
    time_s, note = event.get("time_s"), event.get("note")
    if event.get("openness") is not None:
        return {"kind": "pedal", "time_s": time_s, "openness": event["openness"]}
    if event.get("pressure") is not None:
        return {"kind": "press", "time_s": time_s, "note": note, "pressure": event["pressure"]}
    return {"kind": "strike", "time_s": time_s, "note": note, "velocity": event.get("velocity")}
