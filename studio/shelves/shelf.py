"""Saving items under names, with one rule for names of every kind. Nothing is overwritten without asking."""

from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from django.db import IntegrityError, transaction
from pydantic import ValidationError

from drumcore.refusals import Refusal
from drumcore.value import Value
from studio.people.rows import row_of
from studio.shelves.kinds import SavedKind, Shipped
from studio.shelves.models import Kept
from studio.shelves.references import refer

LONGEST = 120


def all_of(kind: SavedKind) -> Iterator[Shipped | Kept]:
    """Shipped items first, then the user's by name, without those in the bin."""
    yield from kind.shipped()
    yield from Kept.objects.filter(kind=kind.plural, put_away=False).order_by("name")


def one(kind: SavedKind, identifier: str) -> Shipped | Kept:
    """Raises Refusal if there is none."""
    shipped = next((each for each in kind.shipped() if each.id == identifier), None)
    return shipped or ours(kind, identifier)


def ours(kind: SavedKind, identifier: str) -> Kept:
    """An item that may be changed. Raises Refusal if it ships or does not exist."""
    found = row_of(Kept, identifier)
    if found is None or found.kind != kind.plural:
        raise Refusal(
            f"There is no such {kind.noun} of yours; it may have been deleted. Those that ship cannot be changed."
        )
    return found


def value_of(kind: SavedKind, found: Shipped | Kept) -> Any:
    """Its value; None if it is made for each kit. Raises Refusal if the stored value is damaged."""
    if isinstance(found, Shipped):
        return found.value
    try:
        return kind.value.model_validate(found.data)
    except ValidationError:
        raise damaged(kind, found) from None


def damaged(kind: SavedKind, found: Kept) -> Refusal:
    return Refusal(f"The saved data of the {kind.noun} {found.name} cannot be read; restore it from a backup.")


def keep(kind: SavedKind, name: str, value: Value) -> Kept:
    """Saves a value under a name. Raises Refusal if the name is empty, or in use by a shipped or a saved item."""
    name = _allowed(kind, name)
    try:
        with transaction.atomic():
            kept = Kept.objects.create(
                kind=kind.plural, name=name, data=_data(kind, name, value), summary=_summary(kind, value)
            )
            refer(kept)
            return kept
    except IntegrityError:
        raise _taken(kind, name) from None


def replace(kind: SavedKind, identifier: str, value: Value) -> Kept:
    """Replaces the value of one of the user's items; its name stays."""
    found = ours(kind, identifier)
    found.data, found.summary = _data(kind, found.name, value), _summary(kind, value)
    with transaction.atomic():
        found.save()
        refer(found)
    return found


def rename(kind: SavedKind, identifier: str, name: str) -> Kept:
    found = ours(kind, identifier)
    name = _allowed(kind, name)
    found.data = _data(kind, name, value_of(kind, found))
    found.name = name
    try:
        with transaction.atomic():
            found.save()
    except IntegrityError:
        raise _taken(kind, name) from None
    return found


def describe(kind: SavedKind, identifier: str, description: str | None, tags: tuple[str, ...] | None) -> None:
    """Sets the description or tags of one of the user's items; None leaves a field as it is."""
    found = ours(kind, identifier)
    found.description = found.description if description is None else description.strip()[:2000]
    found.tags = found.tags if tags is None else list(tags)
    found.save()


def free_name(kind: SavedKind, name: str) -> str:
    """The name itself, or with a number if it is in use."""
    shipped = {found.name for found in kind.shipped()}
    taken = shipped | set(Kept.objects.filter(kind=kind.plural).values_list("name", flat=True))
    number = 2
    while f"{name[: LONGEST - 6]} {number}" in taken:
        number += 1
    return name if name not in taken else f"{name[: LONGEST - 6]} {number}"


def _allowed(kind: SavedKind, name: str) -> str:
    name = " ".join(name.split())[:LONGEST]
    if not name:
        raise Refusal(f"A {kind.noun} needs a name.")
    if name in {shipped.name for shipped in kind.shipped()}:
        raise Refusal(f"“{name}” ships with the product; save yours under another name.")
    return name


def _taken(kind: SavedKind, name: str) -> Refusal:
    return Refusal(f"There is a {kind.noun} “{name}” already; choose another name, or replace that one.")


def _summary(kind: SavedKind, value: Value) -> dict[str, Any]:
    """What is stored beside a value that is too large for lists."""
    if kind.summed is None:
        return {}
    return {"kit": kind.summed(value).model_dump(mode="json"), "says": asdict(kind.said_of(value))}


def _data(kind: SavedKind, name: str, value: Value) -> dict[str, Any]:
    return kind.named(value, name).model_dump(mode="json")
