"""A piece of another kit: where it may come from, what taking it would do, heard before, and the edit."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from studio.http.answers import kit_state
from studio.kits import taking
from studio.kits.state import KitState, state_after
from studio.kits.taking import OfferedGroup, SeveralAsked, SeveralShown, TakingAsked, TakingShown
from studio.kits.versions import current_kit, make_edit

router = Router()


@router.get("/kits/{kit_id}/taking", response=list[OfferedGroup])
def offered(request: HttpRequest, kit_id: str, find: Annotated[str, Field(max_length=100)] = "") -> list[OfferedGroup]:
    """The pieces there are to take: of other kits, of sessions that are in no kit yet, and kept in the library."""
    return taking.offered(kit_id, find)


@router.post("/kits/{kit_id}/taking", response=TakingShown)
def would_take(request: HttpRequest, kit_id: str, asked: TakingAsked) -> TakingShown:
    """What taking a piece would do, in sentences and as a play table; nothing is changed."""
    return taking.would_take(current_kit(kit_id), asked)


class TakeAsked(Schema):
    base_version: int
    asked: TakingAsked


@router.post("/kits/{kit_id}/take", response=KitState)
def take(request: HttpRequest, kit_id: str, asked: TakeAsked) -> HttpResponse:
    """Take a piece: one edit, in a copy where the kit ships."""
    edit = taking.asked_for(current_kit(kit_id), asked.asked).edit
    before, after, record = make_edit(kit_id, asked.base_version, edit)
    return kit_state(state_after(kit_id, record, after, before))


@router.post("/kits/{kit_id}/taking-several", response=SeveralShown)
def would_take_several(request: HttpRequest, kit_id: str, asked: SeveralAsked) -> SeveralShown:
    """What taking several pieces at once would do, piece by piece; nothing is changed."""
    return taking.would_take_several(current_kit(kit_id), asked)


class TakeSeveralAsked(Schema):
    base_version: int
    asked: SeveralAsked


@router.post("/kits/{kit_id}/take-several", response=KitState)
def take_several(request: HttpRequest, kit_id: str, asked: TakeSeveralAsked) -> HttpResponse:
    """Take several pieces: one edit, in a copy where the kit ships."""
    edit = taking.several(current_kit(kit_id), asked.asked)
    before, after, record = make_edit(kit_id, asked.base_version, edit)
    return kit_state(state_after(kit_id, record, after, before))
