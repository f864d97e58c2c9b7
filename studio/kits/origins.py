"""Where the pieces of a kit were taken from, over HTTP, and what changed there since; nothing newer is taken by itself."""

from collections.abc import Iterator

from django.http import HttpRequest
from ninja import Router, Schema

from drumcore.describing.differences import differences
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Origin, Piece
from drumcore.refusals import Refusal
from drumcore.shelf.kept_piece import kept_piece
from studio.kits.models import KitRecord
from studio.kits.versions import current_kit, kit_at

router = Router()
MOST_SAID = 6


class OriginShown(Schema):
    """`piece` is the piece of this kit. `there` says whether what it was taken from is still in the studio, `changed` what is
    otherwise there now, in sentences without full stops."""

    piece: str
    origin: Origin
    there: bool
    changed: list[str]


@router.get("/kits/{kit_id}/origins", response=list[OriginShown])
def origins(request: HttpRequest, kit_id: str) -> list[OriginShown]:
    """The origins of the pieces that were taken from somewhere."""
    return list(_origins(pieces_of(current_kit(kit_id))))


def _origins(pieces: tuple[Piece, ...]) -> Iterator[OriginShown]:
    for piece in pieces:
        if piece.origin is not None:
            there, changed = _since(piece.origin)
            yield OriginShown(piece=piece.id, origin=piece.origin, there=there, changed=changed[:MOST_SAID])


def _since(origin: Origin) -> tuple[bool, list[str]]:
    """Whether the origin of a piece is there, and what changed in it since. What is kept in the library never changes."""
    if origin.kind != "kits":
        return True, []
    record = KitRecord.objects.filter(id=origin.id).first()
    if record is None:
        return False, []
    if record.current == origin.version:
        return True, []
    try:
        now = kept_piece(kit_at(record.id, record.current), origin.piece).kit
        then = kept_piece(kit_at(record.id, origin.version), origin.piece).kit
    except Refusal:
        return False, []
    return True, list(differences(then, now))
