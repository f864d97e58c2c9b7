"""An imported impulse response: a real room, plate or box, from a file."""

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
import soxr
from pydantic import Field

from drumcore.arrays import Floats, Samples
from drumcore.value import Value

LONGEST_S = 12.0
SIDES = (1, 2, 4)
"""One answers each side alike, two each side by its own, four each side on both (left to left, left to right, right to
left, right to right)."""
FADED = 0.1
"""What part of a shortened response is faded at its end."""


class Response(Value):
    """An impulse response by the hash of its file, `seconds` long; the first `length_s` (None: all) are used, after a
    pre-delay.
    """

    kind: Literal["response"] = "response"
    on: bool = True
    content: Annotated[str, Field(max_length=200)]
    name: Annotated[str, Field(max_length=400)]
    sides: Literal[1, 2, 4]
    seconds: Annotated[float, Field(gt=0.0, le=LONGEST_S)]
    length_s: Annotated[float | None, Field(ge=0.02, le=LONGEST_S)] = None
    pre_delay_ms: Annotated[float, Field(ge=0.0, le=250.0)] = 0.0


@dataclass(frozen=True)
class Brought:
    """An impulse response as read: float32 of shape (frames, sides), and warnings."""

    samples: Samples
    rate_hz: int
    content: str
    said: str = ""


def respond(response: Response, brought: Brought, rate_hz: int, longest_s: float) -> Floats:
    """An impulse response at a sample rate, shape (sides, frames), shortened and delayed as set."""
    samples = brought.samples.astype(np.float64)
    if brought.rate_hz != rate_hz:
        samples = soxr.resample(samples, brought.rate_hz, rate_hz, quality="VHQ")
    delay = round(response.pre_delay_ms * rate_hz / 1000.0)
    most = max(1, round(longest_s * rate_hz) - delay)
    wanted = len(samples) if response.length_s is None else round(response.length_s * rate_hz)
    heard = samples[: min(most, wanted)]
    if len(heard) < len(samples):
        last = max(1, int(len(heard) * FADED))
        heard = heard.copy()
        heard[len(heard) - last :] *= np.linspace(1.0, 0.0, last)[:, None]
    return np.concatenate([np.zeros((heard.shape[1], delay)), heard.T], axis=1)
