"""What each note plays, as shown in the list of notes."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from itertools import combinations

from drumcore.kit.values import NoteMap, Piece, Placed
from drumcore.notes.standard import GENERAL_MIDI
from drumcore.value import Value

WIDE_OPEN = 127


class NoteShown(Value):
    """What is on a note. Articulations in `together` sound at once; those in `by_pedal` play for part of the openness
    only; `open_articulation` plays with the pedal up, if any.
    """

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
    """Which articulations of a note sound together: both play at some openness."""
    return frozenset(
        articulation
        for a, b in combinations(here, 2)
        if a.articulation != b.articulation and a.open_from <= b.open_to and b.open_from <= a.open_to
        for articulation in (a.articulation, b.articulation)
    )


def usual_note(piece: Piece, notes: NoteMap) -> int | None:
    """The note that represents a piece: its first articulation's note that the standard map knows, or else the first
    note.
    """
    return _usual(
        note for a in piece.articulations for note in sorted({p.note for p in notes.placed if p.articulation == a.id})
    )


def _usual(notes: Iterable[int]) -> int | None:
    there = list(notes)
    return next((note for note in there if note in GENERAL_MIDI), there[0] if there else None)
