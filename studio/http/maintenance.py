"""Backups and checks: the last of each, and those in progress."""

from datetime import datetime
from pathlib import Path
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Schema
from pydantic import Field

from studio.jobs.status import JobShown, shown
from studio.maintenance import runs
from studio.maintenance.models import MaintenanceRun

router = Router()
SAID_FIRST = ("recordings", "kits", "versions", "sessions", "saved items")


class BackupShown(Schema):
    """The last backup; `problems` say what is missing from it."""

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
    """The last check: what was checked and what was found; of `all` troubles the first hundred are listed."""

    ended: datetime
    sound: bool
    said: str
    troubles: list[TroubleShown]
    all: int


class MaintenanceShown(Schema):
    """`going` lists waiting and running backups and checks."""

    backup: BackupShown | None
    check: CheckShown | None
    going: list[JobShown]


class BackupAsked(Schema):
    folder: Annotated[str, Field(min_length=1, max_length=1000)]


class CheckAsked(Schema):
    """With `repair`, damage is repaired where possible, with the help of the last backup."""

    repair: bool = False


@router.get("/maintenance", response=MaintenanceShown)
def maintenance(request: HttpRequest) -> MaintenanceShown:
    backup, check = runs.last_run(runs.BACKUP), runs.last_run(runs.CHECK)
    return MaintenanceShown(
        backup=BackupShown(ended=backup.ended, **backup.data) if backup else None,
        check=_check_shown(check) if check else None,
        going=[shown(job) for job in runs.going_on()],
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


@router.post("/maintenance/backup", response=JobShown)
def begin_backup(request: HttpRequest, asked: BackupAsked) -> JobShown:
    """Starts a backup into a folder of this machine. Raises Refusal if the folder cannot be used."""
    return shown(runs.begin_backup(Path(asked.folder.strip()).expanduser()))


@router.post("/maintenance/check", response=JobShown)
def begin_check(request: HttpRequest, asked: CheckAsked) -> JobShown:
    return shown(runs.begin_check(repair=asked.repair))
