"""What is kept under a name as a file: JSON that says what it is, in which format, and its name."""

import json
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from pydantic import ValidationError

from drumcore.refusals import Refusal
from drumcore.routing.hosts import Host
from drumcore.routing.plans import RoutingPlan
from drumcore.value import Value

V = TypeVar("V", bound=Value)
LARGEST_FILE = 1 << 20
FORMAT = 1
LONGEST_NAME = 120


@dataclass(frozen=True)
class KeptFile(Generic[V]):
    """A kind of thing in a file: `key` stands in the file with its format, `noun` in sentences."""

    key: str
    noun: str
    value: type[V]


PLAN_FILE = KeptFile("routing_plan", "routing plan", RoutingPlan)
HOST_FILE = KeptFile("host_outputs", "host", Host)


def kept_to_json(kind: KeptFile[V], name: str, value: V) -> str:
    held = {key: field for key, field in value.model_dump(mode="json").items() if key != "name"}
    return json.dumps({kind.key: FORMAT, "name": name, **held}, indent=1, ensure_ascii=False)


def read_kept(kind: KeptFile[V], data: bytes, file_name: str) -> tuple[str, V]:
    """The name a file gives, or its own where it gives none, and what it holds. Raises Refusal with a sentence."""
    if len(data) > LARGEST_FILE:
        raise Refusal(f"{file_name} is too large for a {kind.noun}; choose one under {LARGEST_FILE >> 20} MB.")
    try:
        raw: Any = json.loads(data.decode("utf-8-sig"))
    except (ValueError, RecursionError):
        raise Refusal(f"{file_name} is not valid JSON; choose a {kind.noun} saved by this program.") from None
    if not isinstance(raw, dict) or kind.key not in raw:
        raise Refusal(f"{file_name} does not describe a {kind.noun}; choose one saved by this program.")
    if raw.pop(kind.key) != FORMAT:
        raise Refusal(
            f"{file_name} was written by a newer version, which this one cannot read; it reads format {FORMAT}."
        )
    title = file_name.rsplit("/", 1)[-1].rsplit(".", 1)[0]
    given = raw.pop("name", None)
    name = " ".join((given if isinstance(given, str) else "").split() or title.split())[:LONGEST_NAME] or kind.noun
    named = {"name": name} if "name" in kind.value.model_fields else {}
    try:
        return name, kind.value.model_validate({**raw, **named})
    except ValidationError as error:
        first = error.errors()[0]
        field = ".".join(str(part) for part in first["loc"])
        why = str(first["msg"]).removeprefix("Value error, ")
        raise Refusal(f"{file_name}{f', {field}' if field else ''}: {why[:1].lower()}{why[1:]}.") from None
