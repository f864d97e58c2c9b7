"""The hi-hat pedal: controller values to openness."""

import functools
import math
from collections import defaultdict
from collections.abc import Sequence
from typing import Annotated

from pydantic import Field

from drumcore.kit.values import Openness
from drumcore.refusals import Refusal
from drumcore.value import Value

SHORTEST_WAY = 24
"""A controller that moves less than this is no pedal being closed and opened."""


@functools.lru_cache(maxsize=256)
def openness_table(closed_at: int, open_at: int) -> tuple[int, ...]:
    """Openness for each of a controller's 128 values: 0 at `closed_at`, 127 at `open_at`, straight between and constant
    beyond. A reversed pedal has `closed_at` above `open_at`. Rounded half up.
    """
    span = open_at - closed_at
    return tuple(max(0, min(127, math.floor(127.0 * (value - closed_at) / span + 0.5))) for value in range(128))


class Move(Value):
    """A controller's value at a time."""

    time_ms: float
    controller: Annotated[int, Field(ge=0, le=127)]
    value: Openness


class Calibration(Value):
    """The controller of the pedal, and its values with the pedal closed and open."""

    controller: int
    closed_at: int
    open_at: int


def calibrate(moves: Sequence[Move]) -> Calibration:
    """Finds the pedal from a recording in which it was closed once and then opened once.

    The controller that moved furthest is the pedal. The end nearer to its last value is open, which also detects a
    reversed pedal. Both ends are moved in by 3 % of the travel, so that they are always reached. Raises Refusal if
    nothing moved far enough.
    """
    by_controller: dict[int, list[int]] = defaultdict(list)
    for move in sorted(moves, key=lambda m: m.time_ms):
        by_controller[move.controller].append(move.value)
    if not by_controller:
        raise Refusal(
            "No controller was received; move the pedal, and check that its kit sends openness as a controller."
        )
    controller, values = max(by_controller.items(), key=lambda pair: max(pair[1]) - min(pair[1]))
    low, high = min(values), max(values)
    if high - low < SHORTEST_WAY:
        raise Refusal(
            f"CC {controller} moved only from {low} to {high}; close the pedal firmly, then open it all the way."
        )
    inset = round(0.03 * (high - low))
    low, high = low + inset, high - inset
    opens_high = abs(values[-1] - high) <= abs(values[-1] - low)
    return Calibration(
        controller=controller, closed_at=low if opens_high else high, open_at=high if opens_high else low
    )
