"""Reads WAV, AIFF and FLAC files within limits, and computes the hash that identifies their content."""

import functools
import struct
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import soundfile
from blake3 import blake3

from drumcore.arrays import Raw, Samples
from drumcore.refusals import Refusal

LOSSY_SUFFIXES = (".mp3", ".ogg", ".oga", ".opus")
AUDIO_SUFFIXES = (".wav", ".wave", ".aif", ".aiff", ".aifc", ".flac", *LOSSY_SUFFIXES)
MOST_SECONDS = 120
MOST_CHANNELS = 64
INT_SCALE = float(2**31)
_INTEGER_SUBTYPES = {"PCM_S8", "PCM_U8", "PCM_16", "PCM_24", "PCM_32"}
_LOSSY = {
    "MPEG_LAYER_I": "MP3",
    "MPEG_LAYER_II": "MP3",
    "MPEG_LAYER_III": "MP3",
    "VORBIS": "Ogg Vorbis",
    "OPUS": "Opus",
}


class ManyChannels(Refusal):
    """A file with more than two channels, which must be split into microphones (`recordings.channels`)."""

    def __init__(self, name: str, channels: int) -> None:
        super().__init__(f"{name} has {channels} channels; add it through the application, which splits it.")
        self.channels = channels


@dataclass(frozen=True)
class Audio:
    """Decoded audio. `raw` is int32 or float32 of shape (frames, width) with full scale `full_scale`; `content` is its
    hash. `samples` is the same as float32 of full scale 1.
    """

    raw: Raw
    rate_hz: int
    subtype: str
    content: str

    @property
    def lossy(self) -> str:
        """The format's name if it is lossy, else an empty string."""
        return _LOSSY.get(self.subtype, "")

    @property
    def frames(self) -> int:
        return int(self.raw.shape[0])

    @property
    def width(self) -> int:
        return int(self.raw.shape[1])

    @property
    def full_scale(self) -> float:
        return INT_SCALE if self.raw.dtype == np.int32 else 1.0

    @functools.cached_property
    def samples(self) -> Samples:
        return self.part(0, self.frames)

    def part(self, first: int, last: int) -> Samples:
        """Frames `first` to `last` (excluded) as float32 of full scale 1."""
        cut = self.raw[first:last]
        return np.multiply(cut, np.float32(1.0 / self.full_scale), dtype=np.float32)


def read_audio(path: Path, name: str | None = None) -> Audio:
    """Decodes one recording. Raises Refusal with a sentence if it is not a complete, valid audio file, and ManyChannels
    if it must be split first.
    """
    name = name or path.name
    if path.suffix.lower() not in AUDIO_SUFFIXES:
        raise Refusal(f"{name} is not a WAV, AIFF or FLAC file; it was not added.")
    try:
        with soundfile.SoundFile(path) as file:
            rate, frames, subtype, width = file.samplerate, file.frames, file.subtype, file.channels
            if width > MOST_CHANNELS:
                raise Refusal(f"{name} says it has {width} channels; split it into files of at most {MOST_CHANNELS}.")
            if not 8000 <= rate <= 384000:
                raise Refusal(f"{name} has a sample rate of {rate} Hz; convert it to 44.1, 48 or 96 kHz.")
            if frames > MOST_SECONDS * rate:
                raise Refusal(f"{name} is longer than {MOST_SECONDS} seconds; cut it into single strikes.")
            if frames == 0:
                raise Refusal(f"{name} holds no sound; record or export it again.")
            if width > 2:
                raise ManyChannels(name, width)
            integer = subtype in _INTEGER_SUBTYPES
            raw = file.read(dtype="int32" if integer else "float32", always_2d=True)
    except (soundfile.LibsndfileError, RuntimeError, OSError, ValueError):
        raise Refusal(f"{name} is not audio that can be read; export it again as WAV, AIFF or FLAC.") from None
    if len(raw) == 0:
        raise Refusal(f"{name} holds no sound that can be read; export it again as WAV, AIFF or FLAC.")
    missing = "" if subtype in _LOSSY else _frames_missing(path, frames, len(raw))
    if missing:
        raise Refusal(f"{name} is cut short: {missing}; copy or export it again.")
    if not integer and not np.isfinite(raw).all():
        raise Refusal(f"{name} holds samples that are not numbers; export it again.")
    content = content_hash(raw, rate)
    return Audio(raw, rate, subtype, content)


def content_hash(raw: Raw, rate_hz: int) -> str:
    """BLAKE3 hash of the decoded audio: the same samples have the same hash in any container or bit depth."""
    digest = blake3(f"{raw.dtype.name} {rate_hz} {raw.shape[1]}\n".encode())
    digest.update(np.ascontiguousarray(raw).view(np.uint8).data)
    return digest.hexdigest()[:40]


def _frames_missing(path: Path, promised: int, found: int) -> str:
    """Why a file holds less than its header says, or an empty string. libsndfile ignores a short last chunk."""
    if found < promised:
        return f"its header promises {promised} frames and it holds {found}"
    size = path.stat().st_size
    with path.open("rb") as file:
        head = file.read(12)
        if head[:4] == b"RIFF" and head[8:12] == b"WAVE":
            order, wanted, streaming = "<", b"data", {0, 0xFFFFFFFF}
        elif head[:4] == b"FORM":
            order, wanted, streaming = ">", b"SSND", {0}
        else:
            return ""
        while len(chunk := file.read(8)) == 8:
            name, length = struct.unpack(f"{order}4sI", chunk)
            if name == wanted:
                there = size - file.tell()
                if length not in streaming and there < length:
                    return f"its header promises {length} bytes of sound and {there} are there"
                return ""
            file.seek(length + (length & 1), 1)
    return ""
