"""Prepared recordings: at the kit's rate and the microphone's width, in 24 bits, made once."""

import os
import tempfile
from collections import OrderedDict
from collections.abc import Callable
from pathlib import Path
from typing import Protocol

import numpy as np
import soundfile
import soxr

from drumcore.arrays import Samples
from drumcore.kit.values import Side, Width
from drumcore.playing.play_table import PlaySound
from drumcore.recordings.audio_files import Audio, read_audio
from drumcore.recordings.responses import read_response
from drumcore.refusals import DamagedRecording, Refusal
from drumcore.routing.pan import HALF_POWER
from drumcore.spaces.kinds import ImpulseResponse, Space, respond

FULL_SCALE = float(2**23)
MOST_ANSWERS = 16


class Sounds(Protocol):
    """A source of sounds, cut as they play: planar float32 of shape (sides, frames)."""

    def get(self, sound: PlaySound, rate_hz: int) -> Samples: ...

    def impulse_response(self, space: Space, rate_hz: int) -> ImpulseResponse:
        """The impulse response of a reverb or echo. Raises Refusal if its file is missing."""
        ...


def pitch_ratio(cents: float) -> float:
    """How many times faster a recording plays when tuned by some cents: 2^(cents/1200)."""
    return float(2.0 ** (cents / 1200.0))


def prepare(
    audio: Audio, rate_hz: int, width: Width, cents: float = 0.0, *, centred: bool = False, flipped: Side | None = None
) -> Samples:
    """A recording at a rate, width and tuning, quantised to 24 bits so that every player uses the same numbers.

    Resampled by soxr at very high quality, rate and tuning in one pass. Two sides become one as their mean; one becomes
    two, centred at equal power. `centred` subtracts each side's mean; `flipped` flips one or both sides. Returns shape
    (frames, sides).
    """
    samples = audio.samples
    if centred:
        samples = samples - samples.mean(axis=0, dtype=np.float64).astype(np.float32)
    if flipped:
        samples = samples * _signs(flipped, samples.shape[1])
    if audio.rate_hz != rate_hz or cents:
        samples = soxr.resample(samples, audio.rate_hz * pitch_ratio(cents), rate_hz, quality="VHQ")
    sides = 2 if width is Width.STEREO else 1
    if samples.shape[1] > sides:
        samples = samples.mean(axis=1, keepdims=True)
    elif samples.shape[1] < sides:
        samples = np.repeat(samples * np.float32(HALF_POWER), 2, axis=1)
    whole = np.clip(np.floor(samples.astype(np.float64) * FULL_SCALE + 0.5), -FULL_SCALE, FULL_SCALE - 1.0)
    return np.asarray(whole / FULL_SCALE, dtype=np.float32)


def _signs(flipped: Side, sides: int) -> Samples:
    signs = np.ones(sides, np.float32)
    if sides == 1 and flipped is not Side.BOTH:
        return signs
    signs[slice(None) if flipped is Side.BOTH else [Side.LEFT, Side.RIGHT].index(flipped)] = -1.0
    return signs


def plays_as_it_is(path: Path, rate_hz: int, width: Width) -> bool:
    """Whether a file already is what `prepare` would make of it, in a container every player opens."""
    info = soundfile.info(path)
    return (
        info.format in ("WAV", "WAVEX", "FLAC")
        and info.subtype in ("PCM_16", "PCM_24")
        and info.samplerate == rate_hz
        and info.channels == (2 if width is Width.STEREO else 1)
    )


def write_prepared(samples: Samples, rate_hz: int, path: Path) -> None:
    """Writes prepared samples as 24-bit FLAC: to a temporary name, synced to disk, then renamed."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=path.parent, suffix=".part")
    try:
        with os.fdopen(handle, "wb") as file:
            whole = np.round(samples.astype(np.float64) * FULL_SCALE).astype(np.int32) << 8
            soundfile.write(file, whole, rate_hz, format="FLAC", subtype="PCM_24")
            file.flush()
            os.fsync(file.fileno())
        Path(name).replace(path)
    finally:
        Path(name).unlink(missing_ok=True)


def cut(prepared: Samples, sound: PlaySound) -> Samples:
    """A prepared recording, planar of shape (sides, frames), cut, faded and panned as a take plays it.

    Fades are linear: frame i of n rises as i / n, and the i-th frame from the end falls as i / n. The browser's player
    does the same in 32-bit floats (web/src/player/sounds.ts).
    """
    start = min(sound.start_frame, prepared.shape[1] - 1)
    part = prepared[:, start : start + sound.frames] if sound.frames else prepared[:, start:]
    frames = part.shape[1]
    fade_in, fade_out = min(sound.fade_in, frames), min(sound.fade_out, frames)
    if fade_in or fade_out:
        part = part.copy()
    if fade_in:
        part[:, :fade_in] *= (np.arange(fade_in) / fade_in).astype(np.float32)
    if fade_out:
        part[:, frames - fade_out :] *= (np.arange(fade_out - 1, -1, -1) / fade_out).astype(np.float32)
    if sound.pan is None:
        return part
    sides = np.zeros((len(sound.pan), frames), np.float32)
    for to, gains in zip(sides, sound.pan, strict=True):
        for gain, side in zip(gains, part, strict=True):
            np.add(to, np.float32(gain) * side, out=to)
    return sides


def read_content(path: Path, content: str) -> Audio:
    """Reads a recording that must have this hash. Raises DamagedRecording if it does not."""
    try:
        audio = read_audio(path)
    except Refusal:
        raise DamagedRecording(content) from None
    if audio.content != content:
        raise DamagedRecording(content)
    return audio


class FileSounds:
    """Prepared sounds from files; the most recent ones are cached up to `budget_bytes`."""

    def __init__(self, locate: Callable[[str], Path], budget_bytes: int = 256 << 20) -> None:
        self._locate = locate
        self._budget = budget_bytes
        self._held: OrderedDict[tuple[PlaySound, int], Samples] = OrderedDict()
        self._bytes = 0
        self._impulse_responses: dict[tuple[Space, int], ImpulseResponse] = {}

    def impulse_response(self, space: Space, rate_hz: int) -> ImpulseResponse:
        key = (space, rate_hz)
        found = self._impulse_responses.get(key)
        if found is None:
            found = respond(space, rate_hz, lambda content: read_response(self._locate(content), "The response"))
            self._impulse_responses[key] = found
            # Several threads may use it at once, so an entry may already have been evicted.
            for oldest in list(self._impulse_responses)[:-MOST_ANSWERS]:
                self._impulse_responses.pop(oldest, None)
        return found

    def get(self, sound: PlaySound, rate_hz: int) -> Samples:
        """A sound as a take plays it. Raises DamagedRecording if the file is missing, unreadable or another sound."""
        key = (sound, rate_hz)
        if key in self._held:
            self._held.move_to_end(key)
            return self._held[key]
        audio = read_content(self._locate(sound.content), sound.content)
        prepared = prepare(audio, rate_hz, sound.width, sound.cents, centred=sound.centred, flipped=sound.flipped)
        planar = np.ascontiguousarray(cut(prepared.T, sound))
        self._held[key] = planar
        self._bytes += planar.nbytes
        while self._bytes > self._budget and len(self._held) > 1:
            self._bytes -= self._held.popitem(last=False)[1].nbytes
        return planar
