"""How far two recordings correlate, all frequencies given the same weight: high for two microphones of one strike."""

from pathlib import Path

import numpy as np
import soundfile

from drumcore.arrays import Floats

BEFORE_S, LASTS_S, REACH_S = 0.003, 0.090, 0.030
LOWEST_HZ, HIGHEST_HZ = 150.0, 10_000.0
HEARD = 10.0 ** (-50.0 / 20.0)
"""Frequencies more than 50 dB under the strongest of a recording say nothing."""

COPIED = 0.9995
"""Correlation at lag 0, all frequencies as they are, from which two recordings are one."""


def correlation_peak(a: Floats, b: Floats, rate_hz: int) -> float:
    """The highest peak, 0 to 1, of the correlation of two recordings within ±30 ms, every frequency between 150 Hz and
    10 kHz with the weight 1 (the phase transform of Knapp and Carter, 1976). Shape of each: (frames,). 0 for near-copies
    of one recording, which are no microphones.
    """
    frames = min(len(a), len(b))
    if frames < 64 or _are_copies(a[:frames], b[:frames]):
        return 0.0
    fading = frames // 3
    window = np.ones(frames)
    window[frames - fading :] = 0.5 + 0.5 * np.cos(np.pi * np.arange(fading) / fading)
    size = 1 << (2 * frames - 1).bit_length()
    first, second = (np.fft.rfft(sound[:frames] * window, size) for sound in (a, b))
    hz = np.fft.rfftfreq(size, 1.0 / rate_hz)
    clear = (hz > LOWEST_HZ) & (hz < HIGHEST_HZ)
    for spectrum in (first, second):
        clear &= np.abs(spectrum) > HEARD * np.abs(spectrum).max()
    if not clear.any():
        return 0.0
    cross = np.where(clear, first * np.conj(second), 0.0)
    cross /= np.maximum(np.abs(cross), 1e-30)
    lags = np.abs(np.fft.irfft(cross, size)) * size / 2.0 / int(clear.sum())
    reach = round(REACH_S * rate_hz)
    return min(1.0, float(max(lags[: reach + 1].max(), lags[-reach:].max())))


def _are_copies(a: Floats, b: Floats) -> bool:
    """Whether one is the other at another level or polarity."""
    size = float(np.sqrt((a @ a) * (b @ b)))
    return size == 0.0 or abs(float(a @ b)) >= COPIED * size


def opening_of(path: Path, start_ms: float) -> tuple[Floats, int]:
    """The 90 ms from just before a start, both sides added, shape (frames,), and the rate in Hz."""
    with soundfile.SoundFile(path) as file:
        rate = int(file.samplerate)
        file.seek(min(file.frames, max(0, round((start_ms / 1000.0 - BEFORE_S) * rate))))
        return np.asarray(file.read(round(LASTS_S * rate), dtype="float64", always_2d=True).mean(axis=1)), rate
