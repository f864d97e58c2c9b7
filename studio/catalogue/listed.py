"""What the library can do with an item of any kind: list, describe, copy, move to the bin, delete."""

from abc import ABC, abstractmethod
from collections.abc import Iterator
from typing import Generic, TypeVar

from django.db.models import Model, QuerySet

from drumcore.refusals import Refusal
from drumcore.shelf.entries import Entry
from studio.people.rows import row_of

M = TypeVar("M", bound=Model)


class Listed(ABC):
    """One kind of item. Every method raises Refusal with a sentence if the item does not exist, or ships and would be
    changed. `file` is the suffix of its file form.
    """

    kind: str
    noun: str
    file: str = ""

    @abstractmethod
    def entries(self, put_away: bool = False) -> Iterator[Entry]:
        """All items of the kind, or those in the bin."""

    def entry(self, identifier: str) -> Entry:
        """One item, in the bin or not."""
        for put_away in (False, True):
            for entry in self.entries(put_away):
                if entry.id == identifier:
                    return entry
        raise self.not_there()

    @abstractmethod
    def count(self, put_away: bool = False) -> int: ...

    @abstractmethod
    def say(self, identifier: str, name: str | None, description: str | None, tags: tuple[str, ...] | None) -> None:
        """Sets its name, description or tags; None leaves a field as it is."""

    @abstractmethod
    def duplicate(self, identifier: str, name: str | None) -> str:
        """Copies it under this name, or with a number if the name is in use; returns the new id."""

    @abstractmethod
    def put_away(self, identifier: str, put_away: bool) -> None:
        """Moves it to the bin or restores it; nothing else changes."""

    @abstractmethod
    def remove(self, identifier: str) -> None:
        """Deletes it for good. Its recordings stay as long as anything else needs them."""

    def related(self, identifier: str) -> list[str]:
        """Where it came from and what was made from it, in sentences."""
        return []

    def not_there(self) -> Refusal:
        return Refusal(f"There is no such {self.noun}; it may have been deleted.")

    def ships(self, name: str) -> Refusal:
        return Refusal(f"{name} ships with Zesty Skin and cannot be changed; duplicate it to have one of your own.")


class ListedRows(Listed, Generic[M]):
    """A kind with a table of its own."""

    model: type[M]

    def count(self, put_away: bool = False) -> int:
        return self.rows.filter(put_away=put_away).count()

    @property
    def rows(self) -> QuerySet[M]:
        return self.model._default_manager.all()

    def row(self, identifier: str) -> M:
        found = row_of(self.model, identifier)
        if found is None:
            raise self.not_there()
        return found

    @abstractmethod
    def is_shipped(self, row: M) -> bool: ...

    def ours(self, identifier: str) -> M:
        """The row, if it may be changed."""
        row = self.row(identifier)
        if self.is_shipped(row):
            raise self.ships(str(row.name))  # type: ignore[attr-defined]  # every such table has it
        return row

    def plain_name(self, name: str) -> str:
        plain = " ".join(name.split())[:120]
        if not plain:
            raise Refusal(f"A {self.noun} needs a name.")
        return plain

    def put_away(self, identifier: str, put_away: bool) -> None:
        self.rows.filter(pk=self.row(identifier).pk).update(put_away=put_away)
