"""Simulated electronic kits that play by themselves: the messages they send while somebody plays, quirks included.

The interface's pads do the same for a pointer, from the same descriptions; a twin test compares both.
"""

import math
import random
from dataclasses import dataclass, field
from typing import Literal

from drumcore.notes.lessons import Message
from drumcore.refusals import Refusal
from drumcore.simulated.electronic_kits import ElectronicKit, Pad

Strength = Literal["soft", "medium", "hard"]
SPREADS: dict[str, tuple[float, float]] = {"soft": (0.24, 0.055), "medium": (0.55, 0.07), "hard": (0.92, 0.06)}
"""Mean and spread of the force of human strikes, of 1."""
FLAM_MS = (22.0, 34.0)
BEAT_BPM = 96.0


def _half_up(value: float) -> int:
    return math.floor(value + 0.5)


@dataclass
class Performer:
    """Somebody playing an electronic kit: strikes pads with a force, and collects the messages the kit sends."""

    kit: ElectronicKit
    rng: random.Random
    sent: list[Message] = field(default_factory=list)
    openness: int = 0

    def note(self, time_ms: float, number: int, velocity: int) -> None:
        self.sent.append(Message(time_ms=round(max(0.0, time_ms), 2), kind="note", number=number, value=velocity))

    def velocity(self, force: float) -> int:
        kit = self.kit
        return _half_up(kit.softest + (kit.hardest - kit.softest) * max(0.0, min(1.0, force)))

    def strike(self, time_ms: float, pad: Pad, force: float, *, edge: bool = False) -> None:
        number = pad.edge_note if edge and pad.edge_note is not None else pad.note
        if self.kit.hat_notes and pad.name == self.kit.hat_pad:
            number = [h.note for h in self.kit.hat_notes if h.open_from <= self.openness][-1]
        velocity = self.velocity(force)
        self.note(time_ms, number, velocity)
        for talk in self.kit.cross_talk:
            if talk.pad == pad.name and velocity >= talk.from_velocity and self.rng.random() < talk.chance:
                shaken = self.pad(talk.into)
                late = self.rng.uniform(talk.soonest_ms, talk.latest_ms)
                self.note(time_ms + late, shaken.note, self._whole(talk.low, talk.high))
        for double in self.kit.doubles:
            if double.pad == pad.name and self.rng.random() < double.chance:
                late = self.rng.uniform(double.soonest_ms, double.latest_ms)
                self.note(time_ms + late, number, max(1, _half_up(velocity * self.rng.uniform(0.3, 0.7))))

    def _whole(self, low: int, high: int) -> int:
        return low + math.floor(self.rng.random() * (high - low + 1))

    def pad(self, name: str) -> Pad:
        return next(p for p in self.kit.pads if p.name == name)

    def pedal(self, time_ms: float, openness: int, took_ms: float = 60.0) -> None:
        """Moves the hi-hat pedal: controller steps if it has a controller, stray notes, and its note when it closes."""
        steps = 6
        start = self.openness
        for step in range(1, steps + 1):
            at = time_ms + took_ms * step / steps
            if self.kit.openness_controller is not None:
                value = round(start + (openness - start) * step / steps)
                self.sent.append(
                    Message(time_ms=round(at, 2), kind="controller", number=self.kit.openness_controller, value=value)
                )
            elif self.kit.chatter and step % 3 == 1 and self.rng.random() < self.kit.chatter.chance:
                self.note(at, self.kit.pedal_note, self.rng.randint(self.kit.chatter.low, self.kit.chatter.high))
        if openness == 0 and start > 0:
            self.note(time_ms + took_ms, self.kit.pedal_note, self.velocity(self.rng.gauss(0.6, 0.06)))
        self.openness = openness

    def hold(self, time_ms: float, pad: Pad) -> None:
        """A hand holds a pad and lets go."""
        for late, value in ((0.0, 127), (250.0, 0)):
            self.sent.append(Message(time_ms=round(time_ms + late, 2), kind="pressure", number=pad.note, value=value))

    def performed(self) -> list[Message]:
        return sorted(self.sent, key=lambda m: m.time_ms)


def strikes(
    kit: ElectronicKit, pad_name: str, strength: Strength, *, count: int = 12, edge: bool = False, seed: int = 1
) -> list[Message]:
    """A number of strikes of one pad, soft, medium or hard. Raises Refusal for an unknown pad."""
    pad = next((p for p in kit.pads if p.name == pad_name), None)
    if pad is None:
        raise Refusal(f"{kit.name} has no pad “{pad_name}”; it has {', '.join(p.name for p in kit.pads)}.")
    player = Performer(kit, random.Random(f"{kit.id} {pad_name} {strength} {seed}"))
    mean, spread = SPREADS[strength]
    for number in range(count):
        force = min(1.0, max(0.03, player.rng.gauss(mean, spread)))
        player.strike(number * 260.0 + player.rng.uniform(0.0, 12.0), pad, force, edge=edge)
    return player.performed()


def every_pad(kit: ElectronicKit, seed: int = 1) -> list[Message]:
    """Every pad once, firmly, and its edge after it; the hats closed, half open and open, and the pedal."""
    player = Performer(kit, random.Random(f"{kit.id} every {seed}"))
    at = 0.0
    for pad in kit.pads:
        for edge in (False, True) if pad.edge_note is not None else (False,):
            if pad.name == kit.hat_pad:
                for openness in (0, 64, 127):
                    player.pedal(at, openness)
                    player.strike(at + 300.0, pad, 0.75)
                    at += 700.0
                player.pedal(at, 0)
            else:
                player.strike(at, pad, 0.75, edge=edge)
            at += 500.0
    return player.performed()


_GROOVE = {
    "Kick": "8.....6.8...7...",
    "Snare": "..1.8..2..1.8..2",
    "Hats": "7.4.6.4.7.4.6.4.",
}
_FILL = {"Kick": "8...8...8...8...", "Snare": "7.6.F...7676....", "Tom": "........F.7.7.8."}


def beat(kit: ElectronicKit, *, bars: int = 8, seed: int = 1) -> list[Message]:
    """A beat as a person plays it: uneven in time and force, with ghost notes, flams, the pedal, and a fill at the end.
    Time in ms from the first beat.
    """
    player = Performer(kit, random.Random(f"{kit.id} beat {seed}"))
    step_ms = 60_000.0 / BEAT_BPM / 4.0
    for bar in range(bars):
        fill = bar % 4 == 3
        start = bar * 16 * step_ms
        if bar % 4 == 2:
            player.pedal(start + 13.2 * step_ms, 127)
            player.pedal(start + 16.0 * step_ms, 0, took_ms=90.0)
        for name, signs in (_FILL if fill else _GROOVE).items():
            for step, sign in enumerate(signs):
                if sign != ".":
                    at = start + step * step_ms + player.rng.gauss(0.0, 4.0)
                    _strike(player, player.pad(name), at, sign)
        if bar % 4 == 0:
            crash = player.pad("Crash")
            player.strike(start + player.rng.uniform(0.0, 6.0), crash, 0.9)
            if bar and crash.stoppable:
                player.hold(start + 6 * step_ms, crash)
    return player.performed()


def _strike(player: Performer, pad: Pad, at: float, sign: str) -> None:
    if sign == "F":
        player.strike(at - player.rng.uniform(*FLAM_MS), pad, player.rng.gauss(0.3, 0.04))
        sign = "8"
    force = int(sign) / 9.0 * player.rng.gauss(1.0, 0.07)
    player.strike(at, pad, max(0.05, min(1.0, force)))
