"""A piece's own close microphones, and its takes' levels in them."""

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Protocol

from drumcore.kit.values import Mic, MicKind, Recording
from drumcore.recordings.k_weighting import decibels_of_power
from drumcore.recordings.name_parts import NamedPiece, read_part
from drumcore.recordings.trade_words import MIC_POSITIONS


class Stored(Protocol):
    """What tells which file is meant: its path in the session and the hash of its audio."""

    @property
    def path(self) -> str: ...
    @property
    def content(self) -> str: ...


Locate = Callable[[Stored], Path]


def own_mics(named: NamedPiece, titles: set[str], levels: dict[str, float], mics: dict[str, Mic]) -> tuple[str, ...]:
    """The keys of a piece's own close microphones: those named after it, else after its family, else unspecific ones,
    else the loudest if that is louder than its overheads. The others record it as bleed.
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


def own_recording(own: Sequence[str], recordings: Sequence[Recording]) -> Recording:
    """The recording that represents a take: its piece's own microphone's, else the first."""
    return next((r for mic in own for r in recordings if r.mic == mic), recordings[0])


def _position_rank(key: str) -> int:
    """Top before bottom, in before out: the others are compared with the first."""
    places = [MIC_POSITIONS[word] for word in key.split() if word in MIC_POSITIONS]
    return 0 if places and places[0] in ("in", "top", "front") else 1


def heard_as(recordings: Sequence[Recording], own: Sequence[str]) -> tuple[float, float]:
    """A take's level in dB (energy sum) and its start in ms (the earliest), in its piece's own microphones, or else in
    all.
    """
    heard = [r for r in recordings if r.mic in own] or list(recordings)
    power = sum(10.0 ** (r.level_db / 10.0) for r in heard)
    return round(decibels_of_power(power), 3), min(r.start_ms for r in heard)
