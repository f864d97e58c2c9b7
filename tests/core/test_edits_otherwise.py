"""Every edit asked in every other way: it is refused in a sentence, or changes what it names and tells the difference."""

from collections.abc import Iterator
from typing import Any

import pytest

from drumcore.describing.differences import differences
from drumcore.describing.edits import said_of
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.kit.json_form import from_json, to_json
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_kit
from drumcore.refusals import Refusal
from tests.core.test_saying import ALSO, SAID

OTHERWISE: dict[str, tuple[Any, ...]] = {
    **dict.fromkeys(("piece", "articulation", "mic", "take", "other", "from_take", "stopped", "treatment"), ("nobody",)),
    **dict.fromkeys(("channel", "bus"), ("nobody", "main", "air-bus", "hats-channel")),
    "channels": (("nobody",), ("main",), ("air-bus",), ("kick-channel", "kick-channel"), ("kick-channel",)),
    "takes": ((), ("nobody",), ("t1", "t1")),
    "layer": (None, 0, 1, 3, 4),
    "above": (0, 3, 4),
    "place": (None, 0, 1, 2, 99),
    "to": (0, 1, 99, "hats/closed", "nobody", 38),
    "count": (1, 2, 5, 12, 32),
    "velocity": (1, 4, 20, 70, 120, 127),
    "low": (1, 70, 127),
    "high": (1, 30, 70, 127),
    "linked": (True, False),
    "note": (0, 36, 46, 127),
    "limit": (1, 2, 16),
    "openness": (0, 46, 126),
    "when_occupied": ("stack", "take_over", "change_places"),
    "from_note": (36, 38),
    "order": ("in_turn", "shuffled", "random", "together"),
    "name": ("Kick", "Main", "  Much   room  "),
    "output": (0, 1, 2, 17, 64),
    "plan": ("nobody", "mono-for-close", "pairs", "one-output-a-piece"),
    "level_db": (None, -120.0, 6.0),
    "on": (None, True, False),
    "side": ("left", "right", "both"),
    "by_ms": (0.0, 5.0, -500.0),
    "end_ms": (0.5, 20.0),
    "start_trim_ms": (-100.0, 200.0),
    "fade_ms": (None, 5.0),
    "ignored": (True, False),
}  # fmt: skip
"""What else a field of an edit may say: names of nothing, the first and the last of some, one too many."""
ONLY = {
    "set_channel": {"routing"},
    "set_send": {"routing"},
    "set_feed": {"routing"},
    "set_treatment": {"routing"},
    "move_boundary": {"pieces"},
    "set_range": {"pieces"},
    "trim_takes": {"pieces"},
    "match_take_levels": {"pieces"},
    "set_order": {"pieces"},
    "put_on_note": {"notes"},
    "remove_from_note": {"notes"},
    "set_tracking": {"pieces"},
    "set_mic": {"mics"},
    "flip_polarity": {"mics"},
    "rename_kit": {"name"},
    "ignore_finding": {"ignored"},
}
"""Of some kinds the only part of a kit that may change: undo, and edits made on a newer version, rest on it."""


def otherwise(edit: e.Edit) -> Iterator[e.Edit]:
    yield edit
    for field in type(edit).model_fields:
        for value in OTHERWISE.get(field, ()):
            try:
                yield type(edit).model_validate({**edit.model_dump(), field: value})
            except ValueError:
                continue


def test_whatever_an_edit_asks_it_is_refused_in_a_sentence_or_done_and_told(rich: Kit):
    done, refused, seen = set[str](), set[str](), set[str]()
    for asked in (*SAID.values(), *(edit(rich) for _, edit in ALSO)):
        for edit in otherwise(asked):
            mark = edit.model_dump_json()
            if mark in seen:
                continue
            seen.add(mark)
            assert said_of(rich, edit), edit
            try:
                after = apply(rich, edit)
            except Refusal as refusal:
                refused.add(edit.kind)
                assert len(str(refusal)) > 15 and str(refusal)[-1] in ".?…", (edit.kind, str(refusal))
                continue
            done.add(edit.kind)
            told = list(differences(rich, after))
            assert bool(told) == (after != rich), (edit.kind, told)
            if after == rich:
                continue
            assert from_json(to_json(after)) == after
            changed = {name for name in Kit.model_fields if getattr(after, name) != getattr(rich, name)}
            assert changed <= ONLY.get(edit.kind, changed), (edit.kind, changed)
    assert len(done) > 60 and len(refused) > 30 and len(seen) > 600, (len(done), len(refused), len(seen))


@pytest.mark.parametrize("kind", sorted(ONLY))
def test_kinds_that_are_held_to_their_part_are_kinds_that_there_are(kind: str, rich: Kit):
    assert kind in {edit.kind for edit in (*SAID.values(), *(make(rich) for _, make in ALSO))}


def test_an_edit_of_one_articulation_compiles_the_others_as_they_were(rich: Kit):
    """What the browser is sent after an edit is the pieces it touched: the others must not move."""
    before = {piece.id: piece for piece in compile_kit(rich).pieces}
    for edit in SAID.values():
        named = getattr(edit, "articulation", None)
        if not isinstance(named, str) or "/" not in named:
            continue
        try:
            after = compile_kit(apply(rich, edit))
        except Refusal:
            continue
        piece = named.split("/")[0]
        others = [p.id for p in after.pieces if p.id in before and p != before[p.id] and p.id != piece]
        assert not others, (edit.kind, others)
