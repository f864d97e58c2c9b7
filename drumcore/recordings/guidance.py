"""What somebody said about how a session's names are to be read: it goes before what the reader would decide."""

from collections.abc import Collection, Sequence
from typing import Annotated, Literal

from pydantic import Field

from drumcore.kit.values import Family
from drumcore.recordings.lexicon import LearnedWord
from drumcore.refusals import Refusal
from drumcore.value import Value

Meaning = Literal["piece", "articulation", "mic", "strength", "repeat", "hand", "note", "ignored"]


class Ruling(Value):
    """In every name of a group of alike names, column `column` means this."""

    group: str
    column: Annotated[int, Field(ge=0, le=60)]
    meaning: Meaning


class PlacedFile(Value):
    """A file placed by hand: whose it is, and the file whose take it belongs to, or a take of its own for None."""

    path: str
    piece: Annotated[str, Field(min_length=1, max_length=120)]
    articulation: Annotated[str, Field(max_length=120)] = ""
    mic: Annotated[str, Field(max_length=120)] = ""
    beside: str | None = None


class Guidance(Value):
    """`apart` are files to leave aside; `into` names the piece all files belong to, when they were dropped on one. With
    `each_alone` every file is a piece by itself, named by it: sounds dropped on notes."""

    rulings: tuple[Ruling, ...] = ()
    words: tuple[LearnedWord, ...] = ()
    placed: tuple[PlacedFile, ...] = ()
    apart: tuple[str, ...] = ()
    into: str | None = None
    into_family: Family = Family.OTHER
    each_alone: bool = False

    def meanings(self, group: str) -> dict[int, Meaning]:
        return {ruling.column: ruling.meaning for ruling in self.rulings if ruling.group == group}


NO_GUIDANCE = Guidance()
ALIKE = 0.5


class SavedReading(Value):
    """How the columns of some groups of names were read, kept for sessions with names like them."""

    rulings: tuple[Ruling, ...] = ()
    groups: tuple[str, ...] = ()

    def fits(self, groups: Collection[str]) -> bool:
        """Whether it suits a session: that has at least half of its groups."""
        mine = set(self.groups)
        return bool(mine) and len(mine & set(groups)) >= ALIKE * len(mine)


def saved_reading(rulings: Sequence[Ruling], main_group: str) -> SavedReading:
    """What was said of a session's columns, to be kept. Raises Refusal where nothing was."""
    if not rulings:
        raise Refusal("Nothing was changed in how these names read; there is nothing to save.")
    return SavedReading(rulings=tuple(rulings), groups=tuple(sorted({r.group for r in rulings} | {main_group})))
