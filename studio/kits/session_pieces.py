"""Pieces made of a session over HTTP: as it was read, or of single sounds, on the notes they were dropped on or by how they sound."""

from typing import Annotated, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from drumcore.edits.pieces import AddToPiece, BuildPieces
from drumcore.edits.placement_by_sound import made_and_placed
from drumcore.edits.single_sounds import AddSounds, held_to_the_notes
from drumcore.edits.values import Edit
from drumcore.kit.values import MidiNote
from drumcore.notes.by_sound import Proposed
from drumcore.recordings.guidance import Guidance, PlacedFile
from drumcore.recordings.manual_placement import named_by_files
from drumcore.refusals import Refusal
from studio.jobs.runner import start
from studio.jobs.status import JobShown, shown
from studio.kits.routes import answer
from studio.kits.state import KitState, state_after
from studio.kits.versions import current_kit, make_edit
from studio.library.models import Session
from studio.library.readings import read_already
from studio.library.sessions import kit_of

router = Router()


def _kit_id(session: Session, wanted: str) -> str:
    found = wanted or kit_of(session)
    if found is None:
        raise Refusal("The kits of this session were removed; make a new one from it.")
    return found


class PiecesAsked(Schema):
    """`kit` is the one the pieces are made in, of those the session was brought into; the newest unless it is said. `by_sound` puts
    those that no drum's name goes with where they stand by how they sound."""

    base_version: int
    kit: str = ""
    by_sound: bool = False


@router.post("/sessions/{session_id}/pieces", response=KitState)
def make_pieces(request: HttpRequest, session_id: int, asked: PiecesAsked) -> HttpResponse:
    """Make the pieces a session was read as; one that was dropped on a piece is added to that piece."""
    session, reading = read_already(session_id)
    kit_id = _kit_id(session, asked.kit)
    build = BuildPieces(mics=reading.mics, pieces=reading.pieces)
    edit: Edit = build
    if session.adds_to:
        strokes = tuple(a for piece in reading.pieces for a in piece.articulations)
        edit = AddToPiece(piece=session.adds_to, mics=reading.mics, articulations=strokes)
    elif asked.by_sound:
        edit = made_and_placed(current_kit(kit_id), build)[0]
    before, after, record = make_edit(kit_id, asked.base_version, edit)
    return answer(state_after(kit_id, record, after, before))


class SoundsAsked(Schema):
    """Sounds of a session by their paths, in the order they go onto notes; all of them unless some are said."""

    base_version: int
    kit: Annotated[str, Field(max_length=80)] = ""
    paths: Annotated[list[str], Field(max_length=10_000)] = []
    note: MidiNote
    when_occupied: Literal["stack", "take_over"] | None = None


@router.post("/sessions/{session_id}/sounds", response=KitState)
def put_on_notes(request: HttpRequest, session_id: int, asked: SoundsAsked) -> HttpResponse:
    """Put sounds on a note and those that are free beside it, each a piece of its own."""
    session, reading = read_already(session_id)
    by_path = {r.path: p for p in reading.pieces for a in p.articulations for t in a.takes for r in t.recordings}
    wanted = asked.paths or list(by_path)
    pieces = tuple(dict.fromkeys(by_path[path] for path in wanted if path in by_path))
    if not pieces:
        why = next((entry.why for entry in reading.unread), "Choose WAV, AIFF or FLAC files.")
        raise Refusal(f"Nothing was put on the note: {why}")
    several = next((piece for piece in pieces if len(piece.articulations) > 1), None)
    if several is not None:
        raise Refusal(
            f"{several.name} has {len(several.articulations)} articulations here, and a sound dropped on a note has one;"
            " make pieces of the session instead."
        )
    held_to_the_notes(len(pieces))
    edit = AddSounds(mics=reading.mics, pieces=pieces, note=asked.note, when_occupied=asked.when_occupied)
    kit_id = _kit_id(session, asked.kit)
    before, after, record = make_edit(kit_id, asked.base_version, edit)
    return answer(state_after(kit_id, record, after, before))


class AsSingleHits(Schema):
    """How a session stands as single sounds. `by_itself`: a kit without pieces makes them of it without being asked; `nameless`
    files have a sound and no name that says what they are; `proposed` is where pieces of no drum's name would stand."""

    by_itself: bool
    nameless: int
    proposed: list[Proposed]


@router.get("/sessions/{session_id}/single-hits", response=AsSingleHits)
def as_single_hits(request: HttpRequest, session_id: int, kit: str = "") -> AsSingleHits:
    session, reading = read_already(session_id)
    here = current_kit(_kit_id(session, kit))
    build = BuildPieces(mics=reading.mics, pieces=reading.pieces)
    proposed = made_and_placed(here, build)[1] if reading.pieces else ()
    return AsSingleHits(
        by_itself=not here.pieces and reading.single_hits and not session.adds_to,
        nameless=len(reading.nameless),
        proposed=list(proposed),
    )


@router.post("/sessions/{session_id}/each-alone", response=JobShown)
def each_alone(request: HttpRequest, session_id: int) -> JobShown:
    """Take every file whose name says nothing for a piece of its own, named by it; the session is read again by a job."""
    session, reading = read_already(session_id)
    said = Guidance.model_validate(session.guidance)
    named = named_by_files((entry.path for entry in reading.nameless), [piece.name for piece in reading.pieces])
    placed = tuple(PlacedFile(path=path, piece=name) for path, name in named)
    if not placed:
        raise Refusal("Every name of this session says what it is; there is nothing to make pieces of.")
    session.guidance = said.but(placed=(*said.placed, *placed)).model_dump(mode="json")
    session.save(update_fields=["guidance"])
    return shown(start("read_session", {"session": session.id, "name": session.name}, kit_of(session)))
