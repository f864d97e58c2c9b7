"""How a layer's takes alternate, compiled to a sequence that every player plays alike."""

import hashlib
import random
from collections.abc import Sequence

from drumcore.kit.values import Order

STEPS = 64


def order_sequence(order: Order, count: int, seed: str) -> tuple[tuple[int, ...], ...]:
    """Steps, each the indices of the takes (0..count-1) that sound; played round and round.

    The generator is seeded by kit and layer (`seed`), so a render can be repeated. For `shuffled` and `random`, no
    take sounds twice in a row, the way round from the last step to the first included.
    """
    if count == 0:
        return ()
    if order is Order.TOGETHER:
        return (tuple(range(count)),)
    if order is Order.IN_TURN or count == 1:
        return tuple((i,) for i in range(count))
    generator = random.Random(int.from_bytes(hashlib.sha256(seed.encode()).digest()[:8], "big"))
    steps = _shuffled(generator, count) if order is Order.SHUFFLED else _random(generator, count)
    return tuple((i,) for i in steps)


def _shuffled(generator: random.Random, count: int) -> Sequence[int]:
    steps: list[int] = []
    rounds = max(2, -(-STEPS // count))
    if count == 2:
        return [0, 1]
    for number in range(rounds):
        while True:
            permutation = generator.sample(range(count), count)
            joins = not steps or permutation[0] != steps[-1]
            closes = number < rounds - 1 or permutation[-1] != steps[0]
            if joins and closes:
                break
        steps += permutation
    return steps


def _random(generator: random.Random, count: int) -> Sequence[int]:
    if count == 2:
        return [0, 1]
    steps = [generator.randrange(count)]
    while len(steps) < STEPS:
        last_step = len(steps) == STEPS - 1
        barred = {steps[-1], steps[0]} if last_step else {steps[-1]}
        steps.append(generator.choice([i for i in range(count) if i not in barred]))
    return steps
