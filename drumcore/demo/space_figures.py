"""Measured decay times of the shipped reverbs by band, and how far they are from their settings."""

from drumcore.kit.rates import USUAL_RATE
from drumcore.refusals import Refusal
from drumcore.spaces.decay_times import BandDecay, decay_by_band
from drumcore.spaces.hall import Hall, decay_s
from drumcore.spaces.imported import Brought
from drumcore.spaces.kinds import Space, respond
from drumcore.spaces.shipped import SHIPPED, ShippedSpace
from drumcore.value import Value


class SpaceFigures(Value):
    """`off` is the worst band's relative error."""

    id: str
    name: str
    seconds: float
    decay: tuple[BandDecay, ...]
    off: float | None


def space_figures(rate_hz: int = USUAL_RATE) -> list[SpaceFigures]:
    return [_figures(shipped, shipped.kept.space, rate_hz) for shipped in SHIPPED]


def _figures(shipped: ShippedSpace, space: Space, rate_hz: int) -> SpaceFigures:
    samples = respond(space, rate_hz, _none_ships).samples
    decay = decay_by_band(samples, rate_hz)
    off = None
    if isinstance(space, Hall):
        off = max(abs(band.seconds / decay_s(space, band.hz) - 1.0) for band in decay if band.seconds is not None)
    # An echo has only its repeats measured: nothing decays between them.
    told = decay if off is not None else tuple(band.but(seconds=None) for band in decay)
    return SpaceFigures(id=shipped.id, name=shipped.name, seconds=samples.shape[1] / rate_hz, decay=told, off=off)


def _none_ships(content: str) -> Brought:
    raise Refusal(f"No response ships; “{content}” was asked for.")
