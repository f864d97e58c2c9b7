"""Rows by the numbers that addresses hold: any text may come, and none of it is too large for the database."""

from typing import TypeVar

from django.db.models import Model

M = TypeVar("M", bound=Model)


def number_of(text: str) -> int | None:
    """The number a text is, None where it is none that a row could have."""
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 19 else None


def row_of(model: type[M], text: str) -> M | None:
    number = number_of(text)
    return None if number is None else model._default_manager.filter(pk=number).first()
