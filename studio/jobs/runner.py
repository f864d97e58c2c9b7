"""Running jobs: progress, cancel, a clear end, and finding the ones whose worker died."""

import contextlib
import logging
import shutil
import sqlite3
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import OperationalError, transaction
from huey.contrib.djhuey import HUEY, db_task, on_startup

from drumcore.recordings.files import Cancelled
from drumcore.refusals import DamagedRecording, Refusal
from studio.jobs.models import Job
from studio.jobs.worker import TOKEN, working
from studio.library.damage import note_damage
from studio.room import BUSY, FULL, NO_ROOM, is_full, says_full

TELLS_EVERY_S = 0.25
Progress = Callable[[int, int], None]
Work = Callable[[Job, Progress], dict[str, Any]]
MEASURE, PREVIEW = "measure", "preview"
BESIDE = (MEASURE, PREVIEW)
"""What is worked out beside what somebody asked to be made: it is not listed, and pushes nothing out of the list."""
_kinds: dict[str, Work] = {}


def work_of_kind(kind: str) -> Callable[[Work], Work]:
    """Name the function that does a kind of job. It gets the job and a progress callback, and returns the result."""

    def keep(work: Work) -> Work:
        _kinds[kind] = work
        return work

    return keep


def start(kind: str, arguments: dict[str, Any], kit_id: str | None = None) -> Job:
    """Begin a job; it is queued once its row is there for the worker to find. Raises OperationalError where it cannot be queued,
    on a full disk; then there is no such job."""
    job = Job.objects.create(kind=kind, arguments=arguments, kit_id=kit_id)
    transaction.on_commit(lambda: _queued_or_gone(job))
    if not transaction.get_connection().in_atomic_block:
        job.refresh_from_db()
    return job


def _queued_or_gone(job: Job) -> None:
    try:
        _enqueue(job)
    except sqlite3.Error as error:
        # Where not even that can be written, the worker takes it up once there is room (`enqueue_forgotten`).
        with contextlib.suppress(OperationalError):
            job.delete()
        raise OperationalError(str(error)) from error


def _enqueue(job: Job) -> None:
    """What somebody asked for goes before what is worked out beside it: twenty previews of a library stand in no one's way."""
    run(str(job.id), priority=0 if job.kind in BESIDE else 1)


def folder_of(job: Job) -> Path:
    return Path(settings.DATA) / "jobs" / str(job.id)


@db_task()  # type: ignore[untyped-decorator]  # huey says nothing of its types
def run(job_id: str) -> None:
    """Do a job. Whatever happens, it ends in a state and a sentence."""
    if not Job.objects.filter(id=job_id, state="waiting").update(state="running", worker=TOKEN):
        return
    # What somebody else has declared ended meanwhile is not ours to change any more.
    ours = Job.objects.filter(id=job_id, state="running", worker=TOKEN)
    job = Job.objects.filter(id=job_id).first()
    if job is None:
        return
    last = 0.0

    def progress(done: int, total: int) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last < TELLS_EVERY_S and done < total:
            return
        last = now
        going_on = ours.update(done=done, total=total)
        if not going_on or ours.filter(cancel_asked=True).exists():
            raise Cancelled

    try:
        progress(0, 0)
        end = {"state": "done", "result": _kinds[job.kind](job, progress)}
    except Cancelled:
        end = {"state": "cancelled", "message": "Cancelled. What was finished before is kept."}
    except DamagedRecording as error:
        end = {"state": "failed", "message": note_damage(error)[:600]}
    except Refusal as refusal:
        end = {"state": "failed", "message": str(refusal)[:600]}
    except OperationalError as error:
        logging.getLogger(__name__).warning("job %s: %s", job_id, error)
        end = {"state": "failed", "message": NO_ROOM if says_full(error) else BUSY}
    except Exception as error:
        logging.getLogger(__name__).exception("job %s failed", job_id)
        wrong = "Something went wrong inside; nothing that was kept is lost. Run it again."
        # A library that writes sound says of a full disk only that it could not write.
        full = (isinstance(error, OSError) and error.errno in FULL) or is_full(Path(settings.DATA))
        end = {"state": "failed", "message": NO_ROOM if full else wrong}
    if end["state"] != "done":
        shutil.rmtree(folder_of(job), ignore_errors=True)
    ours.update(**end)
    clear_old()


def note_the_dead() -> None:
    """Mark jobs whose worker is gone as stopped, so that they can be run again. A worker that was paused still holds its
    lock: it is not gone. What goes on by itself waits for the next worker."""
    there = working()
    dead = Job.objects.filter(state="running").exclude(kind__in=GOES_ON)
    if there is not None:
        dead = dead.exclude(worker=there)
    dead.update(state="stopped", message=STOPPED)


STOPPED = "Its worker stopped before it was done. Run it again; what was finished is kept."
GOES_ON = ("read_session", "bring_in_folder")
"""Kinds of work that go on by themselves after a restart: they lose nothing and do nothing twice."""


@on_startup()  # type: ignore[untyped-decorator]
def go_on_after_restart() -> None:
    """Start again what was going on when the studio was stopped. One worker process serves a studio.

    Every thread of it calls this as it begins; what another has taken up already bears this process's token. What waited
    still stands in the queue, or is found by `enqueue_forgotten`.
    """
    for job in Job.objects.filter(state="running", cancel_asked=False).exclude(worker=TOKEN).order_by("created"):
        goes_on = job.kind in GOES_ON
        said = "The studio was stopped before it was done; it went on afterwards." if goes_on else STOPPED
        left = Job.objects.filter(id=job.id, state="running", worker=job.worker)
        if left.update(state="stopped", message=said) and goes_on:
            again(job)


def enqueue_forgotten(missed: set[str]) -> set[str]:
    """Put jobs into the queue that wait and are not in it: their queue was full or lost, or a worker died as it took them up.

    Asked again and again with what the last call returned: a job is only put there when it was missed twice, because one
    that is just being started, or taken up, is in neither place for a moment.
    """
    queued = {str(task.args[0]) for task in HUEY.pending() if task.name == run.task_class.__name__}
    lost = {str(job.id): job for job in Job.objects.filter(state="waiting", cancel_asked=False)}
    for job_id, job in lost.items():
        if job_id in missed - queued:
            _enqueue(job)
    return lost.keys() - queued - missed


MOST_ENDED = 60
MOST_MEASURED = 20
MOST_BYTES = 8 << 30
"""Ended jobs and what they made are kept up to so many and so much; the oldest go first."""


def clear_old() -> None:
    """Clear what ended jobs made, the oldest first, beyond what is kept."""
    kept = 0
    ended = Job.objects.exclude(state__in=("waiting", "running")).order_by("-created")
    Job.objects.filter(id__in=[job.id for job in ended.filter(kind__in=BESIDE)[MOST_MEASURED:]]).delete()
    for number, job in enumerate(ended.exclude(kind__in=BESIDE)):
        folder = folder_of(job)
        kept += sum(f.stat().st_size for f in folder.rglob("*") if f.is_file()) if folder.is_dir() else 0
        if number >= MOST_ENDED or (kept > MOST_BYTES and number > 0):
            shutil.rmtree(folder, ignore_errors=True)
            job.delete()


def cancel(job: Job) -> None:
    Job.objects.filter(id=job.id).update(cancel_asked=True)
    Job.objects.filter(id=job.id, state="waiting").update(state="cancelled", message="Cancelled before it began.")


def again(job: Job) -> Job:
    """The same work as a new job."""
    return start(job.kind, job.arguments, job.kit_id)
