"""A hall reverb: the first reflections of a room, followed by noise that decays, highs sooner.

The first reflections are image sources in a rectangular room (J. B. Allen and D. A. Berkley, "Image method for
efficiently simulating small-room acoustics", JASA 65(4), 1979). Their density is 4πc³t²/V per second and each has
energy 1/(ct)²; where they merge (twice √V ms; J.-D. Polack, "Modifying chambers to play billiards", Acustica 76, 1992)
they continue as noise with an energy of 4πc/V per second. Everything decays by 60 dB in a time that depends on
frequency.
"""

import math
from typing import Annotated, Literal, NamedTuple

import numpy as np
import scipy
from pydantic import Field

from drumcore.arrays import Floats
from drumcore.value import Value

SOUND_M_A_S = 343.0
PROPORTIONS = (1.0, 0.73, 0.41)
"""Length, breadth and height of the room, as parts of its size."""
RUN_TOGETHER_MS = 2.0
DAMPED_HZ = 2000.0
DIES_DB = 80.0
"""A response ends when the last of it has fallen by so much."""
WINDOW_S = 0.0107
MOST_IMAGES = 9


class Hall(Value):
    """`length_s` is the 60 dB decay time of the lows, `damping` how much sooner the highs decay; `size_m` is the length
    of the room. `seed` selects another room of the same kind.
    """

    kind: Literal["hall"] = "hall"
    on: bool = True
    length_s: Annotated[float, Field(ge=0.2, le=8.0)] = 1.8
    size_m: Annotated[float, Field(ge=3.0, le=80.0)] = 18.0
    damping: Annotated[float, Field(ge=0.0, le=1.0)] = 0.4
    pre_delay_ms: Annotated[float, Field(ge=0.0, le=250.0)] = 10.0
    width: Annotated[float, Field(ge=0.0, le=1.0)] = 1.0
    seed: Annotated[int, Field(ge=0, le=9999)] = 1


class Reflection(Value):
    """An early reflection: its delay after the direct sound in ms, its level in dB relative to that, its direction (−1
    left to 1 right), and its image source in metres in front and to the right of the listener.
    """

    after_ms: float
    level_db: float
    side: float
    before_m: float
    right_m: float


class Room(NamedTuple):
    """Length, width and height in metres, and the positions of source and listener."""

    size: Floats
    source: Floats
    listener: Floats


def decay_s(hall: Hall, hz: float) -> float:
    """The 60 dB decay time at a frequency."""
    return hall.length_s / (1.0 + hall.damping * hz / DAMPED_HZ)


def room_of(hall: Hall) -> Room:
    drawn = np.random.default_rng([hall.seed, 1]).random((2, 3))
    size = hall.size_m * np.array(PROPORTIONS)
    source = size * (np.array([0.22, 0.42, 0.3]) + 0.1 * drawn[0])
    listener = size * (np.array([0.62, 0.42, 0.3]) + 0.1 * drawn[1])
    return Room(size, source, listener)


def reflections(hall: Hall) -> list[Reflection]:
    """The reflections before they merge, in order of time."""
    room = room_of(hall)
    direct = _direct_m(room)
    away = _images(room) - room.listener
    distances = np.linalg.norm(away, axis=1)
    near = distances <= direct + SOUND_M_A_S * _run_together_s(room)
    # The nearest image is the source itself, which is no reflection.
    near[np.argmin(distances)] = False
    found = []
    for (x, y, _), distance in zip(away[near], distances[near], strict=True):
        after = float(distance - direct) / SOUND_M_A_S
        level = 20.0 * math.log10(direct / distance) - 60.0 * after / hall.length_s
        side = float(y) / max(math.hypot(x, y), 1e-9)
        found.append(
            Reflection(after_ms=1000.0 * after, level_db=level, side=side, before_m=float(-x), right_m=float(y))
        )
    return sorted(found, key=lambda one: one.after_ms)


def _direct_m(room: Room) -> float:
    """The distance from source to listener."""
    return float(np.linalg.norm(room.source - room.listener))


def _images(room: Room) -> Floats:
    """The positions of the image sources, shape (images, 3)."""
    n = np.arange(-MOST_IMAGES, MOST_IMAGES + 1)
    axes = [n * size + np.where(n % 2 == 0, at, size - at) for size, at in zip(room.size, room.source, strict=True)]
    return np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 3)


def _run_together_s(room: Room) -> float:
    return RUN_TOGETHER_MS * math.sqrt(float(np.prod(room.size))) / 1000.0


def respond(hall: Hall, rate_hz: int, longest_s: float) -> Floats:
    """The hall's impulse response before scaling, shape (2, frames), for mono input."""
    room = room_of(hall)
    delay = round(hall.pre_delay_ms * rate_hz / 1000.0)
    lasts = min(hall.length_s * DIES_DB / 60.0, longest_s - delay / rate_hz)
    frames = round(lasts * rate_hz)
    rising = _rising(np.arange(frames) / rate_hz, _run_together_s(room))
    sound = _noise(hall, frames) * rising * math.sqrt(2.0 * math.pi * SOUND_M_A_S / (np.prod(room.size) * rate_hz))
    direct = _direct_m(room)
    for one in reflections(hall):
        at = round(one.after_ms * rate_hz / 1000.0)
        if at >= frames:
            continue
        distance = direct + SOUND_M_A_S * one.after_ms / 1000.0
        angle = (1.0 + hall.width * one.side) * math.pi / 4.0
        falling = math.sqrt(max(0.0, 1.0 - float(rising[at]) ** 2))
        sound[:, at] += np.array([math.cos(angle), math.sin(angle)]) * falling / distance
    dying = _dying(hall, sound, rate_hz)
    last = max(1, frames // 20)
    dying[:, frames - last :] *= np.linspace(1.0, 0.0, last)
    return np.concatenate([np.zeros((2, delay)), dying], axis=1)


def _rising(time_s: Floats, together_s: float) -> Floats:
    """The fade-in of the noise: it starts at half the merging time, with linear power."""
    half = together_s / 2.0
    return np.sqrt(np.clip((time_s - half) / half, 0.0, 1.0))


def _noise(hall: Hall, frames: int) -> Floats:
    """Noise of power 1 on both sides, with more in common the narrower the hall is."""
    both, apart = np.random.default_rng([hall.seed, 2]).standard_normal((2, frames))
    angle = hall.width * math.pi / 4.0
    return np.stack(
        [math.cos(angle) * both + math.sin(angle) * apart, math.cos(angle) * both - math.sin(angle) * apart]
    )


def _dying(hall: Hall, sound: Floats, rate_hz: int) -> Floats:
    """The sound with each frequency decaying in its own time."""
    window = 2 * scipy.fft.next_fast_len(round(WINDOW_S * rate_hz / 2.0))
    hz, times, spectra = scipy.signal.stft(sound.astype(np.float32), rate_hz, nperseg=window, noverlap=window // 2)
    each = np.array([decay_s(hall, f) for f in hz])
    spectra *= np.exp(-math.log(1000.0) * times[None, :] / each[:, None]).astype(np.float32)
    spectra[..., 0, :] = 0.0
    made = scipy.signal.istft(spectra, rate_hz, nperseg=window, noverlap=window // 2)[1]
    return np.asarray(made[:, : sound.shape[1]], np.float64)
