"""Finds the articulations that a groove's rows name in a kit, and the notes they have there."""

from collections.abc import Iterable, Mapping

from drumcore.grooves.pattern import Target
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Family, Kit, Piece
from drumcore.notes.maps import articulations_by_name, numbers_in_families
from drumcore.notes.standard import TOM_NOTES, standard_notes


def found_in(kit: Kit, targets: Iterable[Target]) -> dict[Target, str]:
    """The id of each target's articulation in a kit: by the piece's name, else by family and number. Targets that the kit
    does not have are left out.
    """
    by_piece, by_family = articulations_by_name(pieces_of(kit))
    found = {}
    for target in targets:
        name = target.articulation.casefold()
        articulation = by_piece.get((target.piece.casefold(), name)) or by_family.get(
            (target.family, target.number, name)
        )
        if articulation is not None:
            found[target] = articulation.id
    return found


def targets_of(kit: Kit) -> dict[str, Target]:
    """How a row names each articulation of a kit, by id."""
    pieces = pieces_of(kit)
    numbers = numbers_in_families(pieces)
    return {
        articulation.id: Target(
            family=piece.family, articulation=articulation.name, piece=piece.name, number=numbers[piece.id]
        )
        for piece in pieces
        for articulation in piece.articulations
    }


def notes_of(kit: Kit | None, targets: Iterable[Target]) -> dict[Target, int]:
    """The note each target is written on: its articulation's first in the kit, else its standard one; without either it is
    left out. Two targets may share a note.
    """
    wanted = list(targets)
    first: dict[str, int] = {}
    for placed in kit.notes.placed if kit is not None else ():
        first.setdefault(placed.articulation, placed.note)
    here: Mapping[Target, str] = found_in(kit, wanted) if kit is not None else {}
    found = {}
    for target in wanted:
        note = first.get(here.get(target, ""))
        note = note if note is not None else standard_note(target)
        if note is not None:
            found[target] = note
    return found


def standard_note(target: Target) -> int | None:
    """The standard note of a target: of several, the one of its number."""
    if target.family is Family.TOM and target.articulation == "centre":
        return TOM_NOTES[target.number - 1] if target.number <= len(TOM_NOTES) else None
    piece = Piece(id="-", name=target.piece or target.family.value, family=target.family, articulations=())
    notes = standard_notes(piece, target.articulation)
    return notes[min(target.number, len(notes)) - 1] if notes else None


def standard_targets() -> dict[int, Target]:
    """What each standard note plays, as a row names it."""
    named = [
        Target(family=Family.KICK, articulation="centre"),
        Target(family=Family.SNARE, articulation="side stick"),
        Target(family=Family.SNARE, articulation="centre"),
        Target(family=Family.SNARE, articulation="rimshot"),
        *(Target(family=Family.HATS, articulation=name) for name in ("closed", "pedal", "open", "tight", "half open")),
        *(Target(family=Family.TOM, articulation="centre", number=n) for n in range(1, len(TOM_NOTES) + 1)),
        *(Target(family=Family.CRASH, articulation="edge", number=n) for n in (1, 2)),
        *(Target(family=Family.RIDE, articulation=name) for name in ("bow", "bell")),
        Target(family=Family.SPLASH, articulation="edge"),
        Target(family=Family.CHINA, articulation="edge"),
        *(
            Target(family=Family.PERCUSSION, articulation="hit", piece=name)
            for name in ("Tambourine", "Cowbell", "Clap", "Cabasa", "Maracas", "Claves")
        ),
    ]
    return {note: target for target in reversed(named) if (note := standard_note(target)) is not None}
