"""Reads and measures every file of a session in parallel, and lists unusable files with the reason."""

import contextlib
import multiprocessing
import os
from collections.abc import Callable, Generator, Iterable, Mapping, Sequence
from concurrent.futures import Executor, ProcessPoolExecutor, ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from drumcore.recordings.audio_files import ManyChannels, read_audio
from drumcore.recordings.measurement import Measurements, measure
from drumcore.refusals import Refusal
from drumcore.value import Value

Progress = Callable[[int, int], None]
WORTH_PROCESSES = 3000
"""Files from which a pool of processes, which takes a second or two to start, saves time."""
JUNK = {"thumbs.db", "desktop.ini", ".ds_store", "__macosx"}


class Unread(Value):
    """A file that could not be used, and why. One that only could not be placed has its `content`."""

    path: str
    why: str
    content: str = ""


@dataclass(frozen=True)
class Measured:
    """One readable file of a session."""

    path: str
    content: str
    rate_hz: int
    frames: int
    width: int
    measurements: Measurements
    lossy: str = ""


def measured_from(kept: Mapping[str, Any]) -> Measured:
    """A measured file from its stored form. Older versions called the outline `shape` and stored only the polarity of
    the start.
    """
    found = dict(kept["measurements"])
    found.pop("first_sign", None)
    if "shape" in found:
        found["outline"] = found.pop("shape")
    return Measured(**{**kept, "measurements": Measurements(**found)})


@dataclass(frozen=True)
class Unsplit:
    """A multi-channel file, to be split into microphones before it is measured."""

    path: str
    channels: int


class Cancelled(Exception):
    """Raised by a progress callback to cancel long work; finished parts stay."""


def files_under(root: Path) -> list[str]:
    """The relative paths of a folder's files, sorted, without hidden and system files. Links are not followed, so a
    link loop cannot hang it. Raises Refusal if there is no folder or it is empty.
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


def shown_name(name: str) -> str:
    """A file name as text; bytes that are not UTF-8 become replacement characters."""
    return name.encode("utf-8", "surrogateescape").decode("utf-8", "replace")


def measure_file(path: Path, name: str) -> Measured | Unread | Unsplit:
    """Reads and measures one file; `name` is the user's name for it."""
    try:
        audio = read_audio(path, name)
    except ManyChannels as found:
        return Unsplit(name, found.channels)
    except Refusal as refusal:
        return Unread(path=name, why=str(refusal))
    return Measured(name, audio.content, audio.rate_hz, audio.frames, audio.width, measure(audio), audio.lossy)


def measure_each(
    files: Sequence[tuple[Path, str]], workers: int | None = None
) -> Generator[Measured | Unread | Unsplit, None, None]:
    """Measures (path, name) pairs on all cores and yields the results in order.

    Threads are used for a few files and processes for many: processes scale with the cores but take a second or two to
    start, and half of a measurement holds Python's lock. Closing the iterator ends the work.
    """
    pool = working_pool(len(files), workers)
    try:
        yield from pool.map(_measure_pair, files, chunksize=8)
    finally:
        pool.shutdown(wait=True, cancel_futures=True)


def measure_files(
    files: Iterable[tuple[Path, str]], progress: Progress | None = None, workers: int | None = None
) -> tuple[list[Measured], list[Unread]]:
    """Measures (path, name) pairs on all cores. `progress` may raise Cancelled."""
    listed = list(files)
    measured: list[Measured] = []
    unread: list[Unread] = []
    with contextlib.closing(measure_each(listed, workers)) as results:
        for done, result in enumerate(results, start=1):
            if isinstance(result, Measured):
                measured.append(result)
            elif isinstance(result, Unsplit):
                unread.append(Unread(path=result.path, why=str(ManyChannels(result.path, result.channels))))
            else:
                unread.append(result)
            if progress:
                progress(done, len(listed))
    return measured, unread


def _measure_pair(pair: tuple[Path, str]) -> Measured | Unread | Unsplit:
    return measure_file(*pair)


def working_pool(files: int, workers: int | None = None) -> Executor:
    """A pool of threads, or of processes from `WORTH_PROCESSES` files on; as many workers as cores, or as given."""
    cores = workers or os.cpu_count() or 1
    if cores == 1 or files < WORTH_PROCESSES:
        return ThreadPoolExecutor(cores)
    # A fork server, because forking a process that has threads is unsafe.
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload([__name__])
    return ProcessPoolExecutor(cores, mp_context=context)
