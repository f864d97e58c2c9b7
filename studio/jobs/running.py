"""Running jobs: progress, cancel, a clear end, and finding the ones whose worker died."""

import logging
import shutil
import time
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db.models import Q
from django.utils import timezone
from huey.contrib.djhuey import db_task, on_startup

from drumcore.recordings.gathering import Cancelled
from drumcore.refusals import Refusal
from studio.jobs.models import Job

SILENT_FOR = timedelta(seconds=20)
BEAT_S = 0.25
Work = Callable[[Job, Callable[[int, int], None]], dict[str, Any]]
_kinds: dict[str, Work] = {}


def work_of_kind(kind: str) -> Callable[[Work], Work]:
    """Name the function that does a kind of job. It gets the job and a progress callback, and returns the result."""

    def keep(work: Work) -> Work:
        _kinds[kind] = work
        return work

    return keep


def start(kind: str, arguments: dict[str, Any], kit_id: str | None = None) -> Job:
    job = Job.objects.create(kind=kind, arguments=arguments, kit_id=kit_id)
    run(str(job.id))
    job.refresh_from_db()
    return job


def folder_of(job: Job) -> Path:
    return Path(settings.DATA) / "jobs" / str(job.id)


@db_task()  # type: ignore[untyped-decorator]  # huey says nothing of its types
def run(job_id: str) -> None:
    """Do a job. Whatever happens, it ends in a state and a sentence."""
    if not Job.objects.filter(id=job_id, state="waiting").update(state="running", beat=timezone.now()):
        return
    job = Job.objects.get(id=job_id)
    last = 0.0

    def progress(done: int, total: int) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last < BEAT_S and done < total:
            return
        last = now
        Job.objects.filter(id=job_id).update(done=done, total=total, beat=timezone.now())
        if Job.objects.filter(id=job_id, cancel_asked=True).exists():
            raise Cancelled

    try:
        progress(0, 0)
        end = {"state": "done", "result": _kinds[job.kind](job, progress)}
    except Cancelled:
        end = {"state": "cancelled", "message": "Cancelled. What was finished before is kept."}
    except Refusal as refusal:
        end = {"state": "failed", "message": str(refusal)[:600]}
    except Exception:
        logging.getLogger(__name__).exception("job %s failed", job_id)
        end = {
            "state": "failed",
            "message": "Something went wrong inside; nothing that was kept is lost. Run it again.",
        }
    if end["state"] != "done":
        shutil.rmtree(folder_of(job), ignore_errors=True)
    Job.objects.filter(id=job_id).update(**end, beat=timezone.now())


def note_the_dead() -> None:
    """Mark jobs whose worker fell silent as stopped, so that they can be run again."""
    Job.objects.filter(state="running").filter(Q(beat=None) | Q(beat__lt=timezone.now() - SILENT_FOR)).update(
        state="stopped", message="Its worker stopped before it was done. Run it again; what was finished is kept."
    )


_BEGAN = timezone.now()
_NOT_OURS = Q(beat=None) | Q(beat__lt=_BEGAN)
"""A running job that this process has not taken up: its last sign of life, if any, is older than the process."""
GOES_ON = ("read_session", "bring_in_folder")
"""Kinds of work that go on by themselves after a restart: they lose nothing and do nothing twice."""


@on_startup()  # type: ignore[untyped-decorator]
def go_on_after_restart() -> None:
    """Start again what was waiting or going on when the studio was stopped. One worker process serves a studio.

    Every thread of it calls this as it begins; what another has taken up already has a beat of this process.
    """
    waiting = Q(state="waiting", created__lt=_BEGAN)
    going_on = Q(state="running") & _NOT_OURS
    for job in Job.objects.filter(waiting | going_on, cancel_asked=False).order_by("created"):
        if job.state == "waiting":
            run(str(job.id))
            continue
        said = "The studio was stopped before it was done; it went on afterwards."
        claimed = Job.objects.filter(_NOT_OURS, id=job.id, state="running").update(state="stopped", message=said)
        if claimed and job.kind in GOES_ON:
            again(job)


def cancel(job: Job) -> None:
    Job.objects.filter(id=job.id).update(cancel_asked=True)
    Job.objects.filter(id=job.id, state="waiting").update(state="cancelled", message="Cancelled before it began.")


def again(job: Job) -> Job:
    """The same work as a new job."""
    return start(job.kind, job.arguments, job.kit_id)
