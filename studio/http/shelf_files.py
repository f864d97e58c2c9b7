"""Library items as files, written and read."""

from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile

from drumcore.formats.kept_file import KeptFile, kept_to_json, read_kept
from drumcore.refusals import Refusal
from drumcore.spaces.kept import KeptSpace
from studio.http.downloads import as_file
from studio.http.shelves import Card, card
from studio.shelves.kinds import KINDS, SavedKind
from studio.shelves.models import Kept
from studio.shelves.responses import keep_response, response_of
from studio.shelves.shelf import describe, free_name, keep, one, ours, value_of

router = Router()


def _calls(kind: SavedKind, carried: KeptFile) -> None:  # type: ignore[type-arg]
    shown = Card[kind.value]  # type: ignore[name-defined]

    @router.post(f"/shelf-files/{kind.plural}", response=shown, operation_id=f"{kind.plural}_from_file")
    def from_file(request: HttpRequest, file: File[UploadedFile]) -> object:
        """Saves what a file holds, under its name or with a number."""
        name = file.name or "The file"
        read = read_kept(carried, file.read(carried.largest + 1), name)
        if isinstance(read.value, KeptSpace):
            keep_response(read.value, read.sound, name)
        kept = keep(kind, free_name(kind, read.name), read.value)
        describe(kind, str(kept.id), read.description, read.tags)
        return card(kind, ours(kind, str(kept.id)))

    @router.get(f"/shelves/{kind.plural}/{{kept_id}}/file", include_in_schema=False)
    def to_file(request: HttpRequest, kept_id: str) -> HttpResponse:
        found = one(kind, kept_id)
        value = value_of(kind, found)
        if value is None:
            raise Refusal(f"{found.name} is made for each kit; it cannot be saved as a file.")
        said, tags = (found.description, found.tags) if isinstance(found, Kept) else ("", [])
        sound = response_of(value) if isinstance(value, KeptSpace) else None
        return as_file(kept_to_json(carried, found.name, value, said, tags, sound), found.name, "json")


for _kind in KINDS:
    if _kind.carried is not None:
        _calls(_kind, _kind.carried)
