"""Previews of kits, saved pieces and grooves: their progress and their audio."""

from django.http import FileResponse, HttpRequest
from django.http.response import HttpResponseBase
from ninja import Router, Schema
from pydantic import Field

from drumcore.refusals import Refusal
from studio.catalogue.previews import Item, PreviewShown, place_of_preview, preview_of
from studio.http.caching import FOREVER
from studio.jobs.runner import note_the_dead

router = Router()
MOST_ASKED = 60


class ItemsAsked(Schema):
    """With `make` false, missing previews are reported but not made."""

    make: bool = True
    items: list[Item] = Field(max_length=MOST_ASKED)


@router.post("/library/previews", response=list[PreviewShown])
def previews(request: HttpRequest, asked: ItemsAsked) -> list[PreviewShown]:
    """The state of some previews. Missing or outdated ones start to be made; ask again."""
    note_the_dead()
    return [preview_of(item, make=asked.make) for item in asked.items]


@router.get("/library/previews/{key}", include_in_schema=False)
def preview_sound(request: HttpRequest, key: str) -> HttpResponseBase:
    path = place_of_preview(key) if key.isalnum() and len(key) == 64 else None
    if path is None or not path.is_file():
        raise Refusal("This preview no longer exists; it is made again when you play it.")
    return FileResponse(path.open("rb"), content_type="audio/flac", headers={"Cache-Control": FOREVER})
