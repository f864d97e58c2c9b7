"""The kinds of treatment there are, in the order in which sound passes them. A new kind is a file beside this one and a
line in each of the three lists here.
"""

from drumcore.treatments.eq import EQ, Eq, PlayEq
from drumcore.treatments.stage import Kind, Stage

KINDS: tuple[Kind, ...] = (EQ,)
Treatment = Eq
"""What a channel may hold (a union, as soon as there are two)."""
PlayTreatment = PlayEq
"""What a play table may hold."""

_BY_NAME = {kind.name: (place, kind) for place, kind in enumerate(KINDS)}


def in_order(treatments: tuple[Treatment, ...]) -> tuple[Treatment, ...]:
    return tuple(sorted(treatments, key=lambda t: _BY_NAME[t.kind][0]))


def compiled(treatments: tuple[Treatment, ...], rate_hz: int) -> tuple[PlayTreatment, ...]:
    """Treatments as players need them, in the order in which sound passes them."""
    return tuple(_BY_NAME[t.kind][1].compile(t, rate_hz) for t in in_order(treatments))  # type: ignore[misc]


def stages(treatments: tuple[PlayTreatment, ...], rate_hz: int, sides: int) -> list[Stage]:
    """Compiled treatments set to work in one channel."""
    return [_BY_NAME[t.kind][1].stage(t, rate_hz, sides) for t in treatments]
