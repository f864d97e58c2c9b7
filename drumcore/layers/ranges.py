"""Velocity ranges of layers: closing gaps, ending overlaps, computing blends."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from drumcore.kit.values import Layer


def close_gaps(layers: Sequence[Layer]) -> tuple[Layer, ...]:
    """The layers with all gaps closed: the layer below a gap extends up to the next one. The first begins at 1 and the
    last ends at 127.
    """
    closed = list(layers)
    for number, (below, above) in enumerate(pairwise(layers)):
        if above.low > below.high + 1:
            closed[number] = closed[number].but(high=above.low - 1)
    if closed:
        closed[0] = closed[0].but(low=1)
        closed[-1] = closed[-1].but(high=127)
    return tuple(closed)


def end_overlaps(layers: Sequence[Layer]) -> tuple[Layer, ...]:
    """The layers without overlaps: overlapping neighbours meet in the middle of what they share. If one reached past
    the other on both sides, the other takes over what lies above, so no velocity is lost.
    """
    ended = list(layers)
    for number in range(len(ended) - 1):
        below, above = ended[number], ended[number + 1]
        if above.low > below.high:
            continue
        middle = (max(above.low, below.low) + min(below.high, above.high)) // 2
        edge = max(below.low, min(middle, above.high - 1))
        ended[number] = below.but(high=edge)
        ended[number + 1] = above.but(low=edge + 1, high=max(edge + 1, above.high, below.high))
    return tuple(ended)


@dataclass(frozen=True)
class Span:
    """Values `low`..`high`, cross-fading into the next span over `blend` values around `high`."""

    low: int
    high: int
    blend: int


@dataclass(frozen=True)
class BlendedRange:
    """The values a span covers with its blends, and its blend gain at each."""

    low: int
    high: int
    gains: tuple[float, ...]


def blended(layers: Sequence[Layer]) -> list[BlendedRange]:
    """How far each layer reaches into its neighbours, and at which gain; see `blend_spans`."""
    return blend_spans([Span(layer.low, layer.high, layer.blend) for layer in layers])


def blend_spans(spans: Sequence[Span]) -> list[BlendedRange]:
    """How far each span reaches into its neighbours, and at which gain.

    Over the w values of a blend, with t = i / (w + 1) for i = 1..w, the lower span plays at cos(t·π/2) and the upper at
    sin(t·π/2): equal power, because two takes are uncorrelated. A blend is centred on the upper end of its span and
    never reaches past the far end of either span. Spans that do not meet exactly do not blend. Where two blends meet in
    a narrow span, three spans sound and their powers also sum to one.
    """
    reach = [(span.low, span.high) for span in spans]
    gains: list[dict[int, float]] = [{} for _ in spans]
    for number, (below, above) in enumerate(pairwise(spans)):
        if above.low != below.high + 1 or not below.blend:
            continue
        width = min(below.blend, 2 * (below.high - below.low + 1), 2 * (above.high - above.low + 1))
        first = below.high - (width + 1) // 2 + 1
        last = min(above.high, first + width - 1)
        first = max(below.low, first)
        shared = last - first + 1
        for step, value in enumerate(range(first, last + 1), start=1):
            angle = step / (shared + 1) * math.pi / 2.0
            gains[number][value] = gains[number].get(value, 1.0) * math.cos(angle)
            gains[number + 1][value] = gains[number + 1].get(value, 1.0) * math.sin(angle)
        reach[number] = (reach[number][0], max(reach[number][1], last))
        reach[number + 1] = (min(reach[number + 1][0], first), reach[number + 1][1])
    for value in {value for own in gains for value in own}:
        power = sum(own[value] ** 2 for own in gains if value in own)
        for own in gains:
            if value in own:
                own[value] /= math.sqrt(power)
    return [
        BlendedRange(low, high, tuple(own.get(value, 1.0) for value in range(low, high + 1)))
        for (low, high), own in zip(reach, gains, strict=True)
    ]
