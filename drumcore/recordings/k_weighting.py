"""K-weighting: the loudness filter of ITU-R BS.1770-5 at any sample rate."""

import functools
import math

import numpy as np
import scipy

from drumcore.arrays import Floats, Samples

FLOOR_DB = -120.0


@functools.cache
def k_weighting(rate_hz: int) -> Floats:
    """The two filters of BS.1770-5 as second-order sections, shape (2, 6).

    The standard tabulates them at 48 kHz. These analogue prototypes (a high shelf at 1,682 Hz, +4 dB, then a high-pass
    at 38 Hz), discretised by the bilinear transform, give that table at 48 kHz and the same response at other rates.
    """
    k = math.tan(math.pi * 1681.974450955533 / rate_hz)
    q, gain = 0.7071752369554196, 10.0 ** (3.999843853973347 / 20.0)
    band = gain**0.4996667741545416
    a0 = 1.0 + k / q + k * k
    shelf = [
        (gain + band * k / q + k * k) / a0,
        2.0 * (k * k - gain) / a0,
        (gain - band * k / q + k * k) / a0,
        1.0,
        2.0 * (k * k - 1.0) / a0,
        (1.0 - k / q + k * k) / a0,
    ]
    k = math.tan(math.pi * 38.13547087602444 / rate_hz)
    q = 0.5003270373238773
    a0 = 1.0 + k / q + k * k
    high_pass = [1.0, -2.0, 1.0, 1.0, 2.0 * (k * k - 1.0) / a0, (1.0 - k / q + k * k) / a0]
    return np.array([shelf, high_pass])


@functools.cache
def _in_one_pass(rate_hz: int) -> tuple[Floats, Floats]:
    """Both filters multiplied into one of fourth order, which takes half the time and agrees to 1e-9."""
    shelf, high_pass = k_weighting(rate_hz)
    return np.convolve(shelf[:3], high_pass[:3]), np.convolve(shelf[3:], high_pass[3:])


def strike_level_db(part: Samples, rate_hz: int, window_s: float = 0.3) -> float:
    """Mean square in dB of the K-weighted signal over the first `window_s` of `part`, summed over sides. `part` begins
    at the strike; if it is shorter than the window, silence follows. Source: ITU-R BS.1770-5, without its −0.691
    offset.
    """
    window = round(window_s * rate_hz)
    if len(part) == 0:
        return FLOOR_DB
    weighted = scipy.signal.lfilter(*_in_one_pass(rate_hz), part[:window], axis=0)
    # Not a dot product, which would start threads that slow down the other measuring workers.
    return decibels_of_power(float(np.square(weighted).sum()) / window)


def decibels_of_power(power: float) -> float:
    return max(FLOOR_DB, 10.0 * math.log10(power)) if power > 0.0 else FLOOR_DB


def decibels(amplitude: float) -> float:
    return max(FLOOR_DB, 20.0 * math.log10(amplitude)) if amplitude > 0.0 else FLOOR_DB
