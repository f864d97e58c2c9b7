"""Compares every microphone of a take with its piece's reference microphone."""

import contextlib
from collections.abc import Callable, Generator, Iterator, Mapping, MutableMapping, Sequence
from pathlib import Path
from statistics import mean

import numpy as np
import soundfile

from drumcore.arrays import Floats
from drumcore.kit.values import Mic, MicKind, Piece, Recording, ReferenceComparison, Take
from drumcore.recordings.file_correlation import correlation_peak, opening_of
from drumcore.recordings.files import Measured, Progress, working_pool
from drumcore.recordings.mic_comparison import BEFORE_S, COMPARING, OPENING_S, compared
from drumcore.recordings.own_mics import Locate

Known = MutableMapping[str, tuple[ReferenceComparison, ...]]
"""What was found before, by `pair_key`: comparing reads every file again."""
_Task = tuple[tuple[Path, ...], float]


def pair_key(reference: Recording, other: Recording) -> str:
    """What a comparison depends on: the rule's version and the two recordings."""
    return f"{COMPARING} {reference.content[:16]} {other.content[:16]}"


def compare_files(files: Mapping[str, Measured], locate: Locate, known: Known) -> Callable[[str, str], float | None]:
    """A function that says how far two files, by path, correlate from their common start on; None if one of them cannot
    be read. What was found is kept in `known`, with the peak as `sure`.
    """

    def alike(first: str, second: str) -> float | None:
        a, b = files[first], files[second]
        key = f"alike {COMPARING} {a.content[:16]} {b.content[:16]}"
        if key not in known:
            start_ms = min(a.measurements.start_ms, b.measurements.start_ms)
            try:
                (one, rate), (other, rate_too) = (opening_of(locate(file), start_ms) for file in (a, b))
            except (OSError, RuntimeError, soundfile.LibsndfileError):
                return None
            peak = correlation_peak(one, other, rate) if rate == rate_too else 0.0
            known[key] = (ReferenceComparison(sure=round(peak, 3)),)
        return known[key][0].sure

    return alike


def reference_mic(piece: Piece, mics: Mapping[str, Mic]) -> str | None:
    """The reference microphone of a piece: its first own one, else the loudest overhead, else the loudest shared one."""
    if piece.own_mics:
        return piece.own_mics[0]
    levels: dict[str, list[float]] = {}
    for articulation in piece.articulations:
        for take in articulation.takes:
            for recording in take.recordings:
                levels.setdefault(recording.mic, []).append(recording.level_db)
    heard = {mic: mean(found) for mic, found in levels.items() if mics[mic].kind is not MicKind.CLOSE}
    return max(heard, key=lambda mic: (mics[mic].kind is MicKind.OVERHEAD, heard[mic]), default=None)


def heard_directly(piece: Piece, take: Take, mics: Mapping[str, Mic], first: str | None) -> list[Recording]:
    """A take's recordings with direct sound, the reference `first` in front; other pieces' close microphones are left
    out, because they get indirect sound. Empty if there is no reference or nothing to compare.
    """
    heard = [r for r in take.recordings if r.mic in piece.own_mics or mics[r.mic].kind is not MicKind.CLOSE]
    reference = next((r for r in heard if r.mic == first), None)
    if reference is None:
        return []
    others = [r for r in heard if r is not reference and r.rate_hz == reference.rate_hz]
    return [reference, *others] if others or reference.width == "stereo" else []


def compare_microphones(
    pieces: Sequence[Piece],
    mics: Mapping[str, Mic],
    locate: Locate,
    known: Known | None = None,
    progress: Progress | None = None,
) -> list[Piece]:
    """Pieces with every recording compared with its take's reference. `known` results are reused, and new ones are
    added to it. `progress` may raise Cancelled.
    """
    known = {} if known is None else known
    wanted: dict[tuple[str, ...], _Task] = {}
    for _, take, heard in _takes(pieces, mics):
        keys = tuple(pair_key(heard[0], r) for r in heard)
        if any(key not in known for key in keys):
            wanted[keys] = (tuple(locate(r) for r in heard), take.start_ms)
    if wanted:
        with contextlib.closing(_compared(list(wanted.values()))) as results:
            for done, (keys, found) in enumerate(zip(wanted, results, strict=True), start=1):
                known.update(zip(keys, found or ((),) * len(keys), strict=True))
                if progress:
                    progress(done, len(wanted))
    return [_with_comparisons(piece, mics, known) for piece in pieces]


def _takes(pieces: Sequence[Piece], mics: Mapping[str, Mic]) -> Iterator[tuple[Piece, Take, list[Recording]]]:
    for piece in pieces:
        first = reference_mic(piece, mics)
        for articulation in piece.articulations:
            for take in articulation.takes:
                heard = heard_directly(piece, take, mics, first)
                if heard:
                    yield piece, take, heard


def _compared(tasks: list[_Task]) -> Generator[tuple[tuple[ReferenceComparison, ...], ...], None, None]:
    pool = working_pool(sum(len(paths) for paths, _ in tasks))
    try:
        yield from pool.map(_compare_files, tasks, chunksize=8)
    finally:
        pool.shutdown(wait=True, cancel_futures=True)


def _compare_files(task: _Task) -> tuple[tuple[ReferenceComparison, ...], ...]:
    """Empty if a file cannot be read: that is reported where it is measured."""
    paths, start_ms = task
    try:
        opened = [_opening(path, start_ms) for path in paths]
    except (OSError, RuntimeError, soundfile.LibsndfileError):
        return ()
    return compared([sound for sound, _ in opened], opened[0][1])


def _opening(path: Path, start_ms: float) -> tuple[Floats, int]:
    """The 90 ms from just before a take's start, shape (frames, sides), and the rate in Hz."""
    with soundfile.SoundFile(path) as file:
        rate = int(file.samplerate)
        file.seek(min(file.frames, max(0, int((start_ms / 1000.0 - BEFORE_S) * rate))))
        return np.asarray(file.read(round(OPENING_S * rate), dtype="float64", always_2d=True)), rate


def _with_comparisons(piece: Piece, mics: Mapping[str, Mic], known: Known) -> Piece:
    first = reference_mic(piece, mics)

    def told(take: Take) -> Take:
        heard = heard_directly(piece, take, mics, first)
        found = {r.mic: known.get(pair_key(heard[0], r), ()) for r in heard}
        return take.but(recordings=tuple(r.but(against=found.get(r.mic, ())) for r in take.recordings))

    return piece.but(articulations=tuple(a.but(takes=tuple(told(t) for t in a.takes)) for a in piece.articulations))
