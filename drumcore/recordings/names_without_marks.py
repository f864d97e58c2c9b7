"""Reads names without the marks that tell microphones apart, then restores the marks as a column of their own."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from pathlib import PurePosixPath

from drumcore.kit.values import MicKind
from drumcore.recordings.guidance import Guidance, Ruling
from drumcore.recordings.lexicon import lexicon_with
from drumcore.recordings.mics_by_sound import Alike, FileTiming, Mark, microphones_apart
from drumcore.recordings.name_parts import read_part
from drumcore.recordings.names import NameReading, group_of, read_paths

AT = " @"
"""In a group's key, before the place of the column that is a mark."""


def mark_of(group: str) -> int | None:
    """The index of the mark's column, in a group that has one."""
    _, at, place = group.partition(AT)
    return int(place) if at else None


@dataclass(frozen=True)
class NamesRead:
    """Every path's reading, in order; the corrections by the groups that names are in now; and for groups that changed
    by it, their former group.
    """

    readings: list[NameReading]
    guidance: Guidance
    ruled_in: Mapping[str, str] = field(default_factory=dict)


def read_marked(
    levels: Mapping[str, float], heard: Mapping[str, FileTiming], guidance: Guidance, alike: Alike
) -> NamesRead:
    """Reads every path. Names with microphone marks are read once without them; a mark that the user gave another
    meaning is treated as an ordinary column. `alike` compares two recordings where lengths tell nothing.
    """
    paths = sorted(levels)
    marks = microphones_apart(paths, heard, alike)
    if not marks:
        return NamesRead(read_paths(paths, guidance, levels), guidance)
    plain = guidance.but(rulings=())
    keyed = {r.path: r for r in _read(paths, marks, levels, plain)}
    rulings = list(guidance.rulings)
    overruled = {r.group for r in rulings if mark_of(r.group) == r.column and r.meaning != "mic"}
    for path in paths:
        if keyed[path].group in overruled:
            del marks[path]
    translated = [(ruling.group, _as_read(ruling, keyed, overruled, guidance)) for ruling in rulings]
    said = guidance.but(rulings=tuple(now for _, now in translated if now is not None))
    return NamesRead(
        _read(paths, marks, levels, said),
        guidance.but(rulings=(*guidance.rulings, *said.rulings)),
        {now.group: was for was, now in translated if now is not None and was in overruled},
    )


def _read(
    paths: list[str], marks: Mapping[str, Mark], levels: Mapping[str, float], guidance: Guidance
) -> list[NameReading]:
    shorter = {path: marks[path].path if path in marks else path for path in paths}
    first = {short: path for path, short in reversed(list(shorter.items()))}
    read = read_paths(sorted(first), guidance, {short: levels[path] for short, path in first.items()})
    by_short = {reading.path: reading for reading in read}
    return [_marked(by_short[shorter[path]], path, marks.get(path)) for path in paths]


def _as_read(
    ruling: Ruling, keyed: Mapping[str, NameReading], overruled: set[str], guidance: Guidance
) -> Ruling | None:
    """A correction of a group with a mark, translated for names without it, or kept if it concerns the mark itself."""
    place = mark_of(ruling.group)
    if place is None:
        return ruling
    if ruling.group in overruled:
        path = next((p for p, reading in keyed.items() if reading.group == ruling.group), None)
        if path is None:
            return None
        stem = read_part(PurePosixPath(path).stem, is_folder=False, lexicon=lexicon_with(guidance.words))
        return ruling.but(group=group_of(path, stem))
    if ruling.column == place:
        return None
    return ruling.but(group=ruling.group.partition(AT)[0], column=ruling.column - (ruling.column > place))


def _marked(reading: NameReading, path: str, mark: Mark | None) -> NameReading:
    """The reading of a name without its mark, for the file that has it."""
    own = replace(reading, path=path, numbers=list(reading.numbers), unknown=list(reading.unknown))
    if mark is None:
        return own
    told = read_part(mark.text, is_folder=True)
    named = mark.text.upper() if len(mark.text) < 3 else mark.text[:1].upper() + mark.text[1:]
    alone = len(mark.text) < 3 or mark.text.isdigit()
    place = _place_of(mark, path, reading.segments)
    return replace(
        own,
        group=f"{reading.group}{AT}{place}",
        segments=(*reading.segments[:place], (mark.text, "mic"), *reading.segments[place:]),
        mic=f"{reading.mic} {named}" if reading.mic else f"Microphone {named}" if alone else named,
        mic_kind=told.mic_kind or reading.mic_kind or MicKind.CLOSE,
    )


def _place_of(mark: Mark, path: str, segments: tuple[tuple[str, str], ...]) -> int:
    """The index of the mark among a name's segments."""
    at = 0
    for place, (text, _) in enumerate(segments):
        found = path.find(text, at)
        if found < 0 or found >= mark.start:
            return place
        at = found + len(text)
    return len(segments)
