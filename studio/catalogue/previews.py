"""Previews of kits, saved pieces and grooves. A job makes them once their item has stopped changing, and again when it
has changed; files are named by a hash of everything that affects the sound.
"""

from collections.abc import Iterable
from datetime import timedelta
from pathlib import Path
from typing import Any, Literal

from django.conf import settings
from django.utils import timezone
from pydantic import BaseModel, Field

from drumcore.grooves.values import Groove
from drumcore.listening.previews import SUFFIX, Preview, PreviewMusic, climb, depends_on, of_kit, write_preview
from drumcore.playing.sounds import FileSounds
from drumcore.refusals import Refusal
from studio.catalogue.models import PreviewMade
from studio.jobs.models import Job
from studio.jobs.runner import Progress, start, work_of_kind
from studio.jobs.worker import is_away
from studio.kits.models import KitRecord, KitVersion
from studio.kits.versions import kit_at
from studio.people.rows import number_of
from studio.shelves.grooves import groove_of
from studio.shelves.kinds import PIECES
from studio.shelves.models import GrooveRecord
from studio.shelves.shelf import ours, value_of
from studio.storage.files import locate

SETTLES = timedelta(seconds=8)
"""A kit that was changed a moment ago will be changed again in a moment."""
PREVIEW = "preview"
MOST_VERSIONS = 60
"""Previews of single versions are kept up to so many; the oldest go first."""


class Item(BaseModel):
    """An item to preview; a kit at one `version`, or its newest state (0)."""

    kind: Literal["kits", "pieces", "grooves"]
    id: str = Field(max_length=80)
    version: int = 0


class PreviewShown(BaseModel):
    """`ready`: there is one, under `key`. `stale`: there is one of an earlier state and a new one is being made.
    `settling`: it is made once the item stops changing. `making`. `none`: it is silent or failed, and `said` says why.
    With `away` it waits for the worker.
    """

    item: Item
    state: Literal["ready", "stale", "settling", "making", "none"]
    key: str = ""
    seconds: float = 0.0
    outline: list[float] = []
    said: str = ""
    away: bool = False


def place_of_preview(key: str) -> Path:
    return Path(settings.DATA) / "previews" / f"{key}{SUFFIX}"


def preview_of(item: Item, *, make: bool = True) -> PreviewShown:
    try:
        mark, settled = _mark(item)
    except Refusal as refusal:
        return PreviewShown(item=item, state="none", said=str(refusal))
    made = PreviewMade.objects.filter(kind=item.kind, item=item.id, version=item.version).first()
    there = made is not None and bool(made.key) and place_of_preview(made.key).is_file()
    if made is not None and made.mark == mark and (there or made.why):
        return _shown(item, made, "ready") if there else PreviewShown(item=item, state="none", said=made.why)
    arguments = {**item.model_dump(), "mark": mark}
    last = Job.objects.filter(kind=PREVIEW, arguments=arguments).order_by("-created").first()
    if last is not None and last.state == "failed":
        # It would fail again until the item changes.
        return PreviewShown(item=item, state="none", said=last.message)
    if settled and make and (last is None or last.state not in ("waiting", "running")):
        start(PREVIEW, arguments)
        # If jobs run inside requests, the preview exists already.
        return preview_of(item, make=False)
    if there and made is not None:
        return _shown(item, made, "stale")
    return PreviewShown(item=item, state="making" if settled else "settling", away=settled and is_away())


def _shown(item: Item, made: PreviewMade, state: Literal["ready", "stale"]) -> PreviewShown:
    found = Preview.model_validate(made.data)
    return PreviewShown(item=item, state=state, key=made.key, seconds=found.seconds, outline=list(found.outline))


def _mark(item: Item) -> tuple[str, bool]:
    """A cheap mark that changes with anything that could affect the sound, and whether the item has stopped changing."""
    if item.kind == "pieces":
        return ours(PIECES, item.id).changed.isoformat(), True
    if item.kind == "kits":
        record = _record(item.id)
        groove = _first_groove()
        number = item.version or record.current
        last = KitVersion.objects.filter(kit=record).order_by("-number").values_list("created", flat=True).first()
        settled = bool(item.version) or record.ships or last is None or timezone.now() - last > SETTLES
        return f"{number} {groove.id if groove else 0}", settled
    kit = _player()
    return f"{_groove(item).name} {kit.id} {kit.current}", True


def _groove(item: Item) -> Groove:
    return groove_of(number_of(item.id) or 0)


def _record(kit_id: str) -> KitRecord:
    record = KitRecord.objects.filter(id=kit_id).first()
    if record is None:
        raise Refusal("There is no such kit; it may have been deleted.")
    return record


def _first_groove() -> GrooveRecord | None:
    """The groove used for kits: the first shipped one, else the user's first."""
    return GrooveRecord.objects.filter(put_away=False).order_by("-ships", "id").first()


def _player() -> KitRecord:
    """The kit used for grooves: the shipped one with the most pieces, else the newest."""
    kits = list(KitRecord.objects.filter(put_away=False, current__gt=1).order_by("-ships", "-created")[:20])
    if not kits:
        raise Refusal("There is no kit to play it on yet.")
    return max(kits, key=lambda kit: (kit.ships, len((kit.summary or {}).get("pieces", ()))))


def _phrase(item: Item) -> PreviewMusic:
    if item.kind == "pieces":
        return climb(value_of(PIECES, ours(PIECES, item.id)).kit)
    if item.kind == "grooves":
        kit = _player()
        return of_kit(kit_at(kit.id, kit.current), _groove(item))
    record, groove = _record(item.id), _first_groove()
    return of_kit(kit_at(record.id, item.version or record.current), groove_of(groove.id) if groove else None)


@work_of_kind(PREVIEW, beside=True)
def make_preview(job: Job, progress: Progress) -> dict[str, Any]:
    """Makes one preview, unless its sound would be the same as before."""
    _make(
        Item.model_validate({key: job.arguments[key] for key in ("kind", "id", "version")}),
        job.arguments["mark"],
        progress,
    )
    return {}


def make_now(item: Item) -> None:
    """Makes one preview while the caller waits, so that it can be heard from the start."""
    _make(item, _mark(item)[0], lambda done, total: None)


def _make(item: Item, mark: str, progress: Progress) -> None:
    try:
        phrase = _phrase(item)
        key = depends_on(phrase)
        known = PreviewMade.objects.filter(key=key).exclude(data={}).first()
        if known is not None and place_of_preview(key).is_file():
            data = known.data
        else:
            made = write_preview(phrase, FileSounds(locate), place_of_preview(key), progress)
            data = made.model_dump(mode="json")
            if made.loudness_db is None:
                raise Refusal("It makes no sound yet.")
    except Refusal as refusal:
        _keep(item, mark, "", {}, str(refusal)[:400])
        return
    _keep(item, mark, key, data, "")


def _keep(item: Item, mark: str, key: str, data: dict[str, Any], why: str) -> None:
    found, _ = PreviewMade.objects.get_or_create(kind=item.kind, item=item.id, version=item.version)
    before = found.key
    found.mark, found.key, found.data, found.why = mark, key, data, why
    found.save()
    forget([before] if before and before != key else [])
    old = PreviewMade.objects.exclude(version=0).order_by("-made")[MOST_VERSIONS:]
    forget_of(list(old))


def forget(keys: Iterable[str]) -> None:
    """Deletes the audio of previews that are no longer shown."""
    for key in keys:
        if key and not PreviewMade.objects.filter(key=key).exists():
            place_of_preview(key).unlink(missing_ok=True)


def forget_of(made: list[PreviewMade]) -> None:
    """Deletes previews, and their audio if no other preview uses it."""
    PreviewMade.objects.filter(id__in=[each.id for each in made]).delete()
    forget(each.key for each in made)
