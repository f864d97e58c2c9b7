"""Integrated loudness of audio that arrives in blocks, K-weighted and gated.

Source: ITU-R BS.1770-5, annex 1: blocks of 400 ms every 100 ms, an absolute gate at −70 LUFS, and a relative gate 10 LU
below the mean of the blocks that pass the first.
"""

import math

import numpy as np
import scipy

from drumcore.arrays import Floats, Samples
from drumcore.recordings.k_weighting import k_weighting
from drumcore.treatments.stage import GONE

OFFSET_DB = -0.691
GATE_DB = -70.0
RELATIVE_DB = -10.0
STEPS_A_BLOCK = 4
STEP_S = 0.1


class Integrated:
    """Accumulates audio; it stores ten numbers per second. Channels have equal weight. As in the standard, an
    incomplete last block does not count.
    """

    def __init__(self, rate_hz: int, sides: int) -> None:
        self._sections = k_weighting(rate_hz)
        self._state = np.zeros((len(self._sections), sides, 2))
        self._step = round(STEP_S * rate_hz)
        self._steps: list[float] = []
        self._begun, self._frames = 0.0, 0

    def add(self, sound: Samples) -> None:
        """Adds the next frames, shape (sides, frames)."""
        weighted, self._state = scipy.signal.sosfilt(self._sections, sound.astype(np.float64), axis=1, zi=self._state)
        self._state[np.abs(self._state) < GONE] = 0.0
        squares = np.square(weighted).sum(axis=0)
        at = 0
        while at < len(squares):
            part = squares[at : at + self._step - self._frames]
            self._begun += float(part.sum())
            self._frames += len(part)
            at += len(part)
            if self._frames == self._step:
                self._steps.append(self._begun / self._step)
                self._begun, self._frames = 0.0, 0

    @property
    def loudness_db(self) -> float | None:
        """The loudness in LUFS; None if no block passes the gate."""
        steps = np.array(self._steps)
        if len(steps) < STEPS_A_BLOCK:
            return None
        blocks = np.lib.stride_tricks.sliding_window_view(steps, STEPS_A_BLOCK).mean(axis=1)
        heard = blocks[blocks > _power(GATE_DB)]
        if not len(heard):
            return None
        loud = heard[heard > float(heard.mean()) * 10.0 ** (RELATIVE_DB / 10.0)]
        return _loudness_db(loud)


def _loudness_db(blocks: Floats) -> float:
    return OFFSET_DB + 10.0 * math.log10(float(blocks.mean()))


def _power(loudness_db: float) -> float:
    return float(10.0 ** ((loudness_db - OFFSET_DB) / 10.0))
