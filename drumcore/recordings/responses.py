"""Reads impulse response files."""

from pathlib import Path

import numpy as np
import soundfile

from drumcore.recordings.audio_files import AUDIO_SUFFIXES, LOSSY_SUFFIXES, content_hash
from drumcore.refusals import Refusal
from drumcore.spaces.imported import LONGEST_S, SIDES, Brought

SILENT = 1e-6


def read_response(path: Path, name: str) -> Brought:
    """Reads an impulse response of one, two or four channels, at most its first 12 s. Raises Refusal if it cannot be
    used.
    """
    suffix = path.suffix.lower()
    if suffix not in AUDIO_SUFFIXES or suffix in LOSSY_SUFFIXES:
        raise Refusal(f"{name} is not a WAV, AIFF or FLAC file; choose one that is.")
    try:
        with soundfile.SoundFile(path) as file:
            rate, sides, frames = file.samplerate, file.channels, file.frames
            if sides not in SIDES:
                raise Refusal(f"{name} has {sides} channels; an impulse response has one, two or four.")
            if not 8000 <= rate <= 384_000:
                raise Refusal(f"{name} has a sample rate of {rate} Hz; convert it to 44.1, 48 or 96 kHz.")
            samples = file.read(frames=int(LONGEST_S * rate), dtype="float32", always_2d=True)
    except (soundfile.LibsndfileError, RuntimeError, OSError, ValueError):
        raise Refusal(f"{name} is not audio that can be read; export it again as WAV, AIFF or FLAC.") from None
    if not np.isfinite(samples).all():
        raise Refusal(f"{name} holds samples that are not numbers; export it again.")
    if not len(samples) or np.abs(samples).max(initial=0.0) < SILENT:
        raise Refusal(f"{name} is silent; it would make no sound.")
    longer = frames / rate - LONGEST_S
    said = f"{name} is {frames / rate:.1f} s long; its first {LONGEST_S:.0f} s are used." if longer > 0.0 else ""
    return Brought(samples, rate, content_hash(samples, rate), said)
