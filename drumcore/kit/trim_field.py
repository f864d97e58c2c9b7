"""What is said of one trim of a take beside its type: its name, its unit, and how far a hand moves it."""

from dataclasses import dataclass
from typing import Literal

TrimUnit = Literal["dB", "ct", "ms", "pan", "switch"]


@dataclass(frozen=True)
class Trim:
    """`edited` is how an edit names the change, `{}` the value; of a switch, what it says on and off.

    A slider goes from `least` to `most` in steps of `step`, in `page` with Shift; a kit may hold more. `around_zero` draws it
    from its middle. `at_once` means that the sounds stay as they are, so that it is heard while it is dragged.
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
