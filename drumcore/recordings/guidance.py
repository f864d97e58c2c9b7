"""The user's corrections of how a session's names are read. They override what the reader would decide."""

from collections.abc import Collection, Sequence
from typing import Annotated, Literal

from pydantic import Field

from drumcore.kit.values import Family
from drumcore.recordings.lexicon import LearnedWord
from drumcore.refusals import Refusal
from drumcore.value import Value

Meaning = Literal["piece", "articulation", "mic", "strength", "repeat", "hand", "note", "ignored"]


class Ruling(Value):
    """In every name of a group, column `column` has this meaning."""

    group: str
    column: Annotated[int, Field(ge=0, le=60)]
    meaning: Meaning


class PlacedFile(Value):
    """A file placed by hand: its piece and articulation, and the file whose take it joins (None: a new take)."""

    path: str
    piece: Annotated[str, Field(min_length=1, max_length=120)]
    articulation: Annotated[str, Field(max_length=120)] = ""
    mic: Annotated[str, Field(max_length=120)] = ""
    beside: str | None = None


class Guidance(Value):
    """`apart` are files to leave out; `into` names the piece all files belong to, if they were dropped on one. With
    `each_alone` every file becomes a piece of its own, named after it: sounds dropped on notes.
    """

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
    """How the columns of some groups of names were read, saved for sessions with similar names."""

    rulings: tuple[Ruling, ...] = ()
    groups: tuple[str, ...] = ()

    def fits(self, groups: Collection[str]) -> bool:
        """Whether it fits a session: at least half of its groups occur there."""
        mine = set(self.groups)
        return bool(mine) and len(mine & set(groups)) >= ALIKE * len(mine)


def saved_reading(rulings: Sequence[Ruling], main_group: str) -> SavedReading:
    """The corrections of a session's columns, to be saved. Raises Refusal if there are none."""
    if not rulings:
        raise Refusal("Nothing was changed in how these names read; there is nothing to save.")
    return SavedReading(rulings=tuple(rulings), groups=tuple(sorted({r.group for r in rulings} | {main_group})))
