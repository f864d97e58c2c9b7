"""Tracking: how velocity moves level, brightness and attack."""

import math

from drumcore.kit.values import Tracking

OPEN_HZ = 16_000.0
"""Where the low-pass of a voice lies when nothing darkens it."""


def level_gain_db(velocity: int, centre: float, amount: float) -> float:
    """Gain in dB: 40 * amount * log10(velocity / centre).

    `centre` is the velocity that plays the recording as it is: the middle of the layer, so that the dynamics that
    were recorded are not doubled, or 127 over the whole range. Source: DLS Level 2, velocity to attenuation (a 40 dB
    per decade curve).
    """
    return 40.0 * amount * math.log10(velocity / centre)


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
