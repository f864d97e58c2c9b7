"""What can be read of a stored kit whose values are not what they should be."""

from typing import Any

from pydantic import ValidationError

from drumcore.kit.values import Kit

MOST_ROUNDS = 200


def readable(raw: dict[str, Any]) -> tuple[Kit, tuple[str, ...]]:
    """The kit that is left once every value that cannot be is left out, and a sentence for each.

    A value with a usual one falls back to that; the thing it belongs to goes where it cannot do without.
    """
    said: list[str] = []
    for _ in range(MOST_ROUNDS):
        try:
            return Kit.model_validate(raw), tuple(said)
        except ValidationError as error:
            faults = error.errors(include_url=False, include_input=False)
            # The last first, so that places before it in a list stay where they are.
            for fault in sorted(faults, key=lambda f: [str(part).zfill(9) for part in f["loc"]], reverse=True):
                place = [part for part in fault["loc"] if isinstance(part, int | str)]
                said.append(f"“{'.'.join(str(part) for part in place)}” could not be read: {fault['msg'].lower()}.")
                _take_out(raw, place, missing=fault["type"] == "missing")
    kept = {key: raw[key] for key in ("id", "name") if isinstance(raw.get(key), str) and raw[key]}
    return Kit.model_validate({"id": "kit", "name": "Kit", **kept}), (*said, "Nothing else of the kit could be read.")


def _take_out(raw: Any, place: list[int | str], *, missing: bool) -> None:
    """Take the value at a place out; where something is missing there, what it is missing from."""
    path = _reached(raw, place[:-1] if missing else place)
    if not path:
        if place and isinstance(raw, dict):
            raw[str(place[0])] = {"id": "kit", "name": "Kit"}.get(str(place[0]))
        return
    holder: Any = raw
    for part in path[:-1]:
        holder = holder[part]
    del holder[path[-1]]


def _reached(raw: Any, place: list[int | str]) -> list[int | str]:
    """As much of a place as is there: an error may name a kind of value, which is no part of the way."""
    path: list[int | str] = []
    here: Any = raw
    for part in place:
        try:
            here = here[part]
        except (LookupError, TypeError):
            break
        path.append(part)
    return path
