"""Names in the order people expect: Tom 2 before Tom 10."""

import re


def natural_key(text: str) -> tuple[tuple[int, int, str], ...]:
    """A sort key that compares numbers in a text by value, and letters without case."""
    parts = re.split(r"(\d+)", text.casefold())
    return tuple((0, int(part), "") if part.isdecimal() else (1, 0, part) for part in parts if part)
