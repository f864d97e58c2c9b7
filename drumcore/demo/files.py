"""The demo as plain files: the recording sessions and the grooves."""

from pathlib import Path

from drumcore.demo.grooves import demo_grooves
from drumcore.demo.recordist import write_sessions
from drumcore.formats.midi import write_midi

DEMO_VERSION = 3
"""Goes up when the recordings are made again; a studio that has an older demo gets the newer one beside it."""


def write_demo(folder: Path) -> tuple[list[Path], list[Path]]:
    """Writes both sessions to `folder`/Sessions and the grooves to `folder`/Grooves; returns both lists of paths."""
    sessions = write_sessions(folder / "Sessions")
    grooves = []
    for groove in demo_grooves():
        path = folder / "Grooves" / f"{groove.name}.mid"
        write_midi(groove, path)
        grooves.append(path)
    return sessions, grooves
