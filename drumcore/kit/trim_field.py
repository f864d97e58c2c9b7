"""Metadata of one trim of a take, kept beside its type: its name, unit, wording and slider range."""

from dataclasses import dataclass
from typing import Literal

TrimUnit = Literal["dB", "ct", "ms", "pan", "switch"]


@dataclass(frozen=True)
class Trim:
    """`edited` is how an edit's sentence names the change, with `{}` for the value; for a switch, its two sentences.
    The slider goes from `least` to `most` in steps of `step`, in `page` with Shift; a kit may hold values beyond.
    `around_zero` draws the slider from its middle. `at_once` means the prepared sound does not change, so the trim is
    heard while it is dragged.
    """

    name: str
    unit: TrimUnit
    edited: tuple[str, str] | str
    least: float = 0.0
    most: float = 0.0
    step: float = 1.0
    page: float = 10.0
    around_zero: bool = False
    at_once: bool = False
