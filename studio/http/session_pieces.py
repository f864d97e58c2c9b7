"""Building pieces from a session: as it was read, or from single sounds, on the notes they were dropped on or by how
they sound.
"""

from typing import Annotated, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from drumcore.kit.values import MidiNote
from studio.http.kit_state_response import kit_state
from studio.jobs.status import JobShown, shown
from studio.kits import session_pieces
from studio.kits.session_pieces import AsSingleHits, kit_for, newest_kit_of, pieces_as_read, sounds_on_notes
from studio.kits.state import KitState, state_after
from studio.kits.versions import make_edit
from studio.sessions.reading import read_already
from studio.sessions.work import begin_reading

router = Router()


class PiecesAsked(Schema):
    """`kit` is one of the kits the session belongs to; by default the newest. `by_sound` places pieces without a drum's
    name by how they sound.
    """

    base_version: int
    kit: str = ""
    by_sound: bool = False


@router.post("/sessions/{session_id}/pieces", response=KitState)
def make_pieces(request: HttpRequest, session_id: int, asked: PiecesAsked) -> HttpResponse:
    """Builds the pieces a session was read as; a session dropped on a piece is added to that piece."""
    session, reading = read_already(session_id)
    kit_id = kit_for(session, asked.kit)
    edit = pieces_as_read(session, reading, kit_id, by_sound=asked.by_sound)
    before, after, record = make_edit(kit_id, asked.base_version, edit)
    return kit_state(state_after(kit_id, record, after, before))


class SoundsAsked(Schema):
    """Sounds of a session by path, in the order of their notes; by default all."""

    base_version: int
    kit: Annotated[str, Field(max_length=80)] = ""
    paths: Annotated[list[str], Field(max_length=10_000)] = []
    note: MidiNote
    when_occupied: Literal["stack", "take_over"] | None = None


@router.post("/sessions/{session_id}/sounds", response=KitState)
def put_on_notes(request: HttpRequest, session_id: int, asked: SoundsAsked) -> HttpResponse:
    """Puts sounds on a note and the free notes beside it, each as a piece of its own."""
    session, reading = read_already(session_id)
    edit = sounds_on_notes(reading, asked.paths, asked.note, asked.when_occupied)
    kit_id = kit_for(session, asked.kit)
    before, after, record = make_edit(kit_id, asked.base_version, edit)
    return kit_state(state_after(kit_id, record, after, before))


@router.get("/sessions/{session_id}/single-hits", response=AsSingleHits)
def as_single_hits(request: HttpRequest, session_id: int, kit: str = "") -> AsSingleHits:
    session, reading = read_already(session_id)
    return session_pieces.as_single_hits(session, reading, kit_for(session, kit))


@router.post("/sessions/{session_id}/each-alone", response=JobShown)
def each_alone(request: HttpRequest, session_id: int) -> JobShown:
    """Makes every file with an unreadable name a piece of its own, named after it; a job reads the session again."""
    session, reading = read_already(session_id)
    session_pieces.take_each_alone(session, reading)
    return shown(begin_reading(session, newest_kit_of(session)))
