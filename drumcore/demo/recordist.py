"""The demo's recording sessions: every articulation of both demo kits, written as files, with mistakes planted on
purpose.

The demo's world and its mistakes come from the design ("The demo").
"""

import os
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import soundfile
import soxr

from drumcore.arrays import Floats
from drumcore.demo import boathouse as room
from drumcore.demo import voices
from drumcore.demo.boathouse import OVERHEADS, PLACES, ROOM, Stand
from drumcore.demo.synthesis import RATE_HZ, Generator, Voice, finished, loudness_gain, shaken, stopped, strike

Model = Callable[[float, Generator], dict[str, Floats]]
"""A strike's sounds by the side they leave from; "" is the main one, "under" the wires beneath a snare."""

WIRES_ABOVE, WIRES_BENEATH = 0.6, 1.3
"""How loud the wires are beside the head, from above the drum and from beneath it."""
BOATHOUSE = "Boathouse No. 4"
TIN_LANTERN = "Tin Lantern"
SAYS = {
    BOATHOUSE: (
        "One wet weekend in a rowing club’s boathouse: close microphones, overheads, and a room of timber and water.",
        ("march", "small room"),
    ),
    TIN_LANTERN: ("A cocktail kick, a side snare, a splash, a china and a woodblock, to be borrowed from.", ("march",)),
}
"""What is said of each kit, and the tags on it."""


@dataclass(frozen=True)
class RecordedArticulation:
    """One articulation of a session: how many velocity layers, how many round robins, and which microphones hear it."""

    folder: str
    prefix: str
    place: str
    stands: tuple[Stand, ...]
    repeats: tuple[int, ...]
    model: Model
    hands: bool = False
    label: str = ""
    gain: float = 1.0


def _plain(voice: Voice, *, softer: float = 1.0) -> Model:
    return lambda strength, rng: {"": strike(voice, strength * softer, rng)}


def _snare(head: Voice, wires: Voice, ring: float = 0.0) -> Model:
    """A snare: the head with its wires, which are louder from below. A rimshot also rings."""

    def hit(strength: float, rng: Generator) -> dict[str, Floats]:
        sound, rattle = (strike(voice, strength, rng) / loudness_gain(strength) for voice in (head, wires))
        if ring:
            rim = strike(voices.RIM, strength, rng) / loudness_gain(strength)
            sound[: len(rim)] += ring * rim
        above, beneath = sound + WIRES_ABOVE * rattle, 0.5 * sound + WIRES_BENEATH * rattle
        return {"": finished(above, strength), "under": finished(beneath, strength)}

    return hit


def _stopped(voice: Voice, after_s: float) -> Model:
    return lambda strength, rng: {"": stopped(strike(voice, strength, rng), after_s)}


def _shaken(strength: float, rng: Generator) -> dict[str, Floats]:
    return {"": shaken(voices.JINGLE, strength, rng, 0.05)}


def _boathouse_articulations() -> Iterator[RecordedArticulation]:
    kick, snare = (room.KICK_IN, room.KICK_OUT), (room.SNARE_TOP, room.SNARE_BOTTOM)
    far = (OVERHEADS, ROOM)
    yield RecordedArticulation(
        "Kick centre", "kick", "kick", (*kick, room.SNARE_BOTTOM, *far), (4,) * 4, _plain(voices.KICK), gain=1.03
    )
    heard = (*snare, room.HAT, *far)
    centre = _snare(voices.SNARE_HEAD, voices.SNARE_WIRES)
    yield RecordedArticulation("Snare centre", "sn", "snare", heard, (4,) * 6, centre, hands=True, gain=0.95)
    rimshot = _snare(voices.SNARE_HEAD, voices.SNARE_WIRES, 0.8)
    yield RecordedArticulation("Snare rimshot", "sn_rim", "snare", heard, (4, 4, 3, 2), rimshot, hands=True, gain=1.08)
    yield RecordedArticulation(
        "Snare side stick", "sn_stick", "snare", heard, (3,) * 3, _plain(voices.SIDE_STICK), gain=0.33
    )
    for name, voice in (
        ("tight", voices.TIGHT_HAT),
        ("closed", voices.CLOSED_HAT),
        ("half open", voices.HALF_OPEN_HAT),
        ("open", voices.OPEN_HAT),
    ):
        repeats = (4,) * 4 if name in ("closed", "tight") else (3,) * 4
        articulation = f"hat_{name.replace(' ', '_')}"
        yield RecordedArticulation(
            f"Hats {name}", articulation, "hats", (room.HAT, *far), repeats, _plain(voice), hands=True, gain=0.5
        )
    pedal = _plain(voices.PEDAL_HAT, softer=0.8)
    yield RecordedArticulation("Hats pedal", "hat_pedal", "hats", (room.HAT, *far), (3,) * 3, pedal, gain=0.3)
    toms: tuple[tuple[str, str, Voice, tuple[Stand, ...]], ...] = (
        ("Rack tom", "rack_tom", voices.RACK_TOM, (room.RACK_TOM_MIC, *far, room.SNARE_TOP)),
        ("Mid tom", "mid_tom", voices.MID_TOM, (room.MID_TOM_MIC, *far, room.SNARE_TOP)),
        ("Floor tom", "floor_tom", voices.FLOOR_TOM, (room.FLOOR_TOM_MIC, *far)),
    )
    for name, prefix, drum, stands in toms:
        yield RecordedArticulation(f"{name} centre", prefix, name.lower(), stands, (3,) * 4, _plain(drum), gain=1.65)
    for name, prefix, plate in (
        ("Crash left", "crash_left", voices.CRASH_LEFT),
        ("Crash right", "crash_right", voices.CRASH_RIGHT),
    ):
        yield RecordedArticulation(f"{name} edge", prefix, name.lower(), far, (3,) * 3, _plain(plate), gain=0.9)
        yield RecordedArticulation(
            f"{name} stop", f"{prefix}_stop", name.lower(), far, (2,) * 2, _stopped(plate, 0.16), gain=0.9
        )
    ride = (room.RIDE_MIC, *far)
    yield RecordedArticulation("Ride bow", "ride", "ride", ride, (3,) * 4, _plain(voices.RIDE_BOW), gain=0.4)
    yield RecordedArticulation("Ride bell", "ride_bell", "ride", ride, (2,) * 3, _plain(voices.RIDE_BELL), gain=0.5)
    percussion = (room.PERCUSSION_MIC, *far)
    cowbell = _plain(voices.COWBELL)
    yield RecordedArticulation(
        "Cowbell", "cowbell", "percussion", percussion, (3,) * 3, cowbell, label="G#2", gain=0.65
    )
    yield RecordedArticulation(
        "Tambourine shake", "tamb", "percussion", percussion, (4,) * 2, _shaken, label="F#2", gain=0.5
    )


def _tin_lantern_articulations() -> Iterator[RecordedArticulation]:
    kick = Stand("Kick", room.KICK_IN.places, 0.065, 6000.0)
    snare = Stand("Side snare", room.SNARE_TOP.places, 0.050)
    block = Stand("Block", room.PERCUSSION_MIC.places, 0.075)
    far = (OVERHEADS, ROOM)
    side = _snare(voices.SIDE_SNARE_HEAD, voices.SIDE_SNARE_WIRES)
    yield RecordedArticulation("Kick", "kick", "kick", (kick, *far), (3,) * 3, _plain(voices.COCKTAIL_KICK), gain=1.12)
    yield RecordedArticulation("Side snare", "side_snare", "snare", (snare, *far), (3,) * 4, side, gain=0.92)
    yield RecordedArticulation("Splash", "splash", "crash left", far, (3,) * 3, _plain(voices.SPLASH), gain=0.9)
    yield RecordedArticulation("China", "china", "crash right", far, (3,) * 3, _plain(voices.CHINA), gain=0.9)
    yield RecordedArticulation(
        "Woodblock", "woodblock", "percussion", (block, *far), (3,) * 3, _plain(voices.WOODBLOCK), gain=0.4
    )


@dataclass(frozen=True)
class _Slot:
    articulation: RecordedArticulation
    strength: int
    repeat: int

    @property
    def name(self) -> str:
        hand = f"_{'LR'[self.repeat % 2]}" if self.articulation.hands else ""
        label = f"_{self.articulation.label}" if self.articulation.label else ""
        return f"{self.articulation.prefix}_{self.strength:02d}_{self.repeat}{hand}{label}"


def write_sessions(folder: Path) -> list[Path]:
    """Write both sessions under `folder` as 24-bit WAV files; returns the two session folders."""
    for name, articulations in (
        (BOATHOUSE, list(_boathouse_articulations())),
        (TIN_LANTERN, list(_tin_lantern_articulations())),
    ):
        slots = [
            _Slot(articulation, strength, repeat)
            for articulation in articulations
            for strength, count in enumerate(articulation.repeats, start=1)
            for repeat in range(1, count + 1)
        ]
        with ThreadPoolExecutor(os.cpu_count() or 2) as pool:
            for _ in pool.map(lambda slot, root=folder / name: _record(root, slot), slots):
                pass
    _plant_files(folder / BOATHOUSE)
    return [folder / BOATHOUSE, folder / TIN_LANTERN]


def _record(root: Path, slot: _Slot) -> None:
    articulation = slot.articulation
    seed = [int.from_bytes(f"{root.name}{slot.articulation.folder}".encode()[-7:], "big"), slot.strength, slot.repeat]
    rng = np.random.default_rng(seed)
    steps = len(articulation.repeats)
    strength = (slot.strength - 0.5) / (steps - 0.5) + rng.uniform(-0.012, 0.012)
    strength = min(1.0, 0.12 + 0.88 * strength)
    sounds = articulation.model(strength, rng)
    gain = articulation.gain * (10.0 ** (5.0 / 20.0) if _is(slot, "mid_tom", 2, 2) else 1.0)
    strikes = {side: room.DryStrike(sound * gain) for side, sound in sounds.items()}
    for stand in articulation.stands:
        beneath = stand is room.SNARE_BOTTOM and articulation.place == "snare"
        struck = strikes.get("under", strikes[""]) if beneath else strikes[""]
        sound = room.hear(stand, PLACES[articulation.place], struck, rng)
        _write(root / stand.folder / articulation.folder / f"{slot.name}.wav", *_mistaken(sound, stand, slot))


def _is(slot: _Slot, prefix: str, strength: int, repeat: int) -> bool:
    return (slot.articulation.prefix, slot.strength, slot.repeat) == (prefix, strength, repeat)


def _mistaken(sound: Floats, stand: Stand, slot: _Slot) -> tuple[Floats, int]:
    """The recording with its planted mistake, and its sample rate."""
    if stand is room.SNARE_BOTTOM:
        sound = -sound
    if stand is room.SNARE_TOP and _is(slot, "sn", 6, 3):
        sound = np.clip(sound * 9.0, -1.0, 1.0)
    if _is(slot, "floor_tom", 3, 2):
        sound = np.concatenate([np.zeros((int(0.040 * RATE_HZ), sound.shape[1])), sound])
        sound[: int(0.040 * RATE_HZ)] = sound[-int(0.040 * RATE_HZ) :][::-1] * 0.02
    if stand is room.RACK_TOM_MIC and _is(slot, "rack_tom", 2, 1):
        sound = np.repeat(sound, 2, axis=1)
    if stand is OVERHEADS and _is(slot, "ride", 2, 3):
        return np.asarray(soxr.resample(sound, RATE_HZ, 44100, "VHQ")), 44100
    return sound, RATE_HZ


def _write(path: Path, sound: Floats, rate_hz: int) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    soundfile.write(path, np.clip(sound, -1.0, 1.0 - 2.0**-23), rate_hz, subtype="PCM_24")


def _plant_files(root: Path) -> None:
    """Plants the mistakes among the files: one missing, one duplicate, one mislabelled, two unreadable."""
    (root / "Room" / "Hats open" / "hat_open_02_1_R.wav").unlink()
    cowbell = root / "Percussion" / "Cowbell"
    (cowbell / "cowbell_03_3_G#2.wav").write_bytes((cowbell / "cowbell_03_2_G#2.wav").read_bytes())
    shake = root / "Percussion" / "Tambourine shake"
    (shake / "tamb_01_3_F#2.wav").rename(shake / "tamb_01_3_D#2.wav")
    centre = root / "Snare top" / "Snare centre"
    (centre / "keep this one maybe.wav").write_bytes((centre / "sn_02_1_R.wav").read_bytes())
    letter = "Buy lamp oil. Ask about the tide on Sunday. The kick pillow is in the small boat.\n"
    (root / "Room" / "Kick centre" / "readme.rtf.wav").write_text(letter)
