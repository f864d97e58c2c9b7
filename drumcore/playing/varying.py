"""Small variation from strike to strike, compiled so that every player varies alike and a render can be repeated."""

import hashlib
import math
import random

from drumcore.kit.values import Variation
from drumcore.playing.play_table import PlayTurn
from drumcore.routing.pan import decibels_to_gain

TURNS = 61
"""A prime, so that turns and a layer's takes come together in ever new ways."""
BRIGHTEST_HZ = 16_000.0


def turns(variation: Variation, seed: str, rate_hz: int) -> tuple[PlayTurn, ...]:
    """How each strike of a layer varies, round and round; nothing where strikes do not vary.

    Levels are drawn evenly from ± `level_db`. Tuning goes through the recording as it is, a little lower and a little
    higher, never the same twice in a row. The low-pass of a strike lies at 16 kHz · 2^(−brightness · u), u evenly drawn
    from 0 to 1.
    """
    if variation == Variation():
        return ()
    generator = random.Random(int.from_bytes(hashlib.sha256(f"vary {seed}".encode()).digest()[:8], "big"))
    made: list[PlayTurn] = []
    tuning = 0
    for number in range(TURNS):
        if variation.tune_cents:
            barred = {tuning, made[0].tuning} if number == TURNS - 1 else {tuning} if number else set()
            tuning = generator.choice([t for t in (0, 1, 2) if t not in barred])
        level = generator.uniform(-variation.level_db, variation.level_db)
        dull = variation.brightness * generator.random()
        made.append(
            PlayTurn(
                gain=decibels_to_gain(level),
                tuning=tuning,
                filter=low_pass(BRIGHTEST_HZ * 2.0**-dull, rate_hz) if variation.brightness else None,
            )
        )
    return tuple(made)


def low_pass(cutoff_hz: float, rate_hz: int) -> tuple[float, ...]:
    """b0 b1 b2 a1 a2 of a second-order low-pass with Q = 1/√2, a0 made 1.

    Source: Audio EQ Cookbook, R. Bristow-Johnson (W3C Note 2021), LPF.
    """
    w = 2.0 * math.pi * min(cutoff_hz, 0.49 * rate_hz) / rate_hz
    alpha = math.sin(w) / math.sqrt(2.0)
    a0 = 1.0 + alpha
    b1 = 1.0 - math.cos(w)
    return (b1 / 2.0 / a0, b1 / a0, b1 / 2.0 / a0, -2.0 * math.cos(w) / a0, (1.0 - alpha) / a0)
