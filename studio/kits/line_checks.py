"""The line check of a kit: started as a job; its last two results are kept with their jobs."""

from typing import Any

from pydantic import BaseModel

from drumcore.findings.finding import Finding
from drumcore.findings.line_check import findings_of
from drumcore.findings.sources import findings_of_sources
from drumcore.listening.line_check import STRUCK_AT, Change, Line, articulations_of, changed, check_lines
from drumcore.listening.source_check import SourceProblem, check_sources
from drumcore.playing.sounds import FileSounds
from studio.jobs.models import Job
from studio.jobs.runner import Progress, start, work_of_kind
from studio.kits.versions import NoSuchVersion, kit_at, kit_record
from studio.storage.files import locate

LINE_CHECK = "line_check"


class LinesShown(BaseModel):
    """The last line check's results at `version`, and what differs from the one before; None: not checked. `findings`
    are those that still hold for the current kit, `articulations` what a check would strike now, in order, at velocity
    `struck_at`.
    """

    version: int | None
    lines: list[Line]
    checked_before: bool
    changed: list[Change]
    findings: list[Finding]
    articulations: list[str]
    struck_at: int


def begin_line_check(kit_id: str) -> Job:
    """Starts a line check of a kit as it is now."""
    version = kit_record(kit_id).current
    return start(LINE_CHECK, {"version": version, "title": "Line check"}, kit_id)


@work_of_kind(LINE_CHECK)
def strike_every_line(job: Job, progress: Progress) -> dict[str, Any]:
    assert job.kit is not None
    kit = kit_at(job.kit, job.arguments["version"])
    sounds = FileSounds(locate)
    found = [line.model_dump(mode="json") for line in check_lines(kit, sounds, progress)]
    problems = [problem.model_dump(mode="json") for problem in check_sources(kit, sounds)]
    return {"lines": found, "sources": problems}


def last_line_check(kit_id: str) -> LinesShown:
    """What the last check found, and which of it still holds."""
    record = kit_record(kit_id)
    found = Job.objects.filter(kind=LINE_CHECK, kit=kit_id, state="done").order_by("-created")[:2]
    results = [[Line.model_validate(line) for line in job.result["lines"]] for job in found]
    kit = kit_at(kit_id, record.current)
    findings: tuple[Finding, ...] = ()
    if results:
        try:
            checked = kit_at(kit_id, found[0].arguments["version"])
        except NoSuchVersion:
            # If the checked version was forgotten, nothing can be said about what still holds, so the kit counts as not
            # checked.
            results = []
        else:
            # Checks of older versions did not look at the microphones.
            problems = [SourceProblem.model_validate(each) for each in found[0].result.get("sources", ())]
            findings = (*findings_of_sources(kit, problems, checked), *findings_of(kit, results[0], checked))
    return LinesShown(
        findings=list(findings),
        articulations=[articulation.id for _, articulation in articulations_of(kit)],
        struck_at=STRUCK_AT,
        version=found[0].arguments["version"] if results else None,
        lines=results[0] if results else [],
        checked_before=len(results) > 1,
        changed=list(changed(results[1], results[0])) if len(results) > 1 else [],
    )
