"""The sample rates a kit can play at, in Hz."""

from typing import Literal, get_args

Rate = Literal[44_100, 48_000, 96_000]
RATES: tuple[Rate, ...] = get_args(Rate)
USUAL_RATE: Rate = 48_000
