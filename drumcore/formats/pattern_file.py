"""Patterns as files of their own: the value as JSON (docs/schemas/pattern.schema.json)."""

from pathlib import Path

from pydantic import ValidationError

from drumcore.grooves.pattern import Pattern
from drumcore.refusals import Refusal
from drumcore.validation_sentences import why_misread

LARGEST_FILE = 32 << 20


def read_pattern_file(path: Path) -> Pattern:
    """A pattern from a file. Raises Refusal with what is wrong where."""
    if path.stat().st_size > LARGEST_FILE:
        raise Refusal(f"{path.name} is too large for a pattern; it may hold {LARGEST_FILE >> 20} MB.")
    try:
        return Pattern.model_validate_json(path.read_bytes())
    except ValidationError as wrong:
        first = wrong.errors(include_url=False)[0]
        where = " ".join(str(part) for part in first["loc"])
        raise Refusal(f"{path.name} is not a pattern: {where + ': ' if where else ''}{why_misread(first)}.") from None


def write_pattern_file(pattern: Pattern, path: Path) -> None:
    path.write_text(pattern.model_dump_json(indent=1, exclude_defaults=True) + "\n", encoding="utf-8")
