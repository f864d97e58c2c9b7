"""The jobs of sessions: reading them, and importing folders of this machine."""

import functools
from typing import Any

from drumcore.recordings.files import Unread, files_under, shown_name
from drumcore.refusals import Refusal
from studio.jobs.models import Job
from studio.jobs.runner import Progress, start, work_of_kind
from studio.sessions.archives import add_archive, unpack_archives
from studio.sessions.inbox import folder_in_inbox
from studio.sessions.incoming import add_file
from studio.sessions.models import Session
from studio.sessions.reading import read_kept_session

READ, BRING_IN = "read_session", "bring_in_folder"
MOST_PROBLEMS = 50


def begin_reading(session: Session, kit_id: str | None) -> Job:
    """Reads a session again; the kit shows the job's progress."""
    return start(READ, {"session": session.id, "title": f"Reading {session.name}"}, kit_id)


def begin_bringing_in(session: Session, path: str, kit_id: str) -> Job:
    """Stores a folder of the inbox in a session and reads it."""
    return start(BRING_IN, {"session": session.id, "path": path, "title": f"Adding {session.name}"}, kit_id)


def _session(job: Job) -> Session:
    session = Session.objects.filter(id=job.arguments["session"]).first()
    if session is None:
        raise Refusal("The session was removed; there is nothing left to read.")
    return session


@work_of_kind(READ, goes_on=True)
def read_session_job(job: Job, progress: Progress) -> dict[str, Any]:
    session = _session(job)
    refused = unpack_archives(session, progress)
    reading = read_kept_session(session, progress)
    problems = [entry.why for entry in refused[:MOST_PROBLEMS]]
    if len(refused) > MOST_PROBLEMS:
        problems.append(f"{len(refused) - MOST_PROBLEMS:,} other files were refused as well.")
    return {"session": session.id, "files": reading.files, "takes": reading.takes, "problems": problems}


def _within(progress: Progress, done: int, total: int, _done: int, _total: int) -> None:
    """Progress of a part of the work: the whole shows no change, but notices a cancel."""
    progress(done, total)


@work_of_kind(BRING_IN, goes_on=True)
def bring_in_folder(job: Job, progress: Progress) -> dict[str, Any]:
    """Stores a folder of the inbox, then reads it. Run again, it resumes: stored files are not copied again."""
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
