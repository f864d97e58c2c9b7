"""Figures of loudness."""

from django.http import HttpRequest
from ninja import Router, Schema

from drumcore.listening.figures import Asked
from studio.kits import loudness
from studio.kits.loudness import FigureShown
from studio.kits.moments import AsItWas

router = Router()


class FigureAsked(Schema):
    """`again` measures what could not be measured before; `as_it_was` asks it of the kit as it was."""

    of: Asked
    again: bool = False
    as_it_was: AsItWas | None = None


@router.post("/kits/{kit_id}/figures", response=FigureShown)
def figure_of(request: HttpRequest, kit_id: str, asked: FigureAsked) -> FigureShown:
    """A figure of the kit as it stands. What is not known begins to be measured; ask again until it is."""
    return loudness.figure_of(kit_id, asked.of, again=asked.again, as_it_was=asked.as_it_was)
