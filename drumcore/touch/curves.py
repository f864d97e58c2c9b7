"""Velocity curves: velocity in to velocity out."""

import functools
import math

from drumcore.kit.values import Curve


def curve_value(curve: Curve, x: float) -> float:
    """y at x, both 0..127, before rounding. On the segment from (x0, y0) to (x1, y1), with t from 0 to 1, y = y0 + (y1
    - y0) * t ** (2 ** (-3 * bend)), the design's rule ("The rules of sound", Velocity). A positive bend raises the
    middle, a negative one lowers it.
    """
    for a, b in zip(curve.nodes, curve.nodes[1:], strict=False):
        if x <= b.x:
            t = (x - a.x) / (b.x - a.x)
            return float(a.y + (b.y - a.y) * t ** (2.0 ** (-3.0 * a.bend)))
    return float(curve.nodes[-1].y)


@functools.lru_cache(maxsize=512)
def curve_line(curve: Curve) -> tuple[float, ...]:
    """The curve before rounding, at 0 to 127, for drawing."""
    return tuple(round(curve_value(curve, x), 1) for x in range(128))


@functools.lru_cache(maxsize=512)
def curve_table(curve: Curve) -> tuple[int, ...]:
    """The curve as 128 integers, rounded half up and clamped to 0..127; 0 ignores the strike."""
    return tuple(min(127, max(0, math.floor(curve_value(curve, x) + 0.5))) for x in range(128))
