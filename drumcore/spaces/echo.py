"""An echo: evenly spaced repeats, each softer and darker than the one before, optionally alternating sides."""

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drumcore.arrays import Floats
from drumcore.value import Value

BRIGHTEST_HZ = 16_000.0
"""Where what is above is reduced in a repeat that is not darker yet."""
DARKEST_HZ = 20.0
"""A repeat gets no darker: nothing is heard of what lies under it, and its response would go on for hours."""
GONE_DB = 100.0


class Echo(Value):
    """A repeat every `every_ms`, or every `beats` at a `tempo` in beats per minute. Each is `softer_db` softer and
    `darker` octaves darker than the one before, and panned by `sides` to the left and right in turn.
    """

    kind: Literal["echo"] = "echo"
    on: bool = True
    every_ms: Annotated[float, Field(ge=5.0, le=2000.0)] = 320.0
    beats: Annotated[float | None, Field(ge=1 / 32, le=4.0)] = None
    tempo: Annotated[float, Field(ge=20.0, le=400.0)] = 100.0
    repeats: Annotated[int, Field(ge=1, le=32)] = 5
    softer_db: Annotated[float, Field(ge=0.0, le=40.0)] = 5.0
    darker: Annotated[float, Field(ge=0.0, le=3.0)] = 0.5
    sides: Annotated[float, Field(ge=0.0, le=1.0)] = 0.5


def every_s(echo: Echo) -> float:
    """The time between repeats."""
    return echo.every_ms / 1000.0 if echo.beats is None else 60.0 * echo.beats / echo.tempo


def cut_off_hz(echo: Echo, repeat: int) -> float:
    """The cutoff of the first-order low-pass of a repeat, counted from 1."""
    return float(max(DARKEST_HZ, BRIGHTEST_HZ / 2.0 ** (echo.darker * (repeat - 1))))


def respond(echo: Echo, rate_hz: int, longest_s: float) -> Floats:
    """The echo's impulse response, shape (2, frames), for mono input. Repeats past the longest length are left out."""
    times = [every_s(echo) * n for n in range(1, echo.repeats + 1)]
    tails = [_dark(cut_off_hz(echo, n), rate_hz) for n in range(1, echo.repeats + 1)]
    starts = [round(time * rate_hz) for time in times]
    last = round(longest_s * rate_hz)
    frames = max([start + tail.size for start, tail in zip(starts, tails, strict=True) if start < last], default=1)
    sound = np.zeros((2, min(frames, last)))
    for number, (start, tail) in enumerate(zip(starts, tails, strict=True)):
        part = tail[: max(0, sound.shape[1] - start)]
        angle = (1.0 + echo.sides * (-1.0 if number % 2 == 0 else 1.0)) * math.pi / 4.0
        gain = 10.0 ** (-echo.softer_db * number / 20.0)
        sound[:, start : start + part.size] += gain * np.outer([math.cos(angle), math.sin(angle)], part)
    return sound


def _dark(hz: float, rate_hz: int) -> Floats:
    """The impulse response of a first-order low-pass with −3 dB at `hz`, until it has decayed."""
    away = 2.0 - math.cos(2.0 * math.pi * hz / rate_hz)
    falls = away - math.sqrt(away * away - 1.0)
    frames = max(1, math.ceil(math.log(10.0 ** (-GONE_DB / 20.0)) / math.log(falls)))
    return np.asarray((1.0 - falls) * falls ** np.arange(frames), np.float64)
