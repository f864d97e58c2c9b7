"""Backups and checks as jobs, and the last of each, over HTTP: what the storage page shows and starts."""

from dataclasses import asdict
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any

from django.conf import settings
from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from studio.jobs.models import Job
from studio.jobs.runner import Progress, start, work_of_kind
from studio.jobs.status import JobShown, shown
from studio.maintenance.backup import BackupReport, check_place, write_backup
from studio.maintenance.doctor import check_studio
from studio.maintenance.models import MaintenanceRun
from studio.maintenance.report import CheckReport

router = Router()
BACKUP, CHECK = "backup", "check"
KEPT = 20
MOST_SHOWN = 100
SAID_FIRST = ("recordings", "kits", "versions", "sessions", "kept things")


def remember_backup(report: BackupReport) -> None:
    _remember(BACKUP, report.sound, {**asdict(report), "problems": report.problems[:MOST_SHOWN]})


def remember_check(report: CheckReport) -> None:
    found = report.as_json()
    _remember(CHECK, report.sound, {**found, "troubles": found["troubles"][:MOST_SHOWN], "all": len(report.troubles)})


def _remember(kind: str, sound: bool, data: dict[str, Any]) -> None:
    MaintenanceRun.objects.create(kind=kind, sound=sound, data=data)
    old = MaintenanceRun.objects.filter(kind=kind).order_by("-ended").values_list("id", flat=True)[KEPT:]
    MaintenanceRun.objects.filter(id__in=list(old)).delete()


@work_of_kind(BACKUP)
def back_up(job: Job, progress: Progress) -> dict[str, Any]:
    report = write_backup(Path(settings.DATA), Path(job.arguments["folder"]), progress)
    remember_backup(report)
    return {"problems": report.problems[:MOST_SHOWN]}


@work_of_kind(CHECK)
def look_through(job: Job, progress: Progress) -> dict[str, Any]:
    source = _last_folder()
    backup = Path(source) if source and job.arguments["repair"] else None
    report = check_studio(Path(settings.DATA), progress, repair=job.arguments["repair"], source=backup)
    remember_check(report)
    return {"problems": [trouble.said for trouble in report.troubles if trouble.kind != "untidy"][:MOST_SHOWN]}


class BackupShown(Schema):
    """The last backup: `problems` say what it is without."""

    folder: str
    ended: datetime
    recordings: int
    bytes: int
    problems: list[str]


class TroubleShown(Schema):
    kind: str
    said: str
    repaired: bool


class CheckShown(Schema):
    """The last check: what was looked at, and what was found, of `all` that was the first hundred."""

    ended: datetime
    sound: bool
    said: str
    troubles: list[TroubleShown]
    all: int


class MaintenanceShown(Schema):
    """`going` are backups and checks that wait or run."""

    backup: BackupShown | None
    check: CheckShown | None
    going: list[JobShown]


class BackupAsked(Schema):
    folder: Annotated[str, Field(min_length=1, max_length=1000)]


class CheckAsked(Schema):
    """With `repair` what can be put right is, from the last backup where that helps."""

    repair: bool = False


@router.get("/maintenance", response=MaintenanceShown)
def maintenance(request: HttpRequest) -> MaintenanceShown:
    backup, check = _last(BACKUP), _last(CHECK)
    going = Job.objects.filter(kind__in=(BACKUP, CHECK), state__in=("waiting", "running")).order_by("created")
    return MaintenanceShown(
        backup=BackupShown(ended=backup.ended, **backup.data) if backup else None,
        check=_check_shown(check) if check else None,
        going=[shown(job) for job in going],
    )


def _check_shown(run: MaintenanceRun) -> CheckShown:
    counts = run.data["looked_at"]
    looked_at = ", ".join(f"{counts[what]:,} {what}" for what in SAID_FIRST if what in counts)
    return CheckShown(
        ended=run.ended,
        sound=run.sound,
        said=f"Read {looked_at}, and the rest" if looked_at else "There was nothing to read",
        troubles=[TroubleShown(**trouble) for trouble in run.data["troubles"]],
        all=run.data["all"],
    )


def _last(kind: str) -> MaintenanceRun | None:
    return MaintenanceRun.objects.filter(kind=kind).order_by("-ended").first()


def _last_folder() -> str | None:
    backup = _last(BACKUP)
    return str(backup.data["folder"]) if backup else None


@router.post("/maintenance/backup", response=JobShown)
def begin_backup(request: HttpRequest, asked: BackupAsked) -> JobShown:
    """Back the studio up into a folder of this machine. Raises Refusal for a folder that cannot take it."""
    folder = Path(asked.folder.strip()).expanduser()
    check_place(Path(settings.DATA), folder)
    return shown(start(BACKUP, {"folder": str(folder), "title": f"Backing up to {folder}"}))


@router.post("/maintenance/check", response=JobShown)
def begin_check(request: HttpRequest, asked: CheckAsked) -> JobShown:
    title = "Checking and repairing the studio" if asked.repair else "Checking the studio"
    return shown(start(CHECK, {"repair": asked.repair, "title": title}))
