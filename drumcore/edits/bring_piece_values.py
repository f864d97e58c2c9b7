"""How a piece of another kit, of the library or of a file is brought into a kit."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from drumcore.kit.values import Identifier, Kit, Level, Measured, MidiNote, Name, Origin
from drumcore.value import Value


class Entering(Value):
    """Where a microphone of the newcomer enters. One that is not `taken` stays behind with its recordings; `own` makes it the
    piece's own, `channel` leads it elsewhere; with neither it goes where a new piece's would. `joins` names a microphone
    of the kit, of equal width, whose it becomes: its level is carried into its feeds and its polarity into its recordings."""

    mic: Identifier
    taken: bool = True
    own: bool = False
    channel: Identifier = ""
    joins: Identifier = ""


class OnNote(Value):
    """An articulation of the newcomer on a note."""

    articulation: Identifier
    note: MidiNote


class BringPiece(Value):
    """`alone` is a kit of the piece alone (`shelf.kept_piece`), `of` the kit it was taken from.

    It takes the place of a piece (`instead_of`: our level, pan, sends, output, notes, chokes and place stay), sounds on all notes
    of one (`together_with`), or becomes a piece of its own, on `notes` (None: on those that are free). Its `articulations` come along, all unless said; its
    `treatment`, what `touch` it has (curves and what harder does) and its `balance` (level, pan, sends) where wanted. Notes of
    articulations that it has none for go to its main articulation where `rest_to_main`. `gain_db` makes it as loud as wanted; `apart_db` is how
    far it was under what it replaces, by the figure of both, where that was measured.
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
    """Several pieces taken one after another as one: a set of toms, all cymbals. What heard several of them comes once."""

    kind: Literal["bring_pieces"] = "bring_pieces"
    taken: Annotated[tuple[BringPiece, ...], Field(min_length=1, max_length=64)]
