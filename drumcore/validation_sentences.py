"""Sentences for values that cannot be read, in place of the validator's own, which speak of tuples and instances."""

from collections.abc import Mapping
from typing import Any

_SAID = {
    "missing": "it is missing",
    "extra_forbidden": "nothing here is called that",
    "string_type": "it has to be text",
    "int_type": "it has to be a whole number",
    "int_parsing": "it has to be a whole number",
    "int_parsing_size": "it has to be a smaller number",
    "int_from_float": "it has to be a whole number",
    "float_type": "it has to be a number",
    "float_parsing": "it has to be a number",
    "finite_number": "it has to be a number with an end",
    "bool_type": "it has to be true or false",
    "bool_parsing": "it has to be true or false",
    "tuple_type": "it has to be a list",
    "list_type": "it has to be a list",
    "dict_type": "it has to be an object with fields of its own",
    "model_type": "it has to be an object with fields of its own",
    "model_attributes_type": "it has to be an object with fields of its own",
    "union_tag_not_found": "it does not say of which kind it is",
    "union_tag_invalid": "it is of no kind that is known",
    "greater_than": "it has to be over {gt}",
    "greater_than_equal": "it has to be {ge} or more",
    "less_than": "it has to be under {lt}",
    "less_than_equal": "it has to be {le} or less",
    "string_too_short": "it has to have {min_length} or more characters",
    "string_too_long": "it has to have {max_length} or fewer characters",
    "too_short": "it has to hold {min_length} or more",
    "too_long": "it has to hold {max_length} or fewer",
    "enum": "it has to be {expected}",
    "literal_error": "it has to be {expected}",
}


def why_misread(error: Mapping[str, Any]) -> str:
    """Why a field cannot be read, as a clause in lower case without a full stop; `error` is one entry of a
    ValidationError's list.
    """
    context: dict[str, Any] = {key: _plain(value) for key, value in error.get("ctx", {}).items()}
    said = _SAID.get(error["type"])
    if said is not None:
        return said.format(**context)
    text = str(error["msg"]).removeprefix("Value error, ")
    return f"{text[:1].lower()}{text[1:]}"


def _plain(value: Any) -> Any:
    if isinstance(value, float):
        return f"{value:g}"
    return value.replace("'", "") if isinstance(value, str) else value
