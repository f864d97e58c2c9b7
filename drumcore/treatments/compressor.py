"""The compressor: levels above a threshold are reduced by a ratio.

Source: D. Giannoulis, M. Massberg and J. D. Reiss, "Digital Dynamic Range Compressor Design", JAES 60(6), 2012:
feed-forward, level of the louder side in dB, gain computer with a soft knee (their equation 4), smooth branching
detector on the gain in dB (their equation 17). Frames 8k to 8k + 7 share one gain, computed from their peak and reached
by a straight line across them, so there is no latency. The browser's twin is web/src/player/treatments/compressor.ts.
"""

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drumcore.arrays import Floats
from drumcore.treatments.eq import BandKind, EqBand, coefficients
from drumcore.treatments.stage import GONE, TreatmentKind
from drumcore.value import Value

SETTLED_DB = 1e-6
"""A reduction under this is none any more: a strip that waits for it may sleep."""
LEAST_MAKE_UP_DB, MOST_MAKE_UP_DB = -12.0, 24.0


class _Settings(Value):
    threshold_db: Annotated[float, Field(ge=-60.0, le=0.0)] = -18.0
    ratio: Annotated[float, Field(ge=1.0, le=20.0)] = 3.0
    knee_db: Annotated[float, Field(ge=0.0, le=24.0)] = 6.0
    attack_ms: Annotated[float, Field(ge=0.3, le=200.0)] = 10.0
    release_ms: Annotated[float, Field(ge=5.0, le=2000.0)] = 120.0
    make_up_db: Annotated[float, Field(ge=LEAST_MAKE_UP_DB, le=MOST_MAKE_UP_DB)] = 0.0
    mix: Annotated[float, Field(ge=0.0, le=1.0)] = 1.0
    low_cut_hz: Annotated[float | None, Field(ge=20.0, le=1000.0)] = None


class Compressor(_Settings):
    """`low_cut_hz` is the detector's low cut, `mix` the share of compressed sound. `on` bypasses it and keeps the
    settings.
    """

    kind: Literal["compressor"] = "compressor"
    on: bool = True


class PlayCompressor(_Settings):
    """A compressor's settings as players need them."""

    kind: Literal["compressor"] = "compressor"


def _compile(compressor: Compressor, rate_hz: int) -> PlayCompressor:
    return PlayCompressor(**{name: getattr(compressor, name) for name in _Settings.model_fields})


def reduction_db(settings: PlayCompressor | Compressor, level_db: float) -> float:
    """The gain reduction at a steady level, in dB, 0 or more, without make-up."""
    over, knee, slope = level_db - settings.threshold_db, settings.knee_db, 1.0 / settings.ratio - 1.0
    if 2.0 * over < -knee:
        return 0.0
    if knee > 0.0 and 2.0 * over <= knee:
        return -slope * (over + knee / 2.0) ** 2 / (2.0 * knee)
    return -slope * over


def _kept(time_ms: float, rate_hz: int, frames: int) -> float:
    """The share of a detector's state left after some frames, for a time constant."""
    return math.exp(-frames / (time_ms / 1000.0 * rate_hz))


class _CompressorStage:
    def __init__(self, compiled: PlayCompressor, rate_hz: int, sides: int) -> None:
        from drumcore.treatments.kernels import GRID, compress

        self._compress = compress
        self._settings = np.array(
            [
                compiled.threshold_db,
                1.0 / compiled.ratio - 1.0,
                compiled.knee_db,
                _kept(compiled.attack_ms, rate_hz, GRID),
                _kept(compiled.release_ms, rate_hz, GRID),
                10.0 ** (compiled.make_up_db / 20.0),
                compiled.mix,
            ]
        )
        cut = compiled.low_cut_hz
        self._cut = np.array(coefficients(EqBand(kind=BandKind.LOW_CUT, hz=cut), rate_hz) if cut else (0.0,) * 5)
        self._cut_state = np.zeros((sides, 2))
        self._state = np.array([0.0, 1.0])

    @property
    def reduction_db(self) -> float:
        """The current gain reduction."""
        return float(self._state[0])

    @property
    def silent(self) -> bool:
        return self.reduction_db < SETTLED_DB

    def process(self, sound: Floats, into: Floats | None = None) -> Floats:
        treated = np.empty_like(sound) if into is None else into
        self._compress(sound, self._settings, self._cut, self._cut_state, self._state, treated, GONE)
        return treated


COMPRESSOR = TreatmentKind(
    name="compressor", value=Compressor, compiled=PlayCompressor, compile=_compile, stage=_CompressorStage
)
