"""What is shown of an impulse response: each band's decay time, and its outline."""

import math

import numpy as np
import scipy

from drumcore.arrays import Floats, Samples
from drumcore.value import Value

BANDS_HZ = (125.0, 250.0, 500.0, 1000.0, 2000.0, 4000.0, 8000.0)
FROM_DB, TO_DB = -5.0, -35.0
"""Between these a decay is read, and doubled: T30 of ISO 3382-1:2009."""
COLUMNS = 240
FLOOR_DB = -90.0


class BandDecay(Value):
    """The time in which an octave band falls by 60 dB; None if it does not fall far enough to be measured."""

    hz: float
    seconds: float | None


def decay_by_band(samples: Samples, rate_hz: int) -> tuple[BandDecay, ...]:
    """The decay of each octave of an impulse response of shape (sides, frames), all sides together."""
    start = int(np.argmax(np.abs(samples).max(axis=0) > 0.0))
    sound = samples[:, start:].astype(np.float64)
    return tuple(BandDecay(hz=hz, seconds=_decay_s(_octave(sound, hz, rate_hz), rate_hz)) for hz in BANDS_HZ)


def _octave(sound: Floats, hz: float, rate_hz: int) -> Floats:
    """Filtered forwards and backwards, so that the filter's own ringing does not lengthen the result."""
    high = min(hz * math.sqrt(2.0), 0.49 * rate_hz)
    sections = scipy.signal.butter(3, (hz / math.sqrt(2.0), high), "bandpass", fs=rate_hz, output="sos")
    ringing = min(sound.shape[1] - 1, 4096)
    return np.asarray(scipy.signal.sosfiltfilt(sections, sound, axis=1, padlen=max(0, ringing)), np.float64)


def _decay_s(band: Floats, rate_hz: int) -> float | None:
    """The decay time by backward integration (M. R. Schroeder, "New method of measuring reverberation time", JASA 37,
    1965).
    """
    left = np.cumsum(np.sum(band**2, axis=0)[::-1])[::-1]
    if left[0] <= 0.0:
        return None
    fallen = 10.0 * np.log10(np.maximum(left / left[0], 1e-30))
    first, last = int(np.argmax(fallen <= FROM_DB)), int(np.argmax(fallen <= TO_DB))
    if last <= first:
        return None
    slope = np.polyfit(np.arange(first, last) / rate_hz, fallen[first:last], 1)[0] if last - first > 8 else 0.0
    return float(-60.0 / slope) if slope < 0.0 else None


def outline_db(samples: Samples) -> tuple[tuple[float, ...], ...]:
    """The highest level in each column of an impulse response, for two sides, in dB relative to its peak."""
    sides = samples if len(samples) < 4 else np.maximum(np.abs(samples[:2]), np.abs(samples[2:]))
    top = float(np.abs(sides).max(initial=0.0)) or 1.0
    columns = np.array_split(np.abs(sides) / top, min(COLUMNS, sides.shape[1]), axis=1)
    peaks = np.array([part.max(axis=1) for part in columns]).T
    return tuple(
        tuple(float(v) for v in np.round(20.0 * np.log10(np.maximum(side, 10 ** (FLOOR_DB / 20))), 1)) for side in peaks
    )
