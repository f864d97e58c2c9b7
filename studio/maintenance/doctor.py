"""Checks whether everything stored is intact: every hash, reference, version and job."""

from pathlib import Path

from studio.maintenance.files import check_files
from studio.maintenance.records import check_records
from studio.maintenance.report import Check, CheckReport, Progress


def check_studio(data: Path, progress: Progress, *, repair: bool = False, source: Path | None = None) -> CheckReport:
    """Checks a data folder, in use or not. With `repair`, damage is repaired where possible, with the help of a backup
    (`source`) if there is one. Only what can be made again is ever deleted; anything that may still be readable stays.
    """
    check = Check(data, repair, source, progress)
    check_records(check)
    check_files(check)
    progress(1, 1)
    return check.report
