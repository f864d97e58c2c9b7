"""Jobs: start, follow, cancel, run again, download."""

import os
import uuid

from django.http import FileResponse, HttpRequest
from django.http.response import HttpResponseBase
from ninja import File, Router
from ninja.files import UploadedFile

from drumcore.refusals import Refusal
from studio.jobs.models import Job
from studio.jobs.runner import again, cancel, folder_of, kinds_beside, note_the_dead
from studio.jobs.status import JobShown, shown
from studio.kits.kit_files import begin_opening
from studio.kits.versions import kit_record
from studio.storage.recordings import uploads_folder

router = Router()
LARGEST_KIT_FILE = 8 << 30


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
    made = Job.objects.filter(kit=kit_record(kit_id).id).exclude(kind__in=kinds_beside())
    return [shown(job) for job in made.order_by("-created")[:20]]


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
        raise Refusal("That file no longer exists; make it again.")
    return FileResponse(path.open("rb"), as_attachment=True, filename=path.name)


@router.get("/jobs/{job_id}/parts/{number}", include_in_schema=False)
def one_part(request: HttpRequest, job_id: str, number: int) -> HttpResponseBase:
    """One of the files a job made, by index."""
    job = _job(job_id)
    parts = shown(job).parts
    if 0 <= number < len(parts):
        path = folder_of(job) / job.result["within"] / parts[number].file
        if path.is_file():
            return FileResponse(path.open("rb"), as_attachment=True, filename=path.name)
    raise Refusal("That file no longer exists; make it again.")


@router.post("/kit-files", response=JobShown)
def open_kit_file(request: HttpRequest, file: File[UploadedFile]) -> JobShown:
    """Opens a kit file: starts a job that ends with the new kit."""
    path = uploads_folder() / f"{uuid.uuid4().hex}.zestykit"
    try:
        size = 0
        with path.open("wb") as target:
            for chunk in file.chunks():
                size += len(chunk)
                if size > LARGEST_KIT_FILE:
                    raise Refusal(f"{file.name} is over {LARGEST_KIT_FILE >> 30} GB.")
                target.write(chunk)
            target.flush()
            os.fsync(target.fileno())
        return shown(begin_opening(path, file.name or "a kit file"))
    except BaseException:
        path.unlink(missing_ok=True)
        raise
