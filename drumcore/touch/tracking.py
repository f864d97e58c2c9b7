"""Tracking: how velocity moves level, brightness and attack."""

import math
from collections.abc import Sequence

from drumcore.kit.values import Layer, Tracking, Value

OPEN_HZ = 16_000.0
"""Where the low-pass of a voice lies when nothing darkens it."""


def level_gain_db(velocity: int, centre: float, amount: float) -> float:
    """Gain in dB: 40 * amount * log10(velocity / centre).

    `centre` is the velocity that plays the recording as it is: the middle of the layer, so that the dynamics that
    were recorded are not doubled, or 127 over the whole range. Source: DLS Level 2, velocity to attenuation (a 40 dB
    per decade curve).
    """
    return 40.0 * amount * math.log10(velocity / centre)


def centre(layer: Layer | None, tracking: Tracking) -> float:
    """The velocity that plays a layer as it was recorded: its middle, or 127 where level follows the whole range."""
    return 127.0 if tracking.whole or layer is None else (layer.low + layer.high) / 2.0


class Harder(Value):
    """What tracking does to strikes of velocity 1 to 127: gains in dB, low-passes in Hz, fade-ins in ms."""

    level_db: tuple[float, ...]
    cutoff_hz: tuple[float, ...]
    attack_ms: tuple[float, ...]


def harder(tracking: Tracking, layers: Sequence[Layer]) -> Harder:
    velocities = range(1, 128)
    layer_at = {v: next((layer for layer in layers if layer.low <= v <= layer.high), None) for v in velocities}
    return Harder(
        level_db=tuple(round(level_gain_db(v, centre(layer_at[v], tracking), tracking.level), 2) for v in velocities),
        cutoff_hz=tuple(round(cutoff_hz(v, tracking), 1) for v in velocities),
        attack_ms=tuple(round(attack_ms(v, tracking), 2) for v in velocities),
    )


def octaves_darker(velocity: int, tracking: Tracking) -> float:
    """How many octaves below 16 kHz the low-pass of a strike lies: o * (1 - v / 127).

    The design's own rule ("The rules of sound", Velocity): cutoff = f * 2 ** (o * (v / 127 - 1)).
    """
    return tracking.brightness * (1.0 - velocity / 127.0)


def cutoff_hz(velocity: int, tracking: Tracking) -> float:
    return float(OPEN_HZ * 2.0 ** -octaves_darker(velocity, tracking))


def attack_ms(velocity: int, tracking: Tracking) -> float:
    """The linear fade-in of a strike, in ms: from `attack_soft_ms` at velocity 1 to `attack_hard_ms` at 127."""
    soft, hard = tracking.attack_soft_ms, tracking.attack_hard_ms
    return soft + (hard - soft) * (velocity - 1) / 126.0
