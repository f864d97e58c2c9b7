"""Row numbers from URLs, which may be any text."""

from typing import TypeVar

from django.db.models import Model

M = TypeVar("M", bound=Model)


def number_of(text: str) -> int | None:
    """The row number in a text, None if it cannot be one."""
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 19 else None


def row_of(model: type[M], text: str) -> M | None:
    number = number_of(text)
    return None if number is None else model._default_manager.filter(pk=number).first()
