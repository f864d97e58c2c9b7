"""Synthesised strikes for trials of the name reader, in as many microphones as a convention has.

Our own recipe, kept simple and quick: a few ringing modes, which takes of one drum share but for a little wander, and a
burst of noise, which no two takes share. Every microphone hears the same strike through a response of its own, so the
microphones of one strike correlate, and takes do not.
"""

from dataclasses import dataclass

import numpy as np
from scipy.signal import butter, fftconvolve, sosfilt

from drumcore.arrays import Floats
from drumcore.kit.values import Family

RATE_HZ = 44_100
DYNAMIC_DB = 26.0
HISS_DBFS = -84.0


@dataclass(frozen=True)
class Timbre:
    """A family's sound: its modes in Hz with their decay in ms, its noise between two frequencies with its decay, and
    how much of the strike is noise.
    """

    modes: tuple[float, ...]
    ringing_ms: float
    noise_hz: tuple[float, float]
    noise_ms: float
    noise: float


TIMBRES = {
    Family.KICK: Timbre((58.0, 112.0), 130.0, (900.0, 5000.0), 18.0, 0.25),
    Family.SNARE: Timbre((190.0, 330.0, 480.0), 90.0, (1500.0, 9000.0), 110.0, 0.6),
    Family.HATS: Timbre((3400.0, 5200.0), 40.0, (5000.0, 14000.0), 60.0, 0.9),
    Family.TOM: Timbre((120.0, 190.0, 270.0), 180.0, (1000.0, 6000.0), 30.0, 0.25),
    Family.CRASH: Timbre((620.0, 1400.0), 300.0, (2500.0, 13000.0), 300.0, 0.85),
    Family.RIDE: Timbre((540.0, 2900.0), 320.0, (3000.0, 12000.0), 240.0, 0.7),
    Family.SPLASH: Timbre((900.0, 2100.0), 150.0, (3500.0, 14000.0), 160.0, 0.85),
    Family.CHINA: Timbre((420.0, 1100.0), 220.0, (2000.0, 12000.0), 230.0, 0.9),
    Family.PERCUSSION: Timbre((780.0, 1320.0), 90.0, (2000.0, 9000.0), 60.0, 0.5),
    Family.OTHER: Timbre((330.0, 710.0), 160.0, (1000.0, 8000.0), 80.0, 0.5),
}
WAYS = {
    "open": (1.0, 4.0), "half open": (1.0, 2.2), "pedal": (0.72, 0.7), "tight": (1.1, 0.6), "closed": (1.0, 1.0),
    "rimshot": (1.35, 1.2), "rim": (1.5, 0.6), "side stick": (1.9, 0.4), "bell": (1.4, 1.3), "edge": (0.9, 1.5),
    "bow": (1.0, 1.0), "choke": (1.0, 0.3), "flam": (1.0, 1.2), "shake": (1.2, 1.4), "centre": (1.0, 1.0),
}  # fmt: skip
"""How an articulation differs from its piece's usual one: how much brighter it is, how much longer it sounds."""


@dataclass(frozen=True)
class Ear:
    """A microphone: its distance in ms of sound, its level in dB, its brightness (1 is flat), and its share of room."""

    away_ms: float
    level_db: float
    bright: float
    room: float


EARS = (
    Ear(0.0, 0.0, 1.0, 0.0),
    Ear(1.1, -5.0, 0.7, 0.02),
    Ear(3.2, -9.0, 1.3, 0.10),
    Ear(8.5, -12.0, 0.8, 0.35),
    Ear(5.0, -16.0, 0.9, 0.20),
    *(Ear(2.0 + 0.7 * n, -18.0 - n, 0.6 + 0.07 * n, 0.12) for n in range(12)),
)


def strike(
    family: Family, articulation: str, tuned: float, strength: float, seed: tuple[int, ...], lasts_s: float
) -> Floats:
    """One dry strike, shape (frames,), peaking near 1 at full strength (1; 0 is the softest). `tuned` multiplies its
    frequencies; `seed` makes the take.
    """
    rng = np.random.default_rng(seed)
    timbre = TIMBRES[family]
    brighter, longer = WAYS.get(articulation, (1.0, 1.0))
    t = np.arange(round(lasts_s * RATE_HZ)) / RATE_HZ
    tones = np.zeros(len(t))
    for number, hz in enumerate(timbre.modes):
        wander = 1.0 + rng.uniform(-0.002, 0.002)
        size = 10.0 ** (rng.uniform(-1.5, 1.5) / 20.0) / (1.0 + 0.5 * number)
        phase = rng.uniform(-0.4, 0.4)
        tones += (
            size * np.sin(2 * np.pi * hz * tuned * wander * t + phase) * np.exp(-t * 1000 / timbre.ringing_ms / longer)
        )
    low, high = (min(0.45 * RATE_HZ, hz * brighter * tuned * (0.8 + 0.25 * strength)) for hz in timbre.noise_hz)
    band = butter(2, (low, high), "bandpass", fs=RATE_HZ, output="sos")
    noise = sosfilt(band, rng.standard_normal(len(t))) * np.exp(-t * 1000 / timbre.noise_ms / longer)
    noise /= max(1e-9, float(np.abs(noise).max()))
    attack = np.minimum(1.0, t / 0.0008)
    level = 10.0 ** ((-DYNAMIC_DB * (1.0 - strength) + rng.uniform(-0.7, 0.7)) / 20.0)
    return np.asarray(attack * level * 0.7 * (tones * (1.0 - timbre.noise) + noise * timbre.noise))


def heard_by(dry: Floats, ear: Ear, lead_s: float, place: int, seed: tuple[int, ...]) -> Floats:
    """A strike as a microphone hears it, `lead_s` after the file begins; as long as `dry`. `place` seeds the response
    of the piece's place in the room, the same for all its takes.
    """
    rng = np.random.default_rng((7, place, round(ear.away_ms * 10)))
    response = np.zeros(round(0.08 * RATE_HZ))
    response[0] = 1.0
    after = round(0.003 * RATE_HZ)
    tail = rng.standard_normal(len(response) - after) * np.exp(-np.arange(len(response) - after) / (0.02 * RATE_HZ))
    response[after:] += ear.room * 0.3 * tail
    wet = fftconvolve(dry, response)[: len(dry)]
    if ear.bright < 1.0:
        wet = sosfilt(butter(1, 9000.0 * ear.bright, "lowpass", fs=RATE_HZ, output="sos"), wet)
    elif ear.bright > 1.0:
        wet = sosfilt(butter(1, 120.0 * ear.bright, "highpass", fs=RATE_HZ, output="sos"), wet)
    late = round((lead_s + ear.away_ms / 1000.0) * RATE_HZ)
    placed = np.concatenate([np.zeros(late), wet])[: len(dry)]
    hiss = np.random.default_rng((*seed, round(ear.away_ms * 10))).standard_normal(len(dry))
    return np.asarray(placed * 10.0 ** (ear.level_db / 20.0) + hiss * 10.0 ** (HISS_DBFS / 20.0))
