"""Decides which number of a name is the velocity layer and which the round robin: by marks, then structure, then sound."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import mean

from drumcore.recordings.name_parts import RULED
from drumcore.recordings.names import NameReading
from drumcore.recordings.rank_correlation import RISES, follows, said_of_repeat, said_of_strength

QUIET_RANGE_DB = 3.0
Shape = tuple[int, tuple[str, ...]]


@dataclass(frozen=True)
class Decision:
    """What the numbers of one form of name mean. Columns count from 0; `why` is shown to the user."""

    strength: int | None
    rising: bool
    repeat: int | None
    why: str
    follows: tuple[float | None, ...] = ()
    """Each column's rank correlation with level, weighted over the articulations; None where it does not vary."""


def shape_of(reading: NameReading) -> Shape:
    return len(reading.numbers), tuple(n.mark for n in reading.numbers)


def decide_numbers(readings: Sequence[NameReading], level_db: Mapping[str, float]) -> dict[Shape, Decision]:
    """One decision for each form of name, from all of the session's files."""
    by_shape: dict[Shape, list[NameReading]] = defaultdict(list)
    for reading in readings:
        if reading.piece is not None and reading.numbers:
            by_shape[shape_of(reading)].append(reading)
    return {shape: _decide(shape, group, level_db) for shape, group in by_shape.items()}


def _decide(shape: Shape, readings: list[NameReading], level_db: Mapping[str, float]) -> Decision:
    count, marks = shape
    groups: dict[tuple[str, str, str], list[NameReading]] = defaultdict(list)
    for reading in readings:
        assert reading.piece is not None
        groups[reading.piece.title, reading.articulation, reading.mic.lower()].append(reading)
    rho: list[float | None] = []
    distinct: list[int] = []
    for column in range(count):
        parts, values = [], 1
        for group in groups.values():
            numbers = [float(r.numbers[column].value) for r in group]
            levels = [level_db[r.path] for r in group]
            values = max(values, len(set(numbers)))
            if len(set(numbers)) > 1 and len(group) > 2 and max(levels) - min(levels) > QUIET_RANGE_DB:
                parts.append((numbers, levels))
        rho.append(follows(parts))
        distinct.append(values)
    varying = [c for c in range(count) if distinct[c] > 1]
    worded = mean(1.0 if r.strength is not None else 0.0 for r in readings) > 0.5
    strength = None if worded else _strength_column(varying, rho, distinct, marks)
    if "strength" + RULED in marks:
        strength = marks.index("strength" + RULED)
    left = [c for c in varying if c != strength]
    marked = [c for c in left if marks[c] == "repeat" + RULED] or [c for c in left if marks[c] == "repeat"]
    repeat = marked[0] if marked else min(left, key=lambda c: (abs(rho[c] or 0.0), -c), default=None)
    rising_numbers = strength is None or (rho[strength] or 1.0) > 0
    return Decision(strength, rising_numbers, repeat, _why(strength, repeat, rho, marks), tuple(rho))


def _strength_column(
    varying: list[int], rho: list[float | None], distinct: list[int], marks: tuple[str, ...]
) -> int | None:
    sized = {c: abs(rho[c] or 0.0) for c in varying}
    marked = [c for c in varying if marks[c] == "strength"]
    if marked:
        rivals = [c for c in varying if c not in marked and marks[c] != "repeat" + RULED and sized[c] > 0.8]
        if sized[marked[0]] >= 0.3 or not rivals:
            return marked[0]
    free = [c for c in varying if marks[c] != "repeat" + RULED]
    rising = [c for c in free if sized[c] >= RISES and (marks[c] != "repeat" or sized[c] > 0.8)]
    if not rising:
        return None
    best = max(sized[c] for c in rising)
    near = [c for c in rising if sized[c] >= max(RISES, best - 0.08)]
    return min(near, key=lambda c: (marks[c] == "repeat", distinct[c], c))


def _why(strength: int | None, repeat: int | None, rho: list[float | None], marks: tuple[str, ...]) -> str:
    said = []
    for column, role in ((strength, "strength"), (repeat, "repeat")):
        if column is None:
            continue
        place = f"number {column + 1}" if len(rho) > 1 else "the number"
        found = rho[column]
        if found is None:
            reason = "it is marked so" if marks[column] else "it counts files alike in level"
        elif role == "strength":
            reason = said_of_strength(found)
        else:
            reason = said_of_repeat(found)
        said.append(f"{place} is the {role}: {reason}")
    return "; ".join(said) or "its numbers do not vary"
