"""What each kind of job does."""

import functools
import shutil
from pathlib import Path
from typing import Any

from drumcore.exports.export import file_name
from drumcore.formats.kit_file import read_kit_file
from drumcore.formats.piece_file import kept_from, piece_of_file, write_piece_file
from drumcore.formats.suffix import PIECE_SUFFIX
from drumcore.recordings.files import Measured, Unread, files_under, measure_file, shown_name
from drumcore.refusals import Refusal
from studio.jobs.models import Job
from studio.jobs.runner import Progress, folder_of, work_of_kind
from studio.kits.versions import create_kit
from studio.library.inbox import folder_in_inbox
from studio.library.models import Session, StoredFile
from studio.library.sessions import add_archive, add_file, read_kept_session, unpack_archives
from studio.library.store import locate, name_content, place_of, store_file
from studio.shelves.kinds import PIECES
from studio.shelves.pieces import keep_piece
from studio.shelves.shelf import ours, value_of

MOST_PROBLEMS = 50


def _session(job: Job) -> Session:
    session = Session.objects.filter(id=job.arguments["session"]).first()
    if session is None:
        raise Refusal("The session was removed; there is nothing left to read.")
    return session


@work_of_kind("read_session")
def read_session_job(job: Job, progress: Progress) -> dict[str, Any]:
    session = _session(job)
    refused = unpack_archives(session, progress)
    reading = read_kept_session(session, progress)
    problems = [entry.why for entry in refused[:MOST_PROBLEMS]]
    if len(refused) > MOST_PROBLEMS:
        problems.append(f"{len(refused) - MOST_PROBLEMS:,} other files were refused as well.")
    return {"session": session.id, "files": reading.files, "takes": reading.takes, "problems": problems}


def _within(progress: Progress, done: int, total: int, _done: int, _total: int) -> None:
    """What a part of the work tells of itself: the whole is no further, and hears when to end."""
    progress(done, total)


@work_of_kind("bring_in_folder")
def bring_in_folder(job: Job, progress: Progress) -> dict[str, Any]:
    """Store a folder of the inbox, then read it. Run again, it goes on where it was: what is stored is not copied."""
    session = _session(job)
    root = folder_in_inbox(job.arguments["path"])
    names = files_under(root)
    known = set(session.files.values_list("path", flat=True))
    refused = []
    for done, name in enumerate(names):
        progress(done, len(names))
        shown = shown_name(name)
        if shown in known:
            continue
        try:
            if name.lower().endswith(".zip"):
                refused += add_archive(
                    session, shown, root / name, functools.partial(_within, progress, done, len(names))
                )
            else:
                add_file(session, shown, root / name)
        except Refusal as refusal:
            refused.append(Unread(path=shown, why=str(refusal)))
    reading = read_kept_session(session, progress)
    problems = [entry.why for entry in refused[:MOST_PROBLEMS]]
    return {"session": session.id, "files": reading.files, "takes": reading.takes, "problems": problems}


@work_of_kind("open_kit_file")
def open_kit_file(job: Job, progress: Progress) -> dict[str, Any]:
    uploaded = Path(job.arguments["path"])
    if not uploaded.is_file():
        raise Refusal("The uploaded kit file is not there any more; upload it again.")
    folder = folder_of(job) / "unpacked"
    try:
        try:
            shown = str(job.arguments.get("name") or uploaded.name)
            of = kept_from(uploaded, shown)
            opened = read_kit_file(uploaded, folder, progress, shown)
        except Refusal:
            uploaded.unlink()  # reading it again would end the same way
            raise
        for place in opened.recordings.values():
            stored = store_file(place, place.name)
            _measure_once(stored, place.name)
        for content, place in opened.responses.items():
            name_content(store_file(place, place.name), content)
        if of is None:
            record = create_kit(opened.kit.name, opened.kit, "Opened from a kit file")
            made = {"kit": record.id}
        else:
            kept = keep_piece(opened.kit.name, piece_of_file(opened.kit, of, shown))
            made = {"piece": str(kept.id)}
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    uploaded.unlink(missing_ok=True)
    return {**made, "problems": [*opened.problems, *opened.notes]}


@work_of_kind("piece_file")
def piece_file(job: Job, progress: Progress) -> dict[str, Any]:
    """Write a kept piece into a file, with its recordings."""
    found = ours(PIECES, job.arguments["piece"])
    folder = folder_of(job)
    folder.mkdir(parents=True, exist_ok=True)
    name = file_name(found.name, PIECE_SUFFIX)
    described = value_of(PIECES, found)
    kept = described.but(kit=described.kit.but(description=found.description, tags=tuple(found.tags)))
    write_piece_file(kept, locate, folder / name, progress)
    return {"download": name}


def _measure_once(stored: StoredFile, name: str) -> None:
    """Give a stored recording its content hash, so that kits find it."""
    if stored.content:
        return
    measured = measure_file(place_of(stored), name)
    if isinstance(measured, Measured):
        name_content(stored, measured.content)
