"""Library items as files: JSON with kind, format number and name."""

import base64
import codecs
import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from pydantic import ValidationError
from pydantic_core import from_json

from drumcore.kit.tags import plain_tags
from drumcore.kit.values import Curve, SavedMap
from drumcore.recordings.guidance import SavedReading
from drumcore.refusals import Refusal
from drumcore.routing.hosts import Host
from drumcore.routing.plans import RoutingPlan
from drumcore.spaces.kept import KeptSpace
from drumcore.treatments.kept import KeptTreatments
from drumcore.validation_sentences import why_misread
from drumcore.value import Value

V = TypeVar("V", bound=Value)
LARGEST_FILE = 1 << 20
FORMAT = 1
LONGEST_NAME = 120
LONGEST_SAID = 2000


@dataclass(frozen=True)
class KeptFile(Generic[V]):
    """A kind of library item as a file: `key` names it in the file, `noun` in sentences."""

    key: str
    noun: str
    value: type[V]
    largest: int = LARGEST_FILE


MAP_FILE = KeptFile("note_map", "note map", SavedMap)
CURVE_FILE = KeptFile("velocity_curve", "curve", Curve)
READING_FILE = KeptFile("reading", "saved reading", SavedReading)
TREATMENT_FILE = KeptFile("kept_treatment", "treatment", KeptTreatments)
SPACE_FILE = KeptFile("kept_space", "space", KeptSpace, largest=256 << 20)
PLAN_FILE = KeptFile("routing_plan", "routing plan", RoutingPlan)
HOST_FILE = KeptFile("host_outputs", "host", Host)


@dataclass(frozen=True)
class KeptRead(Generic[V]):
    """What a file holds; `sound` is the impulse response of a reverb, as an audio file."""

    name: str
    value: V
    description: str = ""
    tags: tuple[str, ...] = ()
    sound: bytes | None = None


def kept_to_json(
    kind: KeptFile[V],
    name: str,
    value: V,
    description: str = "",
    tags: Sequence[str] = (),
    sound: bytes | None = None,
) -> str:
    held = {key: field for key, field in value.model_dump(mode="json").items() if key != "name"}
    said: dict[str, Any] = {kind.key: FORMAT, "name": name}
    if description:
        said["description"] = description
    if tags:
        said["tags"] = list(tags)
    if sound is not None:
        held["sound"] = base64.b64encode(sound).decode()
    return json.dumps({**said, **held}, indent=1, ensure_ascii=False)


def read_kept(kind: KeptFile[V], data: bytes, file_name: str) -> KeptRead[V]:
    """Reads a file; its item gets the name inside, or the file's name if there is none. Raises Refusal with a sentence."""
    if len(data) > kind.largest:
        raise Refusal(f"{file_name} is too large for a {kind.noun}; choose one under {kind.largest >> 20} MB.")
    try:
        raw: Any = from_json(data.removeprefix(codecs.BOM_UTF8), allow_inf_nan=False)
    except ValueError:
        raise Refusal(f"{file_name} is not valid JSON; choose a {kind.noun} saved by this program.") from None
    if not isinstance(raw, dict) or kind.key not in raw:
        raise Refusal(f"{file_name} does not describe a {kind.noun}; choose one saved by this program.")
    if raw.pop(kind.key) != FORMAT:
        raise Refusal(
            f"{file_name} was written by a newer version, which this one cannot read; it reads format {FORMAT}."
        )
    title = file_name.rsplit("/", 1)[-1].rsplit(".", 1)[0]
    given, said, tagged = raw.pop("name", None), raw.pop("description", ""), raw.pop("tags", [])
    name = " ".join((given if isinstance(given, str) else "").split() or title.split())[:LONGEST_NAME] or kind.noun
    named = {"name": name} if "name" in kind.value.model_fields else {}
    tags = plain_tags(tag for tag in tagged if isinstance(tag, str)) if isinstance(tagged, list) else ()
    sound = _sound(raw.pop("sound", None), file_name)
    try:
        value = kind.value.model_validate({**raw, **named})
    except ValidationError as error:
        first = error.errors()[0]
        field = ".".join(str(part) for part in first["loc"])
        raise Refusal(f"{file_name}{f', {field}' if field else ''}: {why_misread(first)}.") from None
    return KeptRead(name, value, said[:LONGEST_SAID] if isinstance(said, str) else "", tags, sound)


def _sound(held: Any, file_name: str) -> bytes | None:
    if held is None:
        return None
    try:
        return base64.b64decode(held, validate=True)
    except (ValueError, TypeError):
        raise Refusal(f"{file_name}, sound: it is damaged; save it again.") from None
