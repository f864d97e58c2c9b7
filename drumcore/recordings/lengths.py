"""Finds recordings that are cut off or run on, compared with those of the same microphone nearest in level."""

from collections import defaultdict
from dataclasses import dataclass
from statistics import median

from drumcore.kit.memoization import remembered
from drumcore.kit.values import Articulation, Take

NEIGHBOURS = 4
FEWEST = 3
SHORT, LONG = 0.4, 2.5
"""Of the usual length."""


@dataclass(frozen=True)
class OddLength:
    """How long a microphone's recording sounds as its take plays, and how long its neighbours do, in ms."""

    mic: str
    length_ms: float
    usual_ms: float


@remembered(limit=4000)
def lengths_apart(articulation: Articulation) -> dict[Take, tuple[OddLength, ...]]:
    """Takes with a recording whose length is far from that of their neighbours in level, of which there must be three."""
    heard: dict[str, list[tuple[float, float, Take]]] = defaultdict(list)
    for take in articulation.takes:
        for recording in take.recordings if take.enabled else ():
            length = recording.length_ms - recording.start_ms
            length = length if take.end_ms is None else min(length, take.end_ms)
            heard[recording.mic].append((take.level_db, length, take))
    found: dict[str, list[OddLength]] = defaultdict(list)
    for mic, takes in heard.items():
        ordered = sorted(takes, key=lambda each: each[0])
        for at, (level, length, take) in enumerate(ordered):
            near = [*ordered[max(0, at - NEIGHBOURS) : at], *ordered[at + 1 : at + 1 + NEIGHBOURS]]
            near = sorted(near, key=lambda each: abs(each[0] - level))[:NEIGHBOURS]
            lengths = sorted(other for _, other, _ in near)
            if len(lengths) < FEWEST or not lengths[0]:
                continue
            usual = median(lengths)
            # Several neighbours, because one may be odd itself.
            if length < SHORT * lengths[1] or length > LONG * lengths[-2]:
                found[take.id].append(OddLength(mic, length, usual))
    return {take: tuple(found[take.id]) for take in articulation.takes if take.id in found}
