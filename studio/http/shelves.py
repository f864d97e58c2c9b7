"""Saved items: the same routes for every kind, each with its own type of value."""

from contextlib import suppress
from typing import Annotated, Any, Generic, TypeVar

from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from drumcore.refusals import Refusal
from drumcore.value import Value
from studio.shelves.kinds import KINDS, SavedKind, Shipped
from studio.shelves.models import Kept
from studio.shelves.shelf import all_of, free_name, keep, one, ours, rename, replace, value_of

router = Router()
V = TypeVar("V", bound=Value)


class Card(Schema, Generic[V]):
    """One item: `ours` if it belongs to the user; `value` is None if it is made for each kit."""

    id: str
    name: str
    ours: bool
    value: V | None


class Renamed(Schema):
    name: Annotated[str, Field(min_length=1, max_length=120)]


class New(Renamed, Generic[V]):
    value: V


def card(kind: SavedKind, found: Shipped | Kept) -> Card[Any]:
    return Card(id=str(found.id), name=found.name, ours=isinstance(found, Kept), value=value_of(kind, found))


def _calls(kind: SavedKind) -> None:
    """The routes of one kind."""
    shown: Any = Card[kind.value]  # type: ignore[name-defined]
    address, known = f"/shelves/{kind.plural}", f"/shelves/{kind.plural}/{{kept_id}}"
    # Each route needs a unique name in the API's description.
    called = kind.plural

    @router.get(address, response=list[shown], operation_id=f"{called}_list")
    def every(request: HttpRequest) -> list[Any]:
        cards = []
        for found in all_of(kind):
            # A damaged item must not hide the others; the library says what is wrong with it.
            with suppress(Refusal):
                cards.append(card(kind, found))
        return cards

    @router.post(address, response=shown, operation_id=f"{called}_keep")
    def keep_one(request: HttpRequest, asked: New[kind.value]) -> Any:  # type: ignore[name-defined]
        return card(kind, keep(kind, asked.name, asked.value))

    @router.put(known, response=shown, operation_id=f"{called}_replace")
    def replace_one(request: HttpRequest, kept_id: str, asked: kind.value) -> Any:  # type: ignore[name-defined]
        return card(kind, replace(kind, kept_id, asked))

    @router.post(f"{known}/rename", response=shown, operation_id=f"{called}_rename")
    def rename_one(request: HttpRequest, kept_id: str, asked: Renamed) -> Any:
        return card(kind, rename(kind, kept_id, asked.name))

    @router.post(f"{known}/duplicate", response=shown, operation_id=f"{called}_duplicate")
    def duplicate_one(request: HttpRequest, kept_id: str) -> Any:
        """Copies an item under a free name."""
        found = one(kind, kept_id)
        value = value_of(kind, found)
        if value is None:
            raise Refusal(f"{found.name} is made for each kit; use it, then save what the kit has.")
        return card(kind, keep(kind, free_name(kind, found.name), value))

    @router.delete(known, response={204: None}, operation_id=f"{called}_remove")
    def remove_one(request: HttpRequest, kept_id: str) -> Status[None]:
        ours(kind, kept_id).delete()
        return Status(204, None)


for _kind in KINDS:
    if not _kind.large:
        _calls(_kind)
