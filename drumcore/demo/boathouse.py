"""The room of the demo: where drums and microphones stand, and what each microphone records."""

import functools
from dataclasses import dataclass

import numpy as np
from scipy.signal import butter, oaconvolve, sosfilt

from drumcore.arrays import Floats
from drumcore.demo.synthesis import FALL, RATE_HZ, band_noise

SPEED_OF_SOUND = 343.0
PRE_ROLL_S = 0.002
HEARS_ROOM = 0.05
ROOM_S = 1.3
ROOM_FALLS_S = (0.80, 0.72, 0.64, 0.56, 0.50, 0.42, 0.32, 0.24)
"""How long the room takes to fall by 60 dB, in the bands of `synthesis`."""
ROOM_LEVELS = (0.005, 0.006, 0.011, 0.022, 0.048, 0.075, 0.062, 0.022)
NOISE_DBFS = -92.0
Place = tuple[float, float, float]


@dataclass(frozen=True)
class Stand:
    """A microphone at one position, or two positions for a stereo pair. `level` is its recorder gain (linear)."""

    folder: str
    places: tuple[Place, ...]
    level: float = 1.0
    cutoff_hz: float = 16000.0
    room: float = 0.02


KICK_IN = Stand("Kick in", ((0.0, 0.30, 0.30),), 0.060, 7000.0)
KICK_OUT = Stand("Kick out", ((0.0, 0.95, 0.30),), 0.14, 4200.0, 0.05)
SNARE_TOP = Stand("Snare top", ((-0.33, 0.02, 0.78),), 0.050)
SNARE_BOTTOM = Stand("Snare bottom", ((-0.30, 0.0, 0.42),), 0.050)
HAT = Stand("Hat", ((-0.78, 0.10, 1.10),), 0.080)
RACK_TOM_MIC = Stand("Rack tom", ((-0.20, 0.52, 1.02),), 0.050, 9000.0)
MID_TOM_MIC = Stand("Mid tom", ((0.22, 0.52, 1.00),), 0.050, 9000.0)
FLOOR_TOM_MIC = Stand("Floor tom", ((0.62, 0.02, 0.82),), 0.055, 8000.0)
RIDE_MIC = Stand("Ride", ((0.70, 0.48, 1.28),), 0.085)
PERCUSSION_MIC = Stand("Percussion", ((-0.95, 0.55, 1.20),), 0.075)
OVERHEADS = Stand("Overheads", ((-0.60, 0.15, 1.95), (0.60, 0.15, 1.95)), 0.20, 18000.0, 0.10)
ROOM = Stand("Room", ((-1.6, 4.2, 1.8), (1.6, 4.2, 1.8)), 0.34, 12000.0, 1.0)

PLACES: dict[str, Place] = {
    "kick": (0.0, 0.20, 0.30),
    "snare": (-0.30, 0.0, 0.65),
    "hats": (-0.65, 0.05, 0.95),
    "rack tom": (-0.20, 0.45, 0.92),
    "mid tom": (0.22, 0.45, 0.90),
    "floor tom": (0.60, -0.05, 0.70),
    "crash left": (-0.60, 0.55, 1.30),
    "crash right": (0.72, 0.62, 1.35),
    "ride": (0.72, 0.38, 1.10),
    "percussion": (-0.90, 0.50, 1.05),
}


@functools.lru_cache(maxsize=4)
def _room_response(seed: int) -> Floats:
    """The boathouse's impulse response, shape (frames, 2): early reflections, then an even decay, slowest in the lows."""
    rng = np.random.default_rng(seed)
    frames = int(ROOM_S * RATE_HZ)
    t = np.arange(frames) / RATE_HZ
    response = np.zeros((frames, 2))
    for side in range(2):
        for _ in range(9):
            at = int(rng.uniform(0.004, 0.045) * RATE_HZ)
            response[at, side] += rng.choice([-1.0, 1.0]) * rng.uniform(0.25, 0.6)
        for number, (level, falls_s) in enumerate(zip(ROOM_LEVELS, ROOM_FALLS_S, strict=True)):
            envelope = np.exp(-t * (3.0 * FALL / falls_s)) * (1.0 - np.exp(-t / 0.012))
            response[:, side] += level * band_noise(number, frames, rng) * envelope
    return np.asarray(response / np.sqrt(np.sum(response**2, axis=0)))


@functools.lru_cache(maxsize=32)
def _roll_off(cutoff_hz: float) -> Floats:
    return np.asarray(butter(1, cutoff_hz, fs=RATE_HZ, output="sos"))


class DryStrike:
    """A dry strike as the piece emits it, float64, shape (frames,)."""

    def __init__(self, dry: Floats) -> None:
        self.dry = dry

    @functools.cached_property
    def answer(self) -> Floats:
        """The room's response to it, shape (frames, 2), computed once for all microphones."""
        return np.asarray(oaconvolve(self.dry[:, None], _room_response(4), axes=0))


def hear(stand: Stand, place: Place, strike: DryStrike, rng: np.random.Generator) -> Floats:
    """A microphone's recording of a strike at a position: shape (frames, sides). Distance sets delay and level."""
    sides = len(stand.places)
    distances = [_distance(where, place) for where in stand.places]
    latest = max(distances) / SPEED_OF_SOUND
    rings_s = ROOM_S if stand.room >= HEARS_ROOM else 0.0
    frames = len(strike.dry) + int((PRE_ROLL_S + latest + 0.01 + rings_s) * RATE_HZ)
    sound = np.zeros((frames, sides))
    roll_off = _roll_off(stand.cutoff_hz)
    toned = sosfilt(roll_off, strike.dry)
    for side, distance in enumerate(distances):
        at = int((PRE_ROLL_S + distance / SPEED_OF_SOUND) * RATE_HZ)
        sound[at : at + len(toned), side] += toned * stand.level / max(distance, 0.08)
    if stand.room >= HEARS_ROOM:
        for side, distance in enumerate(distances):
            wet = sosfilt(roll_off, strike.answer[:, side])
            at = int((PRE_ROLL_S + distance / SPEED_OF_SOUND) * RATE_HZ)
            size = min(len(wet), frames - at)
            sound[at : at + size, side] += stand.room * stand.level * 0.55 * wet[:size]
    sound = _until_quiet(sound)
    return np.asarray(sound + rng.standard_normal(sound.shape) * 10.0 ** (NOISE_DBFS / 20))


def _until_quiet(sound: Floats) -> Floats:
    """The recording, ended where it has decayed into the noise floor."""
    loud = np.abs(sound.T) > 10.0 ** ((NOISE_DBFS - 4.0) / 20.0)
    heard = np.flatnonzero(functools.reduce(np.logical_or, loud))
    end = int(heard[-1]) if len(heard) else 0
    return sound[: max(end, int(0.1 * RATE_HZ))]


def _distance(a: Place, b: Place) -> float:
    return float(np.linalg.norm(np.subtract(a, b)))
