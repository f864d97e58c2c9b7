"""Loudness figures."""

from django.http import HttpRequest
from ninja import Router, Schema

from drumcore.listening.figures import Asked
from studio.kits import loudness
from studio.kits.loudness import FigureShown
from studio.kits.moments import AsItWas

router = Router()


class FigureAsked(Schema):
    """`again` retries a measurement that failed; `as_it_was` asks about an earlier version of the kit."""

    of: Asked
    again: bool = False
    as_it_was: AsItWas | None = None


@router.post("/kits/{kit_id}/figures", response=FigureShown)
def figure_of(request: HttpRequest, kit_id: str, asked: FigureAsked) -> FigureShown:
    """A figure of the kit as it is now. If it is not known, measuring starts; ask again until it is done."""
    return loudness.figure_of(kit_id, asked.of, again=asked.again, as_it_was=asked.as_it_was)
