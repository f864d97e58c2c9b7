"""Compares two microphones' recordings of one strike: their delay and relative polarity.

Our own rule. Between the two lies a response h, other = h * reference. Dividing their spectra finds h and cancels the
drum's own periodicity; in a plain cross-correlation the drum's periods give peaks of nearly equal height. The direct
sound is the tallest peak of h: its position is the delay, its sign the polarity. Two windows are used, the strike with
its ringing and the attack alone. There is an answer if both agree and no other peak is nearly as tall; otherwise the
answer is unknown. `zesty microphones` prints how often that is right.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from drumcore.arrays import Floats
from drumcore.kit.values import ReferenceComparison

COMPARING = 1
"""Grows when something is compared otherwise; what was found by an older rule is found anew."""
BEFORE_S = 0.002
OPENING_S = 0.090
"""What is compared begins so long before a take's start and lasts so long from there."""
REACH_S = 0.030
SAME_MS = 0.3
"""How far apart two windows may find the delay and still agree."""
SURE = 0.15
"""How much taller than any other peak the direct sound stands at least, as a share of it."""
LOWEST_HZ = 40.0
PEAK_S = 0.0005
UNKNOWN = ReferenceComparison()
ITSELF = ReferenceComparison(polarity=1, sure=1.0)
"""How the reference stands against itself: of what is measured, nothing is as sure."""
Spectrum = np.ndarray[tuple[int, ...], np.dtype[np.complex128]]


@dataclass(frozen=True)
class _Window:
    """One analysis window. Frequencies where the reference is below the share `floor` of its strongest one are ignored."""

    reference_s: float
    other_s: float
    floor: float


WINDOWS = (_Window(0.060, 0.090, 1e-4), _Window(0.010, 0.040, 1e-5))


@lru_cache(maxsize=32)
def _fade(frames: int, fading: int) -> Floats:
    """Ones, ending in a half-cosine fade to zero."""
    shape = np.ones(frames)
    shape[frames - fading :] = 0.5 + 0.5 * np.cos(np.pi * np.arange(fading) / fading)
    return shape


@lru_cache(maxsize=32)
def _lows_out(size: int, rate_hz: int) -> Floats:
    """A spectral gain that falls below 40 Hz, where rumble is."""
    ratio = (np.fft.rfftfreq(size, 1.0 / rate_hz) / LOWEST_HZ) ** 2
    return np.asarray(ratio / (1.0 + ratio))


class Opening:
    """The start of a strike in its reference microphone, for comparison with others. `sound` is mono, from `BEFORE_S`
    before the take's start, at most `OPENING_S` long.
    """

    def __init__(self, sound: Floats, rate_hz: int) -> None:
        self.rate_hz = rate_hz
        self._filters = [self._filter(window, sound) for window in WINDOWS]

    def _filter(self, window: _Window, sound: Floats) -> tuple[int, Spectrum] | None:
        """The spectrum to multiply by in order to divide by the reference; None if the reference is silent."""
        frames = round(window.reference_s * self.rate_hz)
        size = 1 << (frames + round(window.other_s * self.rate_hz)).bit_length()
        spectrum = np.fft.rfft(_part(sound, frames) * _fade(frames, frames // 2), size)
        power = spectrum.real**2 + spectrum.imag**2
        most = float(power.max())
        if most == 0.0:
            return None
        weight = _lows_out(size, self.rate_hz) / (power + window.floor * most)
        return size, np.asarray(np.conj(spectrum) * weight, dtype=np.complex128)

    def against(self, other: Floats) -> ReferenceComparison:
        """Compares one side of another recording of the strike, cut at the same place, with the reference."""
        found = []
        for window, divide in zip(WINDOWS, self._filters, strict=True):
            if divide is None:
                return UNKNOWN
            size, factor = divide
            frames = round(window.other_s * self.rate_hz)
            heard = np.fft.rfft(_part(other, frames) * _fade(frames, frames // 3), size)
            found.append(self._direct(np.fft.irfft(heard * factor, size)))
        (delay, sign, sure), (delay_too, sign_too, sure_too) = found
        if sign != sign_too or abs(delay - delay_too) > SAME_MS or min(sure, sure_too) < SURE:
            return UNKNOWN
        return ReferenceComparison(
            delay_ms=round(delay_too, 3), polarity=sign, sure=min(0.999, round(min(sure, sure_too), 3))
        )

    def _direct(self, response: Floats) -> tuple[float, int, float]:
        """Delay in ms and sign of the tallest peak, and its ratio to the next peak or to one of opposite sign."""
        reach, near = round(REACH_S * self.rate_hz), round(PEAK_S * self.rate_hz)
        lags = np.concatenate([response[-reach:], response[: reach + 1]])
        size = np.abs(lags)
        best = int(np.argmax(size))
        if size[best] == 0.0:
            return 0.0, 0, 0.0
        sign = int(np.sign(lags[best]))
        opposed = float((lags * -sign).max())
        size_away = size.copy()
        size_away[max(0, best - near) : best + near + 1] = 0.0
        next_to_it = max(opposed, float(size_away.max()))
        return (best - reach) * 1000.0 / self.rate_hz, sign, 1.0 - next_to_it / float(size[best])


def _part(sound: Floats, frames: int) -> Floats:
    part = sound[:frames]
    return part if len(part) == frames else np.concatenate([part, np.zeros(frames - len(part))])


def compared(sounds: Sequence[Floats], rate_hz: int) -> tuple[tuple[ReferenceComparison, ...], ...]:
    """Recordings of one strike, each of shape (frames, sides), compared with the louder side of the first, whose own
    result is `ITSELF`.
    """
    louder = int(np.argmax((sounds[0] ** 2).sum(axis=0)))
    opening = Opening(sounds[0][:, louder], rate_hz)
    return tuple(
        tuple(
            ITSELF if number == 0 and side == louder else opening.against(sound[:, side])
            for side in range(sound.shape[1])
        )
        for number, sound in enumerate(sounds)
    )
