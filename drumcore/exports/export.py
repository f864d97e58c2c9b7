"""What an export is: a kit written into files, in one way; each kind is a module here and a line in `kinds`."""

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
    """What an export draws from: the kit, where a recording's content lies, and grooves by the number they are kept
    under (a Refusal where there is none)."""

    kit: Kit
    locate: Callable[[str], Path]
    groove: Callable[[int], Groove]


class MadeFile(Value):
    """One file of several, to be taken alone: its name, and of sound the output it left by, its width, peak, samples over
    full scale, and an outline: its highest sample in every part of its length, 0 to 1."""

    file: str
    output: int = 0
    width: str = ""
    peak_dbfs: float | None = None
    clipped_samples: int = 0
    outline: tuple[float, ...] = ()


class Made(Value):
    """What was written into the folder: `download` holds all of it, `parts` are its files, in the folder
    `within`, where they stay apart."""

    download: str
    parts: tuple[MadeFile, ...] = ()
    within: str = ""


@dataclass(frozen=True)
class Export:
    """`asked` is what can be chosen of it. `title` says what is being done; `write` does it, reporting how far it is."""

    name: str
    asked: type[Value]
    title: Callable[[Any, Source], str]
    write: Callable[[Any, Source, Path, Progress], Made]


def file_name(name: str, suffix: str) -> str:
    """A name any system takes."""
    plain = "".join(c if c.isalnum() or c in " .-_" else " " for c in name).strip(" .") or "Kit"
    return f"{shortened(plain, 2 * MOST_BYTES - len(suffix.encode()) - 20)}{suffix}"
