"""Findings about the notes that an input sends."""

from collections.abc import Iterator

from drumcore.edits.notes import PutOnNote
from drumcore.edits.values import Several
from drumcore.findings.finding import Finding, FindingLevel, Fix, Where
from drumcore.kit.lookup import articulation_of, full_name, pieces_of
from drumcore.kit.values import Kit, MapEntry, MidiNote, SavedMap
from drumcore.notes.maps import numbers_in_families, place_by
from drumcore.notes.names import note_name
from drumcore.value import Value

MOST_NAMED = 4


class SentNotes(Value):
    """The notes that an input sends, by its name; `meant` says what some of them are meant for, as a note map does."""

    name: str
    notes: tuple[MidiNote, ...]
    meant: tuple[MapEntry, ...] = ()


def plays_nothing(kit: Kit, sent: SentNotes) -> Iterator[Finding]:
    """Notes of an input that play nothing in this kit. One finding for all of them."""
    taken = {placed.note for placed in kit.notes.placed}
    silent = sorted(set(sent.notes) - taken)
    if not silent or not kit.pieces:
        return
    named = [_named(kit, note, sent) for note in silent]
    more = f" and {len(named) - MOST_NAMED} more" if len(named) > MOST_NAMED else ""
    one = len(silent) == 1
    yield Finding(
        rule="input_note_empty",
        level=FindingLevel.WORTH_A_LOOK,
        title=f"{'A note' if one else f'{len(silent)} notes'} of {sent.name} {'plays' if one else 'play'} nothing",
        sentence=f"{sent.name} sends {', '.join(named[:MOST_NAMED])}{more}; this kit has nothing there, so hitting "
        f"{'it' if one else 'them'} is silent.",
        place=sent.name,
        where=Where(step="notes"),
        fixes=tuple(_filling(kit, silent, sent)),
    )


def _named(kit: Kit, note: int, sent: SentNotes) -> str:
    meant = next((entry for entry in sent.meant if entry.note == note), None)
    what = f" ({meant.family.value} {meant.articulation})" if meant else ""
    return f"{note_name(note, kit.notes.middle_c)} {note}{what}"


def _filling(kit: Kit, silent: list[int], sent: SentNotes) -> Iterator[Fix]:
    """Puts on each silent note the articulation it is meant for, or the main one of that piece."""
    entries = tuple(entry for entry in sent.meant if entry.note in silent)
    placing = place_by(pieces_of(kit), SavedMap(name=sent.name, entries=entries))
    wanted = {placed.note: placed.articulation for placed in placing.placed}
    numbers = numbers_in_families(pieces_of(kit))
    for entry in placing.without_articulation:
        for piece in pieces_of(kit):
            if (piece.family, numbers[piece.id]) == (entry.family, entry.number) and piece.articulations:
                wanted.setdefault(entry.note, piece.articulations[0].id)
    edits = tuple(PutOnNote(articulation=articulation, note=note) for note, articulation in sorted(wanted.items()))
    if len(edits) == 1:
        name = full_name(*articulation_of(kit, edits[0].articulation))
        yield Fix(label=f"Put {name} there", edit=edits[0])
    elif edits:
        said = f"Put articulations on {len(edits)} notes of {sent.name}"
        yield Fix(label=f"Put the matching articulations on {len(edits)} of them", edit=Several(said=said, edits=edits))
