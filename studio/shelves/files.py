"""What is kept under a name, as files: written to carry it, read to keep it here."""

import tempfile
from pathlib import Path

from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile

from drumcore.formats.kept_file import KeptFile, kept_to_json, read_kept
from drumcore.recordings.responses import read_response
from drumcore.refusals import Refusal
from drumcore.spaces.imported import Response
from drumcore.spaces.kept import KeptSpace
from studio.downloads import as_file
from studio.library.store import locate, name_content, store_file
from studio.shelves.kinds import KINDS, Kind
from studio.shelves.models import Kept
from studio.shelves.routes import Card, card
from studio.shelves.shelf import describe, free_name, keep, one, ours, value_of

router = Router()


def _calls(kind: Kind, carried: KeptFile) -> None:  # type: ignore[type-arg]
    shown = Card[kind.value]  # type: ignore[name-defined]

    @router.post(f"/shelf-files/{kind.plural}", response=shown, operation_id=f"{kind.plural}_from_file")
    def from_file(request: HttpRequest, file: File[UploadedFile]) -> object:
        """Keep what a file holds, under its name or the next that is free."""
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
            raise Refusal(f"{found.name} is worked out for each kit; it cannot be carried.")
        said, tags = (found.description, found.tags) if isinstance(found, Kept) else ("", [])
        sound = response_of(value) if isinstance(value, KeptSpace) else None
        return as_file(kept_to_json(carried, found.name, value, said, tags, sound), found.name, "json")


def response_of(kept: KeptSpace) -> bytes | None:
    """The response that a space goes by, as the file it is kept in."""
    return locate(kept.space.content).read_bytes() if isinstance(kept.space, Response) else None


def keep_response(kept: KeptSpace, sound: bytes | None, name: str) -> None:
    """Keep the response that a space goes by. Raises Refusal where it did not come along, or is another."""
    if not isinstance(kept.space, Response):
        return
    if sound is None:
        raise Refusal(f"{name} goes by a response that is not in it; save the space again.")
    with tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        place = Path(folder) / "response.wav"
        place.write_bytes(sound)
        if read_response(place, name).content != kept.space.content:
            raise Refusal(f"{name}, sound: it is not the response that the space goes by; save the space again.")
        name_content(store_file(place, place.name), kept.space.content)


for _kind in KINDS:
    if _kind.carried is not None:
        _calls(_kind, _kind.carried)
