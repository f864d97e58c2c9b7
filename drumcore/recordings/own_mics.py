"""A piece's own close microphones: which they are, and how they agree with one another."""

from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np

from drumcore.arrays import Floats
from drumcore.kit.values import Mic, MicKind, Piece, Recording, Take
from drumcore.recordings.loudness import decibels_of_power
from drumcore.recordings.measuring import delay_and_polarity
from drumcore.recordings.parts import NamedPiece, read_part
from drumcore.recordings.reading import read_audio
from drumcore.recordings.trade_words import MIC_POSITIONS
from drumcore.refusals import Refusal

POLARITY_SAMPLES = 8
SURE_CORRELATION = 0.25
Locate = Callable[[Recording], Path]


def own_mics(named: NamedPiece, titles: set[str], levels: dict[str, float], mics: dict[str, Mic]) -> tuple[str, ...]:
    """The keys of a piece's own close microphones: those named after it, else after its family, else after nothing
    in particular, else the loudest where that is louder than its overheads. The rest hear it as bleed.
    """
    close = [key for key in mics if key in levels and mics[key].kind is MicKind.CLOSE]
    named_after = {key: read_part(mics[key].name, is_folder=True).pieces for key in close}
    exact = [key for key in close if any(p.title == named.title for p in named_after[key])]
    if exact:
        return tuple(sorted(exact, key=_position_rank))
    family = [key for key in close if any(p.family is named.family and p.title not in titles for p in named_after[key])]
    if family:
        return tuple(family)
    unnamed = [key for key in close if not named_after[key]]
    if unnamed:
        return tuple(unnamed)
    others = [levels[key] for key in levels if mics[key].kind is MicKind.OVERHEAD]
    loudest = max(close, key=lambda key: levels[key], default=None)
    if loudest is not None and (not others or levels[loudest] > max(others)):
        return (loudest,)
    return ()


def _position_rank(key: str) -> int:
    """Top before bottom, in before out: the first is what the others are compared with."""
    places = [MIC_POSITIONS[word] for word in key.split() if word in MIC_POSITIONS]
    return 0 if places and places[0] in ("in", "top", "front") else 1


def heard_as(recordings: Sequence[Recording], own: Sequence[str]) -> tuple[float, float]:
    """A take's level in dB and its start in ms: as its piece's own microphones heard it, else as all of them did.

    The level is an energy sum, the start the earliest.
    """
    heard = [r for r in recordings if r.mic in own] or list(recordings)
    power = sum(10.0 ** (r.level_db / 10.0) for r in heard)
    return round(decibels_of_power(power), 3), min(r.start_ms for r in heard)


def compare_mics(piece: Piece, locate: Locate) -> Piece:
    """Delay and polarity of a piece's own microphones against its first, on a few of its loudest takes."""
    if len(piece.own_mics) < 2:
        return piece
    loudest = sorted(
        ((t.level_db, a.id, t) for a in piece.articulations for t in a.takes), key=lambda x: x[:2], reverse=True
    )[:POLARITY_SAMPLES]
    compared = {(where, take.id): _compare_take(take, piece.own_mics, locate) for _, where, take in loudest}
    return piece.but(
        articulations=tuple(
            a.but(takes=tuple(compared.get((a.id, t.id), t) for t in a.takes)) for a in piece.articulations
        )
    )


def _compare_take(take: Take, own: tuple[str, ...], locate: Locate) -> Take:
    heard = {r.mic: r for r in take.recordings}
    present = [heard[mic] for mic in own if mic in heard]
    if len(present) < 2 or len({r.rate_hz for r in present}) > 1:
        return take
    try:
        sounds = [_opening(locate(r), take.start_ms) for r in present]
    except Refusal:
        return take
    changed: dict[str, Recording] = {}
    for recording, sound in zip(present[1:], sounds[1:], strict=True):
        delay, sign, size = delay_and_polarity(sounds[0], sound, recording.rate_hz)
        if size >= SURE_CORRELATION:
            changed[recording.mic] = recording.but(delay_ms=round(delay, 3), polarity=sign)
    return take.but(recordings=tuple(changed.get(r.mic, r) for r in take.recordings))


def _opening(path: Path, start_ms: float) -> Floats:
    """The 90 ms from just before the start, both sides averaged, shape (frames,)."""
    audio = read_audio(path)
    first = max(0, int((start_ms - 2.0) * audio.rate_hz / 1000.0))
    part = audio.samples[first : first + int(0.090 * audio.rate_hz)]
    return np.asarray(part.mean(axis=1), dtype=np.float64)
