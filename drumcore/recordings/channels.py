"""Splits a multi-channel file into microphones."""

from collections.abc import Sequence
from itertools import groupby
from pathlib import Path

import soundfile

from drumcore.recordings.audio_files import MOST_CHANNELS, MOST_SECONDS
from drumcore.refusals import Refusal

BLOCK = 1 << 16
_KEPT = {"PCM_16", "PCM_24", "PCM_32", "FLOAT"}


def microphones_of(names: Sequence[str], channels: int) -> list[tuple[str, tuple[int, ...]]]:
    """Each microphone's name with its channel numbers from 0. `names` are the channels' names in order; channels
    without one become Channel 1, 2, 3… Two neighbours with the same name are a stereo pair.
    """
    called = [(names[i].strip() if i < len(names) else "") or f"Channel {i + 1}" for i in range(channels)]
    found: list[tuple[str, tuple[int, ...]]] = []
    for name, run in groupby(range(channels), key=lambda i: called[i]):
        left = list(run)
        while left:
            pair, left = tuple(left[:2]), left[2:]
            taken = {known for known, _ in found}
            found.append((name if name not in taken else f"{name} {len(found) + 1}", pair))
    return found


def split_channels(source: Path, name: str, names: Sequence[str], folder: Path) -> list[tuple[str, Path]]:
    """Writes one WAV file per microphone into `folder`; returns their names and paths. Reads in blocks, so memory use
    does not grow with the file. Raises Refusal if the file cannot be read.
    """
    try:
        with soundfile.SoundFile(source) as file:
            if file.channels > MOST_CHANNELS or file.frames > MOST_SECONDS * file.samplerate:
                raise Refusal(f"{name} is too long or has too many channels to split; cut it first.")
            subtype = file.subtype if file.subtype in _KEPT else "FLOAT"
            made = []
            writers = []
            try:
                for number, (mic, channels) in enumerate(microphones_of(names, file.channels)):
                    place = folder / f"{number}.wav"
                    writers.append((soundfile.SoundFile(place, "w", file.samplerate, len(channels), subtype), channels))
                    made.append((mic, place))
                while len(block := file.read(BLOCK, dtype="float64", always_2d=True)):
                    for writer, channels in writers:
                        writer.write(block[:, list(channels)])
            finally:
                for writer, _ in writers:
                    writer.close()
    except (soundfile.LibsndfileError, RuntimeError, OSError, ValueError):
        raise Refusal(f"{name} cannot be split; export it again as WAV.") from None
    return made
