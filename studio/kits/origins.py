"""Where the pieces of a kit came from, and what changed there since. Nothing newer is applied by itself."""

from collections.abc import Iterator

from pydantic import BaseModel

from drumcore.describing.differences import differences
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit, Origin
from drumcore.refusals import Refusal
from drumcore.shelf.kept_piece import kept_piece
from studio.kits.models import KitRecord
from studio.kits.versions import kit_at

MOST_SAID = 6


class OriginShown(BaseModel):
    """`piece` is the piece of this kit. `there` says whether its origin still exists, `changed` what differs there now,
    in sentences without full stops.
    """

    piece: str
    origin: Origin
    there: bool
    changed: list[str]


def origins(kit: Kit) -> Iterator[OriginShown]:
    """The origins of pieces that were brought in."""
    for piece in pieces_of(kit):
        if piece.origin is not None:
            there, changed = _since(piece.origin)
            yield OriginShown(piece=piece.id, origin=piece.origin, there=there, changed=changed[:MOST_SAID])


def _since(origin: Origin) -> tuple[bool, list[str]]:
    """Whether a piece's origin still exists, and what changed in it since. Items saved in the library never change."""
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
