"""Pieces saved in the library: from a kit, and as files."""

from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from drumcore.shelf.kept_piece import kept_piece
from studio.jobs.status import JobShown, shown
from studio.kits.versions import current_kit
from studio.shelves.kinds import PIECES
from studio.shelves.piece_files import begin_writing
from studio.shelves.shelf import keep

router = Router()


class KeepAsked(Schema):
    name: Annotated[str, Field(min_length=1, max_length=120)]


class PieceKept(Schema):
    id: str
    name: str


@router.post("/kits/{kit_id}/pieces/{piece_id}/keep", response=PieceKept)
def keep_from_kit(request: HttpRequest, kit_id: str, piece_id: str, asked: KeepAsked) -> PieceKept:
    """Saves a piece of a kit, with everything that belongs to it, under a name. Raises Refusal if the name is in use."""
    kept = keep(PIECES, asked.name, kept_piece(current_kit(kit_id), piece_id))
    return PieceKept(id=str(kept.id), name=kept.name)


@router.post("/library/pieces/{piece_id}/file", response=JobShown)
def write_file(request: HttpRequest, piece_id: str) -> JobShown:
    """Starts a job that writes a saved piece to a file."""
    return shown(begin_writing(piece_id))
