"""Positions in music, in beats, as exact fractions."""

from fractions import Fraction
from typing import Annotated, Any

from pydantic import BeforeValidator, PlainSerializer, WithJsonSchema

MOST_BEATS = 1_000_000


def exact(value: Any) -> Fraction:
    """A number, or a text such as "7/3", as a fraction. A float counts as the decimal number it is written as. Raises
    ValueError if it is none, or out of range.
    """
    if isinstance(value, bool) or not isinstance(value, Fraction | int | float | str):
        raise ValueError("a position in beats is a number or a fraction such as “7/3”")
    try:
        found = Fraction(str(value)) if isinstance(value, float | str) else Fraction(value)
    except (ValueError, ZeroDivisionError, OverflowError):
        raise ValueError("a position in beats is a number or a fraction such as “7/3”") from None
    if abs(found) > MOST_BEATS or found.denominator > 10**9:
        raise ValueError(f"a position in beats lies within ±{MOST_BEATS:,}")
    return found


def _written(value: Fraction) -> int | str:
    return value.numerator if value.denominator == 1 else f"{value.numerator}/{value.denominator}"


Beats = Annotated[
    Fraction,
    BeforeValidator(exact),
    PlainSerializer(_written),
    WithJsonSchema({"anyOf": [{"type": "number"}, {"type": "string", "pattern": r"^-?\d+/\d+$"}]}),
]
"""An exact position or length; in JSON an integer, or a fraction as text."""


def rounded_half_up(value: Fraction) -> int:
    """The nearest integer; of two equally near, the higher."""
    return (2 * value + 1).__floor__() // 2
