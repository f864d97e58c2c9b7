"""What each note plays, as the sheet of notes shows it."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from itertools import combinations

from drumcore.kit.values import NoteMap, Piece, Placed
from drumcore.notes.standard import GENERAL_MIDI
from drumcore.value import Value

WIDE_OPEN = 127


class NoteShown(Value):
    """What stands on a note: articulations `together` sound at once, `by_pedal` answer only part of the pedal's way;
    `open_articulation` is what it plays with the pedal up, if anything."""

    note: int
    together: bool
    by_pedal: tuple[str, ...]
    open_articulation: str | None


def by_note(notes: NoteMap) -> dict[int, list[Placed]]:
    """Everything placed, by note, in the order it was placed."""
    found: dict[int, list[Placed]] = defaultdict(list)
    for placed in notes.placed:
        found[placed.note].append(placed)
    return found


def sheet(notes: NoteMap) -> tuple[NoteShown, ...]:
    """Every note that plays something."""
    return tuple(
        NoteShown(
            note=note,
            together=bool(sounding_together(here)),
            by_pedal=tuple(p.articulation for p in here if (p.open_from, p.open_to) != (0, WIDE_OPEN)),
            open_articulation=next((p.articulation for p in here if p.open_to == WIDE_OPEN), None),
        )
        for note, here in by_note(notes).items()
    )


def sounding_together(here: Sequence[Placed]) -> frozenset[str]:
    """Which articulations of one note sound at once with another of it: some openness is answered by both."""
    return frozenset(
        articulation
        for a, b in combinations(here, 2)
        if a.articulation != b.articulation and a.open_from <= b.open_to and b.open_from <= a.open_to
        for articulation in (a.articulation, b.articulation)
    )


def usual_note(piece: Piece, notes: NoteMap) -> int | None:
    """The note that stands for a piece: the first of its articulations' that the standard map knows, else the first."""
    return _usual(
        note for a in piece.articulations for note in sorted({p.note for p in notes.placed if p.articulation == a.id})
    )


def _usual(notes: Iterable[int]) -> int | None:
    there = list(notes)
    return next((note for note in there if note in GENERAL_MIDI), there[0] if there else None)
