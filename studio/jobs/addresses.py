"""Jobs over HTTP: start, watch, cancel, run again, download."""

import os
import uuid
from pathlib import Path
from typing import Any, Literal, cast

from django.conf import settings
from django.http import FileResponse, HttpRequest
from django.http.response import HttpResponseBase
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from drumcore.kit.values import USUAL_RATE, Rate
from drumcore.refusals import Refusal
from studio.jobs.models import Job
from studio.jobs.running import again, cancel, folder_of, note_the_dead, start
from studio.kits.versions import kit_record
from studio.library.models import GrooveRecord

router = Router()
LARGEST_KIT_FILE = 8 << 30


class StemShown(Schema):
    output: int
    name: str
    width: str
    file: str
    peak_dbfs: float
    clipped_samples: int


State = Literal["waiting", "running", "done", "failed", "cancelled", "stopped"]


class JobShown(Schema):
    """A job; `state` is waiting, running, done, failed, cancelled or stopped."""

    id: str
    kind: str
    state: State
    done: int
    total: int
    message: str
    title: str
    download: str | None
    stems: list[StemShown]
    kit: str | None
    problems: list[str]


class StemsAsked(Schema):
    groove: int
    rate_hz: Rate = USUAL_RATE
    bits: Literal[16, 24, 32] = 24


def shown(job: Job) -> JobShown:
    result: dict[str, Any] = job.result
    name = result.get("download")
    titles = {
        "bring_in_folder": f"Bringing in {job.arguments.get('name', 'a folder')}",
        "read_session": f"Reading {job.arguments.get('name', 'the session')}",
        "render_stems": f"Rendering {job.arguments.get('groove_name', 'stems')}",
        "save_kit_file": "Saving the kit file",
        "open_kit_file": f"Opening {job.arguments.get('name', 'a kit file')}",
    }
    return JobShown(
        id=str(job.id),
        kind=job.kind,
        state=cast(State, job.state),
        done=job.done,
        total=job.total,
        message=job.message,
        title=titles[job.kind],
        download=f"/api/jobs/{job.id}/download" if name else None,
        stems=[StemShown(**stem) for stem in result.get("stems", {}).get("stems", [])],
        kit=result.get("kit"),
        problems=result.get("problems", []),
    )


def _job(job_id: str) -> Job:
    try:
        job = Job.objects.filter(id=uuid.UUID(job_id)).first()
    except ValueError:
        job = None
    if job is None:
        raise Refusal("There is no such job; start it again.")
    return job


@router.get("/jobs/{job_id}", response=JobShown)
def watch_job(request: HttpRequest, job_id: str) -> JobShown:
    note_the_dead()
    return shown(_job(job_id))


@router.get("/kits/{kit_id}/jobs", response=list[JobShown])
def list_jobs(request: HttpRequest, kit_id: str) -> list[JobShown]:
    note_the_dead()
    return [shown(job) for job in Job.objects.filter(kit=kit_record(kit_id)).order_by("-created")[:20]]


@router.post("/jobs/{job_id}/cancel", response=JobShown)
def cancel_job(request: HttpRequest, job_id: str) -> JobShown:
    cancel(_job(job_id))
    return shown(_job(job_id))


@router.post("/jobs/{job_id}/again", response=JobShown)
def run_again(request: HttpRequest, job_id: str) -> JobShown:
    job = _job(job_id)
    if job.state in ("waiting", "running"):
        raise Refusal("This job is still going; cancel it before you run it again.")
    return shown(again(job))


@router.get("/jobs/{job_id}/download", include_in_schema=False)
def download(request: HttpRequest, job_id: str) -> HttpResponseBase:
    job = _job(job_id)
    path = folder_of(job) / job.result.get("download", "")
    if job.state != "done" or not path.is_file():
        raise Refusal("That file is not there any more; make it again.")
    return FileResponse(path.open("rb"), as_attachment=True, filename=path.name)


@router.get("/jobs/{job_id}/stems/{number}", include_in_schema=False)
def one_stem(request: HttpRequest, job_id: str, number: int) -> HttpResponseBase:
    job = _job(job_id)
    for stem in job.result.get("stems", {}).get("stems", []):
        path = folder_of(job) / "stems" / stem["file"]
        if stem["output"] == number and path.is_file():
            return FileResponse(path.open("rb"), as_attachment=True, filename=path.name)
    raise Refusal("That stem is not there any more; render it again.")


@router.post("/kits/{kit_id}/stems", response=JobShown)
def render_stems(request: HttpRequest, kit_id: str, asked: StemsAsked) -> JobShown:
    """Render a groove to one file an output, of the kit as it stands now."""
    record = kit_record(kit_id)
    groove = GrooveRecord.objects.filter(id=asked.groove).first()
    if groove is None:
        raise Refusal("There is no such groove; choose one from the list.")
    arguments = {**asked.model_dump(), "version": record.current, "groove_name": groove.name}
    return shown(start("render_stems", arguments, kit_id))


@router.post("/kits/{kit_id}/file", response=JobShown)
def save_kit_file(request: HttpRequest, kit_id: str) -> JobShown:
    record = kit_record(kit_id)
    return shown(start("save_kit_file", {"version": record.current}, kit_id))


@router.post("/kit-files", response=JobShown)
def open_kit_file(request: HttpRequest, file: File[UploadedFile]) -> JobShown:
    """Bring in a kit file; the job it starts ends with the new kit."""
    folder = Path(settings.DATA) / "uploads"
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / f"{uuid.uuid4().hex}.zestykit"
    size = 0
    with path.open("wb") as target:
        for chunk in file.chunks():
            size += len(chunk)
            if size > LARGEST_KIT_FILE:
                path.unlink()
                raise Refusal(f"{file.name} is over {LARGEST_KIT_FILE >> 30} GB.")
            target.write(chunk)
        target.flush()
        os.fsync(target.fileno())
    named = path.with_name(f"{path.stem}-{Path(file.name or 'kit').name[:80]}")
    path.rename(named)
    return shown(start("open_kit_file", {"path": str(named), "name": file.name}))
