"""Every edit has a sentence, with names and figures and no identifiers."""

from typing import get_args

import pytest
from hypothesis import given

from drumcore.edits import values as e
from drumcore.edits.saying import LONGEST, SENTENCES, said_of
from drumcore.edits.values import OneEdit
from drumcore.kit.values import Curve, Kit, Node
from drumcore.routing.hosts import RAFT
from drumcore.routing.shipped import PAIRS
from drumcore.spaces.echo import Echo
from drumcore.treatments.eq import Eq
from tests.changes import one_edit

SNARE = "snare/centre"
SAID = {
    "Snare to −3.0 dB": e.SetChannel(channel="snare-channel", level_db=-3.0),
    "The kit described and tagged dry and loud": e.DescribeKit(description="Wet.", tags=("dry", "loud")),
    "Snare muted, on the left and to main": e.SetChannel(channel="snare-channel", muted=True, side="left", output=0),
    "Kick and Snare panned to right 25 % and to output 2 Output 2": e.SetChannels(
        channels=("kick-channel", "snare-channel"), pan=0.25, output=2
    ),
    "Main to nothing": e.SetChannel(channel="main", level_db=-120.0),
    "Snare in Overheads at −6.0 dB and let in": e.LetIn(piece="snare", mic="overheads", level_db=-6.0, on=True),
    "Kick in Kick mic out of Kick": e.SetFeed(piece="kick", mic="kick-mic", channel="kick-channel", level_db=None),
    "Boundary above layer 2 of Snare · centre to 64": e.MoveBoundary(articulation=SNARE, layer=1, velocity=64),
    "Layer 1 of Snare · centre blended over 8": e.SetLayer(articulation=SNARE, layer=0, blend=8),
    "Curve of Snare · centre": e.SetCurve(target=SNARE, curve=Curve(nodes=(Node(x=0, y=0), Node(x=127, y=90)))),
    "No curve of its own for Deckhand 5": e.SetCurve(input="d", input_name="Deckhand 5", curve=None),
    "Note 36 (C1) to 40 (E1)": e.MoveNote(note=36, to=40),
    "Route by the plan “Pairs for a small host”": e.ApplyPlan(plan=PAIRS),
    "Routed for Raft": e.SetHost(host=RAFT),
    "EQ of Kick": e.SetTreatment(channel="kick-channel", treatment=Eq()),
    "air-bus through an echo": e.SetSpace(bus="air-bus", space=Echo()),
    "Snare · centre follows strength as its piece says": e.FollowStrength(articulation=SNARE, whole=None),
}


@pytest.mark.parametrize("sentence", SAID)
def test_an_edit_is_said_with_names_and_figures(small_kit: Kit, sentence: str):
    assert said_of(small_kit, SAID[sentence]) == sentence


def test_every_kind_of_edit_has_a_sentence_of_its_own():
    assert set(SENTENCES) == set(get_args(get_args(OneEdit)[0]))


@given(one_edit)
def test_whatever_the_edit_its_sentence_is_short_and_has_no_figure_of_a_machine(small_kit: Kit, edit):
    said = said_of(small_kit, edit)
    assert said == said.strip() and 0 < len(said) <= LONGEST
    assert "None" not in said and "=" not in said and not said.endswith(".")
