"""The line check: starting it, and the last results."""

from django.http import HttpRequest
from ninja import Router

from studio.jobs.status import JobShown, shown
from studio.kits import line_checks
from studio.kits.line_checks import LinesShown

router = Router()


@router.post("/kits/{kit_id}/lines", response=JobShown)
def begin_line_check(request: HttpRequest, kit_id: str) -> JobShown:
    """Starts a line check of the kit as it is now."""
    return shown(line_checks.begin_line_check(kit_id))


@router.get("/kits/{kit_id}/lines", response=LinesShown)
def last_line_check(request: HttpRequest, kit_id: str) -> LinesShown:
    return line_checks.last_line_check(kit_id)
