"""Saved items and the shipped ones beside them, in the library."""

from collections.abc import Iterator

from pydantic import ValidationError

from drumcore.formats.suffix import PIECE_SUFFIX
from drumcore.kit.summary import KitSummary, PieceSummary
from drumcore.kit.tags import plain_tags
from drumcore.refusals import Refusal
from drumcore.shelf.entries import Entry
from studio.catalogue.listed import Listed
from studio.shelves.kinds import SavedKind, Says, Shipped
from studio.shelves.models import Kept
from studio.shelves.shelf import damaged, describe, free_name, keep, one, ours, rename, value_of


class OfKept(Listed):
    def __init__(self, kind: SavedKind) -> None:
        self.of, self.kind, self.noun = kind, kind.plural, kind.noun
        self.file = PIECE_SUFFIX if kind.large else ".json"
        self._known: dict[str, tuple[object, Entry]] = {}

    def entries(self, put_away: bool = False) -> Iterator[Entry]:
        if not put_away:
            for shipped in self.of.shipped():
                yield self._remembered(shipped.id, shipped.name, shipped)
        for kept in Kept.objects.filter(kind=self.kind, put_away=put_away).order_by("name"):
            yield self._remembered(str(kept.id), (kept.changed, kept.put_away), kept)

    def _remembered(self, identifier: str, mark: object, found: Shipped | Kept) -> Entry:
        known = self._known.get(identifier)
        if known is None or known[0] != mark:
            known = self._known[identifier] = (mark, self._entry(identifier, found))
        return known[1]

    def _entry(self, identifier: str, found: Shipped | Kept) -> Entry:
        if isinstance(found, Shipped):
            says = self.of.says(found)
            return Entry(
                kind=self.kind,
                id=identifier,
                name=found.name,
                description=says.description,
                words=says.words,
                figures=says.figures,
                carried=found.value is not None,
                ships=True,
                built_in=True,
            )
        says, pieces, trouble = Says(), tuple[PieceSummary, ...](), ""
        try:
            says = self.of.says(found)
            pieces = KitSummary.model_validate(found.summary["kit"]).pieces if self.of.large else ()
        except (ValidationError, KeyError, TypeError):
            trouble = str(damaged(self.of, found))
        return Entry(
            kind=self.kind,
            id=identifier,
            name=found.name,
            description=found.description or says.description,
            tags=tuple(found.tags),
            words=says.words,
            figures=says.figures,
            pieces=pieces,
            carried=True,
            put_away=found.put_away,
            changed=found.changed,
            trouble=trouble,
        )

    def count(self, put_away: bool = False) -> int:
        shipped = 0 if put_away else sum(1 for _ in self.of.shipped())
        return shipped + Kept.objects.filter(kind=self.kind, put_away=put_away).count()

    def _ours(self, identifier: str) -> Kept:
        for shipped in self.of.shipped():
            if shipped.id == identifier:
                raise self.ships(shipped.name)
        return ours(self.of, identifier)

    def say(self, identifier: str, name: str | None, description: str | None, tags: tuple[str, ...] | None) -> None:
        found = self._ours(identifier)
        if name is not None and name.strip() != found.name:
            rename(self.of, identifier, name)
        describe(self.of, identifier, description, None if tags is None else plain_tags(tags))

    def duplicate(self, identifier: str, name: str | None) -> str:
        found = one(self.of, identifier)
        value = value_of(self.of, found)
        if value is None:
            raise Refusal(f"{found.name} is made for each kit; use it, then save what the kit has.")
        copy = keep(self.of, name or free_name(self.of, found.name), value)
        if isinstance(found, Kept):
            describe(self.of, str(copy.id), found.description, tuple(found.tags))
        return str(copy.id)

    def put_away(self, identifier: str, put_away: bool) -> None:
        found = self._ours(identifier)
        found.put_away = put_away
        found.save()

    def remove(self, identifier: str) -> None:
        self._ours(identifier).delete()
