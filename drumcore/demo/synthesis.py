"""The boathouse drums, made by calculation: struck membranes, plates and shells as decaying modes and noise.

Every function returns one dry strike, float64 of shape (frames,), peaking near 1 at full strength. `strength` runs
from 0 (barely touched) to 1 (as hard as it goes): it moves level, brightness, pitch drop and attack together.
"""

import functools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.signal import butter, sosfilt

from drumcore.arrays import Floats

RATE_HZ = 48000
DYNAMIC_RANGE_DB = 38.0
MEMBRANE = (1.0, 1.594, 2.136, 2.296, 2.653, 2.918, 3.156, 3.501)
Generator = np.random.Generator


def loudness_gain(strength: float) -> float:
    """Linear gain over the dynamic range of a player's arm."""
    return float(10.0 ** (DYNAMIC_RANGE_DB * (strength - 1.0) / 20.0))


def _times(seconds: float) -> Floats:
    return np.arange(int(seconds * RATE_HZ)) / RATE_HZ


@functools.lru_cache(maxsize=64)
def _band_filter(low_hz: float, high_hz: float) -> Floats:
    high_hz = min(high_hz, RATE_HZ * 0.47)
    return np.asarray(butter(2, [low_hz, high_hz], "bandpass", fs=RATE_HZ, output="sos"))


def noise_burst(rng: Generator, seconds: float, decay_s: float, low_hz: float, high_hz: float) -> Floats:
    """Band-passed noise with an exponential decay, peaking at 1."""
    t = _times(seconds)
    rounded = (round(low_hz, -1) or 10.0, round(high_hz, -2))
    burst = sosfilt(_band_filter(*rounded), rng.standard_normal(len(t))) * np.exp(-t / decay_s)
    return np.asarray(burst / np.abs(burst).max())


@dataclass(frozen=True)
class Drum:
    """A struck membrane over a shell."""

    pitch_hz: float
    decay_s: float
    seconds: float
    pitch_drop: float
    drop_s: float
    attack_low_hz: float
    attack_high_hz: float
    attack_level: float
    overtone: float = 0.5


KICK = Drum(56.0, 0.105, 0.7, 1.4, 0.020, 1300.0, 7000.0, 0.62, 0.26)
COCKTAIL_KICK = Drum(72.0, 0.11, 0.6, 0.9, 0.018, 900.0, 5200.0, 0.45, 0.3)
SNARE = Drum(186.0, 0.062, 0.75, 0.2, 0.012, 1500.0, 9000.0, 0.6, 0.75)
SIDE_SNARE = Drum(248.0, 0.055, 0.6, 0.18, 0.010, 1800.0, 9500.0, 0.6, 0.7)
RACK_TOM = Drum(158.0, 0.26, 1.3, 0.13, 0.040, 700.0, 5200.0, 0.26, 0.42)
MID_TOM = Drum(121.0, 0.31, 1.4, 0.14, 0.045, 600.0, 4800.0, 0.25, 0.42)
FLOOR_TOM = Drum(83.0, 0.40, 1.6, 0.16, 0.055, 500.0, 4200.0, 0.24, 0.42)


def strike_drum(drum: Drum, strength: float, rng: Generator, *, near_edge: float = 0.0) -> Floats:
    """A membrane's modes, gliding down from a raised pitch, with the beater's noise. `near_edge` lifts overtones."""
    t = _times(drum.seconds)
    glide = drum.pitch_drop * (0.35 + 0.65 * strength) * rng.uniform(0.94, 1.06)
    phase = 2.0 * np.pi * drum.pitch_hz * (t + glide * drum.drop_s * (1.0 - np.exp(-t / drum.drop_s)))
    sound = np.zeros(len(t))
    for number, ratio in enumerate(MEMBRANE):
        level = 1.0 if number == 0 else drum.overtone * (0.25 + 0.75 * strength + near_edge) / (1.0 + 0.55 * number)
        level *= rng.uniform(0.8, 1.2)
        decay = drum.decay_s / (1.0 + 0.6 * number) * rng.uniform(0.96, 1.04)
        sound += level * np.sin(phase * ratio * rng.uniform(0.998, 1.002) + 0.15 * number) * np.exp(-t / decay)
    top = drum.attack_low_hz + (drum.attack_high_hz - drum.attack_low_hz) * (0.15 + 0.85 * strength)
    beat = noise_burst(rng, drum.seconds, 0.004 + 0.004 * (1.0 - strength), drum.attack_low_hz, top)
    sound = sound / 1.6 + drum.attack_level * (0.3 + 0.7 * strength) * beat
    return _finish(sound, strength)


def strike_wires(drum: Drum, strength: float, rng: Generator) -> Floats:
    """The wires under a snare: noise that follows the head, longer and denser than the stick."""
    wires = noise_burst(rng, drum.seconds, 0.07 + 0.05 * strength, 1400.0, 6000.0 + 8000.0 * strength)
    hiss = noise_burst(rng, drum.seconds, 0.045, 5000.0, 14000.0)
    return _finish(wires + 0.4 * strength * hiss, strength)


def strike_rim(pitch_hz: float, strength: float, rng: Generator, seconds: float = 0.4) -> Floats:
    """Stick on rim: short, high, wooden."""
    t = _times(seconds)
    sound = np.zeros(len(t))
    for ratio, level, decay in ((1.0, 1.0, 0.018), (1.83, 0.8, 0.013), (2.71, 0.6, 0.009), (4.05, 0.35, 0.006)):
        sound += level * np.sin(2.0 * np.pi * pitch_hz * ratio * rng.uniform(0.995, 1.005) * t) * np.exp(-t / decay)
    click = noise_burst(rng, seconds, 0.003, 1800.0, 6000.0 + 8000.0 * strength)
    return _finish(sound / 2.0 + 0.5 * click, strength)


@dataclass(frozen=True)
class Plate:
    """A cymbal: many inharmonic modes and a cloud of higher ones. The seed is the casting."""

    seed: int
    low_hz: float
    seconds: float
    decay_s: float
    modes: int = 28
    ping: float = 0.3
    brightness: float = 1.0


HATS = Plate(11, 420.0, 1.9, 0.75, 22, 0.3, 1.25)
CRASH_LEFT = Plate(23, 340.0, 2.9, 1.25)
CRASH_RIGHT = Plate(29, 410.0, 2.6, 1.1)
RIDE = Plate(31, 300.0, 2.5, 1.3, 30, 0.75, 0.7)
SPLASH = Plate(37, 640.0, 1.4, 0.42, 22, 0.25, 1.2)
CHINA = Plate(41, 260.0, 2.2, 0.75, 30, 0.2, 1.1)
BANDS = ((250, 600), (600, 1200), (1200, 2400), (2400, 4200), (4200, 7000), (7000, 11000), (11000, 19000))


@functools.lru_cache(maxsize=8)
def _casting(plate: Plate) -> tuple[Floats, Floats, Floats]:
    """The plate's own modes: sine and cosine parts of shape (modes, frames), and their frequencies."""
    rng = np.random.default_rng(plate.seed)
    t = _times(plate.seconds)
    pitches = plate.low_hz * np.cumprod(1.0 + rng.uniform(0.05, 0.16, plate.modes))
    decays = plate.decay_s * rng.uniform(0.6, 1.1, plate.modes) * (plate.low_hz / pitches) ** 0.35
    angle = 2.0 * np.pi * pitches[:, None] * t
    envelope = np.exp(-t / decays[:, None])
    return np.asarray(np.sin(angle) * envelope), np.asarray(np.cos(angle) * envelope), np.asarray(pitches)


def strike_plate(
    plate: Plate, strength: float, rng: Generator, *, hold: float = 0.0, bell: bool = False, seconds: float = 0.0
) -> Floats:
    """A plate struck. `hold` 0 leaves it open, 1 presses it shut; `bell` strikes the cup; `seconds` stops it early."""
    sines, cosines, pitches = _casting(plate)
    frames = sines.shape[1]
    t = np.arange(frames) / RATE_HZ
    tilt = (plate.low_hz / pitches) ** (1.1 - 0.75 * strength)
    levels = tilt * rng.uniform(0.7, 1.3, len(pitches))
    turn = rng.uniform(0, 2 * np.pi, len(pitches))
    ring = (levels * np.cos(turn)) @ sines + (levels * np.sin(turn)) @ cosines
    ring /= np.abs(ring).max()
    spectrum = np.fft.rfft(rng.standard_normal(frames))
    frequency = np.fft.rfftfreq(frames, 1.0 / RATE_HZ)
    cloud = np.zeros(frames)
    for number, (low, high) in enumerate(BANDS):
        mask = np.exp(-0.5 * ((np.log2(np.maximum(frequency, 20.0)) - np.log2((low * high) ** 0.5)) / 0.45) ** 2)
        band = np.fft.irfft(spectrum * mask, frames)
        rise = 0.004 + 0.05 * strength * (number >= 3) * (1.0 - plate.ping) * (1.0 - hold)
        decay = plate.decay_s * (1.15 - 0.12 * number) * (0.55 + 0.45 * strength)
        level = (0.9 if number < 5 else 0.7) * (0.2 + 0.8 * strength) ** (0.35 * number * plate.brightness**-1)
        cloud += level * band / np.abs(band).max() * (1.0 - np.exp(-t / rise)) * np.exp(-t / decay)
    cloud /= np.abs(cloud).max()
    stick = noise_burst(rng, plate.seconds, 0.003, 2500.0, 9000.0 + 8000.0 * strength)
    if bell:
        strong = np.flatnonzero(pitches > plate.low_hz * 2.2)[:5]
        cup = np.ones(len(strong)) @ sines[strong]
        ring, cloud = cup / np.abs(cup).max() * 1.6, cloud * 0.3
    sound = plate.ping * ring + 0.75 * cloud + (0.25 + plate.ping * 0.5) * (0.4 + 0.6 * strength) * stick
    if hold:
        sound *= np.exp(-t / (0.9 * (1.0 - hold) ** 2.2 + 0.022))
    if seconds:
        sound *= np.where(t < seconds, 1.0, np.exp(-(t - seconds) / 0.02))
    return _finish(sound, strength, by_energy=True)


def strike_block(pitches_hz: Sequence[float], decay_s: float, strength: float, rng: Generator) -> Floats:
    """A bell or a wooden block: few modes, a hard knock."""
    seconds = max(0.25, decay_s * 6.0)
    t = _times(seconds)
    sound = np.zeros(len(t))
    for number, pitch in enumerate(pitches_hz):
        level = (0.3 + 0.7 * strength) ** (0.6 * number) * rng.uniform(0.85, 1.15)
        decay = decay_s / (1.0 + 0.5 * number)
        sound += level * np.sin(2.0 * np.pi * pitch * rng.uniform(0.998, 1.002) * t) * np.exp(-t / decay)
    knock = noise_burst(rng, seconds, 0.003, 900.0, 4000.0 + 6000.0 * strength)
    return _finish(sound / len(pitches_hz) + 0.25 * knock, strength)


def shake_jingles(strength: float, rng: Generator, *, struck: bool) -> Floats:
    """A tambourine: jingles falling one after another, on a thump where it is struck."""
    seconds = 0.6
    frames = int(seconds * RATE_HZ)
    sound = np.zeros(frames)
    for _ in range(14):
        at = int(rng.exponential(0.025 if struck else 0.05) * RATE_HZ)
        jingle = noise_burst(rng, 0.25, 0.045, 5000.0, 9000.0 + 9000.0 * strength)
        size = min(len(jingle), max(0, frames - at))
        sound[at : at + size] += rng.uniform(0.3, 1.0) * jingle[:size]
    if struck:
        t = _times(seconds)
        sound += 0.8 * np.sin(2.0 * np.pi * 230.0 * t) * np.exp(-t / 0.03)
    return _finish(sound, strength, by_energy=True)


def _finish(sound: Floats, strength: float, *, by_energy: bool = False) -> Floats:
    """At the strength's level, with a last fade so that nothing ends in a click.

    By peak; or `by_energy` of the first 150 ms, for noisy sounds whose peaks say little of their loudness.
    """
    tail = min(len(sound), int(0.02 * RATE_HZ))
    sound[-tail:] *= np.linspace(1.0, 0.0, tail)
    size = 5.0 * float(np.sqrt(np.mean(sound[: int(0.15 * RATE_HZ)] ** 2))) if by_energy else float(np.abs(sound).max())
    return np.asarray(sound / size * loudness_gain(strength))
