"""Reads as much as possible of a stored kit that has invalid values."""

from typing import Any

from pydantic import ValidationError

from drumcore.kit.values import Kit
from drumcore.validation_sentences import why_misread

MOST_ROUNDS = 200
Place = tuple[int | str, ...]
"""The way to a value: fields and places in lists."""


def readable(raw: dict[str, Any]) -> tuple[Kit, tuple[str, ...]]:
    """The kit without its invalid values, and a sentence for each. A field with a default falls back to it; otherwise
    the item that needs the field is dropped.
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
                # If a required field is missing, the item that lacks it is dropped.
                gone.add(_reached(raw, place[:-1] if fault["type"] == "missing" else place))
                if not _reached(raw, place) and place:
                    raw[str(place[0])] = {"id": "kit", "name": "Kit"}.get(str(place[0]))
            _take_out(raw, gone)
    kept = {key: raw[key] for key in ("id", "name") if isinstance(raw.get(key), str) and raw[key]}
    return Kit.model_validate({"id": "kit", "name": "Kit", **kept}), (*said, "Nothing else of the kit could be read.")


def _take_out(raw: Any, places: set[Place]) -> None:
    """Removes the values at some places, each once. List items are removed from the end, so that earlier indices stay
    valid; places inside something already removed are skipped.
    """
    whole = [place for place in places if place and not any(place[:n] in places for n in range(1, len(place)))]
    for *way, last in sorted(whole, key=lambda place: [str(part).zfill(9) for part in place], reverse=True):
        holder: Any = raw
        for part in way:
            holder = holder[part]
        del holder[last]


def _reached(raw: Any, place: Place) -> Place:
    """The part of an error's location that exists in the data: it may also name a type, which is no step of the path."""
    here: Any = raw
    for number, part in enumerate(place):
        try:
            here = here[part]
        except (LookupError, TypeError):
            return place[:number]
    return place
