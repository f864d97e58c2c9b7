"""Sessions: creating one, sending files, importing a folder of this machine."""

from pathlib import Path

from django.db import transaction
from django.http import HttpRequest
from ninja import File, Form, Router, Schema
from ninja.files import UploadedFile

from drumcore.formats.archives import ARCHIVE_SUFFIX
from drumcore.kit.lookup import piece_of
from drumcore.recordings.files import Unread
from drumcore.recordings.guidance import Guidance
from drumcore.refusals import Refusal
from studio.http.uploads import on_disk
from studio.jobs.status import JobShown, shown
from studio.kits.versions import create_kit, kit_at, kit_record, own_of
from studio.sessions.archives import keep_archive
from studio.sessions.inbox import folder_in_inbox, inbox, subfolders
from studio.sessions.incoming import Incoming, incoming, keep_names, known_files
from studio.sessions.models import Session
from studio.sessions.reading import session_of
from studio.sessions.work import begin_bringing_in
from studio.storage.disk_space import FULL

router = Router()


class NewSession(Schema):
    """`adds_to` is the piece its takes are for, if they were dropped on one; with `each_alone` every file is a piece of
    its own: sounds dropped on notes.
    """

    name: str
    adds_to: str = ""
    each_alone: bool = False


class SessionShown(Schema):
    """`kit` is the kit it belongs to; a copy, if the one named ships."""

    id: int
    kit: str
    name: str
    files: int
    read: bool
    adds_to: str


class FilesKept(Schema):
    kept: int
    refused: list[Unread]


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
        (own := own_of(record)).sessions.add(session)
    return _session_shown(session, own.id)


class KitMade(Schema):
    id: str


@router.post("/sessions/{session_id}/kit", response=KitMade)
def kit_of_session(request: HttpRequest, session_id: int) -> KitMade:
    """Makes a new kit and assigns the session to it; pieces are built there."""
    session = session_of(session_id)
    with transaction.atomic():
        (record := create_kit(session.name)).sessions.add(session)
    return KitMade(id=record.id)


@router.post("/sessions/{session_id}/files", response=FilesKept)
def add_files(
    request: HttpRequest, session_id: int, files: File[list[UploadedFile]], paths: Form[list[str]]
) -> FilesKept:
    """Stores files of a session, each under its path; a zip counts as one file and is unpacked when the session is
    read. What the response confirms survives a crash.
    """
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
            why = f"The disk is full, so {path} was not added; free some space and add it again."
            refused.append(Unread(path=path, why=why))
    return FilesKept(kept=kept + keep_names(session, came), refused=refused)


class Offered(Schema):
    path: str
    sha256: str


class FilesNeeded(Schema):
    """The paths whose files still have to be sent; the others are here already."""

    paths: list[str]


@router.post("/sessions/{session_id}/known", response=FilesNeeded)
def take_known(request: HttpRequest, session_id: int, files: list[Offered]) -> FilesNeeded:
    """Assigns files that the studio already has, by their hashes, without sending them again."""
    return FilesNeeded(paths=known_files(session_of(session_id), [(f.path, f.sha256) for f in files[:1000]]))


class InboxFolder(Schema):
    name: str
    entries: int


class Inbox(Schema):
    """A folder of this machine that may be read; `open` is false if none was configured."""

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
    """Imports a folder of this machine: a job that stores, measures and reads it."""
    folder = folder_in_inbox(asked.path)
    with transaction.atomic():
        session = Session.objects.create(name=folder.name[:120])
        (own := own_of(kit_record(kit_id))).sessions.add(session)
    return shown(begin_bringing_in(session, asked.path, own.id))
