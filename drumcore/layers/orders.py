"""Round robins: how a layer's takes alternate, compiled to a sequence that every player plays alike."""

import hashlib
import random
from collections.abc import Sequence

from drumcore.kit.values import Order, Take

STEPS = 64


def seed_of(takes: Sequence[Take]) -> str:
    """The seed of a layer's round robin and variation: the hashes of its takes, and nothing about where the layer is."""
    return "/".join(" ".join(sorted(r.content for r in take.recordings)) for take in takes)


def order_sequence(order: Order, count: int, seed: str) -> tuple[tuple[int, ...], ...]:
    """The steps of a round robin, each the indices of the takes (0..count-1) that sound; the sequence repeats.

    The seed comes from what the layer holds (`seed_of`), so renders can be repeated and a copy plays alike. With
    `shuffled` and `random` no take sounds twice in a row, also from the last step to the first, and every take sounds
    equally often.
    """
    if count == 0:
        return ()
    if order is Order.TOGETHER:
        return (tuple(range(count)),)
    if order is Order.IN_TURN or count == 1:
        return tuple((i,) for i in range(count))
    generator = random.Random(int.from_bytes(hashlib.sha256(seed.encode()).digest()[:8], "big"))
    if count == 2:
        return ((0,), (1,))
    steps = _shuffled(generator, count) if order is Order.SHUFFLED else _random(generator, count)
    return tuple((i,) for i in steps)


def _rounds(count: int) -> int:
    """How often each take occurs in a compiled sequence."""
    return max(2, -(-STEPS // count))


def _shuffled(generator: random.Random, count: int) -> Sequence[int]:
    steps: list[int] = []
    rounds = _rounds(count)
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
    """Draws any take but the last one, with a probability equal to its remaining turns. A draw that reaches a dead end
    starts again.
    """
    while True:
        left, steps = [_rounds(count)] * count, list[int]()
        for turns_left in range(sum(left), 0, -1):
            last = turns_left == 1
            barred = {steps[-1], steps[0]} if steps and last else {steps[-1]} if steps else set()
            chances = [0 if i in barred else turns for i, turns in enumerate(left)]
            if not any(chances):
                break
            steps += generator.choices(range(count), chances)
            left[steps[-1]] -= 1
        else:
            return steps
