"""Backups and checks as jobs, and the last of each: what the storage page shows and starts."""

from dataclasses import asdict
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db.models import QuerySet

from studio.jobs.models import Job
from studio.jobs.runner import Progress, start, work_of_kind
from studio.maintenance.backup import BackupReport, check_place, write_backup
from studio.maintenance.doctor import check_studio
from studio.maintenance.models import MaintenanceRun
from studio.maintenance.report import CheckReport

BACKUP, CHECK = "backup", "check"
KEPT = 20
MOST_SHOWN = 100


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


def last_run(kind: str) -> MaintenanceRun | None:
    return MaintenanceRun.objects.filter(kind=kind).order_by("-ended").first()


def _last_folder() -> str | None:
    backup = last_run(BACKUP)
    return str(backup.data["folder"]) if backup else None


def begin_backup(folder: Path) -> Job:
    """Starts a backup into a folder of this machine. Raises Refusal if the folder cannot be used."""
    check_place(Path(settings.DATA), folder)
    return start(BACKUP, {"folder": str(folder), "title": f"Backing up to {folder}"})


def begin_check(*, repair: bool) -> Job:
    """Starts a check; with `repair` damage is repaired, with the help of the last backup."""
    title = "Checking and repairing the studio" if repair else "Checking the studio"
    return start(CHECK, {"repair": repair, "title": title})


def going_on() -> QuerySet[Job]:
    """Waiting and running backups and checks."""
    return Job.objects.filter(kind__in=(BACKUP, CHECK), state__in=("waiting", "running")).order_by("created")
