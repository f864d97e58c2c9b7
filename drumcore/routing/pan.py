"""The matrix from a channel's sides to an output's sides."""

import math

from drumcore.kit.values import Side, Width

Matrix = tuple[tuple[float, ...], ...]
HALF_POWER = math.sqrt(0.5)


def decibels_to_gain(level_db: float) -> float:
    return float(10.0 ** (level_db / 20.0))


def pan_matrix(source: Width, target: Width, pan: float) -> Matrix:
    """Rows are the target's sides, columns the source's. Into stereo: equal power, as in the W3C Web Audio
    specification of StereoPannerNode, for mono and stereo input. Into mono: mono unchanged, stereo as the average of
    both sides.
    """
    if target is Width.MONO:
        return ((1.0,),) if source is Width.MONO else ((0.5, 0.5),)
    if source is Width.MONO:
        angle = (pan + 1.0) / 2.0 * math.pi / 2.0
        return ((math.cos(angle),), (math.sin(angle),))
    angle = (pan + 1.0 if pan <= 0.0 else pan) * math.pi / 2.0
    keep, move = math.cos(angle), math.sin(angle)
    if pan <= 0.0:
        return ((1.0, keep), (0.0, move))
    return ((keep, 0.0), (move, 1.0))


def side_matrix(source: Width, side: Side) -> Matrix:
    """Into one side of a stereo target: mono unchanged, stereo as the average of both sides."""
    here = (1.0,) if source is Width.MONO else (0.5, 0.5)
    other = (0.0,) * len(here)
    return (here, other) if side is Side.LEFT else (other, here)


def scaled(matrix: Matrix, gain: float) -> Matrix:
    return tuple(tuple(cell * gain for cell in row) for row in matrix)
