"""A simulated kit struck in the browser sends what the same blow sends when it plays by itself."""

import random
from collections.abc import Callable, Iterator

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.simulated.electronic_kits import ELECTRONIC_KITS
from drumcore.simulated.performance import Performer
from tests.twins.asking import answering


class Drawn(random.Random):
    """Chance that is known beforehand."""

    def __init__(self, numbers: list[float]) -> None:
        super().__init__()
        self._numbers = iter(numbers)

    def random(self) -> float:
        return next(self._numbers)


@pytest.fixture(scope="module")
def browser(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Callable]:
    with answering("strike_pads", tmp_path_factory.mktemp("pads")) as ask:
        yield ask


@settings(max_examples=200)
@given(
    st.sampled_from(ELECTRONIC_KITS),
    st.integers(0, 20),
    st.floats(-0.1, 1.1),
    st.booleans(),
    st.integers(0, 127),
    st.lists(st.floats(0.0, 1.0, exclude_max=True), min_size=24, max_size=24),
)
def test_both_send_the_same_for_a_blow(browser, kit, which, force, edge, openness, chance):
    pad = kit.pads[which % len(kit.pads)]
    # Habits that are rare in the kits that ship are met in every other example here.
    kit = kit.but(
        cross_talk=tuple(t.but(chance=0.5) for t in kit.cross_talk),
        doubles=tuple(d.but(chance=0.5) for d in kit.doubles),
    )
    performer = Performer(kit, Drawn(chance))
    performer.openness = openness
    performer.strike(0.0, pad, force, edge=edge)
    asked = {
        "kit": kit.model_dump(mode="json"),
        "pad": pad.model_dump(mode="json"),
        "blow": {"force": force, "edge": edge, "openness": openness},
        "chance": chance,
    }
    theirs = browser(asked)
    assert [(m.number, m.value) for m in performer.sent] == [(s["number"], s["velocity"]) for s in theirs]
    assert [m.time_ms for m in performer.sent] == pytest.approx([s["late_ms"] for s in theirs], abs=0.006)
