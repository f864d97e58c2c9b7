"""A and B over HTTP: the versions a kit was at, moments marked among them, what each would play, and going back to one."""

from datetime import datetime
from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status
from pydantic import Field

from drumcore.edits.restore import with_routing_of
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlayHead, PlayPiece
from drumcore.refusals import Refusal
from studio.kits.models import KitVersion, Moment
from studio.kits.routes import answer
from studio.kits.state import KitState, state_after
from studio.kits.versions import BACK, current_kit, go_back, kit_at, kit_record

router = Router()
MOST_SHOWN = 60


class AsItWas(Schema):
    """Another version of a kit: all of it, or its `routing` alone with everything else as it is now."""

    version: int
    routing: bool = True


class MomentShown(Schema):
    """A version a kit was at: the edit that made it, and its `name` where it was marked."""

    version: int
    said: str
    name: str
    made: datetime


class MomentNamed(Schema):
    version: int
    name: Annotated[str, Field(min_length=1, max_length=120)]


class TableThen(Schema):
    """What a kit played then; of pieces, those that play something else than now."""

    head: PlayHead
    pieces: list[PlayPiece]


class BackAsked(Schema):
    base_version: int
    as_it_was: AsItWas


def kit_then(kit: Kit, kit_id: str, then: AsItWas) -> Kit:
    """A kit as it was. Raises Refusal where there is no such version."""
    if not KitVersion.objects.filter(kit_id=kit_id, number=then.version).exists():
        raise Refusal("That version of the kit is not there; choose another.")
    was = kit_at(kit_id, then.version)
    return with_routing_of(kit, was) if then.routing else was


def played_otherwise(kit: Kit, other: Kit) -> TableThen:
    """What another value of a kit would play, of pieces those that play something else than now."""
    now, then = compile_kit(kit), compile_kit(other)
    same = {piece.id: piece for piece in now.pieces}
    return TableThen(head=then.head, pieces=[piece for piece in then.pieces if same.get(piece.id) != piece])


@router.get("/kits/{kit_id}/moments", response=list[MomentShown])
def list_moments(request: HttpRequest, kit_id: str) -> list[MomentShown]:
    """The versions that led to where the kit stands, the newest first, and every moment that was marked."""
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


@router.post("/kits/{kit_id}/moments", response=list[MomentShown])
def mark_moment(request: HttpRequest, kit_id: str, asked: MomentNamed) -> list[MomentShown]:
    record = kit_record(kit_id)
    if record.ships:
        raise Refusal(f"{record.name} ships with Zesty Skin; save it under another name to name its versions.")
    name = " ".join(asked.name.split())[:120]
    if not name:
        raise Refusal("A moment needs a name.")
    if not record.versions.filter(number=asked.version).exists():
        raise Refusal("That version of the kit is not there; choose another.")
    Moment.objects.update_or_create(kit=record, number=asked.version, defaults={"name": name})
    return list_moments(request, kit_id)


@router.delete("/kits/{kit_id}/moments/{version}", response={204: None})
def unmark_moment(request: HttpRequest, kit_id: str, version: int) -> Status[None]:
    """Take a mark away; the version stays."""
    kit_record(kit_id).moments.filter(number=version).delete()
    return Status(204, None)


@router.get("/kits/{kit_id}/as-it-was", response=TableThen)
def table_then(request: HttpRequest, kit_id: str, version: int, routing: bool = True) -> TableThen:
    """What a kit would play as it was: listened to, and nothing is changed."""
    kit = current_kit(kit_id)
    was = kit_then(kit, kit_id, AsItWas(version=version, routing=routing))
    if was.rate_hz != kit.rate_hz:
        raise Refusal(f"The kit had a rate of {was.rate_hz:,} Hz then; it is heard at one rate at a time.")
    return played_otherwise(kit, was)


@router.post("/kits/{kit_id}/back", response=KitState)
def back(request: HttpRequest, kit_id: str, asked: BackAsked) -> HttpResponse:
    """Make what a kit was what it is: one edit."""
    record = kit_record(kit_id)
    then = kit_then(kit_at(kit_id, record.current), kit_id, asked.as_it_was)
    number = asked.as_it_was.version
    named = record.moments.filter(number=number).values_list("name", flat=True).first()
    made = record.versions.filter(number=number).values_list("said", flat=True).first()
    said = f"{BACK} to {named}" if named else f"{BACK} to “{made}”"
    before, after, record = go_back(kit_id, asked.base_version, then.but(name=record.name), said)
    return answer(state_after(kit_id, record, after, before))
