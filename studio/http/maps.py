"""A kit's note map: saved, compared with saved ones, exported and imported."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from drumcore.formats.map_file import LARGEST_FILE, map_to_csv, map_to_json, read_map
from drumcore.kit.values import SavedMap
from drumcore.notes.maps import MapComparison, compare, saved_map
from drumcore.refusals import Refusal
from studio.http.downloads import as_file
from studio.http.shelves import Card, Renamed, card
from studio.kits.versions import current_kit
from studio.shelves.kinds import MAPS
from studio.shelves.shelf import free_name, keep, one, ours, replace, value_of

router = Router()


MapCard = Card[SavedMap]


class MapKept(Schema):
    card: MapCard
    problems: list[str]


@router.post("/kits/{kit_id}/map", response=MapCard)
def keep_map(request: HttpRequest, kit_id: str, asked: Renamed) -> MapCard:
    """Saves a kit's map under a name."""
    return card(MAPS, keep(MAPS, asked.name, saved_map(current_kit(kit_id), asked.name)))


@router.post("/kits/{kit_id}/map/replaces/{map_id}", response=MapCard)
def replace_map(request: HttpRequest, kit_id: str, map_id: str) -> MapCard:
    """Replaces one of the user's maps with the kit's map."""
    name = ours(MAPS, map_id).name
    return card(MAPS, replace(MAPS, map_id, saved_map(current_kit(kit_id), name)))


@router.post("/map-files", response=MapKept)
def import_map(request: HttpRequest, file: File[UploadedFile]) -> MapKept:
    """Saves a map from a CSV or JSON file; lines that cannot be used are named and the others kept."""
    read = read_map(file.read(LARGEST_FILE + 1), file.name or "The file")
    kept = keep(MAPS, free_name(MAPS, read.map.name), read.map)
    return MapKept(card=card(MAPS, kept), problems=list(read.problems))


@router.get("/maps/{map_id}/file", include_in_schema=False)
def map_file(request: HttpRequest, map_id: str, form: Literal["csv", "json"] = "csv") -> HttpResponse:
    """A map as a file."""
    found = value_of(MAPS, one(MAPS, map_id))
    if found is None:
        raise Refusal("The standard map is made for each kit; export the kit’s own map instead.")
    return _as_file(found, form, 3)


@router.get("/kits/{kit_id}/map-file", include_in_schema=False)
def kit_map_file(request: HttpRequest, kit_id: str, form: Literal["csv", "json"] = "csv") -> HttpResponse:
    """A kit's own map as a file."""
    kit = current_kit(kit_id)
    return _as_file(saved_map(kit, f"{kit.name} notes"), form, kit.notes.middle_c)


def _as_file(found: SavedMap, form: str, middle_c: int) -> HttpResponse:
    return as_file(map_to_csv(found, middle_c) if form == "csv" else map_to_json(found), found.name, form)


@router.get("/kits/{kit_id}/maps/{map_id}/compare", response=MapComparison)
def compare_map(request: HttpRequest, kit_id: str, map_id: str) -> MapComparison:
    """What applying a map to a kit would change."""
    return compare(current_kit(kit_id), value_of(MAPS, one(MAPS, map_id)))
