"""From a strike to what sounds. Only this and the browser's player interpret a play table."""

import math
from collections.abc import Iterable
from dataclasses import dataclass, field

from drumcore.playing.play_table import (
    PlayArticulation,
    PlayChoke,
    PlayClosing,
    PlayInput,
    PlayPiece,
    PlayTable,
    PlayTake,
)
from drumcore.touch.gate import CrossTalkRule, Gate

OPEN = 127
PRESSED = 64
"""Aftertouch from here on is a hand that holds the cymbal."""
GROOVE = "groove"
"""The input a groove's strikes come from."""


@dataclass(frozen=True)
class Sounding:
    """A take started by a strike, and how this strike varies; `attack` is a fade-in in frames."""

    piece: PlayPiece
    articulation: PlayArticulation
    velocity: int
    layer: int
    take_place: int
    take: PlayTake
    gain: float
    tuning: int = 0
    cutoff_hz: float | None = None
    attack: int = 0


@dataclass
class _Pedal:
    """The position of an input's pedal, and when it was last half open."""

    openness: int = OPEN
    half_open_s: float | None = None


@dataclass
class Striker:
    """Keeps each layer's round-robin position, the pedals, and the last strikes of every input. Given the same strikes
    at the same times, two strikers give the same results.
    """

    table: PlayTable
    why: str = ""
    """Why the last strike set nothing sounding: "free", "cross_talk", "double", "ignored" or "unanswered"."""
    _counts: dict[tuple[str, int], int] = field(default_factory=dict)
    _gates: dict[str, Gate] = field(default_factory=dict)
    _pedals: dict[str, _Pedal] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self._by_id = {a.id: (p, a) for p in self.table.pieces for a in p.articulations}
        self._inputs = {known.id: known for known in self.table.head.inputs}

    def strike(self, note: int, velocity: int, time_s: float = 0.0, source: str = GROOVE) -> list[Sounding]:
        """What a note-on starts; if nothing, `why` gives the reason."""
        known = self._inputs.get(source)
        self.why = self._gate(known).judge(note, velocity, time_s) if known else ""
        if self.why:
            return []
        openness = self._pedal(source).openness
        coming_in = (known.table if known else self.table.head.input_table)[velocity]
        found: list[Sounding] = []
        placed_here = False
        for placed in self.table.head.notes[note]:
            if placed.open_from <= openness <= placed.open_to and placed.articulation in self._by_id:
                placed_here = True
                gain = placed.gain * (placed.blend[openness - placed.open_from] if placed.blend else 1.0)
                found += self._sound(placed.articulation, coming_in, gain)
        self.why = "" if found else "free" if not placed_here else self.why or "unanswered"
        return found

    def pedal(self, value: int, time_s: float = 0.0, source: str = GROOVE) -> tuple[list[PlayChoke], list[Sounding]]:
        """Moves an input's pedal to a controller value: what closing it stops and starts."""
        known = self._inputs.get(source)
        pedal = self._pedal(source)
        was, now = pedal.openness, known.openness[value] if known else value
        pedal.openness = now
        stopped: list[PlayChoke] = []
        found: list[Sounding] = []
        for closing in self.table.head.closing:
            if now >= closing.half or pedal.half_open_s is None:
                pedal.half_open_s = time_s
            if was > closing.below >= now and closing.articulation in self._by_id:
                stopped += self._by_id[closing.articulation][1].chokes
                if closing.sounds:
                    velocity = closing_velocity(closing, time_s - pedal.half_open_s)
                    coming_in = (known.table if known else self.table.head.input_table)[velocity]
                    found += self._sound(closing.articulation, coming_in, 1.0)
        return stopped, found

    def strike_directly(self, articulation: str, velocity: int) -> list[Sounding]:
        """What an articulation starts, struck without a note; nothing if the kit does not have it."""
        return self._sound(articulation, velocity, 1.0) if articulation in self._by_id else []

    def press(self, note: int, pressure: int) -> list[PlayChoke]:
        """A hand pressing a pad: what it stops."""
        if pressure < PRESSED:
            return []
        return self._stopped(p.articulation for p in self.table.head.notes[note])

    def hand_on(self, articulation: str) -> list[PlayChoke]:
        """A hand on the piece of an articulation: what it stops."""
        return self._stopped([articulation])

    def _stopped(self, articulations: Iterable[str]) -> list[PlayChoke]:
        pieces = [self._by_id[each][0] for each in articulations if each in self._by_id]
        return [
            PlayChoke(articulation=articulation.id, fade_s=piece.hand_stop_s)
            for piece in dict.fromkeys(pieces)
            if piece.hand_stop_s
            for articulation in piece.articulations
        ]

    def _gate(self, known: PlayInput) -> Gate:
        if known.id not in self._gates:
            rules = [CrossTalkRule(b.after, b.note, b.up_to, b.within_s) for b in known.cross_talk]
            self._gates[known.id] = Gate(rules, known.doubles_s)
        return self._gates[known.id]

    def _pedal(self, source: str) -> _Pedal:
        return self._pedals.setdefault(source, _Pedal())

    def _sound(self, articulation_id: str, coming_in: int, level: float) -> list[Sounding]:
        piece, articulation = self._by_id[articulation_id]
        velocity = articulation.table[coming_in] if coming_in else 0
        if velocity == 0:
            self.why = "ignored"
            return []
        found = []
        attack = piece.attacks[velocity] if piece.attacks else 0
        for number, layer in enumerate(articulation.layers):
            if not layer.low <= velocity <= layer.high or not layer.steps:
                continue
            count = self._counts.get((articulation.id, number), 0)
            self._counts[articulation.id, number] = count + 1
            gain, tuning, darker = level * layer.gains[velocity - layer.low], 0, 0
            if layer.turns:
                turn = layer.turns[count % len(layer.turns)]
                gain, tuning, darker = gain * turn.gain, turn.tuning, turn.darker
            cutoff = None
            if articulation.filtered:
                darker += piece.darker[velocity] if piece.darker else 0
                cutoff = self.table.head.cutoffs_hz[min(darker, len(self.table.head.cutoffs_hz) - 1)]
            found += [
                Sounding(
                    piece,
                    articulation,
                    velocity,
                    number,
                    place,
                    articulation.takes[place],
                    gain,
                    tuning,
                    cutoff,
                    attack,
                )
                for place in layer.steps[count % len(layer.steps)]
            ]
        return found


def closing_velocity(closing: PlayClosing, took_s: float) -> int:
    return max(closing.softest, math.floor(127.0 - closing.loss_a_s * took_s + 0.5))
