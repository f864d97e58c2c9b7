"""Findings about notes, openness and chokes."""

from collections.abc import Iterator
from itertools import pairwise

from drumcore.describing.edits import as_list
from drumcore.edits.notes import ChokeAsUsual, MoveOpennessLimit, NoteEach, PutOnNote, RemoveFromNote
from drumcore.edits.values import Several
from drumcore.findings.finding import Finding, FindingLevel, Fix, Where, articulation_place, articulation_where
from drumcore.kit.lookup import all_articulations, articulation_of, full_name, pieces_of
from drumcore.kit.values import Family, Kit, Piece, Placed
from drumcore.notes.chokes import is_hand_stop
from drumcore.notes.maps import place_by
from drumcore.notes.names import note_name
from drumcore.notes.openness import rings_open, zones_of
from drumcore.notes.sheet import by_note, sounding_together
from drumcore.notes.standard import GENERAL_MIDI, free_note

LOOK, INFO = FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION


def without_note(kit: Kit) -> Iterator[Finding]:
    placed = {p.articulation for p in kit.notes.placed}
    taken = {p.note for p in kit.notes.placed}
    standard = {p.articulation: p.note for p in place_by(pieces_of(kit), None).placed if p.note in GENERAL_MIDI}
    for piece, articulation in all_articulations(kit):
        if articulation.id in placed:
            continue
        usual = standard.get(articulation.id)
        found = free_note(piece, articulation.name, taken) if usual is None or usual in taken else usual
        wanted = [] if found is None else [found]
        taken |= set(wanted)  # so the next articulation is offered a different note
        fixes = tuple(
            Fix(
                label=f"Put it on {note_name(note, kit.notes.middle_c)}",
                edit=PutOnNote(articulation=articulation.id, note=note),
            )
            for note in wanted
        )
        yield Finding(
            rule="without_note",
            level=LOOK,
            title=f"No note plays {full_name(piece, articulation)}",
            sentence=f"It has {len(articulation.layers)} layers but no note.",
            place=articulation_place(piece, articulation),
            where=articulation_where("notes", piece, articulation),
            fixes=fixes,
        )


def stacked_note(kit: Kit) -> Iterator[Finding]:
    for note, here in by_note(kit.notes).items():
        together = sounding_together(here)
        pieces = list(
            dict.fromkeys(articulation_of(kit, p.articulation)[0] for p in here if p.articulation in together)
        )
        if len(pieces) > 1:
            name = note_name(note, kit.notes.middle_c)
            yield Finding(
                rule="stacked_note",
                level=INFO,
                title=f"{name} plays {len(pieces)} pieces",
                sentence=f"{' and '.join(piece.name for piece in pieces)} sound together on {name}.",
                place=name,
                where=Where(step="notes", note=note),
                fixes=tuple(_only(kit, piece, note, here) for piece in pieces[:3]),
            )


def _only(kit: Kit, piece: Piece, note: int, here: list[Placed]) -> Fix:
    """Leaves one piece on a note and says which articulations then have no note."""
    own = {a.id for a in piece.articulations}
    off = tuple(RemoveFromNote(articulation=p.articulation, note=note) for p in here if p.articulation not in own)
    elsewhere = {p.articulation for p in kit.notes.placed if p.note != note}
    lost = [full_name(*articulation_of(kit, o.articulation)) for o in off if o.articulation not in elsewhere]
    then = f"; {' and '.join(dict.fromkeys(lost))} then {'has' if len(lost) == 1 else 'have'} no note" if lost else ""
    return Fix(
        label=f"Keep only {piece.name} there{then}", edit=Several(said=f"Keep only {piece.name} on a note", edits=off)
    )


def standard_note_empty(kit: Kit) -> Iterator[Finding]:
    """A note of the standard map that plays nothing although the kit has its articulation: a plain MIDI file would lose
    it.
    """
    taken = {p.note for p in kit.notes.placed}
    placed = {p.articulation for p in kit.notes.placed}
    for standard in place_by(pieces_of(kit), None).placed:
        if standard.note in taken or standard.note not in GENERAL_MIDI or standard.articulation not in placed:
            continue
        if (standard.open_from, standard.open_to) != (0, 127):
            continue
        piece, articulation = articulation_of(kit, standard.articulation)
        name = note_name(standard.note, kit.notes.middle_c)
        yield Finding(
            rule="standard_note_empty",
            # A kit on the map of an electronic kit differs from the standard map on purpose.
            level=LOOK if kit.notes.base is None else INFO,
            title=f"{name} is not used",
            sentence=f"The standard map has {GENERAL_MIDI[standard.note].lower()} there, which this kit has: grooves from elsewhere will not play {full_name(piece, articulation)}.",
            place=name,
            where=Where(step="notes", piece=piece.id, articulation=articulation.id, note=standard.note),
            fixes=(
                Fix(
                    label="Play it from its standard note too",
                    edit=PutOnNote(articulation=articulation.id, note=standard.note),
                ),
            ),
        )


def openness_gap(kit: Kit) -> Iterator[Finding]:
    """Openness zones of a note that leave a gap."""
    for note in sorted({p.note for p in kit.notes.placed}):
        zones = zones_of(kit.notes, note)
        name = note_name(note, kit.notes.middle_c)
        if not zones:
            continue
        silent = [v for v in range(128) if not any(z.open_from <= v <= z.open_to for z in zones)]
        whole = any(p.note == note and p not in zones for p in kit.notes.placed)
        if not silent or whole:
            continue
        fixes = [
            Fix(
                label="Close the gap between zones",
                edit=MoveOpennessLimit(note=note, limit=number, openness=above.open_from - 1),
            )
            for number, (below, above) in enumerate(pairwise(zones))
            if above.open_from > below.open_to + 1
        ][:1]
        fixes.append(Fix(label="Give each articulation a note", edit=NoteEach(note=note)))
        yield Finding(
            rule="openness_gap",
            level=LOOK,
            title=f"{name} has a gap along the pedal",
            sentence=f"Nothing on {name} plays while the pedal is at {_stretches(silent)}.",
            place=name,
            where=Where(step="notes", note=note),
            fixes=tuple(fixes),
        )


def _stretches(values: list[int]) -> str:
    """Consecutive values as ranges: “3 to 9 and 20”."""
    after_gaps = [0, *(n for n in range(1, len(values)) if values[n] != values[n - 1] + 1), len(values)]
    ends = [(values[a], values[b - 1]) for a, b in pairwise(after_gaps)]
    return as_list([f"{low} to {high}" if high > low else f"{low}" for low, high in ends])


def open_hat_rings_on(kit: Kit) -> Iterator[Finding]:
    for piece in pieces_of(kit):
        if piece.family is not Family.HATS:
            continue
        stopped = {s.articulation for a in piece.articulations for s in a.chokes}
        ringing = [a for a in piece.articulations if rings_open(a)]
        for articulation in ringing:
            if len(ringing) < len(piece.articulations) and articulation.id not in stopped:
                yield Finding(
                    rule="open_hat_rings_on",
                    level=LOOK,
                    title=f"Nothing chokes {full_name(piece, articulation)}",
                    sentence="Closing the hats should choke an open articulation, but none of the others does.",
                    place=articulation_place(piece, articulation),
                    where=articulation_where("notes", piece, articulation),
                    fixes=(Fix(label="Let closed articulations choke open ones", edit=ChokeAsUsual(piece=piece.id)),),
                )


def hand_stops_nothing(kit: Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        if is_hand_stop(articulation) and len(piece.articulations) > 1 and not articulation.chokes:
            yield Finding(
                rule="hand_stops_nothing",
                level=LOOK,
                title=f"{full_name(piece, articulation)} chokes nothing",
                sentence=f"It is a hand choke, but {piece.name} keeps ringing.",
                place=articulation_place(piece, articulation),
                where=articulation_where("notes", piece, articulation),
                fixes=(Fix(label=f"Let it choke {piece.name}", edit=ChokeAsUsual(piece=piece.id)),),
            )


RULES = (without_note, open_hat_rings_on, hand_stops_nothing, openness_gap, standard_note_empty, stacked_note)
