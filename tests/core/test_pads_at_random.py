"""Pads that shake and bounce, played by hands that are known: what is learned removes the phantoms and keeps what was meant."""

import numpy as np
import pytest

from drumcore.touch.gate import CrossTalkRule, Gate
from drumcore.touch.pad_faults import PadStrike, learn

Meant = tuple[PadStrike, bool]


def played(seed: int) -> list[Meant]:
    """A minute of playing on four pads: each strike with whether somebody meant it. The kick shakes the snare, and the tom bounces."""
    rng = np.random.default_rng([37, seed])
    found: list[Meant] = []
    time = 0.0
    for _ in range(240):
        time += float(rng.choice([90.0, 180.0, 250.0])) + float(rng.uniform(0.0, 20.0))
        pad, velocity = int(rng.choice([36, 38, 42, 45])), int(rng.integers(50, 128))
        found.append((PadStrike(time_ms=round(time, 1), note=pad, velocity=velocity), True))
        if pad == 36 and rng.random() < 0.7:
            late, soft = float(rng.uniform(1.0, 8.0)), max(2, int(velocity * rng.uniform(0.08, 0.2)))
            found.append((PadStrike(time_ms=round(time + late, 1), note=38, velocity=soft), False))
        if pad == 45 and rng.random() < 0.5:
            again = float(rng.uniform(6.0, 14.0))
            found.append((PadStrike(time_ms=round(time + again, 1), note=45, velocity=max(2, velocity // 4)), False))
    return sorted(found, key=lambda strike: strike[0].time_ms)


@pytest.mark.parametrize("seed", range(8))
def test_phantoms_go_and_what_was_meant_stays(seed: int):
    heard = played(seed)
    found = learn([strike for strike, _ in heard])
    assert {(rule.after, rule.note) for rule in found.cross_talk} == {(36, 38)}, "the pad with cross-talk, and no other"
    gone = {removed.place for removed in found.removed}
    meant = {place for place, (_, was_meant) in enumerate(heard) if was_meant}
    phantoms = set(range(len(heard))) - meant
    assert len(gone & phantoms) >= 0.9 * len(phantoms) > 10
    assert len(gone & meant) <= 0.01 * len(meant)


def test_a_gate_lets_pass_what_its_rules_do_not_name():
    gate = Gate([CrossTalkRule(after=36, note=38, up_to=40, within_s=0.012)], doubles_s=0.015)
    strikes = [(36, 100, 0.0), (38, 30, 0.010), (38, 41, 0.011), (42, 20, 0.012), (36, 90, 0.500), (38, 30, 0.513)]
    removed = [gate.judge(*strike) for strike in strikes]
    # Soft and within 12 ms of the kick; harder than cross-talk is; another pad; and later than that.
    assert [bool(why) for why in removed] == [False, True, False, False, False, False]
    twice = Gate([], doubles_s=0.015)
    assert [bool(twice.judge(38, 90, at)) for at in (1.0, 1.014, 1.030)] == [False, True, False]
