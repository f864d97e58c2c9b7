"""The kinds of treatments, in processing order. A new kind is a module here and a line in each of the three lists
below.
"""

from typing import Annotated

from pydantic import Field

from drumcore.treatments.compressor import COMPRESSOR, Compressor, PlayCompressor
from drumcore.treatments.drive import DRIVE, Drive, PlayDrive
from drumcore.treatments.eq import EQ, Eq, PlayEq
from drumcore.treatments.stage import Stage, TreatmentKind

KINDS: tuple[TreatmentKind, ...] = (EQ, COMPRESSOR, DRIVE)
Treatment = Eq | Compressor | Drive
"""What a channel may hold."""
TreatmentOfAKind = Annotated[Treatment, Field(discriminator="kind")]
PlayTreatment = PlayEq | PlayCompressor | PlayDrive
"""What a play table may hold."""

_BY_NAME = {kind.name: (place, kind) for place, kind in enumerate(KINDS)}


def in_order(treatments: tuple[Treatment, ...]) -> tuple[Treatment, ...]:
    return tuple(sorted(treatments, key=lambda t: _BY_NAME[t.kind][0]))


def compiled(treatments: tuple[Treatment, ...], rate_hz: int) -> tuple[PlayTreatment, ...]:
    """Treatments as players need them, in processing order; those that are off are left out."""
    made = (_BY_NAME[t.kind][1].compile(t, rate_hz) for t in in_order(treatments) if t.on)
    return tuple(made)  # type: ignore[arg-type]


def stages(treatments: tuple[PlayTreatment, ...], rate_hz: int, sides: int) -> list[Stage]:
    """Starts the processing of compiled treatments for one channel."""
    return [_BY_NAME[t.kind][1].stage(t, rate_hz, sides) for t in treatments]
