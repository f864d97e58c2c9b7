"""Convolves a bus with its impulse response, block by block.

Uniformly partitioned convolution by overlap-save, with partitions as long as a block: there is no latency, and memory
use depends on the impulse response only (T. G. Stockham, "High-speed convolution and correlation", AFIPS 1966). Double
precision.
"""

from collections import deque

import numpy as np
import scipy
from numpy.typing import NDArray

from drumcore.arrays import Floats
from drumcore.spaces.kinds import ImpulseResponse

Spectra = NDArray[np.complex128]

# By the number of channels of the impulse response: which input side leads to which output side.
_LEADS = {1: ((0, 0, 0), (0, 1, 1)), 2: ((0, 0, 0), (1, 1, 1)), 4: ((0, 0, 0), (1, 0, 1), (2, 1, 0), (3, 1, 1))}
_MIDDLE_LEADS = ((0, 0, 0), (1, 0, 1))


class Convolving:
    """One bus's convolver. Two sides in and out; blocks of `block_frames`, of which only the last may be shorter."""

    def __init__(self, response: ImpulseResponse, block_frames: int) -> None:
        self._block, self._middle = block_frames, response.middle
        count = -(-response.samples.shape[1] // block_frames)
        padded = np.zeros((len(response.samples), count * block_frames))
        padded[:, : response.samples.shape[1]] = response.samples
        parts = padded.reshape(len(padded), count, block_frames)
        self._parts: Spectra = scipy.fft.rfft(parts, 2 * block_frames, axis=2)
        self._leads = _MIDDLE_LEADS if response.middle else _LEADS[len(response.samples)]
        self._before = np.zeros((1 if response.middle else 2, block_frames))
        # The spectra of past input blocks, newest first; None for silence.
        self._entered: deque[Spectra | None] = deque([None] * count, maxlen=count)

    @property
    def silent(self) -> bool:
        """Whether the tail of everything that entered has ended."""
        return all(each is None for each in self._entered)

    def process(self, sound: Floats, into: Floats) -> None:
        """Convolves the next frames, shape (2, frames), into `into`, which may be `sound` itself."""
        frames = sound.shape[1]
        entering = sound.mean(axis=0, keepdims=True) if self._middle else sound
        now = np.zeros((len(self._before), self._block))
        now[:, :frames] = entering
        heard = bool(now.any() or self._before.any())
        both = np.concatenate([self._before, now], axis=1)
        self._before = now
        self._entered.appendleft(scipy.fft.rfft(both, axis=1) if heard else None)
        added = np.zeros((2, self._block + 1), np.complex128)
        for place, spectra in enumerate(self._entered):
            if spectra is None:
                continue
            for channel, side, to in self._leads:
                added[to] += spectra[side] * self._parts[channel, place]
        into[:] = scipy.fft.irfft(added, axis=1)[:, self._block : self._block + frames]
