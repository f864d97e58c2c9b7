"""Edits of notes, openness and chokes."""

from collections.abc import Collection, Iterable
from typing import Annotated, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.lookup import articulation_of, full_name, piece_of, with_articulation, with_piece
from drumcore.kit.values import Choke, Family, Kit, Level, MidiNote, NoteMap, Openness, Placed, SavedMap
from drumcore.notes.chokes import with_usual_chokes
from drumcore.notes.lessons import Taught, occupants
from drumcore.notes.maps import apply_map, in_order
from drumcore.notes.names import note_name
from drumcore.notes.openness import along_the_pedal, zones_of
from drumcore.notes.standard import HAT_OPENNESS, free_note
from drumcore.refusals import OccupiedNote, Refusal
from drumcore.value import Value

Occupied = Literal["stack", "take_over", "change_places"]


class PutOnNote(Value):
    """Puts an articulation on a note. If the note is occupied, `when_occupied` must say what to do. `from_note` moves
    it from that note, with its level; without it the articulation keeps its other notes. Swapping needs `from_note`:
    what was on the note goes there.
    """

    kind: Literal["put_on_note"] = "put_on_note"
    articulation: str
    note: MidiNote
    from_note: MidiNote | None = None
    when_occupied: Occupied | None = None


class MoveNote(Value):
    """Moves everything on a note to another note, with openness zones and levels."""

    kind: Literal["move_note"] = "move_note"
    note: MidiNote
    to: MidiNote
    when_occupied: Occupied | None = None


class RemoveFromNote(Value):
    kind: Literal["remove_from_note"] = "remove_from_note"
    articulation: str
    note: MidiNote


class SetPlaced(Value):
    """Sets the level at which a note plays an articulation."""

    kind: Literal["set_placed"] = "set_placed"
    note: MidiNote
    articulation: str
    gain_db: Level


class TeachNote(Value):
    """Puts an articulation on the note its pad sends, and removes it from all others. `beside` are articulations of the
    same hats taught on the same note at another openness: they share it as zones that meet halfway. Anything else on
    the note is stacked or replaced.
    """

    kind: Literal["teach_note"] = "teach_note"
    articulation: str
    note: MidiNote
    openness: Openness | None = None
    beside: tuple[Taught, ...] = ()
    when_occupied: Literal["stack", "take_over"] | None = None


class SetMiddleC(Value):
    kind: Literal["set_middle_c"] = "set_middle_c"
    octave: Annotated[int, Field(ge=3, le=5)]


class SpreadOpenness(Value):
    """Puts articulations of the hats on one note as openness zones, from closed to open."""

    kind: Literal["spread_openness"] = "spread_openness"
    piece: str
    note: MidiNote


class MoveOpennessLimit(Value):
    """Moves the limit between zone `limit` of a note (from 0, closed first) and the next: the zone ends at `openness`."""

    kind: Literal["move_openness_limit"] = "move_openness_limit"
    note: MidiNote
    limit: Annotated[int, Field(ge=0, le=16)]
    openness: Annotated[int, Field(ge=0, le=126)]


class NoteEach(Value):
    """Removes the zones of a note: the most open articulation keeps it, the others get notes of their own."""

    kind: Literal["note_each"] = "note_each"
    note: MidiNote


class SetOpenness(Value):
    """Sets the blend between openness zones, and whether closing the pedal sounds without a note; None leaves one as it
    is.
    """

    kind: Literal["set_openness"] = "set_openness"
    blend: Annotated[int, Field(ge=0, le=64)] | None = None
    pedal_sounds: bool | None = None


class SetChoke(Value):
    """Makes a strike of `articulation` stop `stopped`, fading by `fade_ms`; None removes the choke."""

    kind: Literal["set_choke"] = "set_choke"
    articulation: str
    stopped: str
    fade_ms: Annotated[float, Field(gt=0.0, le=5000.0)] | None


class ChokeAsUsual(Value):
    """Gives a piece the usual chokes of its family: hats stop more open articulations, a hand stops its cymbal."""

    kind: Literal["choke_as_usual"] = "choke_as_usual"
    piece: str


class SetHandStop(Value):
    """Lets a hand on the pad (aftertouch) stop a piece, fading by `fade_ms`; None turns that off."""

    kind: Literal["set_hand_stop"] = "set_hand_stop"
    piece: str
    fade_ms: Annotated[float, Field(gt=0.0, le=5000.0)] | None


class ApplyMap(Value):
    """Applies a note map (None: the standard one). Articulations the map does not place keep their notes where these
    are free.
    """

    kind: Literal["apply_map"] = "apply_map"
    map: SavedMap | None = None


def _with_placed(kit: Kit, placed: Iterable[Placed]) -> Kit:
    return kit.but(notes=kit.notes.but(placed=in_order(placed)))


def occupied(kit: Kit, note: int, *, besides: Collection[str] = (), moving: bool) -> OccupiedNote:
    """A sentence that names what a note plays already and asks what to do."""
    names = " and ".join(occupants(kit, note, besides))
    more = ", replace or swap" if moving else " or replace"
    return OccupiedNote(f"{note_name(note, kit.notes.middle_c)} plays {names}; say whether to stack{more}.")


def _put_on_note(kit: Kit, edit: PutOnNote) -> Kit:
    piece, articulation = articulation_of(kit, edit.articulation)
    if edit.from_note == edit.note:
        return kit
    there = [p for p in kit.notes.placed if p.note == edit.note]
    if any(p.articulation == edit.articulation for p in there):
        raise Refusal(f"{full_name(piece, articulation)} is on {note_name(edit.note, kit.notes.middle_c)} already.")
    if there and edit.when_occupied is None:
        raise occupied(kit, edit.note, moving=edit.from_note is not None)
    moved = [p for p in kit.notes.placed if p.note == edit.from_note and p.articulation == edit.articulation]
    if edit.from_note is not None and not moved:
        raise Refusal(
            f"{note_name(edit.from_note, kit.notes.middle_c)} does not play {full_name(piece, articulation)}."
        )
    if edit.when_occupied == "change_places" and edit.from_note is None:
        raise Refusal(f"{full_name(piece, articulation)} has no note to swap with; stack it or replace the note.")
    placed = list(kit.notes.placed)
    if edit.from_note is not None:
        placed = _off_note(kit.notes, edit.articulation, edit.from_note)
    if edit.when_occupied == "take_over":
        placed = [p for p in placed if p not in there]
    elif edit.when_occupied == "change_places" and edit.from_note is not None:
        placed = [p for p in placed if p not in there] + [p.but(note=edit.from_note) for p in there]
    placed.append(
        Placed(note=edit.note, articulation=edit.articulation, gain_db=moved[0].gain_db if len(moved) == 1 else 0.0)
    )
    return _with_placed(kit, placed)


def _move_note(kit: Kit, edit: MoveNote) -> Kit:
    ours = [p for p in kit.notes.placed if p.note == edit.note]
    there = [p for p in kit.notes.placed if p.note == edit.to]
    if edit.note == edit.to:
        return kit
    if not ours:
        raise Refusal(f"{note_name(edit.note, kit.notes.middle_c)} plays nothing that could move.")
    if there and edit.when_occupied is None:
        raise occupied(kit, edit.to, moving=True)
    left = [p for p in kit.notes.placed if p not in ours and p not in there]
    already = {p.articulation for p in there} if edit.when_occupied == "stack" else set()
    left += [p.but(note=edit.to) for p in ours if p.articulation not in already]
    if edit.when_occupied == "stack":
        left += there
    elif edit.when_occupied == "change_places":
        left += [p.but(note=edit.note) for p in there]
    return _with_placed(kit, left)


def _take_off_note(kit: Kit, edit: RemoveFromNote) -> Kit:
    left = _off_note(kit.notes, edit.articulation, edit.note)
    if len(left) == len(kit.notes.placed):
        raise Refusal(f"{note_name(edit.note, kit.notes.middle_c)} does not play that articulation.")
    return _with_placed(kit, left)


def _off_note(notes: NoteMap, articulation: str, note: int) -> list[Placed]:
    """What is on a note once an articulation has left it. A neighbour takes over its zone, so that no openness is
    silent.
    """
    left = [p for p in notes.placed if not (p.note == note and p.articulation == articulation)]
    zones = zones_of(notes, note)
    gone = next((p for p in zones if p.articulation == articulation), None)
    if gone is None:
        return left
    others = [p for p in zones if p is not gone]
    neighbour = next((p for p in reversed(others) if p.open_to < gone.open_from), others[0] if others else None)
    return [
        p.but(open_from=min(p.open_from, gone.open_from), open_to=max(p.open_to, gone.open_to)) if p is neighbour else p
        for p in left
    ]


def _set_placed(kit: Kit, edit: SetPlaced) -> Kit:
    found = [p for p in kit.notes.placed if p.note == edit.note and p.articulation == edit.articulation]
    if not found:
        raise Refusal(f"{note_name(edit.note, kit.notes.middle_c)} does not play that articulation.")
    return _with_placed(kit, (p.but(gain_db=edit.gain_db) if p in found else p for p in kit.notes.placed))


def _teach_note(kit: Kit, edit: TeachNote) -> Kit:
    piece, articulation = articulation_of(kit, edit.articulation)
    beside = tuple(t for t in edit.beside if t.note == edit.note and t.openness is not None)
    known = {edit.articulation, *(t.articulation for t in beside)}
    for other in beside:
        if articulation_of(kit, other.articulation)[0].id != piece.id:
            raise Refusal(f"Only articulations of {piece.name} can share a note with {articulation.name} by openness.")
    there = [p for p in kit.notes.placed if p.note == edit.note and p.articulation not in known]
    if there and edit.when_occupied is None:
        raise occupied(kit, edit.note, besides=known, moving=False)
    placed = [
        p
        for p in kit.notes.placed
        if p.articulation != edit.articulation and not (p.note == edit.note and p.articulation in known)
    ]
    if edit.when_occupied == "take_over":
        placed = [p for p in placed if p not in there]
    if beside and edit.openness is not None:
        placed += _zones(
            edit.note, [(t.openness or 0, t.articulation) for t in beside] + [(edit.openness, articulation.id)]
        )
    else:
        placed.append(Placed(note=edit.note, articulation=articulation.id))
    return _with_placed(kit, placed)


def _zones(note: int, at: list[tuple[int, str]]) -> list[Placed]:
    """Articulations on one note by the openness each was struck at, as zones that meet halfway."""
    ordered = sorted(at)
    zones, low = [], 0
    for number, (openness, articulation) in enumerate(ordered):
        last = number == len(ordered) - 1
        high = 127 if last else min(126, max(low, (openness + ordered[number + 1][0]) // 2))
        zones.append(Placed(note=note, articulation=articulation, open_from=low, open_to=high))
        low = high + 1
    return zones


def _set_middle_c(kit: Kit, edit: SetMiddleC) -> Kit:
    return kit.but(notes=kit.notes.but(middle_c=edit.octave))


def _spread_openness(kit: Kit, edit: SpreadOpenness) -> Kit:
    piece = piece_of(kit, edit.piece)
    articulations = along_the_pedal(piece)
    if piece.family is not Family.HATS or len(articulations) < 2:
        raise Refusal(f"{piece.name} has no articulations along a pedal to spread; name them closed, half open, open.")
    ours = {a.id for a in piece.articulations}
    others = occupants(kit, edit.note, ours)
    if others:
        raise Refusal(
            f"{note_name(edit.note, kit.notes.middle_c)} plays {' and '.join(others)} as well; remove that first."
        )
    placed = [p for p in kit.notes.placed if p.note != edit.note]
    usual = [HAT_OPENNESS.get(a.name) for a in articulations]
    low = 0
    for number, articulation in enumerate(articulations):
        up_to = usual[number]
        even = round(128 * (number + 1) / len(articulations)) - 1
        last = number == len(articulations) - 1
        high = 127 if last else max(low, up_to if up_to is not None and None not in usual else even)
        placed.append(Placed(note=edit.note, articulation=articulation.id, open_from=low, open_to=high))
        low = high + 1
    return _with_placed(kit, placed)


def _move_openness_limit(kit: Kit, edit: MoveOpennessLimit) -> Kit:
    zones = zones_of(kit.notes, edit.note)
    if edit.limit + 1 >= len(zones):
        raise Refusal(f"{note_name(edit.note, kit.notes.middle_c)} has {len(zones)} zones along the pedal.")
    below, above = zones[edit.limit], zones[edit.limit + 1]
    at = max(below.open_from, min(above.open_to - 1, edit.openness))
    return _with_placed(
        kit,
        (p.but(open_to=at) if p is below else p.but(open_from=at + 1) if p is above else p for p in kit.notes.placed),
    )


def _note_each(kit: Kit, edit: NoteEach) -> Kit:
    zones = zones_of(kit.notes, edit.note)
    if not zones:
        raise Refusal(f"{note_name(edit.note, kit.notes.middle_c)} is not split by openness.")
    placed = [p for p in kit.notes.placed if p not in zones]
    widest = zones[-1]
    placed.append(widest.but(open_from=0, open_to=127))
    piece, _ = articulation_of(kit, widest.articulation)
    for zone in zones[:-1]:
        if any(p.articulation == zone.articulation for p in placed):
            continue
        taken = {p.note for p in placed}
        _, articulation = articulation_of(kit, zone.articulation)
        free = free_note(piece, articulation.name, taken)
        if free is not None:
            placed.append(Placed(note=free, articulation=articulation.id, gain_db=zone.gain_db))
    return _with_placed(kit, placed)


def _set_openness(kit: Kit, edit: SetOpenness) -> Kit:
    notes = kit.notes
    if edit.blend is not None:
        notes = notes.but(openness_blend=edit.blend)
    if edit.pedal_sounds is not None:
        notes = notes.but(pedal_sounds=edit.pedal_sounds)
    return kit.but(notes=notes)


def _set_choke(kit: Kit, edit: SetChoke) -> Kit:
    articulation_of(kit, edit.stopped)
    rule = () if edit.fade_ms is None else (Choke(articulation=edit.stopped, fade_ms=edit.fade_ms),)
    return with_articulation(
        kit,
        edit.articulation,
        lambda a: a.but(chokes=(*(s for s in a.chokes if s.articulation != edit.stopped), *rule)),
    )


MEANINGS = Meanings()
MEANINGS.add(PutOnNote, _put_on_note)
MEANINGS.add(MoveNote, _move_note)
MEANINGS.add(RemoveFromNote, _take_off_note)
MEANINGS.add(SetPlaced, _set_placed)
MEANINGS.add(TeachNote, _teach_note)
MEANINGS.add(SetMiddleC, _set_middle_c)
MEANINGS.add(SpreadOpenness, _spread_openness)
MEANINGS.add(MoveOpennessLimit, _move_openness_limit)
MEANINGS.add(NoteEach, _note_each)
MEANINGS.add(SetOpenness, _set_openness)
MEANINGS.add(SetChoke, _set_choke)
MEANINGS.add(ChokeAsUsual, lambda kit, edit: with_piece(kit, edit.piece, with_usual_chokes))
MEANINGS.add(SetHandStop, lambda kit, edit: with_piece(kit, edit.piece, lambda p: p.but(hand_stop_ms=edit.fade_ms)))
MEANINGS.add(ApplyMap, lambda kit, edit: apply_map(kit, edit.map))
