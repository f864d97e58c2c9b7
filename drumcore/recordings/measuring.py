"""Measuring one recording: where the strike starts, how loud it is, what is wrong with it.

The rules are the design's own ("Measuring a recording"). Everything is worked out from one pass of block peaks, so
that measuring costs little more than decoding.
"""

import itertools
import math
from dataclasses import dataclass

import numpy as np

from drumcore.arrays import Floats, Samples
from drumcore.recordings.loudness import decibels, strike_level_db
from drumcore.recordings.reading import Audio

BLOCK = 32
CLIP = 10.0 ** (-0.1 / 20.0)


@dataclass(frozen=True)
class Measurements:
    """What was measured of one recording. Times in ms from the start of the file, levels in dB."""

    level_db: float
    peak_dbfs: float
    start_ms: float
    length_ms: float
    noise_dbfs: float
    clipped_runs: int
    dc_offset: float
    centroid_hz: float
    first_sign: int
    shape: str
    """The picture of the recording: 96 peaks of equal stretches, one letter each, "0" silence to "o" full scale."""


def measure(audio: Audio) -> Measurements:
    samples, rate = audio.samples, audio.rate_hz
    peaks = block_peaks(samples)
    peak = float(peaks.max(initial=0.0))
    start, noise = find_start(samples, peaks, rate)
    return Measurements(
        level_db=round(strike_level_db(samples, rate, start), 3),
        peak_dbfs=round(decibels(peak), 3),
        start_ms=round(start * 1000.0 / rate, 4),
        length_ms=round(_end_frame(peaks, noise, start, len(samples)) * 1000.0 / rate, 2),
        noise_dbfs=round(decibels(noise), 1),
        clipped_runs=clipped_runs(samples) if peak >= CLIP else 0,
        dc_offset=round(float(np.abs(samples.mean(axis=0, dtype=np.float64)).max()), 6),
        centroid_hz=round(_centroid_hz(samples, rate, start), 1),
        first_sign=_first_sign(samples, rate, start),
        shape=_shape(peaks),
    )


def block_peaks(samples: Samples) -> Samples:
    """Largest absolute sample of each block of 32 frames, over both sides; shape (ceil(frames / 32),)."""
    frames, width = samples.shape
    whole = frames // BLOCK
    blocks = samples[: whole * BLOCK].reshape(whole, BLOCK * width)
    peaks = np.maximum(blocks.max(axis=1), -blocks.min(axis=1)) if whole else np.zeros(0, np.float32)
    if frames % BLOCK:
        peaks = np.append(peaks, np.abs(samples[whole * BLOCK :]).max())
    return peaks.astype(np.float32, copy=False)


def find_start(samples: Samples, peaks: Samples, rate_hz: int) -> tuple[int, float]:
    """The first frame of the strike, and the noise floor (linear RMS).

    The envelope's first crossing of max(peak − 30 dB, noise + 12 dB), walked back to where it falls under
    max(peak − 50 dB, noise + 6 dB). The envelope is the block peak on the way up and the block RMS on the way back:
    the peaks of plain noise lie more than 6 dB over its RMS and would never let it end. The noise floor is the median
    of 10 ms RMS windows before the start, or of the last tenth of the file when nothing stands before.
    """
    peak = float(peaks.max(initial=0.0))
    if peak == 0.0:
        return 0, 0.0
    guess = int(np.argmax(peaks >= peak * 10.0 ** (-30 / 20))) * BLOCK
    noise = _noise_floor(samples, rate_hz, guess)
    high = max(peak * 10.0 ** (-30 / 20), noise * 10.0 ** (12 / 20))
    low = max(peak * 10.0 ** (-50 / 20), noise * 10.0 ** (6 / 20))
    if high > peak:
        return 0, noise
    crossing = int(np.argmax(peaks >= high))
    power = np.mean(np.square(samples[: crossing * BLOCK]).reshape(crossing, BLOCK * samples.shape[1]), axis=1)
    quiet = np.flatnonzero(power < low * low)
    first_block = int(quiet[-1]) + 1 if len(quiet) else 0
    stretch = np.abs(samples[first_block * BLOCK : (crossing + 1) * BLOCK]).max(axis=1)
    return first_block * BLOCK + int(np.argmax(stretch >= low)), noise


def _noise_floor(samples: Samples, rate_hz: int, start: int) -> float:
    window = round(0.010 * rate_hz)
    before = samples[: max(0, start - BLOCK)]
    part = before if len(before) >= window else samples[-max(window, len(samples) // 10) :]
    count = len(part) // window
    if count == 0:
        return 0.0
    part = part[: count * window].reshape(count, -1)
    return float(np.median(np.sqrt(np.mean(np.square(part), axis=1))))


def _end_frame(peaks: Samples, noise: float, start: int, frames: int) -> int:
    """The frame after which nothing rises above twice the noise floor or −90 dBFS."""
    loud = np.flatnonzero(peaks > max(noise * 2.0, 10.0 ** (-90 / 20)))
    return min(frames, (int(loud[-1]) + 1) * BLOCK) if len(loud) else start


def clipped_runs(samples: Samples) -> int:
    """Runs of three or more equal samples at or above −0.1 dBFS, over both sides."""
    runs = 0
    for side in samples.T:
        held = (np.abs(side[1:]) >= CLIP) & (side[1:] == side[:-1])
        pairs = np.diff(np.concatenate([[0], held.astype(np.int8), [0]]))
        lengths = np.flatnonzero(pairs == -1) - np.flatnonzero(pairs == 1)
        runs += int(np.count_nonzero(lengths >= 2))
    return runs


def _centroid_hz(samples: Samples, rate_hz: int, start: int) -> float:
    """Spectral centroid of the 85 ms after the start, weighted by power."""
    size = 4096
    part = samples[start : start + size, 0]
    if len(part) < 64:
        return 0.0
    spectrum = np.abs(np.fft.rfft(part * np.hanning(len(part)), size)) ** 2
    total = float(spectrum.sum())
    return float(np.dot(spectrum, np.arange(len(spectrum)))) / total * rate_hz / size if total else 0.0


def _first_sign(samples: Samples, rate_hz: int, start: int) -> int:
    """Sign of the first excursion over half the peak of the strike's first millisecond: 1, −1, or 0 for silence."""
    part = samples[start : start + max(1, rate_hz // 1000), 0]
    size = np.abs(part)
    if len(part) == 0 or float(size.max()) == 0.0:
        return 0
    return int(np.sign(part[int(np.argmax(size > size.max() / 2))]))


def _shape(peaks: Samples) -> str:
    edges = np.linspace(0, len(peaks), 97).astype(int)
    loudest = [float(peaks[a : max(b, a + 1)].max(initial=0.0)) for a, b in itertools.pairwise(edges)]
    return "".join(chr(48 + round(min(1.0, value) ** 0.5 * 63)) for value in loudest)


def delay_and_polarity(reference: Floats, other: Floats, rate_hz: int) -> tuple[float, int, float]:
    """Delay of `other` behind `reference` in ms, polarity (+1 or −1) and the correlation's size (0..1).

    Peak of the cross-correlation within ±30 ms, of two mono arrays cut at the same place.
    """
    reach = round(0.030 * rate_hz)
    n = 1 << (len(reference) + len(other) - 1).bit_length()
    product = np.fft.irfft(np.fft.rfft(other, n) * np.conj(np.fft.rfft(reference, n)), n)
    lags = np.concatenate([product[-reach:], product[: reach + 1]])
    best = int(np.argmax(np.abs(lags)))
    size = math.sqrt(float(np.dot(reference, reference)) * float(np.dot(other, other)))
    if size == 0.0:
        return 0.0, 0, 0.0
    return (best - reach) * 1000.0 / rate_hz, int(np.sign(lags[best])), abs(float(lags[best])) / size
