"""A job as it is shown."""

from typing import Any, Literal, cast

from pydantic import BaseModel

from drumcore.exports.export import MadeFile
from studio.jobs.models import Job
from studio.jobs.worker import is_away

State = Literal["waiting", "running", "done", "failed", "cancelled", "stopped"]


class JobShown(BaseModel):
    """`of` is the kit the job belongs to; `kit` or `piece` is what it created; `export` names the export it makes,
    `parts` its files, downloadable one by one, `version` the kit's version. With `away` it waits for the worker.
    """

    id: str
    kind: str
    export: str | None
    state: State
    done: int
    total: int
    message: str
    title: str
    download: str | None
    parts: list[MadeFile]
    of: str | None
    kit: str | None
    piece: str | None
    version: int | None
    problems: list[str]
    away: bool


def shown(job: Job) -> JobShown:
    result: dict[str, Any] = job.result
    name = result.get("download")
    return JobShown(
        id=str(job.id),
        kind=job.kind,
        export=job.arguments.get("export"),
        state=cast(State, job.state),
        done=job.done,
        total=job.total,
        message=job.message,
        # Older versions stored only a name for some jobs.
        title=job.arguments.get("title") or job.arguments.get("name", ""),
        download=f"/api/jobs/{job.id}/download" if name else None,
        parts=[MadeFile.model_validate(file) for file in result.get("parts", [])],
        of=job.kit,
        kit=result.get("kit"),
        piece=result.get("piece"),
        version=job.arguments.get("version"),
        problems=result.get("problems", []),
        away=job.state in ("waiting", "running") and is_away(),
    )
