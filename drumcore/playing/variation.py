"""Random variation from strike to strike, compiled so that every player varies alike and a render can be repeated."""

import hashlib
import random

from drumcore.kit.values import Variation
from drumcore.playing.filters import steps_darker
from drumcore.playing.play_table import PlayTurn
from drumcore.routing.pan import decibels_to_gain

TURNS = 61
"""A prime, so that turns and a layer's takes come together in ever new ways."""


def turns(variation: Variation, seed: str) -> tuple[PlayTurn, ...]:
    """The variation of each strike of a layer, as a repeating sequence; empty if strikes do not vary.

    Levels are uniform in ± `level_db`. Tuning alternates between as recorded, slightly lower and slightly higher, never
    the same twice in a row. The low-pass is lowered by brightness · u octaves, with u uniform in 0 to 1.
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
                darker=steps_darker(dull),
            )
        )
    return tuple(made)
