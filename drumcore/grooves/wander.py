"""How a hand wanders around the grid: 1/f noise, as measured in drummers.

Source: Hennig, Fleischmann, Fredebohm, Hagmayer, Nagler, Witt, Theis and Geisel, "The Nature and Perception of
Fluctuations in Human Musical Rhythms", PLoS ONE 6(10), 2011. Random numbers come from NumPy's Philox, which is
addressed and not stepped, so a pass can be made by itself.
"""

import functools

import numpy as np

from drumcore.arrays import Floats

SHARED = -1
"""In place of a row's number: the part of the wandering that all rows share."""
TIMING, VELOCITY, CHANCE = 0, 1, 2
"""What is drawn: each has numbers of its own."""


@functools.lru_cache(maxsize=2048)
def wander(seed: int, of: int, pass_number: int, row: int, steps: int) -> Floats:
    """1/f noise of mean 0 and standard deviation 1, one value for each step of a row in a pass; shape (steps,)."""
    if steps < 2:
        return np.zeros(steps)
    size = steps // 2 + 1
    rng = _generator(seed, of, pass_number, row)
    spectrum = rng.standard_normal(size) + 1j * rng.standard_normal(size)
    spectrum[1:] /= np.sqrt(np.arange(1, size))
    spectrum[0] = 0.0
    noise = np.fft.irfft(spectrum, steps)
    spread = float(noise.std())
    return np.asarray(noise / spread if spread else noise)


@functools.lru_cache(maxsize=2048)
def chances(seed: int, pass_number: int, row: int, steps: int) -> Floats:
    """A number from 0 to 100 for each step of a row in a pass; shape (steps,)."""
    return np.asarray(_generator(seed, CHANCE, pass_number, row).uniform(0.0, 100.0, steps))


def _generator(seed: int, of: int, pass_number: int, row: int) -> np.random.Generator:
    return np.random.Generator(np.random.Philox(key=[seed, (pass_number << 20) + ((row + 1) << 4) + of]))
