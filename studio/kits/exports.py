"""Exports of kits: one kind of job for all exports."""

from typing import Any

from drumcore.exports.export import Export, Progress, Source
from drumcore.exports.kinds import EXPORTS
from studio.jobs.models import Job
from studio.jobs.runner import folder_of, start, work_of_kind
from studio.kits.versions import kit_at, kit_record
from studio.shelves.grooves import groove_of
from studio.storage.files import locate

EXPORT = "export"


def begin_export(export: Export, asked: Any, kit_id: str) -> Job:
    """Starts an export of a kit as it is now."""
    version = kit_record(kit_id).current
    arguments = {
        "export": export.name,
        "asked": asked.model_dump(mode="json"),
        "version": version,
        "title": export.title(asked, _source(kit_id, version)),
    }
    return start(EXPORT, arguments, kit_id)


def _source(kit_id: str, version: int) -> Source:
    return Source(kit=kit_at(kit_id, version), locate=locate, groove=groove_of)


@work_of_kind(EXPORT)
def write_export(job: Job, progress: Progress) -> dict[str, Any]:
    assert job.kit is not None
    export = EXPORTS[job.arguments["export"]]
    folder = folder_of(job)
    folder.mkdir(parents=True, exist_ok=True)
    asked = export.asked.model_validate(job.arguments["asked"])
    return export.write(asked, _source(job.kit, job.arguments["version"]), folder, progress).model_dump(mode="json")
