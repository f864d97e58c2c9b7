"""What is kept under a name, as files: written to carry it, read to keep it here."""

from django.http import HttpRequest, HttpResponse
from ninja import File, Router
from ninja.files import UploadedFile

from drumcore.formats.kept_file import LARGEST_FILE, KeptFile, kept_to_json, read_kept
from drumcore.refusals import Refusal
from studio.downloads import as_file
from studio.shelves.addresses import Card, card
from studio.shelves.keeping import free_name, keep, one, value_of
from studio.shelves.kinds import KINDS, Kind

router = Router()


def _calls(kind: Kind, carried: KeptFile) -> None:  # type: ignore[type-arg]
    shown = Card[kind.value]  # type: ignore[name-defined]

    @router.post(f"/shelf-files/{kind.plural}", response=shown, operation_id=f"{kind.plural}_from_file")
    def from_file(request: HttpRequest, file: File[UploadedFile]) -> object:
        """Keep what a file holds, under its name or the next that is free."""
        name, value = read_kept(carried, file.read(LARGEST_FILE + 1), file.name or "The file")
        return card(kind, keep(kind, free_name(kind, name), value))

    @router.get(f"/shelves/{kind.plural}/{{kept_id}}/file", include_in_schema=False)
    def to_file(request: HttpRequest, kept_id: str) -> HttpResponse:
        found = one(kind, kept_id)
        value = value_of(kind, found)
        if value is None:
            raise Refusal(f"{found.name} is worked out for each kit; it cannot be carried.")
        return as_file(kept_to_json(carried, found.name, value), found.name, "json")


for _kind in KINDS:
    if _kind.carried is not None:
        _calls(_kind, _kind.carried)
