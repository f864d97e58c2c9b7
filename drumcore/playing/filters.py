"""The low-pass of a voice, in steps of a twenty-fourth of an octave down from 16 kHz.

Both tracking and variation change brightness. In whole steps the two simply add, so a player only looks up a cutoff. A
step is 3 % of the cutoff, so rounding loses 1.5 % at most.
"""

import functools
import math

from drumcore.touch.tracking import OPEN_HZ

STEPS_AN_OCTAVE = 24
Coefficients = tuple[float, float, float, float, float]


def steps_darker(octaves: float) -> int:
    """Octaves below 16 kHz as steps, rounded half up."""
    return math.floor(octaves * STEPS_AN_OCTAVE + 0.5)


@functools.lru_cache(maxsize=8)
def ladder(lowest: int) -> tuple[float, ...]:
    """The cutoffs in Hz of steps 0 to `lowest`."""
    return tuple(OPEN_HZ * 2.0 ** (-step / STEPS_AN_OCTAVE) for step in range(lowest + 1))


@functools.lru_cache(maxsize=2048)
def low_pass(cutoff_hz: float, rate_hz: int) -> Coefficients:
    """Coefficients b0 b1 b2 a1 a2 (a0 = 1) of a second-order low-pass with Q = 1/√2. Source: Audio EQ Cookbook, R.
    Bristow-Johnson (W3C Note 2021), LPF; the Web Audio API specifies the same filter for BiquadFilterNode.
    """
    w = 2.0 * math.pi * cutoff_hz / rate_hz
    alpha = math.sin(w) / math.sqrt(2.0)
    a0 = 1.0 + alpha
    b1 = 1.0 - math.cos(w)
    return (b1 / 2.0 / a0, b1 / a0, b1 / 2.0 / a0, -2.0 * math.cos(w) / a0, (1.0 - alpha) / a0)
