"""Tracking: how velocity moves what sounds."""

import math


def level_gain_db(velocity: int, centre: float, amount: float) -> float:
    """Gain in dB: 40 * amount * log10(velocity / centre).

    `centre` is the velocity that plays the recording as it is: the middle of the layer, so that the dynamics that
    were recorded are not doubled. Source: DLS Level 2, velocity to attenuation (a 40 dB per decade curve).
    """
    return 40.0 * amount * math.log10(velocity / centre)
