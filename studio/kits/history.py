"""A kit's versions, listed by day and compared in sentences."""

from pydantic import BaseModel

from drumcore.describing.differences import differences
from drumcore.refusals import Refusal
from drumcore.shelf.history import DaySteps, Step, read_back
from studio.kits.models import KitRecord, KitVersion
from studio.kits.versions import BACK, NoSuchKit, kit_at

MOST_STEPS = 3000
DESCRIBED_AT_ONCE = 20
"""Versions of an older program that are opened to be described, of one list."""
LONGEST_SAID = 200


class History(BaseModel):
    """`current` is the kit's current version. `more` says that older versions are not listed."""

    current: int
    stretches: list[DaySteps]
    more: bool


def history_of(kit_id: str, minutes: int) -> History:
    """The versions that led to the current one, and all other named ones, even after undo; by days of a time zone
    `minutes` east of Greenwich.
    """
    record = KitRecord.objects.filter(id=kit_id).first()
    if record is None:
        raise NoSuchKit
    names = dict(record.moments.values_list("number", "name"))
    rows = {v.number: v for v in record.versions.defer("head", "edit")}
    made_by_edits = set(record.versions.filter(edit__isnull=False).values_list("number", flat=True))
    led: list[int] = []
    at: int | None = record.current
    while at is not None and at in rows and len(led) < MOST_STEPS:
        led.append(at)
        at = rows[at].parent
    shown = sorted({*led, *(number for number in names if number in rows)}, reverse=True)
    unknown = [
        n for n in shown if n not in made_by_edits and rows[n].parent in rows and not rows[n].said.startswith(BACK)
    ]
    for number in unknown[:DESCRIBED_AT_ONCE]:
        rows[number].said = _described(kit_id, rows[number])
    steps = [
        Step(version=n, said=rows[n].said, name=names.get(n, ""), gesture=rows[n].gesture, made=rows[n].created)
        for n in shown
    ]
    return History(
        current=record.current, stretches=list(read_back(steps, minutes)), more=at is not None and at in rows
    )


def _described(kit_id: str, version: KitVersion) -> str:
    """A sentence for a version that an older program saved without one, found by comparison and cached."""
    try:
        said = differences(kit_at(kit_id, version.parent or 0), kit_at(kit_id, version.number))
    except Refusal:
        return version.said
    sentence = f"{said[0]}, and {len(said) - 1} more" if len(said) > 1 else said[0] if said else version.said
    KitVersion.objects.filter(id=version.id).update(said=sentence[:LONGEST_SAID], edit=b"")
    return sentence[:LONGEST_SAID]


def compared(kit_id: str, earlier: int, later: int) -> list[str]:
    """What changed from one version to another, in sentences."""
    record = KitRecord.objects.filter(id=kit_id).first()
    if record is None:
        raise NoSuchKit
    known = record.versions.filter(number__in=(earlier, later)).values_list("number", flat=True)
    if {*known} != {earlier, later}:
        raise Refusal("One of these versions no longer exists; choose another.")
    return list(differences(kit_at(kit_id, earlier), kit_at(kit_id, later)))
