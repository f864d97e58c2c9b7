"""Saved note maps and curves over HTTP: keep, apply elsewhere, compare, carry as files."""

from typing import Annotated, Literal

from django.db import IntegrityError, transaction
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema, Status
from ninja.files import UploadedFile
from pydantic import Field

from drumcore.demo.electronic_kits import ELECTRONIC_KITS, map_of
from drumcore.formats.map_file import LARGEST_FILE, map_to_csv, map_to_json, read_map
from drumcore.kit.values import Curve, SavedMap
from drumcore.notes.maps import STANDARD_NAME, MapComparison, compare, saved_map
from drumcore.refusals import Refusal
from studio.kits.models import SavedCurve, SavedMapRecord
from studio.kits.versions import current_kit

router = Router()
STANDARD = "standard"
Name = Annotated[str, Field(min_length=1, max_length=120)]


class MapCard(Schema):
    """A map to choose: `ours` where the user keeps it; `map` None is the standard one, worked out for each kit."""

    id: str
    name: str
    ours: bool
    entries: int
    map: SavedMap | None


class MapKept(Schema):
    card: MapCard
    problems: list[str]


class MapAsked(Schema):
    name: Name
    kit: str


class FromKit(Schema):
    kit: str


class Renamed(Schema):
    name: Name


class CurveCard(Schema):
    id: int
    name: str
    curve: Curve


class CurveAsked(Schema):
    name: Name
    curve: Curve


def _shipped() -> list[MapCard]:
    cards = [MapCard(id=STANDARD, name=STANDARD_NAME, ours=False, entries=0, map=None)]
    for kit in ELECTRONIC_KITS:
        found = map_of(kit)
        cards.append(MapCard(id=kit.id, name=kit.name, ours=False, entries=len(found.entries), map=found))
    return cards


def _card(record: SavedMapRecord) -> MapCard:
    found = SavedMap.model_validate(record.data)
    return MapCard(id=str(record.id), name=record.name, ours=True, entries=len(found.entries), map=found)


def _map(map_id: str) -> MapCard:
    shipped = next((card for card in _shipped() if card.id == map_id), None)
    return shipped or _card(_ours(map_id))


def _ours(map_id: str) -> SavedMapRecord:
    record = SavedMapRecord.objects.filter(id=int(map_id)).first() if map_id.isdecimal() else None
    if record is None:
        raise Refusal("There is no such map of yours; it may have been removed. Those that ship cannot be changed.")
    return record


def _keep(saved: SavedMap) -> SavedMapRecord:
    """A map kept under its name. Raises Refusal where another has that name: maps are never overwritten unasked."""
    name = saved.name.strip()
    if not name:
        raise Refusal("A map needs a name.")
    if name in {card.name for card in _shipped()}:
        raise Refusal(f"“{name}” ships with the product; keep yours under another name.")
    try:
        with transaction.atomic():
            return SavedMapRecord.objects.create(name=name, data=saved.but(name=name).model_dump(mode="json"))
    except IntegrityError:
        raise Refusal(f"There is a map “{name}” already; choose another name, or replace that one.") from None


def _free(name: str) -> str:
    taken = {*SavedMapRecord.objects.values_list("name", flat=True), *(card.name for card in _shipped())}
    number = 2
    while f"{name} {number}" in taken:
        number += 1
    return name if name not in taken else f"{name[:110]} {number}"


@router.get("/maps", response=list[MapCard])
def list_maps(request: HttpRequest) -> list[MapCard]:
    """The standard map, the stand-ins' and the user's own, by name."""
    return _shipped() + [_card(record) for record in SavedMapRecord.objects.order_by("name")]


@router.post("/maps", response=MapCard)
def keep_map(request: HttpRequest, asked: MapAsked) -> MapCard:
    """Keep a kit's map under a name."""
    kit = current_kit(asked.kit)
    return _card(_keep(saved_map(kit, asked.name)))


@router.post("/maps/{map_id}/replace", response=MapCard)
def replace_map(request: HttpRequest, map_id: str, asked: FromKit) -> MapCard:
    """Put a kit's map in the place of one of the user's."""
    record = _ours(map_id)
    kit = current_kit(asked.kit)
    record.data = saved_map(kit, record.name).model_dump(mode="json")
    record.save()
    return _card(record)


@router.post("/maps/{map_id}/rename", response=MapCard)
def rename_map(request: HttpRequest, map_id: str, asked: Renamed) -> MapCard:
    record = _ours(map_id)
    name = asked.name.strip()
    taken = SavedMapRecord.objects.exclude(id=record.id).filter(name=name).exists()
    if not name or taken or name in {card.name for card in _shipped()}:
        raise Refusal(f"“{name}” cannot be its name; choose one that no other map has.")
    record.name, record.data = name, {**record.data, "name": name}
    record.save()
    return _card(record)


@router.post("/maps/{map_id}/duplicate", response=MapCard)
def duplicate_map(request: HttpRequest, map_id: str) -> MapCard:
    """A copy under a free name. The standard map has no entries of its own; it is kept by keeping a kit's map."""
    found = _map(map_id)
    if found.map is None:
        raise Refusal("The standard map is worked out for each kit; apply it and keep the kit’s map instead.")
    return _card(_keep(found.map.but(name=_free(found.name))))


@router.delete("/maps/{map_id}", response={204: None})
def remove_map(request: HttpRequest, map_id: str) -> Status[None]:
    _ours(map_id).delete()
    return Status(204, None)


@router.post("/map-files", response=MapKept)
def import_map(request: HttpRequest, file: File[UploadedFile]) -> MapKept:
    """Keep a map from a CSV or JSON file; lines that cannot be used are named and the others kept."""
    read = read_map(file.read(LARGEST_FILE + 1), file.name or "The file")
    record = _keep(read.map.but(name=_free(read.map.name)))
    return MapKept(card=_card(record), problems=list(read.problems))


@router.get("/maps/{map_id}/file", include_in_schema=False)
def map_file(request: HttpRequest, map_id: str, form: Literal["csv", "json"] = "csv") -> HttpResponse:
    """A map as a file to carry."""
    found = _map(map_id).map
    if found is None:
        raise Refusal("The standard map is worked out for each kit; export the kit’s own map instead.")
    return _as_file(found, form, 3)


@router.get("/kits/{kit_id}/map-file", include_in_schema=False)
def kit_map_file(request: HttpRequest, kit_id: str, form: Literal["csv", "json"] = "csv") -> HttpResponse:
    """A kit's own map as a file."""
    kit = current_kit(kit_id)
    return _as_file(saved_map(kit, f"{kit.name} notes"), form, kit.notes.middle_c)


def _as_file(found: SavedMap, form: str, middle_c: int) -> HttpResponse:
    text, kind = (
        (map_to_csv(found, middle_c), "text/csv") if form == "csv" else (map_to_json(found), "application/json")
    )
    answer = HttpResponse(text, content_type=f"{kind}; charset=utf-8")
    name = "".join(c if c.isalnum() or c in " -_" else "_" for c in found.name)
    answer["Content-Disposition"] = f'attachment; filename="{name.encode("ascii", "replace").decode()}.{form}"'
    return answer


@router.get("/kits/{kit_id}/maps/{map_id}/compare", response=MapComparison)
def compare_map(request: HttpRequest, kit_id: str, map_id: str) -> MapComparison:
    """What applying a map to a kit would change."""
    return compare(current_kit(kit_id), _map(map_id).map)


@router.get("/curves", response=list[CurveCard])
def list_curves(request: HttpRequest) -> list[CurveCard]:
    return [_curve_card(record) for record in SavedCurve.objects.order_by("name")]


def _curve_card(record: SavedCurve) -> CurveCard:
    return CurveCard(id=record.id, name=record.name, curve=Curve.model_validate(record.data))


@router.post("/curves", response=CurveCard)
def keep_curve(request: HttpRequest, asked: CurveAsked) -> CurveCard:
    name = asked.name.strip()
    if not name:
        raise Refusal("A curve needs a name.")
    if SavedCurve.objects.filter(name=name).exists():
        raise Refusal(f"There is a curve “{name}” already; choose another name.")
    return _curve_card(SavedCurve.objects.create(name=name, data=asked.curve.model_dump(mode="json")))


@router.delete("/curves/{curve_id}", response={204: None})
def remove_curve(request: HttpRequest, curve_id: int) -> Status[None]:
    SavedCurve.objects.filter(id=curve_id).delete()
    return Status(204, None)
