"""Edits of pieces and articulations."""

from typing import Annotated, Any, Literal

from pydantic import Field

from drumcore.edits.build_pieces import (
    add_to_piece,
    build_pieces,
    duplicate_articulation,
    duplicate_piece,
    remove_piece,
)
from drumcore.edits.registry import Meanings
from drumcore.kit.lookup import articulation_of, free_id, piece_of, pieces_of, with_articulation, with_piece
from drumcore.kit.tags import plain_tags
from drumcore.kit.values import Articulation, Description, Family, Kit, Level, Mic, Piece, Tags, slug
from drumcore.recordings.lexicon import family_of
from drumcore.refusals import Refusal
from drumcore.routing.default_routing import own_channel
from drumcore.value import Value

Name = Annotated[str, Field(min_length=1, max_length=120)]


class RenameKit(Value):
    kind: Literal["rename_kit"] = "rename_kit"
    name: Name


class DescribeKit(Value):
    """Sets the kit's description or tags. None leaves a field as it is."""

    kind: Literal["describe_kit"] = "describe_kit"
    description: Description | None = None
    tags: Tags | None = None


class BuildPieces(Value):
    """Adds pieces read from a session, with microphones, notes, chokes and routing. A piece with an existing id
    replaces that piece. With `known_notes_only`, pieces whose names name no drum get no note, to be placed by sound.
    """

    kind: Literal["build_pieces"] = "build_pieces"
    mics: tuple[Mic, ...]
    pieces: tuple[Piece, ...]
    known_notes_only: bool = False


class AddToPiece(Value):
    """Adds articulations read from a session to a piece. Takes of an articulation it has join its layers by level."""

    kind: Literal["add_to_piece"] = "add_to_piece"
    piece: str
    mics: tuple[Mic, ...]
    articulations: tuple[Articulation, ...]


class MakePiece(Value):
    """Adds an empty piece. Without a family, its name decides."""

    kind: Literal["make_piece"] = "make_piece"
    name: Name
    family: Family | None = None


class SetPiece(Value):
    """Renames a piece, sets its family, or sets its level over all its feeds. None leaves a field as it is."""

    kind: Literal["set_piece"] = "set_piece"
    piece: str
    name: Name | None = None
    family: Family | None = None
    level_db: Level | None = None


class MovePiece(Value):
    """Moves a piece to another position in the kit, from 0."""

    kind: Literal["move_piece"] = "move_piece"
    piece: str
    place: Annotated[int, Field(ge=0)]


class DuplicatePiece(Value):
    """Copies a piece, fed to the same channels, without notes."""

    kind: Literal["duplicate_piece"] = "duplicate_piece"
    piece: str


class RemovePiece(Value):
    kind: Literal["remove_piece"] = "remove_piece"
    piece: str


class MakeArticulation(Value):
    kind: Literal["make_articulation"] = "make_articulation"
    piece: str
    name: Name


class RenameArticulation(Value):
    kind: Literal["rename_articulation"] = "rename_articulation"
    articulation: str
    name: Name


class MoveArticulation(Value):
    """Moves an articulation to another position in its piece, from 0."""

    kind: Literal["move_articulation"] = "move_articulation"
    articulation: str
    place: Annotated[int, Field(ge=0)]


class DuplicateArticulation(Value):
    kind: Literal["duplicate_articulation"] = "duplicate_articulation"
    articulation: str


class RemoveArticulation(Value):
    kind: Literal["remove_articulation"] = "remove_articulation"
    articulation: str


def _plain(name: str, what: str) -> str:
    found = " ".join(name.split())
    if not found:
        raise Refusal(f"{what} needs a name.")
    return found


def _describe_kit(kit: Kit, edit: DescribeKit) -> Kit:
    said = kit.description if edit.description is None else edit.description.strip()
    return kit.but(description=said, tags=kit.tags if edit.tags is None else plain_tags(edit.tags))


def _make_piece(kit: Kit, edit: MakePiece) -> Kit:
    name = _plain(edit.name, "A piece")
    new = free_id(slug(name), {p.id for p in pieces_of(kit)})
    family = edit.family or family_of(name)
    empty = Piece(id=new, name=name, family=family, articulations=())
    return kit.but(pieces=(*pieces_of(kit), empty))


def _set_piece(kit: Kit, edit: SetPiece) -> Kit:
    changes: dict[str, Any] = {}
    if edit.name is not None:
        changes["name"] = _plain(edit.name, "A piece")
    if edit.family is not None:
        changes["family"] = edit.family
    if edit.level_db is not None:
        changes["level_db"] = edit.level_db
    before = piece_of(kit, edit.piece)
    renamed = with_piece(kit, edit.piece, lambda p: p.but(**changes))
    # The channel is renamed along with its piece, unless somebody gave it a name of its own.
    own = own_channel(kit, before)
    channels = tuple(
        c.but(name=changes.get("name", c.name)) if c is own and c.name == before.name else c
        for c in kit.routing.channels
    )
    return renamed.but(routing=kit.routing.but(channels=channels))


def _move_piece(kit: Kit, edit: MovePiece) -> Kit:
    moving = piece_of(kit, edit.piece)
    others = [p for p in pieces_of(kit) if p.id != edit.piece]
    others.insert(edit.place, moving)
    return kit.but(pieces=tuple(others))


def _make_articulation(kit: Kit, edit: MakeArticulation) -> Kit:
    name = _plain(edit.name, "An articulation")
    piece = piece_of(kit, edit.piece)
    if any(a.name == name for a in piece.articulations):
        raise Refusal(f"{piece.name} has an articulation called {name} already; choose another name.")
    new = free_id(f"{piece.id}/{slug(name)}", {a.id for a in piece.articulations})
    empty = Articulation(id=new, name=name, takes=(), layers=())
    return with_piece(kit, edit.piece, lambda p: p.but(articulations=(*p.articulations, empty)))


def _rename_articulation(kit: Kit, edit: RenameArticulation) -> Kit:
    name = _plain(edit.name, "An articulation")
    piece, _ = articulation_of(kit, edit.articulation)
    if any(a.name == name and a.id != edit.articulation for a in piece.articulations):
        raise Refusal(f"{piece.name} has an articulation called {name} already; choose another name.")
    return with_articulation(kit, edit.articulation, lambda a: a.but(name=name))


def _move_articulation(kit: Kit, edit: MoveArticulation) -> Kit:
    piece, moving = articulation_of(kit, edit.articulation)
    others = [a for a in piece.articulations if a.id != edit.articulation]
    others.insert(edit.place, moving)
    owner = piece.id
    return with_piece(kit, owner, lambda p: p.but(articulations=tuple(others)))


def _remove_articulation(kit: Kit, edit: RemoveArticulation) -> Kit:
    """Its notes and the chokes that name it are removed too."""
    owner, gone = articulation_of(kit, edit.articulation)
    pieces = tuple(
        p.but(
            articulations=tuple(
                a.but(chokes=tuple(s for s in a.chokes if s.articulation != gone.id))
                for a in p.articulations
                if a.id != gone.id
            )
        )
        if p.id == owner.id or any(s.articulation == gone.id for a in p.articulations for s in a.chokes)
        else p
        for p in pieces_of(kit)
    )
    placed = tuple(p for p in kit.notes.placed if p.articulation != gone.id)
    return kit.but(pieces=pieces, notes=kit.notes.but(placed=placed))


MEANINGS = Meanings()
MEANINGS.add(DescribeKit, _describe_kit)
MEANINGS.add(RenameKit, lambda kit, edit: kit.but(name=edit.name.strip() or kit.name))
MEANINGS.add(BuildPieces, lambda kit, edit: build_pieces(kit, edit.mics, edit.pieces, edit.known_notes_only))
MEANINGS.add(AddToPiece, lambda kit, edit: add_to_piece(kit, edit.piece, edit.mics, edit.articulations))
MEANINGS.add(MakePiece, _make_piece)
MEANINGS.add(SetPiece, _set_piece)
MEANINGS.add(MovePiece, _move_piece)
MEANINGS.add(
    DuplicatePiece,
    lambda kit, edit: duplicate_piece(kit, edit.piece, free_id(edit.piece, {p.id for p in pieces_of(kit)})),
)
MEANINGS.add(RemovePiece, lambda kit, edit: remove_piece(kit, edit.piece))
MEANINGS.add(MakeArticulation, _make_articulation)
MEANINGS.add(RenameArticulation, _rename_articulation)
MEANINGS.add(MoveArticulation, _move_articulation)
MEANINGS.add(
    DuplicateArticulation,
    lambda kit, edit: duplicate_articulation(
        kit, edit.articulation, free_id(edit.articulation, {a.id for p in pieces_of(kit) for a in p.articulations})
    ),
)
MEANINGS.add(RemoveArticulation, _remove_articulation)
