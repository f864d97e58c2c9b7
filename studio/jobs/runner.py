"""Runs jobs: progress, cancel, a definite end, and recovery of jobs whose worker died."""

import contextlib
import logging
import shutil
import sqlite3
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TypeVar

from django.conf import settings
from django.db import OperationalError, transaction
from huey.contrib.djhuey import HUEY, db_task, on_startup

from drumcore.recordings.files import Cancelled
from drumcore.refusals import Refusal
from studio.jobs.models import Job
from studio.jobs.worker import TOKEN, working
from studio.people.models import owner_of
from studio.people.workspace import acting_in, current_workspace
from studio.storage.disk_space import BUSY, FULL, NO_ROOM, is_full, says_full

TELLS_EVERY_S = 0.25
LONGEST_SAID = 600
Progress = Callable[[int, int], None]
Work = Callable[[Job, Progress], dict[str, Any]]
E = TypeVar("E", bound=Exception)


@dataclass(frozen=True)
class JobKind:
    """How a kind of job runs.

    A kind that `goes_on` is resumed by itself after a restart, because it loses nothing and repeats nothing. A job made
    `beside` what the user asked for is not listed, displaces nothing from the list, and runs one at a time, so that it
    never occupies the whole worker.
    """

    work: Work
    goes_on: bool = False
    beside: bool = False


_kinds: dict[str, JobKind] = {}
_sentences: dict[type[Exception], Callable[[Any], str]] = {}


def work_of_kind(name: str, *, goes_on: bool = False, beside: bool = False) -> Callable[[Work], Work]:
    """Registers the function that runs a kind of job. It gets the job and a progress callback, and returns the result."""

    def keep(work: Work) -> Work:
        _kinds[name] = JobKind(work, goes_on, beside)
        return work

    return keep


def says_of(error: type[E]) -> Callable[[Callable[[E], str]], Callable[[E], str]]:
    """Registers what a job says when it ends with an error of a class, in place of the error's own text."""

    def keep(say: Callable[[E], str]) -> Callable[[E], str]:
        _sentences[error] = say
        return say

    return keep


def kinds_that_go_on() -> list[str]:
    return [name for name, kind in _kinds.items() if kind.goes_on]


def kinds_beside() -> list[str]:
    return [name for name, kind in _kinds.items() if kind.beside]


def start(kind: str, arguments: dict[str, Any], kit_id: str | None = None) -> Job:
    """Starts a job in the current workspace; `arguments["title"]` is its title. It is queued once its row is committed,
    so that the worker finds it. Raises OperationalError if it cannot be saved (full disk); then there is no such job.
    """
    return _start(kind, arguments, kit_id, current_workspace())


def _start(kind: str, arguments: dict[str, Any], kit_id: str | None, workspace: int) -> Job:
    job = Job.everywhere.create(kind=kind, arguments=arguments, kit=kit_id, workspace_id=workspace)
    transaction.on_commit(lambda: _queued_or_gone(job))
    if not transaction.get_connection().in_atomic_block:
        job.refresh_from_db()
    return job


def _queued_or_gone(job: Job) -> None:
    try:
        _enqueue(job)
    except sqlite3.Error as error:
        # If even the queue cannot be written, the worker picks the job up once there is room (`enqueue_forgotten`).
        with contextlib.suppress(OperationalError):
            job.delete()
        raise OperationalError(str(error)) from error


def _enqueue(job: Job) -> None:
    """Jobs the user asked for have priority over background work: twenty previews of a library delay nobody."""
    run(str(job.id), priority=0 if job.kind in kinds_beside() else 1)


def folder_of(job: Job) -> Path:
    return Path(settings.DATA) / "jobs" / str(job.id)


def _unknown(job: Job, progress: Progress) -> dict[str, Any]:
    raise Refusal("An older version began this and it is not done any more; start it again.")


UNKNOWN = JobKind(_unknown)
_beside = threading.Semaphore(1)
BESIDE_AGAIN_S = 0.5


@db_task()  # type: ignore[untyped-decorator]  # huey says nothing of its types
def run(job_id: str) -> None:
    """Runs a job. Whatever happens, it ends in a state with a sentence."""
    job = Job.everywhere.filter(id=job_id, state="waiting").first()
    if job is None:
        return
    kind = _kinds.get(job.kind, UNKNOWN)
    if not kind.beside or HUEY.immediate:
        _do(job, kind.work)
    elif _beside.acquire(blocking=False):
        try:
            _do(job, kind.work)
        finally:
            _beside.release()
    else:
        run.schedule((job_id,), delay=BESIDE_AGAIN_S, priority=0)


def _do(job: Job, work: Work) -> None:
    if not Job.everywhere.filter(id=job.id, state="waiting").update(state="running", worker=TOKEN):
        return
    # Another process may have ended the job meanwhile; then its state is not changed.
    ours = Job.everywhere.filter(id=job.id, state="running", worker=TOKEN)
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
        with acting_in(owner_of(job)):
            end = {"state": "done", "result": work(job, progress)}
    except Cancelled:
        end = {"state": "cancelled", "message": "Cancelled. What was finished before is kept."}
    except OperationalError as error:
        logging.getLogger(__name__).warning("job %s: %s", job.id, error)
        end = {"state": "failed", "message": NO_ROOM if says_full(error) else BUSY}
    except Exception as error:
        end = {"state": "failed", "message": _why(job, error)[:LONGEST_SAID]}
    if end["state"] != "done":
        shutil.rmtree(folder_of(job), ignore_errors=True)
    ours.update(**end)
    clear_old()


def _why(job: Job, error: Exception) -> str:
    """Why a job failed, in a sentence."""
    if say := _sentences.get(type(error)):
        return say(error)
    if isinstance(error, Refusal):
        return str(error)
    logging.getLogger(__name__).exception("job %s failed", job.id, exc_info=error)
    # On a full disk, the audio library only says that it could not write.
    if (isinstance(error, OSError) and error.errno in FULL) or is_full(Path(settings.DATA)):
        return NO_ROOM
    return "Something went wrong inside; nothing saved is lost. Run it again."


def note_the_dead() -> None:
    """Marks jobs whose worker is gone as stopped, so that they can be run again. A paused worker still holds its lock
    and is not gone. Kinds that resume by themselves wait for the next worker.
    """
    there = working()
    dead = Job.everywhere.filter(state="running").exclude(kind__in=kinds_that_go_on())
    if there is not None:
        dead = dead.exclude(worker=there)
    dead.update(state="stopped", message=STOPPED)


STOPPED = "Its worker stopped before it was done. Run it again; what was finished is kept."


@on_startup()  # type: ignore[untyped-decorator]
def go_on_after_restart() -> None:
    """Resumes the jobs that ran when the studio was stopped.

    One worker process serves a studio. Each of its threads calls this at start; jobs that another thread took already
    carry this process's token. Waiting jobs are still in the queue, or are found by `enqueue_forgotten`.
    """
    for job in Job.everywhere.filter(state="running", cancel_asked=False).exclude(worker=TOKEN).order_by("created"):
        goes_on = _kinds.get(job.kind, UNKNOWN).goes_on
        said = "The studio was stopped before it was done; it went on afterwards." if goes_on else STOPPED
        left = Job.everywhere.filter(id=job.id, state="running", worker=job.worker)
        if left.update(state="stopped", message=said) and goes_on:
            again(job)


def enqueue_forgotten(missed: set[str]) -> set[str]:
    """Queues waiting jobs that are not in the queue: the queue was full or lost, or a worker died while taking them.

    Call it repeatedly with its last result: a job is queued only if it was missing twice, because a job that is just
    being started or taken is in neither place for a moment.
    """
    tasks = (*HUEY.pending(), *HUEY.scheduled())
    queued = {str(task.args[0]) for task in tasks if task.name == run.task_class.__name__}
    lost = {str(job.id): job for job in Job.everywhere.filter(state="waiting", cancel_asked=False)}
    for job_id, job in lost.items():
        if job_id in missed - queued:
            _enqueue(job)
    return lost.keys() - queued - missed


MOST_ENDED = 60
MOST_MEASURED = 20
MOST_BYTES = 8 << 30
"""Ended jobs and what they made are kept up to so many and so much; the oldest go first."""


def clear_old() -> None:
    """Deletes what finished jobs made, the oldest first, beyond the number that is kept."""
    kept = 0
    ended = Job.everywhere.exclude(state__in=("waiting", "running")).order_by("-created")
    Job.everywhere.filter(id__in=[job.id for job in ended.filter(kind__in=kinds_beside())[MOST_MEASURED:]]).delete()
    for number, job in enumerate(ended.exclude(kind__in=kinds_beside())):
        folder = folder_of(job)
        kept += sum(f.stat().st_size for f in folder.rglob("*") if f.is_file()) if folder.is_dir() else 0
        if number >= MOST_ENDED or (kept > MOST_BYTES and number > 0):
            shutil.rmtree(folder, ignore_errors=True)
            job.delete()


def cancel(job: Job) -> None:
    Job.everywhere.filter(id=job.id).update(cancel_asked=True)
    Job.everywhere.filter(id=job.id, state="waiting").update(state="cancelled", message="Cancelled before it began.")


def forget_jobs_of(kit_id: str) -> None:
    """Deletes the jobs of a deleted kit, and what they made."""
    for job in Job.everywhere.filter(kit=kit_id):
        shutil.rmtree(folder_of(job), ignore_errors=True)
        job.delete()


def again(job: Job) -> Job:
    """The same work as a new job."""
    return _start(job.kind, job.arguments, job.kit, owner_of(job))
