"""Open a kit file for a verb."""

import contextlib
import tempfile
from collections.abc import Iterator
from pathlib import Path

from drumcore.cli.output import say
from drumcore.formats.kit_file import OpenedKit, read_kit_file
from drumcore.formats.suffix import SUFFIX
from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlayTable
from drumcore.playing.sounds import FileSounds
from drumcore.refusals import Refusal


@contextlib.contextmanager
def opened_kit(path: Path) -> Iterator[OpenedKit]:
    """Opens a kit file and closes it at the end; prints warnings about the file. Raises Refusal if it cannot be read."""
    if not path.is_file():
        raise Refusal(f"{path} is not a file; give a {SUFFIX} file.")
    with tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        opened = read_kit_file(path, Path(folder))
        for said in (*opened.notes, *opened.problems):
            say(said)
        yield opened


def played(opened: OpenedKit) -> tuple[PlayTable, FileSounds]:
    places = opened.recordings | opened.responses
    return compile_kit(opened.kit), FileSounds(lambda content: places[content])
