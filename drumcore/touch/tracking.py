"""Tracking: how velocity moves level, brightness and attack."""

import math

from drumcore.kit.values import MOST_LEVEL, Articulation, Piece, Tracking
from drumcore.value import Value

OPEN_HZ = 16_000.0
"""Where the low-pass of a voice lies when nothing darkens it."""


def level_gain_db(velocity: float, centre: float, amount: float = 1.0) -> float:
    """Gain in dB: 40 * amount * log10(velocity / centre), 0 dB at `centre`, the velocity that plays as recorded.
    Source: DLS Level 2, velocity to attenuation (40 dB per decade). Inside layers `layers.dynamics` decides.
    """
    return 40.0 * amount * math.log10(velocity / centre)


def articulation_tracking(piece: Piece, articulation: Articulation) -> Tracking:
    """The tracking of an articulation: its piece's, except that it may have its own choice of whole range or inside
    layers.
    """
    return piece.tracking if articulation.whole is None else piece.tracking.but(whole=articulation.whole)


def most_level(tracking: Tracking) -> float:
    """The largest allowed amount for level: above 100 % over the whole range, 100 % inside layers."""
    return MOST_LEVEL if tracking.whole else 1.0


class Harder(Value):
    """What tracking does to strikes of velocity 1 to 127 apart from level: low-pass cutoffs in Hz, fade-ins in ms."""

    cutoff_hz: tuple[float, ...]
    attack_ms: tuple[float, ...]


def harder(tracking: Tracking) -> Harder:
    velocities = range(1, 128)
    return Harder(
        cutoff_hz=tuple(round(cutoff_hz(v, tracking), 1) for v in velocities),
        attack_ms=tuple(round(attack_ms(v, tracking), 2) for v in velocities),
    )


def octaves_darker(velocity: int, tracking: Tracking) -> float:
    """How many octaves below 16 kHz a strike's low-pass is: o * (1 - v / 127). From the design ("The rules of sound",
    Velocity): cutoff = f * 2 ** (o * (v / 127 - 1)).
    """
    return tracking.brightness * (1.0 - velocity / 127.0)


def cutoff_hz(velocity: int, tracking: Tracking) -> float:
    return float(OPEN_HZ * 2.0 ** -octaves_darker(velocity, tracking))


def attack_ms(velocity: int, tracking: Tracking) -> float:
    """The linear fade-in of a strike, in ms: from `attack_soft_ms` at velocity 1 to `attack_hard_ms` at 127."""
    soft, hard = tracking.attack_soft_ms, tracking.attack_hard_ms
    return soft + (hard - soft) * (velocity - 1) / 126.0
