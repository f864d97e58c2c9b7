"""A/B: a kit's versions, bookmarked ones among them, their play tables, and restoring one."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status
from pydantic import Field

from studio.http.kit_state_response import kit_state
from studio.kits import moments
from studio.kits.moments import AsItWas, MomentShown, TableThen
from studio.kits.state import KitState, state_after
from studio.kits.versions import kit_record

router = Router()


class MomentNamed(Schema):
    version: int
    name: Annotated[str, Field(min_length=1, max_length=120)]


class BackAsked(Schema):
    base_version: int
    as_it_was: AsItWas


@router.get("/kits/{kit_id}/moments", response=list[MomentShown])
def list_moments(request: HttpRequest, kit_id: str) -> list[MomentShown]:
    """The versions that led to the current one, newest first, and all bookmarked ones."""
    return moments.list_moments(kit_id)


@router.post("/kits/{kit_id}/moments", response=list[MomentShown])
def mark_moment(request: HttpRequest, kit_id: str, asked: MomentNamed) -> list[MomentShown]:
    moments.mark_moment(kit_id, asked.version, asked.name)
    return moments.list_moments(kit_id)


@router.delete("/kits/{kit_id}/moments/{version}", response={204: None})
def unmark_moment(request: HttpRequest, kit_id: str, version: int) -> Status[None]:
    """Removes a bookmark; the version stays."""
    kit_record(kit_id).moments.filter(number=version).delete()
    return Status(204, None)


@router.get("/kits/{kit_id}/as-it-was", response=TableThen)
def table_then(request: HttpRequest, kit_id: str, version: int, routing: bool = True) -> TableThen:
    """The play table of an earlier version, for listening; nothing is changed."""
    return moments.table_then(kit_id, AsItWas(version=version, routing=routing))


@router.post("/kits/{kit_id}/back", response=KitState)
def back(request: HttpRequest, kit_id: str, asked: BackAsked) -> HttpResponse:
    """Restores an earlier version as one edit."""
    before, after, record = moments.back_to(kit_id, asked.base_version, asked.as_it_was)
    return kit_state(state_after(kit_id, record, after, before))
