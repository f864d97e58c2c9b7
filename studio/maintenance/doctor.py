"""Whether everything the studio keeps is whole: every hash, reference, version and job."""

from pathlib import Path

from studio.maintenance.files import check_files
from studio.maintenance.records import check_records
from studio.maintenance.report import Check, CheckReport, Progress


def check_studio(data: Path, progress: Progress, *, repair: bool = False, source: Path | None = None) -> CheckReport:
    """Look through a data folder, running or not. With `repair` what can be put right is, with the help of a backup (`source`)
    where there is one. Nothing that may still be read is removed but what can be made again."""
    check = Check(data, repair, source, progress)
    check_records(check)
    check_files(check)
    progress(1, 1)
    return check.report
