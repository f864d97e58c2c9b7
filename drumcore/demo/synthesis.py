"""Synthesised drum sounds, built band by band: ringing tones, shimmering metal, rattling noise.

A `Voice` says how strong each frequency band is and how fast it decays at full strength, and what softer strikes lose.
`strike` makes one dry strike of it, float64 of shape (frames,), peaking near 1 at full strength. `strength` runs from 0
(barely touched) to 1.
"""

import functools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft, next_fast_len, rfft, rfftfreq
from scipy.ndimage import uniform_filter1d

from drumcore.arrays import Floats

RATE_HZ = 48000
DYNAMIC_RANGE_DB = 38.0
EDGES_HZ = (40.0, 100.0, 200.0, 500.0, 1000.0, 2000.0, 5000.0, 10_000.0, 18_000.0)
BANDS = tuple(pairwise(EDGES_HZ))
"""The bands in which real drums were measured ("The demo", "How it has to sound"); everything here is said in them."""
PARTS = tuple(
    ((low, high),)
    if high <= 200.0
    else tuple((low * (high / low) ** (k / 3.0), low * (high / low) ** ((k + 1) / 3.0)) for k in range(3))
    for low, high in BANDS
)
NEIGHBOUR = 0.25
OPENING_S = 0.05
FALL = math.log(10.0)
"""Time constants of an exponential decay in which it falls by 20 dB."""
EDGE_OCTAVES = 0.1
STEADY = 0.85
LINE = 0.35
Generator = np.random.Generator
Eight = tuple[float, float, float, float, float, float, float, float]


@dataclass(frozen=True)
class Tone:
    """A mode heard as a pitch: its frequency, and its share of the tonal energy in its band."""

    hz: float
    share: float = 1.0


@dataclass(frozen=True)
class Voice:
    """How a piece sounds when struck hard.

    `levels_db` is the energy of the first 50 ms in each band, `times_ms` the time each band takes to fall by 20 dB,
    `soft_db` each band's extra loss in the softest strike. `tonal` is the tones' share of each band's energy; the rest
    is noise, or for metal (seeded by `casting`) as many lines as a cymbal has modes. `rise_ms` is each band's attack.
    Tones begin `drop` higher than they end and fall within `drop_s`.
    """

    levels_db: Eight
    times_ms: Eight
    seconds: float
    soft_db: Eight = (0.0, 0.0, 0.5, 1.5, 3.0, 7.0, 9.0, 10.0)
    tones: tuple[Tone, ...] = ()
    tonal: Eight = (0.0,) * 8
    casting: int | None = None
    rise_ms: Eight = (0.3,) * 8
    drop: float = 0.0
    drop_s: float = 0.02

    def louder(self, *by_db: float) -> "Voice":
        return replace(self, levels_db=_eight(a + b for a, b in zip(self.levels_db, by_db, strict=True)))

    def longer(self, *by: float) -> "Voice":
        factors = by if len(by) == 8 else by * 8
        return replace(self, times_ms=_eight(a * b for a, b in zip(self.times_ms, factors, strict=True)))


def _eight(values: Iterable[float]) -> Eight:
    a, b, c, d, e, f, g, h = values
    return a, b, c, d, e, f, g, h


def loudness_gain(strength: float) -> float:
    """Linear gain by strength, over the dynamic range of a player's arm."""
    return float(10.0 ** (DYNAMIC_RANGE_DB * (strength - 1.0) / 20.0))


def strike(voice: Voice, strength: float, rng: Generator) -> Floats:
    """Synthesises one strike of a voice."""
    frames = int(voice.seconds * RATE_HZ)
    t = np.arange(frames) / RATE_HZ
    size = next_fast_len(frames, real=True)
    spectrum = _metal(voice.casting, size, rng) if voice.casting is not None else rfft(rng.standard_normal(size))
    glide = _glide(voice, strength, t, rng)
    falls_s = [ms / 1000.0 * (0.85 + 0.15 * strength) * rng.uniform(0.96, 1.04) for ms in voice.times_ms]
    sound = np.zeros(frames)
    for number, (low, high) in enumerate(BANDS):
        level = voice.levels_db[number] - voice.soft_db[number] * (1.0 - strength) + rng.normal(0.0, 0.5)
        rise = 1.0 - np.exp(-t / (voice.rise_ms[number] / 1000.0))
        tones = [tone for tone in voice.tones if low <= tone.hz < high]
        tonal = voice.tonal[number] if tones else 0.0
        if tonal < 1.0:
            parts = PARTS[number]
            for place, part in enumerate(parts):
                noise = irfft(spectrum * _mask(part, size), size)[:frames]
                fading = _fading(t, rise, _fall_s(falls_s, number, place, len(parts)))
                fading *= 10.0 ** (level / 20.0) * math.sqrt((1.0 - tonal) / len(parts))
                fading *= _steadied(noise, part)
                sound += fading
        if tonal:
            ringing = sum(
                math.sqrt(2.0 * tone.share / sum(each.share for each in tones))
                * np.sin(glide * (2.0 * np.pi * tone.hz * rng.uniform(0.997, 1.003)))
                for tone in tones
            )
            sound += 10.0 ** (level / 20.0) * math.sqrt(tonal) * _fading(t, rise, falls_s[number]) * ringing
    return finished(sound, strength)


def _fading(t: Floats, rise: Floats, fall_s: float) -> Floats:
    """An envelope that falls by 20 dB in `fall_s`, with energy 1 in its first 50 ms."""
    envelope = t * (-FALL / fall_s)
    np.exp(envelope, out=envelope)
    envelope *= rise
    envelope /= math.sqrt(float(np.sum(envelope[: int(OPENING_S * RATE_HZ)] ** 2)))
    return np.asarray(envelope)


def _fall_s(falls_s: Sequence[float], number: int, place: int, parts: int) -> float:
    """The decay time of a part of a band, blended towards its neighbours at the band's edges so that no step is
    audible.
    """
    beside = number - 1 if place == 0 else number + 1
    if parts == 1 or 0 < place < parts - 1 or not 0 <= beside < len(falls_s):
        return falls_s[number]
    return float(falls_s[number] ** (1.0 - NEIGHBOUR) * falls_s[beside] ** NEIGHBOUR)


def _glide(voice: Voice, strength: float, t: Floats, rng: Generator) -> Floats:
    """The time axis of tones: it runs faster at first, because a stretched head sounds higher."""
    drop = voice.drop * (0.3 + 0.7 * strength) * rng.uniform(0.93, 1.07)
    return np.asarray(t + drop * voice.drop_s * (1.0 - np.exp(-t / voice.drop_s)))


@functools.lru_cache(maxsize=256)
def _mask(part: tuple[float, float], size: int) -> Floats:
    """Spectral gain that passes one part of a band, with cosine edges."""
    octave = np.log2(np.maximum(rfftfreq(size, 1.0 / RATE_HZ), 1.0))
    low, high = (math.log2(edge) for edge in part)

    def above(edge: float) -> Floats:
        way = np.clip((octave - edge + EDGE_OCTAVES) / (2.0 * EDGE_OCTAVES), 0.0, 1.0)
        return np.asarray(np.sin(way * np.pi / 2.0))

    return np.asarray(above(low) * np.sqrt(1.0 - above(high) ** 2))


def band_noise(number: int, frames: int, rng: Generator) -> Floats:
    """Noise limited to one band, with RMS 1."""
    size = next_fast_len(frames, real=True)
    noise = irfft(rfft(rng.standard_normal(size)) * _mask(BANDS[number], size), size)[:frames]
    return np.asarray(noise / math.sqrt(float(np.mean(noise * noise))))


def _steadied(noise: Floats, part: tuple[float, float]) -> Floats:
    """Noise whose level fluctuates less than random noise, as a rattle's does; RMS 1."""
    window = max(int(0.004 * RATE_HZ), int(1.2 / part[0] * RATE_HZ))
    steady = uniform_filter1d(noise * noise, window, mode="reflect")
    steady += 1e-30
    # The averages are of squares, so the root is taken before raising to STEADY.
    np.power(steady, -STEADY / 2.0, out=steady)
    steady *= noise
    steady /= math.sqrt(float(np.mean(steady * steady)))
    return np.asarray(steady)


def _metal(casting: int, size: int, rng: Generator) -> NDArray[np.complex128]:
    """The spectrum of a piece of metal: lines at the frequencies of its casting, each excited slightly differently."""
    lines, strong = _casting(casting, size)
    spectrum = np.zeros(size // 2 + 1, dtype=np.complex128)
    struck = rng.standard_normal(len(lines)) + 1j * rng.standard_normal(len(lines))
    spectrum[lines] = strong * ((1.0 - LINE) * np.exp(2j * np.pi * rng.random(len(lines))) + LINE * struck)
    return spectrum


@functools.lru_cache(maxsize=32)
def _casting(casting: int, size: int) -> tuple[NDArray[np.int64], Floats]:
    """The frequencies and strengths of a piece of metal's modes, denser towards the top."""
    rng = np.random.default_rng(casting)
    pitches = [rng.uniform(42.0, 60.0)]
    while pitches[-1] < 21_000.0:
        # Spaced about 30 Hz apart in the lows, 10 Hz in the highs.
        pitches.append(pitches[-1] + rng.uniform(0.4, 1.6) * (9.0 + 20.0 / (1.0 + pitches[-1] / 900.0)))
    strong = np.exp(rng.normal(0.0, 0.5, len(pitches)))
    return np.round(np.array(pitches) * size / RATE_HZ).astype(int), strong


def stopped(sound: Floats, after_s: float) -> Floats:
    """The sound damped by a hand after `after_s`."""
    t = np.arange(len(sound)) / RATE_HZ
    return np.asarray(sound * np.where(t < after_s, 1.0, np.exp(-(t - after_s) / 0.02)))


def shaken(jingle: Voice, strength: float, rng: Generator, apart_s: float) -> Floats:
    """Jingles that fall one after another."""
    one_s = 0.3
    sound = np.zeros(int((one_s + 0.35) * RATE_HZ))
    for _ in range(12):
        at = int(min(0.3, rng.exponential(apart_s)) * RATE_HZ)
        part = strike(replace(jingle, seconds=one_s), 1.0, rng)
        sound[at : at + len(part)] += rng.uniform(0.3, 1.0) * part
    return finished(sound, strength)


def finished(sound: Floats, strength: float) -> Floats:
    """The sound scaled to its strength by the energy of its first 150 ms, with a short fade-out against clicks."""
    tail = min(len(sound), int(0.02 * RATE_HZ))
    sound[-tail:] *= np.linspace(1.0, 0.0, tail)
    size = 5.0 * float(np.sqrt(np.mean(sound[: int(0.15 * RATE_HZ)] ** 2)))
    return np.asarray(sound / size * loudness_gain(strength))


def tones(*pitches: float | tuple[float, float]) -> tuple[Tone, ...]:
    """Tones from frequencies in Hz, each alone or with its share of the energy."""
    return tuple(Tone(*p) if isinstance(p, tuple) else Tone(p) for p in pitches)
