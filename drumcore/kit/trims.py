"""The trims of a take by name, and whether any is set."""

from typing import Any

from drumcore.kit.trim_field import Trim
from drumcore.kit.values import Take, Trims

TRIMS: dict[str, Trim] = {
    name: next(about for about in field.metadata if isinstance(about, Trim))
    for name, field in Trims.model_fields.items()
}
"""Fields of `Take`; at its default one leaves the recording as it is."""


def trims_of(take: Take) -> dict[str, Any]:
    return {name: getattr(take, name) for name in TRIMS}


def is_trimmed(take: Take) -> bool:
    return any(value != Take.model_fields[name].default for name, value in trims_of(take).items())
