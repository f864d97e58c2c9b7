"""Bringing in a piece: where it may come from, a preview of what would change, and the edit."""

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from studio.http.kit_state_response import kit_state
from studio.kits import bringing
from studio.kits.bringing import BringAsked, BringShown, OfferedGroup, SeveralAsked, SeveralShown
from studio.kits.state import KitState, state_after
from studio.kits.versions import current_kit, make_edit

router = Router()


@router.get("/kits/{kit_id}/bring", response=list[OfferedGroup])
def offered(request: HttpRequest, kit_id: str, find: Annotated[str, Field(max_length=100)] = "") -> list[OfferedGroup]:
    """The pieces on offer: of other kits, of sessions not yet in a kit, and saved in the library."""
    return bringing.offered(kit_id, find)


@router.post("/kits/{kit_id}/bring", response=BringShown)
def previewed(request: HttpRequest, kit_id: str, asked: BringAsked) -> BringShown:
    """What bringing in a piece would do, in sentences and as a play table; nothing is changed."""
    return bringing.previewed(current_kit(kit_id), asked)


class TakeAsked(Schema):
    base_version: int
    asked: BringAsked


@router.post("/kits/{kit_id}/bring-piece", response=KitState)
def take(request: HttpRequest, kit_id: str, asked: TakeAsked) -> HttpResponse:
    """Brings a piece in as one edit; a shipped kit is copied first."""
    edit = bringing.asked_for(current_kit(kit_id), asked.asked).edit
    before, after, record = make_edit(kit_id, asked.base_version, edit)
    return kit_state(state_after(kit_id, record, after, before))


@router.post("/kits/{kit_id}/bring-several", response=SeveralShown)
def several_previewed(request: HttpRequest, kit_id: str, asked: SeveralAsked) -> SeveralShown:
    """What bringing in several pieces would do, piece by piece; nothing is changed."""
    return bringing.several_previewed(current_kit(kit_id), asked)


class TakeSeveralAsked(Schema):
    base_version: int
    asked: SeveralAsked


@router.post("/kits/{kit_id}/bring-pieces", response=KitState)
def take_several(request: HttpRequest, kit_id: str, asked: TakeSeveralAsked) -> HttpResponse:
    """Brings several pieces in as one edit; a shipped kit is copied first."""
    edit = bringing.several(current_kit(kit_id), asked.asked)
    before, after, record = make_edit(kit_id, asked.base_version, edit)
    return kit_state(state_after(kit_id, record, after, before))
