"""Sessions, sounds and grooves over HTTP."""

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.db import transaction
from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja import File, Form, Router, Schema
from ninja.files import UploadedFile

from drumcore.findings.finding import Finding
from drumcore.findings.noticing import notice_session
from drumcore.formats.midi import Groove, read_midi
from drumcore.kit.values import Family, Mic, Width
from drumcore.playing.rendering import GrooveEvent
from drumcore.recordings.gathering import Unread
from drumcore.recordings.peaks import recording_peaks
from drumcore.refusals import Refusal
from studio.jobs.addresses import JobShown, shown
from studio.jobs.running import start
from studio.kits.shown import own_recording
from studio.kits.versions import kit_record
from studio.library.models import GrooveRecord, Session
from studio.library.sessions import add_archive, add_file, reading_of
from studio.library.store import locate, prepared_sound

router = Router()
FOREVER = "public, max-age=31536000, immutable"


class NewSession(Schema):
    name: str


class SessionShown(Schema):
    id: int
    name: str
    files: int
    read: bool


class FilesKept(Schema):
    kept: int
    refused: list[Unread]


class TakeRow(Schema):
    """A take as it was read, for the list."""

    piece: str
    articulation: str
    articulation_id: str
    label: str
    step: int
    file: str
    content: str
    shape: str
    level_db: float
    start_ms: float
    peak_dbfs: float
    recordings: int
    hand: str | None


class StrokeGrid(Schema):
    """An articulation as read: for each strength, softest first, how many takes."""

    piece: str
    piece_id: str
    family: Family
    articulation: str
    articulation_id: str
    sizes: list[int]


class FolderShown(Schema):
    name: str
    files: int


class ReadingShown(Schema):
    name: str
    files: int
    takes: int
    pieces: int
    mics: list[Mic]
    folders: list[FolderShown]
    strokes: list[StrokeGrid]
    rows: list[TakeRow]
    unread: list[Unread]
    reasons: list[str]
    findings: list[Finding]


class GrooveCard(Schema):
    id: int
    name: str
    bpm: float
    strikes: int
    length_s: float


class GrooveShown(Schema):
    id: int
    name: str
    bpm: float
    beats_a_bar: float
    length_s: float
    events: list[GrooveEvent]


@contextmanager
def on_disk(upload: UploadedFile) -> Iterator[Path]:
    """An upload as a file, gone afterwards."""
    with tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        path = Path(folder) / f"upload{Path(upload.name or '').suffix.lower()[:8]}"
        with path.open("wb") as file:
            for chunk in upload.chunks():
                file.write(chunk)
        yield path


def _session(session_id: int) -> Session:
    session = Session.objects.filter(id=session_id).first()
    if session is None:
        raise Refusal("There is no such session; bring its recordings in again.")
    return session


@router.get("/kits/{kit_id}/sessions", response=list[SessionShown])
def list_sessions(request: HttpRequest, kit_id: str) -> list[SessionShown]:
    sessions = kit_record(kit_id).sessions.order_by("-created")
    return [_session_shown(session) for session in sessions]


def _session_shown(session: Session) -> SessionShown:
    return SessionShown(id=session.id, name=session.name, files=session.files.count(), read=session.reading is not None)


@router.post("/kits/{kit_id}/sessions", response=SessionShown)
def new_session(request: HttpRequest, kit_id: str, asked: NewSession) -> SessionShown:
    name = asked.name.strip()[:120] or "Session"
    return _session_shown(Session.objects.create(kit=kit_record(kit_id), name=name))


@router.post("/sessions/{session_id}/files", response=FilesKept)
def add_files(
    request: HttpRequest, session_id: int, files: File[list[UploadedFile]], paths: Form[list[str]]
) -> FilesKept:
    """Keep files of a session, each under its path. What is answered as kept survives a crash."""
    session = _session(session_id)
    if len(files) != len(paths):
        raise Refusal(f"{len(files)} files came with {len(paths)} paths; send one path for each file.")
    kept, refused = 0, []
    with transaction.atomic():
        for upload, path in zip(files, paths, strict=True):
            try:
                with on_disk(upload) as place:
                    if place.suffix == ".zip":
                        added, left_out = add_archive(session, Path(path).name, place)
                        kept, refused = kept + added, refused + left_out
                    else:
                        kept += add_file(session, path, place) is not None
            except Refusal as refusal:
                refused.append(Unread(path=path, why=str(refusal)))
    return FilesKept(kept=kept, refused=refused)


@router.post("/sessions/{session_id}/read", response=JobShown)
def read_session(request: HttpRequest, session_id: int) -> JobShown:
    session = _session(session_id)
    return shown(start("read_session", {"session": session.id, "name": session.name}, session.kit_id))


@router.get("/sessions/{session_id}", response=ReadingShown)
def session_reading(request: HttpRequest, session_id: int) -> ReadingShown:
    session = _session(session_id)
    reading = reading_of(session)
    if reading is None:
        raise Refusal("This session has not been read yet; wait until its recordings are measured.")
    rows, strokes = [], []
    folders: dict[str, int] = {}
    for path in session.files.values_list("path", flat=True):
        folder = path.split("/")[0] if "/" in path else "(loose files)"
        folders[folder] = folders.get(folder, 0) + 1
    for piece in reading.pieces:
        for stroke in piece.articulations:
            steps = {take: number for number, layer in enumerate(stroke.layers) for take in layer.takes}
            strokes.append(
                StrokeGrid(
                    piece=piece.name,
                    piece_id=piece.id,
                    family=piece.family,
                    articulation=stroke.name,
                    articulation_id=stroke.id,
                    sizes=[len(layer.takes) for layer in stroke.layers],
                )
            )
            for take in stroke.takes:
                own = own_recording(piece.own_mics, take.recordings)
                rows.append(
                    TakeRow(
                        piece=piece.name,
                        articulation=stroke.name,
                        articulation_id=stroke.id,
                        label=take.label,
                        step=steps.get(take.id, 0),
                        file=own.path,
                        content=own.content,
                        shape=own.shape,
                        level_db=take.level_db,
                        start_ms=take.start_ms,
                        peak_dbfs=max(r.peak_dbfs for r in take.recordings),
                        recordings=len(take.recordings),
                        hand=take.hand,
                    )
                )
    return ReadingShown(
        name=session.name,
        files=reading.files,
        takes=reading.takes,
        pieces=len(reading.pieces),
        mics=list(reading.mics),
        folders=[FolderShown(name=name, files=count) for name, count in sorted(folders.items())],
        strokes=strokes,
        rows=rows,
        unread=list(reading.unread),
        reasons=list(reading.reasons),
        findings=notice_session(reading),
    )


@router.get("/sounds/{content}/{rate_hz}/{width}", include_in_schema=False)
def sound(
    request: HttpRequest, content: str, rate_hz: int, width: Width, cents: float = 0.0, centred: bool = False
) -> HttpResponseBase:
    """A recording ready to play, as FLAC or WAV. Named by content, so it may be kept for ever."""
    if not content.isalnum() or rate_hz not in (44100, 48000, 96000) or not -2500 <= cents <= 2500:
        raise Refusal("That is not a sound of the studio.")
    path = prepared_sound(content, rate_hz, width, cents, centred=centred)
    return FileResponse(
        path.open("rb"),
        content_type="audio/flac" if path.suffix == ".flac" else "audio/wav",
        headers={"Cache-Control": FOREVER},
    )


class Peaks(Schema):
    """Lowest and highest sample of equal stretches of a recording, −1 to 1."""

    low: list[float]
    high: list[float]


@router.get("/peaks/{content}", response=Peaks)
def peaks(
    request: HttpRequest, response: HttpResponse, content: str, points: int = 400, first: int = 0, frames: int = 0
) -> Peaks:
    """The picture of a recording, or of `frames` from its frame `first` on. Named by content: it may be kept for ever."""
    low, high = recording_peaks(locate(content), max(1, min(points, 4000)), max(0, first), max(0, frames))
    response["Cache-Control"] = FOREVER
    return Peaks(low=low, high=high)


@router.get("/grooves", response=list[GrooveCard])
def list_grooves(request: HttpRequest) -> list[GrooveCard]:
    cards = []
    for record in GrooveRecord.objects.order_by("id"):
        groove = Groove.model_validate(record.data)
        cards.append(
            GrooveCard(id=record.id, name=groove.name, bpm=groove.bpm, strikes=groove.strikes, length_s=groove.length_s)
        )
    return cards


@router.get("/grooves/{groove_id}", response=GrooveShown)
def open_groove(request: HttpRequest, groove_id: int) -> GrooveShown:
    record = GrooveRecord.objects.filter(id=groove_id).first()
    if record is None:
        raise Refusal("There is no such groove; it may have been removed.")
    return GrooveShown(id=record.id, **record.data)


@router.post("/grooves", response=GrooveCard)
def add_groove(request: HttpRequest, file: File[UploadedFile]) -> GrooveCard:
    """Bring in a MIDI file as a groove."""
    with on_disk(file) as place:
        groove = read_midi(place, name=file.name or "The file")
    record = GrooveRecord.objects.create(name=groove.name[:120], data=groove.model_dump(mode="json"))
    return GrooveCard(id=record.id, name=groove.name, bpm=groove.bpm, strikes=groove.strikes, length_s=groove.length_s)
