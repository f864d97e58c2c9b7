"""What the browser's striker decides is what the core's decides, whatever the kit and whatever is played on it."""

from collections.abc import Callable, Iterator

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlayTable
from drumcore.playing.striker import Striker
from tests.changes import edits, messages, played_on
from tests.twins.asking import answering


@pytest.fixture(scope="module")
def browser_decides(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Callable[[PlayTable, list], list]]:
    with answering("decide", tmp_path_factory.mktemp("twin")) as ask:

        def decide(table: PlayTable, played: list) -> list:
            asked = {**table.model_dump(mode="json", exclude_defaults=True), "messages": played}
            return ask(asked | {"head": table.head.model_dump(mode="json")})

        yield decide


def core_decides(table: PlayTable, played: list) -> list:
    striker = Striker(table)
    decided = []
    for kind, source, note, value, time_s in played:
        if kind == "pressure":
            decided.append({"stopped": [s.model_dump() for s in striker.press(note, value)]})
            continue
        stopped, found = [], []
        if kind == "note":
            found = striker.strike(note, value, time_s, source)
        else:
            stopped, found = striker.pedal(value, time_s, source)
        answer = [
            [s.articulation.id, s.velocity, s.layer, s.take.id, s.gain, s.tuning, s.cutoff_hz, s.attack] for s in found
        ]
        why = striker.why if kind == "note" else ""
        decided.append({"why": why, "stopped": [s.model_dump() for s in stopped], "found": answer})
    return decided


AT_THE_LIMITS = [
    ("note", "pads", 38, 100, 0.0),
    ("note", "pads", 46, 64, 15.625),
    ("note", "pads", 38, 100, 0.0),
    ("note", "pads", 49, 90, 125.0),
    ("pressure", "pads", 49, 64, 125.0),
    ("controller", "pads", 0, 64, 125.0),
    ("controller", "pads", 0, 8, 31.25),
]


@settings(max_examples=150)
@example([], AT_THE_LIMITS)
@given(st.lists(edits, max_size=3), messages)
def test_both_strikers_decide_alike(after, browser_decides, changes, played):
    table = compile_kit(after([*played_on, *changes]))
    at_ms, timed = 0.0, []
    for kind, source, note, value, since_ms in played:
        at_ms += since_ms
        timed.append([kind, source, note, max(1, value) if kind == "note" else value, at_ms / 1000])
    ours, theirs = core_decides(table, timed), browser_decides(table, timed)
    for message, one, other in zip(timed, ours, theirs, strict=True):
        assert one == other, message
