"""A folder of this machine from which the studio may read recordings (`ZESTY_INBOX`), and nothing outside it."""

import os
from pathlib import Path

from drumcore.recordings.files import JUNK, shown_name
from drumcore.refusals import Refusal


def inbox() -> Path | None:
    """The folder that may be read, or None."""
    named = os.environ.get("ZESTY_INBOX")
    return Path(named).resolve() if named else None


def folder_in_inbox(path: str) -> Path:
    """A folder under the inbox by its relative path. Raises Refusal if it is not one."""
    root = inbox()
    if root is None or not root.is_dir():
        raise Refusal("No folder of this machine is open to the studio; start it with ZESTY_INBOX set to one.")
    try:
        found = (root / path).resolve()
        usable = found.is_relative_to(root) and found.is_dir()
    except (OSError, ValueError):
        # A path with a null character, or longer than the system allows.
        usable = False
    if not usable:
        raise Refusal(f"“{path[:200]}” is not a folder in the inbox; choose one from the list.")
    return found


def subfolders(folder: Path) -> list[tuple[str, int]]:
    """The subfolders of a folder, by name, each with its number of entries."""
    return sorted(
        (shown_name(entry.name), _entries_of(entry))
        for entry in folder.iterdir()
        if entry.is_dir()
        and not entry.is_symlink()
        and not entry.name.startswith(".")
        and entry.name.lower() not in JUNK
    )


def _entries_of(folder: Path) -> int:
    """The number of entries in a folder; 0 if it may not be read."""
    try:
        return sum(1 for _ in folder.iterdir())
    except OSError:
        return 0
