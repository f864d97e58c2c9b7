"""The kinds of reverbs and echoes. A new kind is a module here and a line in `Space` and `respond`."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import Field

from drumcore.arrays import Samples
from drumcore.spaces import echo, hall, imported
from drumcore.spaces.echo import Echo
from drumcore.spaces.hall import Hall
from drumcore.spaces.imported import LONGEST_S, Brought, Response

Space = Hall | Echo | Response
"""What a bus may be heard through."""
SpaceOfAKind = Annotated[Space, Field(discriminator="kind")]

FindResponse = Callable[[str], Brought]
"""The response of a content. Raises Refusal where it no longer exists."""


@dataclass(frozen=True)
class ImpulseResponse:
    """float32 of shape (1, 2 or 4, frames). With `middle` the input is the average of both sides and the output is
    stereo. Otherwise one channel applies to each side, two apply to one side each, and four are left to left, left to
    right, right to left, right to right.
    """

    samples: Samples
    middle: bool


def respond(space: Space, rate_hz: int, find: FindResponse) -> ImpulseResponse:
    """The impulse response of a reverb or echo at a sample rate, scaled to unit energy: averaged over its sides, the
    output is as loud as the input.
    """
    if isinstance(space, Hall):
        made = hall.respond(space, rate_hz, LONGEST_S)
    elif isinstance(space, Echo):
        made = echo.respond(space, rate_hz, LONGEST_S)
    else:
        made = imported.respond(space, find(space.content), rate_hz, LONGEST_S)
    heard = len(made) if len(made) < 4 else 2
    energy = float(np.sum(made**2)) / heard
    # An imported response may be cut to less than the silence it begins with.
    scaled = made / np.sqrt(energy) if energy > 0.0 else made
    return ImpulseResponse(np.asarray(scaled, np.float32), middle=not isinstance(space, Response))
