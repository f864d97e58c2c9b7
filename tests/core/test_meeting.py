"""Which parts of a kit an edit changes, and that edits which meet end alike in either order."""

import pytest
from hypothesis import given, settings

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.edits.rebase import made_on, parts_changed
from drumcore.refusals import Refusal
from tests.changes import edits

TOUCHES = {
    "a name": (e.RenameKit(name="Other"), {"name"}),
    "a tag": (e.DescribeKit(tags=("dry",)), {"tags"}),
    "an articulation": (e.SplitEvenly(articulation="snare/centre"), {"articulation snare/centre"}),
    "a piece": (e.SetTracking(piece="snare", level=0.4), {"piece snare"}),
    "a note": (e.MoveNote(note=36, to=90), {"note 36", "note 90"}),
    "a channel": (e.SetChannel(channel="snare-channel", level_db=-3.0), {"channel snare-channel"}),
    "a microphone": (e.FlipPolarity(mic="room"), {"microphone room"}),
    "what is ignored": (e.IgnoreFinding(finding="gap x"), {"finding gap x"}),
    "the main mix": (e.SetChannel(channel="main", level_db=-2.0), {"channel main"}),
}


@pytest.mark.parametrize("what", TOUCHES)
def test_an_edit_touches_what_it_changes_and_nothing_else(small_kit, what: str):
    edit, parts = TOUCHES[what]
    assert parts_changed(small_kit, apply(small_kit, edit)) == parts
    assert parts_changed(small_kit, small_kit) == frozenset()


@settings(max_examples=400)
@given(one=edits, other=edits)
def test_edits_that_touch_nothing_in_common_end_alike_in_either_order(small_kit, one, other):
    try:
        first, second = apply(small_kit, one), apply(small_kit, other)
        both, other_way = made_on(small_kit, first, other), made_on(small_kit, second, one)
    except Refusal:
        return
    if both is not None and other_way is not None:
        assert both == other_way
    if both is not None:
        kept = parts_changed(small_kit, first) - parts_changed(small_kit, second)
        assert kept <= parts_changed(small_kit, both), "what the first did still stands"


def test_an_edit_that_changed_nothing_takes_nothing_back(small_kit):
    as_it_is, louder = e.SetChannel(channel="main", level_db=0.0), e.SetChannel(channel="main", level_db=-6.0)
    stands = apply(small_kit, louder)
    assert made_on(small_kit, stands, as_it_is) == stands
    assert made_on(small_kit, stands, e.SetChannel(channel="main", level_db=-3.0)) is None
    hidden = e.Several(said="Both", edits=(as_it_is, e.FlipPolarity(mic="room")))
    assert made_on(small_kit, stands, hidden) is None


def test_a_copy_of_what_changed_meanwhile_is_refused(small_kit):
    stands = apply(small_kit, e.AddLayer(articulation="kick/centre", above=0))
    assert made_on(small_kit, stands, e.DuplicateArticulation(articulation="kick/centre")) is None
    copied = made_on(small_kit, stands, e.DuplicateArticulation(articulation="snare/centre"))
    assert copied is not None and len(copied.pieces[1].articulations) == 2
