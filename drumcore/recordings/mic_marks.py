"""Finds letters or numbers in names that tell microphones apart although no known word does.

Names are seen as runs of letters and digits. A run is such a mark if files that differ in it alone are equally long to
the frame and begin together, while other files with the same pattern are not. Recordings of one strike end together;
takes of one drum hardly ever do. Our own rule, used instead of a question.
"""

import re
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath

from drumcore.recordings.trade_words import MIC_KINDS, MIC_POSITIONS

_RUN = re.compile(r"[A-Za-zÀ-ÿ]+|\d+")
MOST_MICS = 8
LONGEST_MARK = 3
NAMES_MICS = frozenset({*MIC_KINDS, *MIC_POSITIONS})
"""Words that name microphones decide by themselves, and say of which kind they are."""
TOGETHER_MS = 25.0
MOSTLY = 0.8
REASON = "begin together and end together"


@dataclass(frozen=True)
class FileTiming:
    """What tells whether two files record one strike: length in frames, and the start of the sound in ms."""

    frames: int
    start_ms: float


@dataclass(frozen=True)
class Mark:
    """A microphone mark in a file's path: the mark, the path without it, and its position."""

    text: str
    path: str
    start: int
    end: int


def marked_apart(paths: Sequence[str], heard: Mapping[str, FileTiming]) -> dict[str, Mark]:
    """The microphone marks, by path, of those names that have one."""
    alike: dict[tuple[str, ...], list[str]] = defaultdict(list)
    for path in paths:
        alike[_pattern(path)].append(path)
    found: dict[str, Mark] = {}
    for group in alike.values():
        if len(group) >= 4:
            found |= _in_group(group, heard)
    return found


def _pattern(path: str) -> tuple[str, ...]:
    """The text between the runs, and the kind of each run."""
    stem = str(PurePosixPath(path).with_suffix(""))
    return tuple("9" if m.group()[0].isdigit() else "a" for m in _RUN.finditer(stem)) + tuple(_RUN.split(stem))


def _in_group(group: list[str], heard: Mapping[str, FileTiming]) -> dict[str, Mark]:
    runs = {path: list(_RUN.finditer(str(PurePosixPath(path).with_suffix("")))) for path in group}
    columns = range(len(runs[group[0]]))
    texts = {path: tuple(m.group().lower() for m in found) for path, found in runs.items()}
    for column in columns:
        values = {texts[path][column] for path in group}
        if not 2 <= len(values) <= MOST_MICS or any(len(v) > LONGEST_MARK or v in NAMES_MICS for v in values):
            continue
        strikes: dict[tuple[str, ...], list[str]] = defaultdict(list)
        for path in group:
            strikes[texts[path][:column] + texts[path][column + 1 :]].append(path)
        if _are_microphones(list(strikes.values()), values, heard):
            return {path: _mark(path, runs[path][column]) for path in group}
    return {}


def _are_microphones(strikes: list[list[str]], values: set[str], heard: Mapping[str, FileTiming]) -> bool:
    whole = [paths for paths in strikes if len(paths) == len(values)]
    if len(strikes) < 2 or len(whole) < MOSTLY * len(strikes):
        return False
    together = 0
    for paths in whole:
        starts = [heard[p].start_ms for p in paths]
        together += len({heard[p].frames for p in paths}) == 1 and max(starts) - min(starts) <= TOGETHER_MS
    lengths = {heard[paths[0]].frames for paths in whole}
    # If all files are equally long, equal length proves nothing.
    return together >= MOSTLY * len(whole) and len(lengths) > max(1, len(whole) // 2)


def _mark(path: str, run: re.Match[str]) -> Mark:
    without = path[: run.start()] + path[run.end() :]
    return Mark(run.group(), re.sub("/+", "/", without).lstrip("/"), run.start(), run.end())
