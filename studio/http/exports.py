"""Exports: one route for each kind."""

from django.http import HttpRequest
from ninja import Router

from drumcore.exports.export import Export
from drumcore.exports.kinds import EXPORTS
from studio.jobs.status import JobShown, shown
from studio.kits.exports import begin_export

router = Router()


def _address(export: Export) -> None:
    @router.post(f"/kits/{{kit_id}}/exports/{export.name}", response=JobShown, operation_id=f"export_{export.name}")
    def begin(request: HttpRequest, kit_id: str, asked: export.asked) -> JobShown:  # type: ignore[name-defined]
        """Starts an export of the kit as it is now."""
        return shown(begin_export(export, asked, kit_id))


for _export in EXPORTS.values():
    _address(_export)
