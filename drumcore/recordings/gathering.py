"""Gathering a session: every file of a folder read and measured, in parallel, the bad ones listed with why."""

import os
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from drumcore.kit.values import Value
from drumcore.recordings.measuring import Measurements, measure
from drumcore.recordings.reading import read_audio
from drumcore.refusals import Refusal

Progress = Callable[[int, int], None]
JUNK = {"thumbs.db", "desktop.ini", ".ds_store", "__macosx"}


class Unread(Value):
    """A file that could not be used, and why."""

    path: str
    why: str


@dataclass(frozen=True)
class Measured:
    """One readable file of a session."""

    path: str
    content: str
    rate_hz: int
    frames: int
    width: int
    measurements: Measurements


class Cancelled(Exception):
    """Raised by a progress callback to stop long work; whatever was finished stays."""


def files_under(root: Path) -> list[str]:
    """Relative paths of the files of a folder, sorted; hidden files and system leftovers are passed over.

    Raises Refusal where there is no folder or nothing in it. Links are not followed out of the folder.
    """
    if not root.is_dir():
        raise Refusal(f"{root} is not a folder; give the folder that holds the recordings.")
    found = []
    for folder, names, files in os.walk(root):
        names[:] = sorted(n for n in names if not n.startswith(".") and n.lower() not in JUNK)
        for name in files:
            path = Path(folder) / name
            if not name.startswith(".") and name.lower() not in JUNK and not path.is_symlink():
                found.append(path.relative_to(root).as_posix())
    if not found:
        raise Refusal(f"{root.name or root} holds no files; choose a folder with WAV, AIFF or FLAC recordings.")
    return sorted(found)


def measure_file(path: Path, name: str) -> Measured | Unread:
    """Read and measure one file; `name` is how the user knows it."""
    try:
        audio = read_audio(path, name)
    except Refusal as refusal:
        return Unread(path=name, why=str(refusal))
    return Measured(name, audio.content, audio.rate_hz, audio.frames, audio.width, measure(audio))


def measure_files(
    files: Iterable[tuple[Path, str]], progress: Progress | None = None, workers: int | None = None
) -> tuple[list[Measured], list[Unread]]:
    """Measure (place, name) pairs in parallel; decoding, hashing and NumPy leave Python's lock, so threads do."""
    listed = list(files)
    measured: list[Measured] = []
    unread: list[Unread] = []
    pool = ThreadPoolExecutor(workers or os.cpu_count() or 2)
    try:
        for done, result in enumerate(pool.map(lambda f: measure_file(*f), listed), start=1):
            if isinstance(result, Unread):
                unread.append(result)
            else:
                measured.append(result)
            if progress:
                progress(done, len(listed))
    finally:
        pool.shutdown(wait=True, cancel_futures=True)
    return measured, unread
