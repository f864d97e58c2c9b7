"""Loops over frames, compiled once and cached beside this file. They release Python's lock.

The browser runs the same code in web/src/player/treatments; twin tests compare them. This module is imported only when
a treatment starts, because loading the compiler takes longer than everything else.
"""

import numpy as np
from numba import njit

from drumcore.arrays import Floats

QUANTUM = 128
"""Frames after which states that are gone are set to nothing, as in the browser."""
GRID = 8
"""Frames that share one gain."""
FLOOR = 1e-10
"""A level under −200 dB full scale is taken for that: a logarithm needs something."""


@njit(cache=True, nogil=True)
def equalise(sound: Floats, sections: Floats, state: Floats, treated: Floats, gone: float) -> None:
    """Passes the next frames, shape (sides, frames), through second-order sections into `treated`, which may be
    `sound`. `sections`: b0 b1 b2 a1 a2 of each, shape (n, 5); `state`: two numbers per section and side. States smaller
    than `gone` become zero.
    """
    sides, frames = sound.shape
    count = len(sections)
    for side in range(sides):
        for begin in range(0, frames, QUANTUM):
            for i in range(begin, min(frames, begin + QUANTUM)):
                x = sound[side, i]
                for n in range(count):
                    y = sections[n, 0] * x + state[n, side, 0]
                    state[n, side, 0] = sections[n, 1] * x - sections[n, 3] * y + state[n, side, 1]
                    state[n, side, 1] = sections[n, 2] * x - sections[n, 4] * y
                    x = y
                treated[side, i] = x
            for n in range(count):
                for k in range(2):
                    if abs(state[n, side, k]) < gone:
                        state[n, side, k] = 0.0


@njit(cache=True, nogil=True)
def compress(
    sound: Floats, settings: Floats, cut: Floats, cut_state: Floats, state: Floats, treated: Floats, gone: float
) -> None:
    """Compresses the next frames, shape (sides, frames), into `treated`, which may be `sound`.

    `settings`: threshold in dB, 1/ratio − 1, knee in dB, the share of the reduction kept over `GRID` frames while it
    grows and while it shrinks, make-up as a factor, mix. `cut` is the detector's low cut as b0 b1 b2 a1 a2, all zero if
    there is none; `cut_state` its state, two numbers per side. `state`: the reduction in dB and the current gain.
    States smaller than `gone` become zero.
    """
    threshold, slope, knee, grows, shrinks, make_up, mix = settings
    b0, b1, b2, a1, a2 = cut
    sides, frames = sound.shape
    filtered = b0 != 0.0
    for begin in range(0, frames, GRID):
        end = min(frames, begin + GRID)
        peak = 0.0
        for side in range(sides):
            s1, s2 = cut_state[side, 0], cut_state[side, 1]
            for i in range(begin, end):
                x = sound[side, i]
                if filtered:
                    y = b0 * x + s1
                    s1 = b1 * x - a1 * y + s2
                    s2 = b2 * x - a2 * y
                    x = y
                peak = max(peak, abs(x))
            cut_state[side, 0], cut_state[side, 1] = s1, s2
        over = 20.0 * np.log10(max(peak, FLOOR)) - threshold
        if 2.0 * over < -knee:
            wanted = 0.0
        elif 2.0 * over <= knee and knee > 0.0:
            wanted = -slope * (over + knee / 2.0) ** 2 / (2.0 * knee)
        else:
            wanted = -slope * over
        keeps = grows if wanted > state[0] else shrinks
        state[0] = keeps * state[0] + (1.0 - keeps) * wanted
        gain = 10.0 ** (-state[0] / 20.0)
        step = (gain - state[1]) / GRID
        for i in range(begin, end):
            now = 1.0 - mix + mix * make_up * (state[1] + step * (i - begin + 1))
            for side in range(sides):
                treated[side, i] = sound[side, i] * now
        state[1] = gain
    if abs(state[0]) < gone:
        state[0] = 0.0
    for side in range(sides):
        for k in range(2):
            if abs(cut_state[side, k]) < gone:
                cut_state[side, k] = 0.0
