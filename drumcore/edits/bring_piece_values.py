"""Values that describe how a piece of another kit, of the library or of a file is brought in."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from drumcore.kit.values import Identifier, Kit, Level, Measured, MidiNote, Name, Origin
from drumcore.value import Value


class Entering(Value):
    """Where an incoming microphone goes.

    With `taken` false it stays behind, with its recordings. `own` makes it the piece's own; `channel` names a channel
    to feed; with neither it goes where a new piece's microphone would go. `joins` names a microphone of this kit, of
    equal width, to merge with: its level moves into the feeds and its polarity into the recordings.
    """

    mic: Identifier
    taken: bool = True
    own: bool = False
    channel: Identifier = ""
    joins: Identifier = ""


class OnNote(Value):
    """An incoming articulation on a note."""

    articulation: Identifier
    note: MidiNote


class BringPiece(Value):
    """Brings one piece in.

    `alone` is a kit that holds just this piece (`shelf.kept_piece`), `of` the kit it comes from. It replaces a piece
    (`instead_of`: that piece's level, pan, sends, output, notes, chokes and position stay), sounds on all notes of one
    (`together_with`), or is added on `notes` (None: on free notes). `articulations` lists which come along, by default
    all. `treatment`, `touch` (curves and tracking) and `balance` (level, pan, sends) come along if wanted. With
    `rest_to_main`, notes of articulations it lacks play its main one. `gain_db` is its level change; `apart_db` is how
    far it measured under the piece it replaces, where that was measured.
    """

    kind: Literal["bring_piece"] = "bring_piece"
    alone: Kit
    of: Name = ""
    origin: Origin | None = None
    articulations: tuple[Identifier, ...] | None = None
    mics: Annotated[tuple[Entering, ...], Field(max_length=200)] = ()
    instead_of: Identifier = ""
    together_with: Identifier = ""
    notes: Annotated[tuple[OnNote, ...], Field(max_length=1000)] | None = None
    treatment: bool = True
    touch: bool = True
    balance: bool = False
    rest_to_main: bool = False
    gain_db: Level = 0.0
    apart_db: Measured | None = None

    @model_validator(mode="after")
    def _one_piece_in_one_place(self) -> Self:
        if len(self.alone.pieces) != 1:
            raise ValueError("one piece is brought at a time")
        if self.instead_of and self.together_with:
            raise ValueError("a piece replaces another or is layered with it, not both")
        return self


class BringPieces(Value):
    """Brings several pieces in as one edit, one after another: a set of toms, all cymbals. Microphones they share come
    in once.
    """

    kind: Literal["bring_pieces"] = "bring_pieces"
    taken: Annotated[tuple[BringPiece, ...], Field(min_length=1, max_length=64)]
