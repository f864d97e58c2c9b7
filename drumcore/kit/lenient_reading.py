"""What can be read of a stored kit whose values are not what they should be."""

from typing import Any

from pydantic import ValidationError

from drumcore.kit.values import Kit
from drumcore.validation_sentences import why_misread

MOST_ROUNDS = 200
Place = tuple[int | str, ...]
"""The way to a value: fields and places in lists."""


def readable(raw: dict[str, Any]) -> tuple[Kit, tuple[str, ...]]:
    """The kit that is left once every value that cannot be is left out, and a sentence for each.

    A value with a usual one falls back to that; the thing it belongs to goes where it cannot do without.
    """
    said: list[str] = []
    for _ in range(MOST_ROUNDS):
        try:
            return Kit.model_validate(raw), tuple(said)
        except ValidationError as error:
            gone = set()
            for fault in error.errors(include_url=False, include_input=False):
                place = fault["loc"]
                said.append(f"“{'.'.join(str(part) for part in place)}” could not be read: {why_misread(fault)}.")
                # Where something is missing, what it is missing from goes.
                gone.add(_reached(raw, place[:-1] if fault["type"] == "missing" else place))
                if not _reached(raw, place) and place:
                    raw[str(place[0])] = {"id": "kit", "name": "Kit"}.get(str(place[0]))
            _take_out(raw, gone)
    kept = {key: raw[key] for key in ("id", "name") if isinstance(raw.get(key), str) and raw[key]}
    return Kit.model_validate({"id": "kit", "name": "Kit", **kept}), (*said, "Nothing else of the kit could be read.")


def _take_out(raw: Any, places: set[Place]) -> None:
    """Take the values at some places out, each once; the last of a list first, so that those before it stay where they
    are. What lies inside something that goes, goes with it."""
    whole = [place for place in places if place and not any(place[:n] in places for n in range(1, len(place)))]
    for *way, last in sorted(whole, key=lambda place: [str(part).zfill(9) for part in place], reverse=True):
        holder: Any = raw
        for part in way:
            holder = holder[part]
        del holder[last]


def _reached(raw: Any, place: Place) -> Place:
    """As much of a place as is there: an error may name a kind of value, which is no part of the way."""
    here: Any = raw
    for number, part in enumerate(place):
        try:
            here = here[part]
        except (LookupError, TypeError):
            return place[:number]
    return place
