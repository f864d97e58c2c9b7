"""Loudness figures: returned if known, otherwise measured by a job and cached by what they depend on."""

from typing import Any, Literal

from pydantic import BaseModel, TypeAdapter

from drumcore.grooves.values import Groove
from drumcore.kit.values import Kit
from drumcore.listening.figures import AnyAsked, Asked, Figure, OfPiece, depends_on
from drumcore.playing.sounds import FileSounds
from studio.jobs.models import Job
from studio.jobs.runner import Progress, cancel, start, work_of_kind
from studio.jobs.worker import is_away
from studio.kits.models import MeasuredFigure
from studio.kits.moments import AsItWas, kit_then
from studio.kits.versions import kit_at, kit_record
from studio.shelves.grooves import groove_of
from studio.storage.files import locate

MEASURE = "measure"
MOST_KEPT = 4000
_ASKED: TypeAdapter[Asked] = TypeAdapter(Asked)


class FigureShown(BaseModel):
    """A figure, or its progress: while `measuring`, `share` of it is done; if `failed`, `said` says why. With `away` it
    waits for the worker.
    """

    state: Literal["known", "measuring", "failed"]
    figure: Figure | None = None
    share: float = 0.0
    said: str = ""
    away: bool = False


def figure_of(kit_id: str, of: Asked, *, again: bool, as_it_was: AsItWas | None) -> FigureShown:
    """A figure of the kit as it is, or as it was. Unknown figures start to be measured; `again` retries one that
    failed.
    """
    record = kit_record(kit_id)
    key = depends_on(_kit_of(kit_id, record.current, as_it_was), of, _groove(of))
    if known := _known(key):
        return known
    jobs = Job.objects.filter(kind=MEASURE, kit=kit_id)
    mine = jobs.filter(arguments__key=key).order_by("-created").first()
    if mine is None or mine.state in ("done", "cancelled", "stopped") or (again and mine.state == "failed"):
        subject = of.model_dump(mode="json")
        then = as_it_was.model_dump() if as_it_was else None
        # The same figure of the kit before its last change is no longer needed.
        for job in jobs.filter(state__in=("waiting", "running"), arguments__of=subject, arguments__as_it_was=then):
            cancel(job)
        mine = start(MEASURE, {"key": key, "of": subject, "as_it_was": then, "version": record.current}, kit_id)
        # If jobs run inside requests, the figure exists already.
        if known := _known(key):
            return known
    if mine.state == "failed":
        return FigureShown(state="failed", said=mine.message)
    return FigureShown(state="measuring", share=mine.done / mine.total if mine.total else 0.0, away=is_away())


def _known(key: str) -> FigureShown | None:
    found = MeasuredFigure.objects.filter(key=key).first()
    return FigureShown(state="known", figure=Figure.model_validate(found.data)) if found else None


def _kit_of(kit_id: str, version: int, then: AsItWas | None) -> Kit:
    kit = kit_at(kit_id, version)
    return kit_then(kit, kit_id, then) if then else kit


def _groove(asked: AnyAsked) -> Groove | None:
    return None if asked.groove is None else groove_of(asked.groove)


@work_of_kind(MEASURE, beside=True)
def measure(job: Job, progress: Progress) -> dict[str, Any]:
    assert job.kit is not None
    asked = _ASKED.validate_python(job.arguments["of"])
    then = AsItWas.model_validate(held) if (held := job.arguments.get("as_it_was")) else None
    kit = _kit_of(job.kit, job.arguments["version"], then)
    groove, sounds = _groove(asked), FileSounds(locate)
    if isinstance(asked, OfPiece):
        figure = asked.measure(kit, None, sounds, progress)
    else:
        assert groove is not None
        figure = asked.measure(kit, groove, sounds, progress)
    MeasuredFigure.objects.update_or_create(key=job.arguments["key"], defaults={"data": figure.model_dump(mode="json")})
    _clear_old()
    return {}


def _clear_old() -> None:
    kept = MeasuredFigure.objects.order_by("-created").values_list("created", flat=True)
    oldest = kept[MOST_KEPT : MOST_KEPT + 1]
    if oldest:
        MeasuredFigure.objects.filter(created__lte=oldest[0]).delete()
