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

from drumcore.formats.archives import ARCHIVE_SUFFIX
from drumcore.formats.midi import read_patterns, write_midi
from drumcore.grooves.values import Groove
from drumcore.kit.lookup import piece_of
from drumcore.kit.rates import RATES
from drumcore.kit.values import Side, Width
from drumcore.recordings.files import Unread
from drumcore.recordings.guidance import Guidance
from drumcore.recordings.peaks import recording_peaks
from drumcore.refusals import DamagedRecording, Refusal
from studio.downloads import as_file
from studio.jobs.runner import start
from studio.jobs.status import JobShown, shown
from studio.kits.versions import create_kit, kit_at, kit_record, own_of
from studio.library.grooves import groove_of, read_groove
from studio.library.inbox import folder_in_inbox, inbox, subfolders
from studio.library.models import GrooveRecord, Session
from studio.library.readings import session_of
from studio.library.sessions import Incoming, incoming, keep_archive, keep_names, known_files
from studio.library.store import FOREVER, locate, prepared_sound
from studio.room import FULL

router = Router()


class NewSession(Schema):
    """`adds_to` is the piece its takes are meant for, if they were dropped on one; with `each_alone` every file is a piece of its
    own: sounds dropped on notes."""

    name: str
    adds_to: str = ""
    each_alone: bool = False


class SessionShown(Schema):
    """`kit` is the kit it was brought into: a copy, where the one that was asked for ships."""

    id: int
    kit: str
    name: str
    files: int
    read: bool
    adds_to: str


class FilesKept(Schema):
    kept: int
    refused: list[Unread]


class GrooveCard(Schema):
    id: int
    name: str
    bpm: float
    strikes: int
    length_s: float


class GrooveShown(Groove):
    id: int


@contextmanager
def on_disk(upload: UploadedFile) -> Iterator[Path]:
    """An upload as a file, gone afterwards."""
    with tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        path = Path(folder) / f"upload{Path(upload.name or '').suffix.lower()[:8]}"
        with path.open("wb") as file:
            for chunk in upload.chunks():
                file.write(chunk)
        yield path


@router.get("/kits/{kit_id}/sessions", response=list[SessionShown])
def list_sessions(request: HttpRequest, kit_id: str) -> list[SessionShown]:
    sessions = kit_record(kit_id).sessions.filter(put_away=False).order_by("-created")
    return [_session_shown(session, kit_id) for session in sessions]


def _session_shown(session: Session, kit_id: str) -> SessionShown:
    return SessionShown(
        kit=kit_id,
        id=session.id,
        name=session.name,
        files=session.files.filter(split_of=None).count() + session.archives.count(),
        read=session.reading is not None,
        adds_to=session.adds_to,
    )


@router.post("/kits/{kit_id}/sessions", response=SessionShown)
def new_session(request: HttpRequest, kit_id: str, asked: NewSession) -> SessionShown:
    name = asked.name.strip()[:120] or "Session"
    record = kit_record(kit_id)
    guidance = {}
    if asked.adds_to:
        piece = piece_of(kit_at(kit_id, record.current), asked.adds_to)
        guidance = Guidance(into=piece.name, into_family=piece.family).model_dump(mode="json")
    elif asked.each_alone:
        guidance = Guidance(each_alone=True).model_dump(mode="json")
    with transaction.atomic():
        session = Session.objects.create(name=name, adds_to=asked.adds_to, guidance=guidance)
        session.kits.add(own := own_of(record))
    return _session_shown(session, own.id)


class KitMade(Schema):
    id: str


@router.post("/sessions/{session_id}/kit", response=KitMade)
def kit_of_session(request: HttpRequest, session_id: int) -> KitMade:
    """A new kit that a session is brought into again; its pieces are made there."""
    session = session_of(session_id)
    with transaction.atomic():
        session.kits.add(record := create_kit(session.name))
    return KitMade(id=record.id)


@router.post("/sessions/{session_id}/files", response=FilesKept)
def add_files(
    request: HttpRequest, session_id: int, files: File[list[UploadedFile]], paths: Form[list[str]]
) -> FilesKept:
    """Keep files of a session, each under its path; a zip counts as one file, and is unpacked when the session is read. What is
    answered as kept survives a crash."""
    session = session_of(session_id)
    if len(files) != len(paths):
        raise Refusal(f"{len(files)} files came with {len(paths)} paths; send one path for each file.")
    kept, refused = 0, list[Unread]()
    came: list[Incoming] = []
    for upload, path in zip(files, paths, strict=True):
        try:
            with on_disk(upload) as place:
                if place.suffix == ARCHIVE_SUFFIX:
                    keep_archive(session, Path(path).name or "Archive.zip", place)
                    kept += 1
                elif file := incoming(path, place):
                    came.append(file)
        except Refusal as refusal:
            refused.append(Unread(path=path, why=str(refusal)))
        except OSError as error:
            if error.errno not in FULL:
                raise
            why = f"There was no room left to keep {path}; make room and bring it in again."
            refused.append(Unread(path=path, why=why))
    return FilesKept(kept=kept + keep_names(session, came), refused=refused)


class Offered(Schema):
    path: str
    sha256: str


class Wanted(Schema):
    """The paths whose files are still to be sent; the others are here already."""

    paths: list[str]


@router.post("/sessions/{session_id}/known", response=Wanted)
def take_known(request: HttpRequest, session_id: int, files: list[Offered]) -> Wanted:
    """Take in files the studio has stored before, by their hashes, without sending them again."""
    return Wanted(paths=known_files(session_of(session_id), [(f.path, f.sha256) for f in files[:1000]]))


class InboxFolder(Schema):
    name: str
    entries: int


class Inbox(Schema):
    """A folder of this machine that may be read; `open` is False where none was set."""

    open: bool
    path: str
    folders: list[InboxFolder]


@router.get("/inbox", response=Inbox)
def look_into_inbox(request: HttpRequest, path: str = "") -> Inbox:
    if inbox() is None:
        return Inbox(open=False, path="", folders=[])
    found = [InboxFolder(name=name, entries=entries) for name, entries in subfolders(folder_in_inbox(path))]
    return Inbox(open=True, path=path, folders=found)


class FromInbox(Schema):
    path: str


@router.post("/kits/{kit_id}/sessions/from-inbox", response=JobShown)
def bring_in_from_inbox(request: HttpRequest, kit_id: str, asked: FromInbox) -> JobShown:
    """Bring in a folder of this machine: a job that stores, measures and reads it."""
    folder = folder_in_inbox(asked.path)
    with transaction.atomic():
        session = Session.objects.create(name=folder.name[:120])
        session.kits.add(own := own_of(kit_record(kit_id)))
    arguments = {"session": session.id, "name": session.name, "path": asked.path}
    return shown(start("bring_in_folder", arguments, own.id))


@router.get("/sounds/{content}/{rate_hz}/{width}", include_in_schema=False)
def sound(
    request: HttpRequest,
    content: str,
    rate_hz: int,
    width: Width,
    cents: float = 0.0,
    centred: bool = False,
    turned: Side | None = None,
) -> HttpResponseBase:
    """A recording ready to play, as FLAC or WAV. Named by content, so it may be kept for ever."""
    if not content.isalnum() or rate_hz not in RATES or not -2500 <= cents <= 2500:
        raise Refusal("That is not a sound of the studio.")
    path = prepared_sound(content, rate_hz, width, cents, centred=centred, turned=turned)
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
    place = locate(content)
    try:
        low, high = recording_peaks(place, max(1, min(points, 4000)), max(0, first), max(0, frames))
    except Refusal:
        raise DamagedRecording(content) from None
    response["Cache-Control"] = FOREVER
    return Peaks(low=low, high=high)


@router.get("/grooves", response=list[GrooveCard])
def list_grooves(request: HttpRequest) -> list[GrooveCard]:
    cards = []
    for record in GrooveRecord.objects.filter(put_away=False).order_by("id"):
        try:
            groove = read_groove(record)
        except Refusal:
            # One that is damaged hides no other.
            continue
        cards.append(
            GrooveCard(id=record.id, name=groove.name, bpm=groove.bpm, strikes=groove.strikes, length_s=groove.length_s)
        )
    return cards


@router.get("/grooves/{groove_id}", response=GrooveShown)
def open_groove(request: HttpRequest, groove_id: int) -> GrooveShown:
    return GrooveShown.model_validate({**groove_of(groove_id).model_dump(), "id": groove_id})


@router.get("/grooves/{groove_id}/file", include_in_schema=False)
def groove_file(request: HttpRequest, groove_id: int) -> HttpResponse:
    """A groove as a MIDI file."""
    groove = groove_of(groove_id)
    with tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        place = Path(folder) / "groove.mid"
        write_midi(groove, place)
        return as_file(place.read_bytes(), groove.name, "mid")


@router.post("/grooves", response=list[GrooveCard])
def add_groove(request: HttpRequest, file: File[UploadedFile]) -> list[GrooveCard]:
    """Bring in a MIDI file as a groove, or as several where it holds several patterns."""
    with on_disk(file) as place:
        grooves = read_patterns(place, name=file.name or "The file")
    with transaction.atomic():
        return [_keep_groove(groove) for groove in grooves]


def _keep_groove(groove: Groove) -> GrooveCard:
    record = GrooveRecord.objects.create(name=groove.name[:120], data=groove.model_dump(mode="json"))
    return GrooveCard(id=record.id, name=groove.name, bpm=groove.bpm, strikes=groove.strikes, length_s=groove.length_s)
