"""A kit's versions: listed by day, compared in sentences, and the oldest forgotten on request."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from studio.kits.history import History, compared, history_of
from studio.kits.versions import forget_before

router = Router()


class Differences(Schema):
    said: list[str]


class ForgetAsked(Schema):
    before: int


class Forgotten(Schema):
    versions: int


@router.get("/kits/{kit_id}/versions", response=History)
def versions(request: HttpRequest, kit_id: str, minutes: Annotated[int, Field(ge=-900, le=900)] = 0) -> History:
    """The versions that led to the current one, and all other named ones, even after undo; by days of a time zone
    `minutes` east of Greenwich.
    """
    return history_of(kit_id, minutes)


@router.get("/kits/{kit_id}/compare", response=Differences)
def compare(request: HttpRequest, kit_id: str, earlier: int, later: int) -> Differences:
    """What changed from one version to another, in sentences."""
    return Differences(said=compared(kit_id, earlier, later))


@router.post("/kits/{kit_id}/forget", response=Forgotten)
def forget(request: HttpRequest, kit_id: str, asked: ForgetAsked) -> Forgotten:
    """Forgets all versions before one, except named ones. What only they needed can be cleared afterwards."""
    return Forgotten(versions=forget_before(kit_id, asked.before))
