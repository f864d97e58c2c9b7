"""What a correction of columns would change, name by name, before it is made."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from pathlib import PurePosixPath

from drumcore.recordings.files import Measured
from drumcore.recordings.guidance import Guidance
from drumcore.recordings.mic_measurements import Known
from drumcore.recordings.names import NameReading
from drumcore.recordings.own_mics import Locate
from drumcore.recordings.session_names import read_names
from drumcore.value import Value

MOST_EXAMPLES = 3
NOT_READ = "not read"


class NameChange(Value):
    """A file's name, and what it says before and after a correction."""

    name: str
    before: str
    after: str


class GroupChange(Value):
    """The names of one form that a correction changes: how many of how many, and some of them."""

    group: str
    example: str
    files: int
    changed: int
    examples: tuple[NameChange, ...]


def preview_correction(
    measured: Sequence[Measured], before: Guidance, after: Guidance, locate: Locate, known: Known
) -> tuple[GroupChange, ...]:
    """What names would say otherwise with the guidance `after`, in the groups they are in before; groups without a change
    are left out. `locate` and `known` are as in `session_names.read_names`.
    """
    was = read_names(measured, locate, before, known)
    now = read_names(measured, locate, after, known)
    said_before, said_after = _said_by_path(was.kept), _said_by_path(now.kept)
    groups: dict[str, list[str]] = defaultdict(list)
    for reading in was.names.readings:
        groups[reading.group].append(reading.path)
    found = []
    for key, paths in groups.items():
        changes = [
            NameChange(name=PurePosixPath(path).name, before=old, after=new)
            for path in paths
            if (old := said_before.get(path, NOT_READ)) != (new := said_after.get(path, NOT_READ))
        ]
        if changes:
            found.append(
                GroupChange(
                    group=key,
                    example=paths[len(paths) // 2],
                    files=len(paths),
                    changed=len(changes),
                    examples=tuple(_spread(changes)),
                )
            )
    return tuple(sorted(found, key=lambda each: (-each.changed, each.group)))


def _spread(changes: Sequence[NameChange]) -> list[NameChange]:
    """Some changes from the first to the last."""
    most = min(MOST_EXAMPLES, len(changes))
    return [changes[k * (len(changes) - 1) // max(1, most - 1)] for k in range(most)]


def _said_by_path(readings: Sequence[NameReading]) -> Mapping[str, str]:
    """What each name says, in words: piece and articulation, then velocity layer, round robin, hand and microphone.
    Layers and round robins are counted from 1 within their articulation.
    """
    strengths: dict[object, set[float]] = defaultdict(set)
    repeats: dict[object, set[int]] = defaultdict(set)
    for reading in readings:
        cell = (reading.piece, reading.articulation)
        if reading.strength is not None:
            strengths[cell].add(reading.strength)
        if reading.repeat is not None:
            repeats[cell].add(reading.repeat)
    said = {}
    for reading in readings:
        cell = (reading.piece, reading.articulation)
        words = [f"{reading.piece.title} · {reading.articulation}" if reading.piece else NOT_READ]
        if reading.strength is not None:
            words.append(f"layer {sorted(strengths[cell]).index(reading.strength) + 1}")
        if reading.repeat is not None:
            words.append(f"round robin {sorted(repeats[cell]).index(reading.repeat) + 1}")
        if reading.hand is not None:
            words.append(f"{reading.hand.value} hand")
        if reading.mic:
            words.append(reading.mic)
        said[reading.path] = ", ".join(words)
    return said
