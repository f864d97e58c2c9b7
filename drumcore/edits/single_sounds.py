"""Single sounds that become pieces, each on a note, named after its file, with the family the standard map has for that
note.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from drumcore.edits.bring_piece_steps import named_anew, under_their_names
from drumcore.edits.build_pieces import free_name
from drumcore.edits.notes import occupied
from drumcore.edits.registry import Meanings
from drumcore.kit.invariants import mics_named
from drumcore.kit.lookup import free_id, pieces_of, stopping_only
from drumcore.kit.values import Kit, Mic, MidiNote, Piece, Placed, slug
from drumcore.layers.dynamics import following_strength
from drumcore.notes.chokes import with_usual_chokes
from drumcore.notes.maps import in_order
from drumcore.notes.standard import filed_on
from drumcore.refusals import Refusal
from drumcore.routing.default_routing import route_pieces
from drumcore.value import Value

MOST_SOUNDS = 128


class AddSounds(Value):
    """Adds pieces of one articulation each, the first on `note` and the others on the nearest free notes, upwards
    first. If the first note is occupied, the edit must say what to do.
    """

    kind: Literal["add_sounds"] = "add_sounds"
    mics: tuple[Mic, ...]
    pieces: Annotated[tuple[Piece, ...], Field(min_length=1, max_length=MOST_SOUNDS)]
    note: MidiNote
    when_occupied: Literal["stack", "take_over"] | None = None

    @model_validator(mode="after")
    def _of_one_articulation(self) -> Self:
        if any(len(piece.articulations) != 1 for piece in self.pieces):
            raise ValueError("a single sound has one articulation")
        return self


def held_to_the_notes(count: int) -> None:
    """Raises Refusal if there are more sounds than notes."""
    if count > MOST_SOUNDS:
        raise Refusal(f"{count:,} sounds are more than there are notes; drop at most {MOST_SOUNDS}.")


def notes_beside(kit: Kit, first: int, count: int) -> list[int]:
    """A note and the `count` − 1 nearest free notes, upwards, then downwards. Raises Refusal if there are too few."""
    taken = {placed.note for placed in kit.notes.placed}
    free = [note for note in (*range(first + 1, 128), *range(first - 1, -1, -1)) if note not in taken]
    if count - 1 > len(free):
        raise Refusal(
            f"{count} sounds do not fit: {len(free) + 1} notes are free; drop fewer, or clear some notes first."
        )
    return [first, *free[: count - 1]]


def filed(piece: Piece, note: int) -> Piece:
    """A piece of one articulation with the name and family the standard map has for the note; unchanged if it has none."""
    stands = filed_on(note)
    if stands is None:
        return piece
    family, articulation = stands
    return piece.but(family=family, articulations=(piece.articulations[0].but(name=articulation),))


def _add_sounds(kit: Kit, edit: AddSounds) -> Kit:
    there = [p for p in kit.notes.placed if p.note == edit.note]
    if there and edit.when_occupied is None:
        raise occupied(kit, edit.note, moving=False)
    notes = notes_beside(kit, edit.note, len(edit.pieces))
    came, called = _microphones(kit, edit)
    left = [p for p in kit.notes.placed if p not in there or edit.when_occupied == "stack"]
    grown = kit.but(mics=(*kit.mics, *came), notes=kit.notes.but(placed=tuple(left)))
    for piece, note in zip(edit.pieces, notes, strict=True):
        missing = set(mics_named(piece)) - set(called)
        if missing:
            raise Refusal(f"{piece.name} uses a microphone that did not come with it: {', '.join(sorted(missing))}.")
        grown = _with_sound(grown, under_their_names(filed(piece, note), called, set()), note)
    return grown


def _with_sound(kit: Kit, piece: Piece, note: int) -> Kit:
    names = {p.name for p in pieces_of(kit)}
    name = piece.name if piece.name not in names else free_name(piece.name, names)
    identifier = free_id(slug(name), {p.id for p in pieces_of(kit)})
    alone = stopping_only(piece.but(name=name), {piece.articulations[0].id})
    added = following_strength(with_usual_chokes(named_anew(kit, alone, identifier, {})))
    placed = in_order((*kit.notes.placed, Placed(note=note, articulation=added.articulations[0].id)))
    grown = kit.but(pieces=(*pieces_of(kit), added), notes=kit.notes.but(placed=placed))
    return grown.but(routing=route_pieces((added,), grown))


def _microphones(kit: Kit, edit: AddSounds) -> tuple[list[Mic], dict[str, str]]:
    """The incoming microphones and their new ids. Single sounds come from no particular microphone, so one that matches
    an existing microphone in name and width is merged with it.
    """
    here = {mic.name: mic for mic in kit.mics}
    wanted = {mic for piece in edit.pieces for mic in mics_named(piece)}
    came, called, taken = list[Mic](), dict[str, str](), {mic.id for mic in kit.mics}
    for mic in edit.mics:
        if mic.id not in wanted or mic.id in called:
            continue
        same = here.get(mic.name)
        if same is not None and (same.width, same.kind) == (mic.width, mic.kind) and not same.inverted:
            called[mic.id] = same.id
            continue
        name = mic.name if mic.name not in here else free_name(mic.name, set(here))
        called[mic.id] = free_id(slug(name), taken)
        taken.add(called[mic.id])
        here[name] = mic.but(id=called[mic.id], name=name)
        came.append(here[name])
    return came, called


MEANINGS = Meanings()
MEANINGS.add(AddSounds, _add_sounds)
