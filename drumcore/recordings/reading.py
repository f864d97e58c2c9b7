"""Reading WAV, AIFF and FLAC files with limits, and the hash that names their content."""

import hashlib
import struct
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import soundfile

from drumcore.arrays import Samples
from drumcore.refusals import Refusal

AUDIO_SUFFIXES = (".wav", ".wave", ".aif", ".aiff", ".aifc", ".flac")
MOST_SECONDS = 120
_INTEGER_SUBTYPES = {"PCM_S8", "PCM_U8", "PCM_16", "PCM_24", "PCM_32"}


@dataclass(frozen=True)
class Audio:
    """Decoded audio: `samples` float32 of shape (frames, width), full scale 1; `content` its hash."""

    samples: Samples
    rate_hz: int
    subtype: str
    content: str

    @property
    def frames(self) -> int:
        return int(self.samples.shape[0])

    @property
    def width(self) -> int:
        return int(self.samples.shape[1])


def read_audio(path: Path, name: str | None = None) -> Audio:
    """Decode one recording. Raises Refusal with a sentence for anything that is not a whole, sound audio file."""
    name = name or path.name
    if path.suffix.lower() not in AUDIO_SUFFIXES:
        raise Refusal(f"{name} is not a WAV, AIFF or FLAC file; it was left out.")
    try:
        with soundfile.SoundFile(path) as file:
            rate, frames, subtype, width = file.samplerate, file.frames, file.subtype, file.channels
            if width > 2:
                raise Refusal(f"{name} has {width} channels; split it into mono or stereo files.")
            if not 8000 <= rate <= 384000:
                raise Refusal(f"{name} has a sample rate of {rate} Hz; convert it to 44.1, 48 or 96 kHz.")
            if frames > MOST_SECONDS * rate:
                raise Refusal(f"{name} is longer than {MOST_SECONDS} seconds; cut it into single strikes.")
            if frames == 0:
                raise Refusal(f"{name} holds no sound; record or export it again.")
            integer = subtype in _INTEGER_SUBTYPES
            raw = file.read(dtype="int32" if integer else "float32", always_2d=True)
    except (soundfile.LibsndfileError, RuntimeError, OSError, ValueError):
        raise Refusal(f"{name} is not audio that can be read; export it again as WAV, AIFF or FLAC.") from None
    missing = _frames_missing(path, frames, len(raw))
    if missing:
        raise Refusal(f"{name} is cut short: {missing}; copy or export it again.")
    if not integer and not np.isfinite(raw).all():
        raise Refusal(f"{name} holds samples that are not numbers; export it again.")
    content = content_hash(raw, rate)
    samples = np.multiply(raw, np.float32(2.0**-31), dtype=np.float32) if integer else raw
    return Audio(samples, rate, subtype, content)


def content_hash(raw: np.ndarray[tuple[int, ...], np.dtype[np.int32] | np.dtype[np.float32]], rate_hz: int) -> str:
    """Hash of decoded audio: the same sound has the same hash whatever container or bit depth carried it."""
    head = f"{raw.dtype.name} {rate_hz} {raw.shape[1]}\n".encode()
    digest = hashlib.sha256(head)
    digest.update(np.ascontiguousarray(raw).data)
    return digest.hexdigest()[:40]


def _frames_missing(path: Path, promised: int, found: int) -> str:
    """Why a file holds less than its header promises, or nothing. libsndfile passes over a short last chunk."""
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
