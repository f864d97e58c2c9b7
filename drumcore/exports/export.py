"""An export: a kit written to files in one form. Each kind is a module here and a line in `kinds`."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from drumcore.file_names import MOST_BYTES, shortened
from drumcore.grooves.values import Groove
from drumcore.kit.values import Kit
from drumcore.value import Value

Progress = Callable[[int, int], None]


@dataclass(frozen=True)
class Source:
    """What an export reads from: the kit, the file of a recording by its hash, and saved grooves by number (Refusal if
    there is none).
    """

    kit: Kit
    locate: Callable[[str], Path]
    groove: Callable[[int], Groove]


class MadeFile(Value):
    """One of several files, downloadable alone. For audio: its output, width, peak, count of samples over full scale,
    and an outline (the highest sample in each part of its length, 0 to 1).
    """

    file: str
    output: int = 0
    width: str = ""
    peak_dbfs: float | None = None
    clipped_samples: int = 0
    outline: tuple[float, ...] = ()


class Made(Value):
    """What was written: `download` is the file that holds everything, `parts` are its files, which are kept apart in
    the folder `within`.
    """

    download: str
    parts: tuple[MadeFile, ...] = ()
    within: str = ""


@dataclass(frozen=True)
class Export:
    """`asked` is the model of its options, `title` describes the job; `write` makes the files and reports progress."""

    name: str
    asked: type[Value]
    title: Callable[[Any, Source], str]
    write: Callable[[Any, Source, Path, Progress], Made]


def file_name(name: str, suffix: str) -> str:
    """A file name that every system accepts."""
    plain = "".join(c if c.isalnum() or c in " .-_" else " " for c in name).strip(" .") or "Kit"
    return f"{shortened(plain, 2 * MOST_BYTES - len(suffix.encode()) - 20)}{suffix}"
