"""The kit's JSON form, whole and in parts.

In parts, each articulation's takes (large, rarely changed) are held apart from the rest (small, often changed), so
that a thousand edits of a large kit stay small and writing one costs what changed.
"""

import hashlib
import json
from typing import Any

from pydantic import TypeAdapter, ValidationError

from drumcore.kit import values
from drumcore.kit.lookup import pieces_of
from drumcore.kit.remembering import remembered
from drumcore.kit.values import KIT_FORMAT, Kit, Take
from drumcore.refusals import Refusal

_TAKES = TypeAdapter(tuple[Take, ...])


def to_json(kit: Kit) -> str:
    return kit.model_dump_json()


def from_json(text: str | bytes, name: str = "kit.json") -> Kit:
    """The kit a JSON text holds. Raises Refusal for another format version or an invalid kit."""
    try:
        raw = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise Refusal(f"{name} is not valid JSON ({error}); save the kit file again.") from None
    return _validated(raw, name)


def _validated(raw: Any, name: str) -> Kit:
    if not isinstance(raw, dict) or "format" not in raw:
        raise Refusal(f"{name} does not describe a kit; choose a kit file saved by this program.")
    found = raw["format"]
    if isinstance(found, int) and found > KIT_FORMAT:
        raise Refusal(
            f"{name} has format {found} and this version reads up to {KIT_FORMAT}; open it with a newer version."
        )
    if not isinstance(found, int) or found < 1:
        raise Refusal(f"{name} has an unknown format {found!r}; this version reads 1 to {KIT_FORMAT}.")
    try:
        # Formats 2 and 3 only added fields, each with the value that means what was done without it.
        return Kit.model_validate({**raw, "format": KIT_FORMAT})
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise Refusal(f"{name} is damaged at “{place}”: {first['msg']}; save the kit file again.") from None


@remembered(limit=2000)
def _takes_part(takes: tuple[Take, ...]) -> tuple[str, bytes]:
    """Hash and bytes of an articulation's takes."""
    data = _TAKES.dump_json(takes)
    return hashlib.sha256(data).hexdigest(), data


def to_parts(kit: Kit) -> tuple[bytes, dict[str, bytes]]:
    """The kit without its takes, and the takes by hash. `from_parts` is its inverse."""
    takes = [a.takes for piece in pieces_of(kit) for a in piece.articulations]
    parts = dict(_takes_part(each) for each in takes)
    pieces = ",".join(_slim_piece(piece) for piece in pieces_of(kit))
    head = kit.model_dump_json(exclude={"pieces"})
    return f'{head[:-1]},"pieces":[{pieces}]}}'.encode(), parts


@remembered(limit=2000)
def _slim_piece(piece: values.Piece) -> str:
    """A piece's JSON with hashes in the place of takes: most pieces stay what they were from one edit to the next."""
    slim = [a.but(takes=()).model_dump(mode="json") | {"takes": _takes_part(a.takes)[0]} for a in piece.articulations]
    whole = piece.but(articulations=()).model_dump(mode="json") | {"articulations": slim}
    return json.dumps(whole, separators=(",", ":"))


def part_hashes(head: bytes) -> list[str]:
    """The hashes of the takes a head refers to."""
    return [a["takes"] for p in json.loads(head)["pieces"] for a in p["articulations"]]


def from_parts(head: bytes, parts: dict[str, bytes]) -> Kit:
    """Raises KeyError where a part is missing."""
    raw = json.loads(head)
    for piece in raw["pieces"]:
        for articulation in piece["articulations"]:
            articulation["takes"] = json.loads(parts[articulation["takes"]])
    return _validated(raw, "The stored kit")
