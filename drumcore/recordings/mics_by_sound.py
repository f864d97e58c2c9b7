"""Finds the part of the names that tells microphones apart, whatever it says: the files' sound decides.

Names are seen as runs of letters and digits. A run tells microphones apart if files that differ in it alone begin
together, are equally long to the frame, and correlate. Where takes differ in length, equal length is proof enough, for
takes of one drum hardly ever end together. Where every file has the same length, the recordings are compared: with
every frequency given the same weight (Knapp and Carter, "The generalized correlation method for estimation of time
delay", IEEE TASSP 24(4), 1976), two microphones of one strike have a sharp peak, and two strikes have none, because
their noise differs. Our own rule otherwise.
"""

import re
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import PurePosixPath
from statistics import median

from drumcore.kit.values import Family
from drumcore.recordings.trade_words import ARTICULATIONS, HANDS, MIC_KINDS, MIC_POSITIONS, PIECES, STRENGTHS

_RUN = re.compile(r"[A-ZÀ-Þ]{2,}(?=[a-zß-ÿ](?![a-zß-ÿ]))|[A-ZÀ-Þ]+(?![a-zß-ÿ])|[A-ZÀ-Þ]?[a-zß-ÿ]+|\d+")
MOST_MICS = 24
TOGETHER_MS = 25.0
MOSTLY = 0.8
TAKES_DIFFER = 0.7
SAMPLED = 10
"""Strikes that are compared by sound, where lengths tell nothing."""
SAMPLED_MICS = 6
CORRELATED, LEAST_CORRELATED, ABOVE_TAKES = 0.65, 0.2, 1.8
"""The peak of the microphone most like the first that proves it by itself, and that which does if it is so many times
higher than between takes. Takes have 0.1 to 0.2, of a drum with next to no noise 0.4 to 0.6.
"""
EACH_CORRELATED = 0.15
"""The peak that every other microphone has at least: a far room has 0.2."""
NAMES_MICS = frozenset({*MIC_KINDS, *MIC_POSITIONS})
"""Words that name microphones decide by themselves, and say of which kind they are; on hand percussion, “front” and
“back” may be ways of striking.
"""
REASON = "begin together and end together"
Alike = Callable[[str, str], float | None]
"""How far two files, by path, correlate: 0 to 1; None if that is not known."""


@dataclass(frozen=True)
class FileTiming:
    """What tells whether two files record one strike: length in frames, and the start of the sound in ms."""

    frames: int
    start_ms: float


@dataclass(frozen=True)
class Mark:
    """What names a file's microphone in its path: its text, the path without it, and its position."""

    text: str
    path: str
    start: int
    end: int


@dataclass(frozen=True)
class _Run:
    """A run of letters or digits in a path."""

    text: str
    start: int
    end: int


def _unheard(_a: str, _b: str) -> float | None:
    return None


def microphones_apart(
    paths: Sequence[str], heard: Mapping[str, FileTiming], alike: Alike = _unheard
) -> dict[str, Mark]:
    """What names the microphone, by path, in those names where sound tells microphones apart."""
    formed: dict[tuple[str, ...], list[str]] = defaultdict(list)
    for path in paths:
        formed[_pattern(path)].append(path)
    found: dict[str, Mark] = {}
    for group in formed.values():
        if len(group) >= 4:
            inside = set(group)
            named = any(_words(path) & MIC_KINDS.keys() for path in paths if path not in inside)
            found |= _in_group(group, heard, _unheard if named else alike)
    return _without_known_folders(found or _by_strike(paths, heard), paths)


def _without_known_folders(found: dict[str, Mark], paths: Sequence[str]) -> dict[str, Mark]:
    """The marks without folders that stand beside a folder whose name says a microphone: there words decide, and read the
    others as microphones too.
    """
    beside: dict[str, set[str]] = defaultdict(set)
    for path in paths:
        folders = path.split("/")[:-1]
        for depth, folder in enumerate(folders):
            beside["/".join(folders[:depth])].add(folder)
    known = {shelf for shelf, folders in beside.items() if any(_words(folder) & MIC_KINDS.keys() for folder in folders)}
    return {
        path: mark
        for path, mark in found.items()
        if not (path[mark.end : mark.end + 1] == "/" and path[: mark.start].rstrip("/") in known)
    }


def _words(folder: str) -> set[str]:
    return {match.group().lower() for match in _RUN.finditer(folder)} | {folder.strip().lower()}


def _by_strike(paths: Sequence[str], heard: Mapping[str, FileTiming]) -> dict[str, Mark]:
    """The marks in names that are not all formed alike: “SnareTop” and “Overhead”. Files of one length that begin
    together are a strike; what stands between what all its names begin and end with is the microphone.
    """
    runs = {path: [_Run(m.group(), m.start(), m.end()) for m in _RUN.finditer(_stem(path))] for path in paths}
    by_length: dict[int, list[str]] = defaultdict(list)
    for path in paths:
        by_length[heard[path].frames].append(path)
    strikes = [s for s in by_length.values() if 2 <= len(s) <= MOST_MICS and _together(s, heard)]
    if not _takes_differ(strikes, heard) or sum(map(len, strikes)) < MOSTLY * len(paths):
        return {}
    seen: Counter[tuple[str, ...]] = Counter()
    for strike in strikes:
        seen.update(_between(runs[path], [runs[other] for other in strike]) for path in strike)
    labels = {label for label, times in seen.items() if label and times > 1}
    if not 2 <= len(labels) <= MOST_MICS or sum(seen[label] for label in labels) < MOSTLY * len(paths):
        return {}
    found = {}
    for path in paths:
        texts = [run.text.lower() for run in runs[path]]
        at = [
            (len(label), -start)
            for label in labels
            for start in range(len(texts) - len(label) + 1)
            if tuple(texts[start : start + len(label)]) == label
        ]
        if not at:
            return {}
        size, start = max(at)
        columns = tuple(range(-start, size - start))
        found[path] = _mark(path, runs[path], columns, list(columns))
    return {} if all(mark.start == 0 and path[mark.end] == "/" for path, mark in found.items()) else found


def _between(runs: list[_Run], others: list[list[_Run]]) -> tuple[str, ...]:
    """What stands in a name between what all names of its strike begin with and what they all end with."""
    names = [[run.text.lower() for run in other] for other in others]
    shortest = min(map(len, names))
    first = next((k for k in range(shortest) if len({name[k] for name in names}) > 1), shortest)
    last = next((k for k in range(shortest - first) if len({name[-1 - k] for name in names}) > 1), shortest - first)
    return tuple(run.text.lower() for run in runs[first : len(runs) - last])


def _stem(path: str) -> str:
    return str(PurePosixPath(path).with_suffix(""))


def _pattern(path: str) -> tuple[str, ...]:
    """The text between the runs, and the kind of each run."""
    stem = _stem(path)
    return tuple("9" if m.group()[0].isdigit() else "a" for m in _RUN.finditer(stem)) + tuple(_RUN.split(stem))


def _in_group(group: list[str], heard: Mapping[str, FileTiming], alike: Alike) -> dict[str, Mark]:
    runs = {path: [_Run(m.group(), m.start(), m.end()) for m in _RUN.finditer(_stem(path))] for path in group}
    texts = {path: tuple(run.text.lower() for run in found) for path, found in runs.items()}
    proved: list[tuple[int, ...]] = []
    measured: list[tuple[float, tuple[int, ...]]] = []
    for columns in _columns_apart(texts):
        strikes, mics = _strikes(texts, columns), len({texts[path][columns[0]] for path in group})
        if _by_length(strikes, mics, heard):
            proved.append(columns)
        elif _could_be(strikes, mics, heard) and not _named_elsewhere(texts, columns):
            measured.append((_correlation(strikes, alike), columns))
    measured.sort(reverse=True)
    for place, (found, columns) in enumerate(measured):
        others = measured[1][0] if len(measured) > 1 else 0.0
        stands_out = place == 0 and others > 0.0 and found >= max(LEAST_CORRELATED, ABOVE_TAKES * others)
        if found >= CORRELATED or stands_out:
            proved.append(columns)
    struck = {PIECES[text][1] for path in group for text in texts[path] if text in PIECES}
    said = NAMES_MICS - {*MIC_POSITIONS} if Family.PERCUSSION in struck else NAMES_MICS
    if not proved or any(all(texts[path][c] in said for path in group) for columns in proved for c in columns):
        return {}
    told = [columns[0] for columns in proved]
    every = _with_constant(tuple(sorted(c for columns in proved for c in columns)), texts, runs)
    return {path: _mark(path, runs[path], every, told) for path in group}


def _named_elsewhere(texts: Mapping[str, tuple[str, ...]], columns: tuple[int, ...]) -> bool:
    """Whether a word for a microphone stands outside some columns: takes of a drum with next to no noise correlate as
    microphones do, so names that say their microphone are not compared.
    """
    return any(text in MIC_KINDS for found in texts.values() for at, text in enumerate(found) if at not in columns)


def _columns_apart(texts: Mapping[str, tuple[str, ...]]) -> Iterator[tuple[int, ...]]:
    """Runs that vary; those that always vary together count as one."""
    every = list(texts.values())
    by_partition: dict[tuple[int, ...], list[int]] = defaultdict(list)
    for column in range(len(every[0])):
        seen: dict[str, int] = {}
        partition = tuple(seen.setdefault(text[column], len(seen)) for text in every)
        if 2 <= len(seen) <= MOST_MICS:
            by_partition[partition].append(column)
    yield from (tuple(columns) for columns in by_partition.values())


def _strikes(texts: Mapping[str, tuple[str, ...]], columns: tuple[int, ...]) -> list[list[str]]:
    """Paths that are equal but for some columns, together, in the order of what stands there."""
    strikes: dict[tuple[str, ...], list[str]] = defaultdict(list)
    for path in sorted(texts, key=lambda p: texts[p][columns[0]]):
        strikes[tuple(text for at, text in enumerate(texts[path]) if at not in columns)].append(path)
    return list(strikes.values())


def _together(paths: list[str], heard: Mapping[str, FileTiming]) -> bool:
    starts = [heard[path].start_ms for path in paths]
    return len({heard[path].frames for path in paths}) == 1 and max(starts) - min(starts) <= TOGETHER_MS


def _could_be(strikes: list[list[str]], mics: int, heard: Mapping[str, FileTiming]) -> bool:
    """Whether most strikes are whole, and their files begin together and are equally long."""
    whole = [paths for paths in strikes if len(paths) == mics]
    if len(strikes) < 2 or len(whole) < MOSTLY * len(strikes):
        return False
    return sum(_together(paths, heard) for paths in whole) >= MOSTLY * len(whole)


def _by_length(strikes: list[list[str]], mics: int, heard: Mapping[str, FileTiming]) -> bool:
    """Whether lengths prove it: if takes are equally long, equal length proves nothing."""
    whole = [paths for paths in strikes if len(paths) == mics]
    return _takes_differ(whole, heard) and _could_be(strikes, mics, heard)


def _takes_differ(strikes: list[list[str]], heard: Mapping[str, FileTiming]) -> bool:
    """Whether strikes whose names differ in numbers or single letters alone mostly have lengths of their own. Sounds of
    one articulation may all have been cut to one length.
    """
    alike: dict[tuple[str, ...], list[int]] = defaultdict(list)
    for paths in strikes:
        words = tuple(
            m.group().lower() for m in _RUN.finditer(_stem(paths[0])) if len(m.group()) > 1 and m.group().isalpha()
        )
        alike[words].append(heard[paths[0]].frames)
    several = [lengths for lengths in alike.values() if len(lengths) > 1]
    distinct = sum(len(set(lengths)) for lengths in several)
    return bool(several) and distinct >= TAKES_DIFFER * sum(map(len, several))


def _correlation(strikes: list[list[str]], alike: Alike) -> float:
    """How far the files of a strike correlate with its first: the most like it, by the median over some strikes; 0 if
    one does not correlate at all, or if that is not known.
    """
    step = max(1, len(strikes) // SAMPLED)
    sampled = [paths for paths in strikes[::step] if len(paths) > 1][:SAMPLED]
    by_mic: dict[int, list[float]] = defaultdict(list)
    for paths in sampled:
        for place, path in enumerate(paths[1 : 1 + SAMPLED_MICS]):
            peak = alike(paths[0], path)
            if peak is not None:
                by_mic[place].append(peak)
    if not by_mic:
        return 0.0
    peaks = [median(found) for found in by_mic.values()]
    return max(peaks) if min(peaks) >= EACH_CORRELATED else 0.0


def _with_constant(
    columns: tuple[int, ...], texts: Mapping[str, tuple[str, ...]], runs: Mapping[str, list[_Run]]
) -> tuple[int, ...]:
    """The columns, with the letters written right before one of them that never vary and mean nothing by themselves:
    “Mic” of “MicA”, “ch” of “ch1”.
    """
    taken = set(columns)
    for column in columns:
        before = column - 1
        if before < 0 or before in taken:
            continue
        words = {text[before] for text in texts.values()}
        (word, *others) = words
        joined = all(found[before].end == found[column].start for found in runs.values())
        known = word in PIECES or word in ARTICULATIONS or word in STRENGTHS or word in HANDS
        if joined and not others and word.isalpha() and not known:
            taken.add(before)
    return tuple(sorted(taken))


def _mark(path: str, runs: list[_Run], columns: tuple[int, ...], told: list[int]) -> Mark:
    """Cuts runs out of a path. The text is what stands in the columns `told`, with what is written to them."""
    without = path
    for column in reversed(columns):
        without = without[: runs[column].start] + without[runs[column].end :]
    spans: list[tuple[int, int]] = []
    for column in columns:
        run = runs[column]
        if spans and not _RUN.search(path[spans[-1][1] : run.start]) and "/" not in path[spans[-1][1] : run.start]:
            spans[-1] = (spans[-1][0], run.end)
        else:
            spans.append((run.start, run.end))
    said = [span for span in spans if any(span[0] <= runs[column].start < span[1] for column in told)] or spans[:1]
    folders = [part for part in without.split("/")[:-1] if _RUN.search(part)]
    return Mark(
        " ".join(path[start:end] for start, end in said),
        "/".join([*folders, without.rsplit("/", 1)[-1]]),
        *said[0],
    )
