"""The chunks of a standard MIDI file, whatever wraps them or lies between them."""

import struct
from dataclasses import dataclass

FRAME_RATES = {24: 24.0, 25: 25.0, 29: 30_000 / 1001, 30: 30.0}
"""SMPTE frames a second by the byte that names them; 29 is drop frame. Source: Standard MIDI Files 1.0."""


class NotMidi(Exception):
    """Why the bytes are not a MIDI file; the text ends the sentence that names the file."""


@dataclass(frozen=True)
class Chunks:
    """`kind` is 0 (one track), 1 (simultaneous tracks) or 2 (independent patterns). Times are in `ticks_per_beat`, or
    if that is 0 (SMPTE) in `ticks_per_s` whatever the tempo.
    """

    kind: int
    ticks_per_beat: int
    ticks_per_s: float
    tracks: tuple[bytes, ...]


def read_chunks(data: bytes) -> Chunks:
    """The header and tracks of a MIDI file. Raises NotMidi. A RIFF wrapper (RMID) is removed, other chunks are skipped,
    and the tracks are those present, whatever number the header gives.
    """
    data = _unwrapped(data)
    if data[:4] != b"MThd" or len(data) < 14:
        raise NotMidi("is not a MIDI file that can be read; export it again as a standard MIDI file")
    size, kind, _, division = struct.unpack(">IHHH", data[4:14])
    if kind > 2:
        raise NotMidi(f"is a MIDI file of an unknown kind ({kind}); export it again as kind 0 or 1")
    if size < 6:
        raise NotMidi("has a damaged header; export it again as a standard MIDI file")
    ticks_per_beat, ticks_per_s = division, 0.0
    if division & 0x8000:
        frames, ticks = 256 - (division >> 8), division & 0xFF
        if frames not in FRAME_RATES or not ticks:
            raise NotMidi(f"counts time in {frames} frames of {ticks} ticks, which no standard has; export it again")
        ticks_per_beat, ticks_per_s = 0, FRAME_RATES[frames] * ticks
    elif not division:
        raise NotMidi("counts no ticks to a beat, so nothing in it has a time; export it again")
    return Chunks(kind, ticks_per_beat, ticks_per_s, _tracks(data, 8 + size))


def _unwrapped(data: bytes) -> bytes:
    if data[:4] != b"RIFF" or data[8:12] != b"RMID":
        return data
    at = 12
    while at + 8 <= len(data):
        name, size = struct.unpack("<4sI", data[at : at + 8])
        if name == b"data":
            return data[at + 8 : at + 8 + size]
        at += 8 + size + size % 2
    raise NotMidi("is a RIFF file without MIDI in it; export it again as a standard MIDI file")


def _tracks(data: bytes, at: int) -> tuple[bytes, ...]:
    tracks = []
    while at + 8 <= len(data):
        name, size = struct.unpack(">4sI", data[at : at + 8])
        if at + 8 + size > len(data):
            raise NotMidi("ends in the middle of a track; copy or export it again")
        if name == b"MTrk":
            tracks.append(data[at + 8 : at + 8 + size])
        at += 8 + size
    if not tracks:
        raise NotMidi("holds no track; export it again as a standard MIDI file")
    return tuple(tracks)


def as_one_file(chunks: Chunks, tracks: tuple[bytes, ...]) -> bytes:
    """Some tracks as a plain type 1 file with ticks per beat."""
    header = struct.pack(">4sIHHH", b"MThd", 6, 1, len(tracks), chunks.ticks_per_beat or 480)
    return header + b"".join(struct.pack(">4sI", b"MTrk", len(track)) + track for track in tracks)
