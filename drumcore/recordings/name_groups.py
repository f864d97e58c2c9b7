"""The readings of names in groups, and the sentence for a name that fits none."""

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from pathlib import PurePosixPath

from drumcore.recordings.files import Unread
from drumcore.recordings.names import NameReading


def grouped(readings: Sequence[NameReading], key: Callable[[NameReading], object]) -> dict[object, list[NameReading]]:
    groups: dict[object, list[NameReading]] = defaultdict(list)
    for reading in readings:
        groups[key(reading)].append(reading)
    return groups


def misfit(reading: NameReading, contents: Mapping[str, str]) -> Unread:
    """A file that cannot be placed by its name, and why. `contents` are the files' hashes by path."""
    name = PurePosixPath(reading.path).name
    why = f"{name}: {reading.why_not}; rename it like its neighbours or place it by hand."
    return Unread(path=reading.path, why=why, content=contents[reading.path])
