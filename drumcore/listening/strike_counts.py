"""Counts which articulations a groove strikes, and how hard, as if somebody had played it."""

from collections import Counter
from collections.abc import Iterable

from drumcore.grooves.values import GrooveEvent, PedalMove, Strike
from drumcore.kit.lookup import input_of
from drumcore.kit.values import Kit
from drumcore.playing.striker import GROOVE, OPEN
from drumcore.touch.layer_reach import StrikeCount
from drumcore.touch.pedal import openness_table


def struck_by(kit: Kit, events: Iterable[GrooveEvent]) -> list[StrikeCount]:
    """The strikes of a groove by articulation and velocity, following its notes and its pedal."""
    known = input_of(kit, GROOVE)
    table = openness_table(known.closed_at, known.open_at) if known else tuple(range(128))
    openness = OPEN
    counted: Counter[tuple[str, int]] = Counter()
    for event in sorted(events, key=lambda e: e.time_s):
        if isinstance(event, PedalMove):
            openness = table[event.openness]
        elif isinstance(event, Strike):
            for placed in kit.notes.placed:
                if placed.note == event.note and placed.open_from <= openness <= placed.open_to:
                    counted[placed.articulation, event.velocity] += 1
    return [
        StrikeCount(input=GROOVE, articulation=articulation, velocity=velocity, times=times)
        for (articulation, velocity), times in sorted(counted.items())
    ]
