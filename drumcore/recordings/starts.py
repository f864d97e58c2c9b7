"""Finds where the strike starts in a recording, despite noise, rumble, hum, offsets and clicks.

The rule comes from the design ("Measuring a recording", Start). Whatever is removed here is removed for detection only.
"""

import functools

import numpy as np
import scipy
from numpy.typing import NDArray

from drumcore.arrays import Floats
from drumcore.recordings.audio_files import Audio

WINDOW = 32
"""Frames of the envelope."""
LOWEST_HZ = 30.0
CROSSES_DB, BEGINS_DB, SWELL_DB = -30.0, -50.0, -24.0
OVER_FLOOR_DB, LEAVES_FLOOR_DB = 12.0, 6.0
CLICK_S, QUIET_S = 0.002, 0.005
SWELL_S = 0.003
FLOOR_WINDOW_S = 0.010
HARMLESS_DB = -62.0
"""A floor so far under the peak moves no start: it is looked at once."""
TAIL_S = 0.25
AFTER_S, LEAST_S = 0.010, 0.050
MOST_CLICKS = 8
MAINS_HZ = (50.0, 60.0)
HARMONICS = 8
HUM_SHARE = 0.5
"""Of the power before the strike: less than this is no hum."""


def _gain(db: float) -> float:
    return float(10.0 ** (db / 20.0))


def find_start(audio: Audio, loudest: int) -> tuple[int, float]:
    """The first frame of the strike, and the noise floor (linear RMS). `loudest` is a frame by which the file has
    reached its peak.

    For detection only, DC, everything below 30 Hz and steady hum are removed. The envelope is the RMS over 32 frames,
    both for the crossing and for the way back, corrected by half a window at the end. The floor is the tenth percentile
    of 10 ms windows, computed again from those before the start once it is found. The start is the first crossing of
    max(peak − 30 dB, floor + 12 dB), followed back to where the envelope falls below max(peak − 50 dB, floor + 6 dB). A
    click that ends within 2 ms and is followed by 5 ms of quiet is skipped. If the way back is longer than 3 ms, the
    sound swells (or noise, a pedal or a stick in the air precedes it), and it starts where its envelope passes peak −
    24 dB.
    """
    rate = audio.rate_hz
    sound = _up_to_the_strike(audio, loudest)
    tail = _tail(audio, len(sound))
    found: tuple[int, float] | None = None
    for _ in range(MOST_CLICKS):
        start, floor, crossing = _start_in(sound, tail, rate)
        found = found or (start, floor)
        if crossing is None:
            break
        if not _is_click(sound, crossing, rate):
            return start, floor
        _without_click(sound, crossing, rate)
    return found or (0, 0.0)


def _up_to_the_strike(audio: Audio, loudest: int) -> Floats:
    """A copy of the file up to shortly after its peak, shape (frames, sides)."""
    end = max(loudest + round(AFTER_S * audio.rate_hz), round(LEAST_S * audio.rate_hz))
    return audio.part(0, end).astype(np.float64)


@functools.lru_cache(maxsize=8)
def _high_pass(rate_hz: int) -> tuple[Floats, Floats]:
    sections = scipy.signal.ellip(5, 0.5, 45.0, 1.5 * LOWEST_HZ, "highpass", fs=rate_hz, output="sos")
    return sections, scipy.signal.sosfilt_zi(sections)


def _heard(sound: Floats, rate_hz: int) -> Floats:
    """The power of a sound without DC and below 30 Hz, averaged over sides, shape (frames,). The filter starts as if
    the first value had always been there, so it does not ring.
    """
    sections, settled = _high_pass(rate_hz)
    sides = np.ascontiguousarray(sound.T)
    out, _ = scipy.signal.sosfilt(sections, sides, axis=1, zi=settled[:, None, :] * sides[:, :1])
    return np.asarray(np.square(out).mean(axis=0))


def _tail(audio: Audio, after: int) -> Floats:
    """The power of 10 ms windows at the end of the file, each about its own mean, where the strike is no longer heard."""
    size = round(FLOOR_WINDOW_S * audio.rate_hz)
    count = min(audio.frames - after, round(TAIL_S * audio.rate_hz)) // size
    if count <= 0:
        return np.zeros(0)
    part = audio.part(audio.frames - count * size, audio.frames).reshape(count, size, audio.width)
    apart = part - part.mean(axis=1, keepdims=True)
    # Five times faster than `var`; about its own mean, a window is small enough for single precision.
    return np.asarray(np.einsum("ijk,ijk->i", apart, apart) / (size * audio.width), dtype=np.float64)


def _windows(power: Floats, rate_hz: int) -> Floats:
    """The mean power of the complete 10 ms windows of a signal."""
    size = round(FLOOR_WINDOW_S * rate_hz)
    count = len(power) // size
    return np.asarray(power[: count * size].reshape(count, size).mean(axis=1))


def _envelope(power: Floats) -> Floats:
    """The RMS over the 32 frames that follow each frame."""
    if len(power) < WINDOW:
        return np.asarray(np.sqrt(power))
    sums = np.concatenate([[0.0], np.cumsum(power)])
    return np.asarray(np.sqrt(np.maximum(sums[WINDOW:] - sums[:-WINDOW], 0.0) / WINDOW))


def _start_in(sound: Floats, tail: Floats, rate_hz: int) -> tuple[int, float, int | None]:
    """The start, the floor, and where the envelope crossed; None if it never did."""
    power = _heard(sound, rate_hz)
    envelope = _envelope(power)
    own = _windows(power[: int(np.argmax(envelope)) + 1], rate_hz)
    start, floor, crossing = _crossing(envelope, _floor(np.concatenate([own, tail])), rate_hz)
    before = max(0, start - WINDOW)
    peak = float(envelope.max())
    if crossing is None or before < 2 * round(FLOOR_WINDOW_S * rate_hz) or floor < peak * _gain(HARMLESS_DB):
        return start, floor, crossing
    quieter = _without_hum(sound, before, rate_hz)
    if quieter is not None:
        power = _heard(quieter, rate_hz)
        envelope = _envelope(power)
    here = _crossing(envelope, _floor(_windows(power[:before], rate_hz)), rate_hz)
    return (start, floor, crossing) if here[2] is None else here


def _floor(windows: Floats) -> float:
    """The tenth percentile of the windows' power, as an RMS."""
    if not len(windows):
        return 0.0
    place = (len(windows) - 1) / 10.0
    below = int(place)
    two = np.partition(windows, (below, min(below + 1, len(windows) - 1)))[below : below + 2]
    return float(np.sqrt(two[0] + (place - below) * (two[-1] - two[0])))


def _crossing(envelope: Floats, floor: float, rate_hz: int) -> tuple[int, float, int | None]:
    """The first crossing, and the way back from it."""
    peak = float(envelope.max(initial=0.0))
    high = max(peak * _gain(CROSSES_DB), floor * _gain(OVER_FLOOR_DB))
    low = max(peak * _gain(BEGINS_DB), floor * _gain(LEAVES_FLOOR_DB))
    if peak == 0.0 or high > peak:
        return 0, floor, None
    crossing = int(np.argmax(envelope >= high))
    begin = _after_last(envelope[:crossing] < low)
    swollen = max(high, peak * _gain(SWELL_DB))
    passes = crossing + int(np.argmax(envelope[crossing:] >= swollen))
    if passes - begin > SWELL_S * rate_hz:
        begin = _after_last(envelope[:passes] < swollen)
    return (begin + WINDOW // 2 if begin else 0), floor, crossing


def _after_last(quiet: NDArray[np.bool_]) -> int:
    there = np.flatnonzero(quiet)
    return int(there[-1]) + 1 if len(there) else 0


def _is_click(sound: Floats, crossing: int, rate_hz: int) -> bool:
    """Whether the sound that crosses ends within 2 ms and is quiet for 5 ms more. It is judged in the unfiltered sound,
    because the 30 Hz filter gives a click a tail.
    """
    edge = crossing + WINDOW
    first, last = edge + round(CLICK_S * rate_hz), edge + round((CLICK_S + QUIET_S) * rate_hz)
    if last > len(sound):
        return False
    level = sound[max(0, crossing - round(QUIET_S * rate_hz)) : max(1, crossing)].mean(axis=0)
    during = np.abs(sound[crossing:first] - level).max()
    return bool(np.sqrt(np.mean(np.square(sound[first:last] - level))) < during * _gain(CROSSES_DB) * 2)


def _without_click(sound: Floats, crossing: int, rate_hz: int) -> None:
    """The sound with a straight line in place of the click."""
    first, last = max(0, crossing - WINDOW), min(len(sound), crossing + WINDOW + round(CLICK_S * rate_hz))
    share = np.linspace(0.0, 1.0, last - first)[:, None]
    sound[first:last] = sound[first] * (1.0 - share) + sound[last - 1] * share


def _without_hum(sound: Floats, before: int, rate_hz: int) -> Floats | None:
    """The sound without the mains hum that precedes the strike; None if what precedes it is not mostly hum."""
    if before < 2.5 * rate_hz / MAINS_HZ[0]:
        return None
    step = max(1, before // 1500)
    used = sound[:before:step]
    power = float(np.square(used - used.mean(axis=0)).sum())
    for hz in MAINS_HZ:
        waves = _waves(hz, np.arange(0, before, step, dtype=np.float64), rate_hz)
        size, *_ = np.linalg.lstsq(np.concatenate([waves, np.ones((len(waves), 1))], axis=1), used, rcond=None)
        left = float(np.square(used - waves @ size[:-1] - size[-1]).sum())
        if power > 0.0 and left < (1.0 - HUM_SHARE) * power:
            return np.asarray(sound - _waves(hz, np.arange(len(sound), dtype=np.float64), rate_hz) @ size[:-1])
    return None


def _waves(hz: float, frames: Floats, rate_hz: int) -> Floats:
    """The mains frequency and its harmonics at some frames, both phases of each; shape (frames, waves)."""
    turns = 2.0 * np.pi * hz / rate_hz * np.outer(frames, np.arange(1, HARMONICS + 1))
    return np.concatenate([np.sin(turns), np.cos(turns)], axis=1)
