"""A kit's earlier versions: bookmarks, play tables, and restoring one."""

from datetime import datetime

from pydantic import BaseModel

from drumcore.edits.restore import with_routing_of
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlayHead, PlayPiece
from drumcore.refusals import Refusal
from studio.kits.models import KitRecord, KitVersion, Moment
from studio.kits.versions import BACK, current_kit, go_back, kit_at, kit_record

MOST_SHOWN = 60


class AsItWas(BaseModel):
    """Another version of a kit: all of it, or only its `routing` in the kit as it is now."""

    version: int
    routing: bool = True


class MomentShown(BaseModel):
    """A version of a kit: its edit's sentence, and its `name` if it is bookmarked."""

    version: int
    said: str
    name: str
    made: datetime


class TableThen(BaseModel):
    """The play table of an earlier version; of its pieces only those that differ from now."""

    head: PlayHead
    pieces: list[PlayPiece]


def kit_then(kit: Kit, kit_id: str, then: AsItWas) -> Kit:
    """A kit as it was. Raises Refusal if there is no such version."""
    if not KitVersion.objects.filter(kit_id=kit_id, number=then.version).exists():
        raise Refusal("That version of the kit is not there; choose another.")
    was = kit_at(kit_id, then.version)
    return with_routing_of(kit, was) if then.routing else was


def played_otherwise(kit: Kit, other: Kit) -> TableThen:
    """The play table of another state of a kit; of its pieces only those that differ."""
    now, then = compile_kit(kit), compile_kit(other)
    same = {piece.id: piece for piece in now.pieces}
    return TableThen(head=then.head, pieces=[piece for piece in then.pieces if same.get(piece.id) != piece])


def list_moments(kit_id: str) -> list[MomentShown]:
    """The versions that led to the current one, newest first, and all bookmarked ones."""
    record = kit_record(kit_id)
    names = dict(record.moments.values_list("number", "name"))
    rows = record.versions.only("number", "parent", "said", "created")
    known = {row.number: row for row in rows}
    led: list[int] = []
    at: int | None = record.current
    while at is not None and len(led) < MOST_SHOWN:
        led.append(at)
        at = known[at].parent
    shown = sorted({*led, *(number for number in names if number in known)}, reverse=True)
    return [MomentShown(version=n, said=known[n].said, name=names.get(n, ""), made=known[n].created) for n in shown]


def mark_moment(kit_id: str, version: int, name: str) -> None:
    """Bookmarks a version under a name. Raises Refusal for a kit that ships, or if there is no such version."""
    record = kit_record(kit_id)
    if record.ships:
        raise Refusal(f"{record.name} ships with Zesty Skin; save it under another name to name its versions.")
    name = " ".join(name.split())[:120]
    if not name:
        raise Refusal("A moment needs a name.")
    if not record.versions.filter(number=version).exists():
        raise Refusal("That version of the kit is not there; choose another.")
    Moment.objects.update_or_create(kit=record, number=version, defaults={"name": name})


def table_then(kit_id: str, then: AsItWas) -> TableThen:
    """The play table of an earlier version. Raises Refusal if its sample rate was another."""
    kit = current_kit(kit_id)
    was = kit_then(kit, kit_id, then)
    if was.rate_hz != kit.rate_hz:
        raise Refusal(f"The kit had a rate of {was.rate_hz:,} Hz then; it is heard at one rate at a time.")
    return played_otherwise(kit, was)


def back_to(kit_id: str, base_version: int, as_it_was: AsItWas) -> tuple[Kit, Kit, KitRecord]:
    """Restores an earlier version as one edit."""
    record = kit_record(kit_id)
    then = kit_then(kit_at(kit_id, record.current), kit_id, as_it_was)
    number = as_it_was.version
    named = record.moments.filter(number=number).values_list("name", flat=True).first()
    made = record.versions.filter(number=number).values_list("said", flat=True).first()
    said = f"{BACK[0]} {named}" if named else f"{BACK[0]} “{made}”"
    return go_back(kit_id, base_version, then.but(name=record.name), said)
