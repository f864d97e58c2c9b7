"""What the browser compiles of a channel that is turned is what the studio has of it afterwards."""

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_head
from drumcore.playing.play_table import PlayChannel
from drumcore.refusals import Refusal
from studio.kits.state import head_shown
from tests.changes import of_routing
from tests.twins.asking import answering

pans = st.builds(
    e.SetChannel,
    channel=st.sampled_from(["kick-channel", "overheads-channel", "main"]),
    pan=st.floats(-1.0, 1.0),
    treated=st.one_of(st.none(), st.booleans()),
)


@pytest.fixture(scope="module")
def browser(tmp_path_factory: pytest.TempPathFactory):
    with answering("compile", tmp_path_factory.mktemp("compile")) as ask:
        yield ask


@settings(max_examples=80)
@given(edits=st.lists(st.one_of(of_routing, pans), min_size=4, max_size=14), plan=st.booleans())
def test_a_channel_is_compiled_alike_on_both_sides(browser, small_kit: Kit, edits, plan):
    kit = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece")) if plan else small_kit
    for edit in edits:
        try:
            kit = apply(kit, edit)
        except Refusal:
            continue
    head = compile_head(kit)
    shown = json.loads(head_shown(kit, head).model_dump_json())
    all_channels = [*shown["channels"], *shown["buses"]]
    around = {"outputs": shown["outputs"], "treated": shown["treated"], "rate": kit.rate_hz}
    around |= {"channels": [channel["id"] for channel in all_channels]}
    for channel, compiled in zip([*all_channels, shown["main"]], [*head.channels, head.main], strict=True):
        theirs = PlayChannel.model_validate(browser({"channel": channel, **around}))
        assert theirs.but(matrix=compiled.matrix, sends=compiled.sends) == compiled
        ways = [(theirs.matrix, compiled.matrix)]
        for send, ours in zip(theirs.sends, compiled.sends, strict=True):
            assert send.into == ours.into
            ways.append((send.matrix, ours.matrix))
        for matrix, ours in ways:
            for row, cells in zip(matrix, ours, strict=True):
                assert row == pytest.approx(cells, rel=1e-12, abs=1e-15)
