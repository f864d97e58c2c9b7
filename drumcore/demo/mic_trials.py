"""Synthetic strikes recorded by two microphones with known delay and polarity, to measure how reliably these are
detected.
"""

from collections.abc import Iterator

import numpy as np
from scipy.signal import butter, lfilter

from drumcore.arrays import Floats
from drumcore.demo.start_trials import DRUMS, SECONDS, shaped
from drumcore.recordings.mic_comparison import BEFORE_S, OPENING_S, compared
from drumcore.value import Value

DIRECT_DB = (12, 6, 0, -6, -12)
"""Direct sound over reverberation at the other microphone."""
SOFT_TOM = "soft tom"
KINDS = (*DRUMS[:2], SOFT_TOM, *DRUMS[2:])
WITHIN_MS = 0.5
LEAD_S = 0.03
DELAYS_MS = {"close": (-1.0, 3.0), "overhead": (1.5, 9.0), "room": (6.0, 20.0)}
Generator = np.random.Generator


class MicFigures(Value):
    """Results for one kind of strike at one distance: trials, answers given, wrong signs and wrong delays among them."""

    kind: str
    direct_db: int
    tried: int
    answered: int
    wrong: int
    wrong_delay: int


def _soft_tom(rng: Generator, rate: int) -> Floats:
    """A soft tom strike: with hardly any attack, each period of its tone looks like the next."""
    n = round(SECONDS * rate)
    t = np.arange(n) / rate - LEAD_S
    after = np.maximum(t, 0.0)
    body = np.sin(2 * np.pi * rng.uniform(80, 180) * after * (1 + 0.1 * np.exp(-after / 0.05)) + 0.3)
    sound = body * np.exp(-after / 0.25) * (1 - np.exp(-after / rng.uniform(0.001, 0.004)))
    sound += 0.01 * rng.standard_normal(n) * np.exp(-after / 0.004)
    return np.asarray(np.where(t >= 0, sound, 0.0) / np.abs(sound).max())


def _coloured(rng: Generator, sound: Floats, rate: int) -> Floats:
    """The sound coloured like a microphone's: less below 20 to 70 Hz and above 3 to 15 kHz."""
    lows = butter(1, rng.uniform(20, 70), "high", fs=rate)
    highs = butter(1, rng.uniform(3000, 15000), "low", fs=rate)
    return np.asarray(lfilter(*highs, lfilter(*lows, sound)))


def _later(sound: Floats, frames: float) -> Floats:
    """The sound delayed by a fractional number of frames."""
    size = 2 * len(sound)
    turn = np.exp(-2j * np.pi * np.fft.rfftfreq(size) * frames)
    return np.asarray(np.fft.irfft(np.fft.rfft(sound, size) * turn, size)[: len(sound)])


def _room(rng: Generator, rate: int, direct_db: float) -> Floats:
    """A room response: direct sound at 1, then reverberation of 0.2 to 0.9 s at `-direct_db`, starting after 0.5 to 6
    ms.
    """
    n = round(0.5 * rate)
    tail = rng.standard_normal(n) * 10.0 ** (-3.0 * np.arange(n) / rate / rng.uniform(0.2, 0.9))
    b, a = butter(1, rng.uniform(3000, 9000), "low", fs=rate)
    tail = lfilter(b, a, np.concatenate([np.zeros(round(rng.uniform(0.0005, 0.006) * rate)), tail]))
    tail /= np.sqrt((tail**2).sum()) * 10.0 ** (direct_db / 20.0)
    tail[0] += 1.0
    return np.asarray(tail)


def _noisy(rng: Generator, sound: Floats, under_db: float) -> Floats:
    return np.asarray(sound / np.abs(sound).max() + 0.3 * 10.0 ** (-under_db / 20.0) * rng.standard_normal(len(sound)))


def pair(rng: Generator, kind: str, direct_db: float, rate: int) -> tuple[Floats, Floats, int, float]:
    """One strike in two microphones, with the second one's polarity and its delay in ms."""
    dry = _soft_tom(rng, rate) if kind == SOFT_TOM else shaped(rng, rate, kind, LEAD_S).sound
    near = _coloured(rng, dry, rate)
    sign = int(rng.choice([-1, 1]))
    delay_ms = float(rng.uniform(*DELAYS_MS[str(rng.choice(list(DELAYS_MS)))]))
    size = 2 * len(dry)
    far = np.fft.irfft(np.fft.rfft(dry, size) * np.fft.rfft(_room(rng, rate, direct_db), size), size)[: len(dry)]
    far = sign * _coloured(rng, _later(far, delay_ms * rate / 1000.0), rate)
    return _noisy(rng, near, rng.uniform(45, 70)), _noisy(rng, far, rng.uniform(40, 65)), sign, delay_ms


def _trials(kind: str, direct_db: int, each: int, seed: int) -> Iterator[tuple[bool, bool, bool]]:
    """For each trial: was there an answer, was the sign wrong, was the delay wrong."""
    for number in range(each):
        rng = np.random.default_rng([seed, KINDS.index(kind), direct_db + 100, number])
        rate = int(rng.choice([44_100, 48_000]))
        near, far, sign, delay_ms = pair(rng, kind, direct_db, rate)
        first = round((LEAD_S - BEFORE_S) * rate)
        openings = [sound[first : first + round(OPENING_S * rate), None] for sound in (near, far)]
        found = compared(openings, rate)[1][0]
        wrong_delay = abs(found.delay_ms - delay_ms) > WITHIN_MS
        yield found.polarity != 0, found.polarity == -sign, bool(found.polarity and wrong_delay)


def mic_trials(each: int = 60, seed: int = 1) -> tuple[MicFigures, ...]:
    """Runs `each` trials of every kind at every distance, from a seed."""
    figures = []
    for kind in KINDS:
        for direct_db in DIRECT_DB:
            answered, wrong, delays = (
                sum(column) for column in zip(*_trials(kind, direct_db, each, seed), strict=True)
            )
            figures.append(
                MicFigures(
                    kind=kind, direct_db=direct_db, tried=each, answered=answered, wrong=wrong, wrong_delay=delays
                )
            )
    return tuple(figures)
