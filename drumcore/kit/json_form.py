"""The kit as JSON, whole and in parts.

In parts, each articulation's takes (large, rarely changed) are stored apart from the rest (small, often changed). A
thousand versions of a large kit stay small, and saving one costs only what changed.
"""

import hashlib
import json
from typing import Any

from pydantic import TypeAdapter, ValidationError
from pydantic_core import from_json as from_json_text

from drumcore.kit import values
from drumcore.kit.invariants import LIMITS, faults
from drumcore.kit.lenient_reading import readable
from drumcore.kit.lookup import pieces_of
from drumcore.kit.memoization import remembered
from drumcore.kit.repairs import fixed
from drumcore.kit.upgrades import upgraded
from drumcore.kit.values import KIT_FORMAT, Kit, Take
from drumcore.refusals import Refusal
from drumcore.validation_sentences import why_misread


class NewerKit(Refusal):
    """A kit saved by a newer version of this program."""


LARGEST_JSON = 128 << 20
MOST_OBJECTS = 400_000
MOST_COMMAS = 8_000_000
"""A kit of 5,000 takes by 8 microphones has some 50,000 objects and a million commas in 30 MB."""
_TAKES = TypeAdapter(tuple[Take, ...])


def to_json(kit: Kit) -> str:
    return kit.model_dump_json()


def from_json(text: str | bytes, name: str = "kit.json") -> Kit:
    """The kit in a JSON text from outside; see `read_json`."""
    return read_json(text, name)[0]


def read_json(text: str | bytes, name: str = "kit.json") -> tuple[Kit, tuple[str, ...]]:
    """The kit in a JSON text from outside, and warnings (an older format).

    Raises Refusal if it is not a kit, if its format is newer, if it exceeds the limits (checked before the whole is
    parsed), or if it breaks an invariant.
    """
    data = text.encode("utf-8", "surrogatepass") if isinstance(text, str) else text
    if len(data) > LARGEST_JSON or data.count(b"{") > MOST_OBJECTS or data.count(b",") > MOST_COMMAS:
        raise Refusal(f"{name} describes a kit that is larger than any this program can play; it was not opened.")
    try:
        # This parser refuses NaN, Infinity, lone surrogates and endless nesting, which Python's own accepts.
        raw = _checked_format(from_json_text(data, allow_inf_nan=False, cache_strings="keys"), name)
    except ValueError as error:
        raise Refusal(f"{name} is not valid JSON ({error}); save the kit file again.") from None
    _not_too_much(raw, name)
    raw, notes = upgraded(raw)
    try:
        kit = Kit.model_validate({**raw, "format": KIT_FORMAT})
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        place = ".".join(str(part) for part in first["loc"])
        raise Refusal(f"{name} is damaged at “{place}”: {why_misread(first)}; save the kit file again.") from None
    for sentence in faults(kit):
        raise Refusal(f"{name} contradicts itself, so it was not opened: {sentence}")
    return kit, notes


def _stored(data: bytes) -> Any:
    """Parses stored JSON, including what older versions let through; a lone surrogate becomes a replacement character."""
    try:
        return from_json_text(data, cache_strings="keys")
    except ValueError:
        return from_json_text(json.dumps(json.loads(data), ensure_ascii=False).encode("utf-8", "replace"))


def _checked_format(raw: Any, name: str) -> dict[str, Any]:
    if not isinstance(raw, dict) or "format" not in raw:
        raise Refusal(f"{name} does not describe a kit; choose a kit file saved by this program.")
    found = raw["format"]
    if isinstance(found, int) and not isinstance(found, bool) and found > KIT_FORMAT:
        raise NewerKit(
            f"{name} has format {found} and this version reads up to {KIT_FORMAT}; open it with a newer version."
        )
    if not isinstance(found, int) or isinstance(found, bool) or found < 1:
        raise Refusal(f"{name} has an unknown format {found!r:.40}; this version reads 1 to {KIT_FORMAT}.")
    return raw


def _not_too_much(raw: dict[str, Any], name: str) -> None:
    """Counted before any value is built: a small file can announce a million pieces."""
    for what, where, most in LIMITS:
        items: Any = raw
        for key in where.split("."):
            items = items.get(key) if isinstance(items, dict) else None
        if isinstance(items, list) and len(items) > most:
            raise Refusal(f"{name} has {len(items):,} {what}; a kit holds at most {most:,}.")


@remembered(limit=2000)
def _takes_part(takes: tuple[Take, ...]) -> tuple[str, bytes]:
    """Hash and bytes of an articulation's takes."""
    data = _TAKES.dump_json(takes)
    return hashlib.sha256(data).hexdigest(), data


def to_parts(kit: Kit) -> tuple[bytes, dict[str, bytes]]:
    """The kit without its takes, and the takes by hash. `from_parts` is the inverse."""
    takes = [a.takes for piece in pieces_of(kit) for a in piece.articulations]
    parts = dict(_takes_part(each) for each in takes)
    pieces = ",".join(_slim_piece(piece) for piece in pieces_of(kit))
    head = kit.model_dump_json(exclude={"pieces"})
    return f'{head[:-1]},"pieces":[{pieces}]}}'.encode(), parts


@remembered(limit=2000)
def _slim_piece(piece: values.Piece) -> str:
    """A piece's JSON with hashes in place of takes. It is remembered, because most pieces do not change from one edit
    to the next.
    """
    slim = [a.but(takes=()).model_dump(mode="json") | {"takes": _takes_part(a.takes)[0]} for a in piece.articulations]
    whole = piece.but(articulations=()).model_dump(mode="json") | {"articulations": slim}
    return json.dumps(whole, separators=(",", ":"))


def part_hashes(head: bytes) -> list[str]:
    """The hashes of the takes a head refers to."""
    return [a["takes"] for p in json.loads(head)["pieces"] for a in p["articulations"]]


def from_parts(head: bytes, parts: dict[str, bytes]) -> tuple[Kit, tuple[str, ...]]:
    """A stored kit, and warnings: an older format, and everything that was repaired.

    A stored kit always opens: what cannot be read or does not resolve is dropped and listed. Raises Refusal only if it
    is not a kit at all.
    """
    try:
        raw = _checked_format(_stored(head), "The stored kit")
    except ValueError as error:
        raise Refusal(f"The stored kit is not valid JSON ({error}).") from None
    lost: list[str] = []
    for piece in raw.get("pieces", []):
        for articulation in piece["articulations"]:
            try:
                articulation["takes"] = _stored(parts[articulation["takes"]])
            except (KeyError, ValueError):
                lost.append(f"The takes of {articulation.get('name')} could not be read.")
                articulation["takes"] = []
    raw, notes = upgraded(raw)
    kit, left_out = readable({**raw, "format": KIT_FORMAT})
    kit, fixes = fixed(kit)
    return kit, (*notes, *lost, *left_out, *fixes)
