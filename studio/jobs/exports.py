"""Exports over HTTP and as jobs: one address a kind, all done by one kind of job."""

from typing import Any

from django.http import HttpRequest
from ninja import Router

from drumcore.exports.export import Export, Progress, Source
from drumcore.exports.kinds import EXPORTS
from studio.jobs.models import Job
from studio.jobs.runner import folder_of, start, work_of_kind
from studio.jobs.status import JobShown, shown
from studio.kits.versions import kit_at, kit_record
from studio.library.grooves import groove_of
from studio.library.store import locate

router = Router()
EXPORT = "export"


def _source(kit_id: str, version: int) -> Source:
    return Source(kit=kit_at(kit_id, version), locate=locate, groove=groove_of)


@work_of_kind(EXPORT)
def write_export(job: Job, progress: Progress) -> dict[str, Any]:
    assert job.kit_id is not None
    export = EXPORTS[job.arguments["export"]]
    folder = folder_of(job)
    folder.mkdir(parents=True, exist_ok=True)
    asked = export.asked.model_validate(job.arguments["asked"])
    return export.write(asked, _source(job.kit_id, job.arguments["version"]), folder, progress).model_dump(mode="json")


def _address(export: Export) -> None:
    @router.post(f"/kits/{{kit_id}}/exports/{export.name}", response=JobShown, operation_id=f"export_{export.name}")
    def begin(request: HttpRequest, kit_id: str, asked: export.asked) -> JobShown:  # type: ignore[name-defined]
        """Export the kit as it stands now."""
        version = kit_record(kit_id).current
        arguments = {
            "export": export.name,
            "asked": asked.model_dump(mode="json"),
            "version": version,
            "title": export.title(asked, _source(kit_id, version)),
        }
        return shown(start(EXPORT, arguments, kit_id))


for _export in EXPORTS.values():
    _address(_export)
