"""EQ: up to eight bands of cuts, shelves and peaks.

Source: Audio EQ Cookbook, R. Bristow-Johnson (W3C Note 2021), in the form of the Web Audio specification's
BiquadFilterNode. The browser's twin is web/src/player/treatments/eq.ts; a twin test compares them.
"""

import functools
import math
from enum import StrEnum
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drumcore.arrays import Floats
from drumcore.treatments.stage import GONE, QUIET, TreatmentKind
from drumcore.value import Value

MOST_BANDS = 8
FLAT_CUT_DB = -3.01
"""The resonance of a cut without one."""
HIGHEST_SHARE = 0.49
"""Of the sample rate: a band set higher works there."""


class BandKind(StrEnum):
    LOW_CUT = "low_cut"
    LOW_SHELF = "low_shelf"
    PEAK = "peak"
    HIGH_SHELF = "high_shelf"
    HIGH_CUT = "high_cut"


class EqBand(Value):
    """One band: its frequency, gain (peaks and shelves), the width of a peak, and the resonance of a cut."""

    kind: BandKind
    hz: Annotated[float, Field(ge=20.0, le=20_000.0)]
    gain_db: Annotated[float, Field(ge=-18.0, le=18.0)] = 0.0
    q: Annotated[float, Field(ge=0.1, le=18.0)] = 1.0
    resonance_db: Annotated[float, Field(ge=-12.0, le=18.0)] = FLAT_CUT_DB


class Eq(Value):
    """`on` bypasses the EQ and keeps the settings."""

    kind: Literal["eq"] = "eq"
    on: bool = True
    bands: Annotated[tuple[EqBand, ...], Field(max_length=MOST_BANDS)] = ()


class PlayEq(Value):
    """An EQ's bands as players need them."""

    kind: Literal["eq"] = "eq"
    bands: tuple[EqBand, ...] = ()


def _compile(eq: Eq, rate_hz: int) -> PlayEq:
    highest = HIGHEST_SHARE * rate_hz
    return PlayEq(bands=tuple(b.but(hz=min(b.hz, highest)) for b in eq.bands))


@functools.lru_cache(maxsize=1024)
def coefficients(band: EqBand, rate_hz: int) -> tuple[float, float, float, float, float]:
    """b0 b1 b2 a1 a2 of one band, with a0 = 1. A cut's Q is a resonance in dB, as in the Web Audio specification: α =
    sin(w) / (2 · 10^(dB / 20)). Shelves have a slope of 1.
    """
    w = 2.0 * math.pi * band.hz / rate_hz
    sine, cosine = math.sin(w), math.cos(w)
    lift = 10.0 ** (band.gain_db / 40.0)
    if band.kind in (BandKind.LOW_CUT, BandKind.HIGH_CUT):
        alpha = sine / (2.0 * 10.0 ** (band.resonance_db / 20.0))
        edge = 1.0 + cosine if band.kind is BandKind.LOW_CUT else 1.0 - cosine
        middle = -edge if band.kind is BandKind.LOW_CUT else edge
        b0, b1, b2 = edge / 2.0, middle, edge / 2.0
        a0, a1, a2 = 1.0 + alpha, -2.0 * cosine, 1.0 - alpha
    elif band.kind is BandKind.PEAK:
        alpha = sine / (2.0 * band.q)
        b0, b1, b2 = 1.0 + alpha * lift, -2.0 * cosine, 1.0 - alpha * lift
        a0, a1, a2 = 1.0 + alpha / lift, -2.0 * cosine, 1.0 - alpha / lift
    else:
        # A high shelf is a low shelf with the sign of the cosine and of the middle terms flipped.
        turn = 1.0 if band.kind is BandKind.LOW_SHELF else -1.0
        c = turn * cosine
        slope = 2.0 * math.sqrt(lift) * sine / math.sqrt(2.0)
        b0 = lift * ((lift + 1.0) - (lift - 1.0) * c + slope)
        b1 = turn * 2.0 * lift * ((lift - 1.0) - (lift + 1.0) * c)
        b2 = lift * ((lift + 1.0) - (lift - 1.0) * c - slope)
        a0 = (lift + 1.0) + (lift - 1.0) * c + slope
        a1 = turn * -2.0 * ((lift - 1.0) + (lift + 1.0) * c)
        a2 = (lift + 1.0) + (lift - 1.0) * c - slope
    return b0 / a0, b1 / a0, b2 / a0, a1 / a0, a2 / a0


class _EqStage:
    """Its bands as second-order sections in transposed direct form II, whose state carries over between blocks."""

    def __init__(self, eq: PlayEq, rate_hz: int, sides: int) -> None:
        from drumcore.treatments.kernels import equalise

        self._equalise = equalise
        self._sections = np.array([coefficients(band, rate_hz) for band in eq.bands]).reshape(-1, 5)
        self._state = np.zeros((len(self._sections), sides, 2))

    @property
    def silent(self) -> bool:
        return bool((np.abs(self._state) < QUIET).all())

    def process(self, sound: Floats, into: Floats | None = None) -> Floats:
        treated = np.empty_like(sound) if into is None else into
        self._equalise(sound, self._sections, self._state, treated, GONE)
        return treated


EQ = TreatmentKind(name="eq", value=Eq, compiled=PlayEq, compile=_compile, stage=_EqStage)
