"""Every edit has a sentence, with names and figures and no identifiers."""

from collections.abc import Callable
from typing import get_args

import pytest
from hypothesis import given

from drumcore.describing.edits import LONGEST, SENTENCES, said_of
from drumcore.edits import values as e
from drumcore.edits.values import OneEdit
from drumcore.kit.values import CrossTalk, Curve, Kit, Node, SavedMap, Variation
from drumcore.routing.hosts import RAFT
from drumcore.routing.shipped import PAIRS
from drumcore.shelf.kept_piece import kept_piece
from drumcore.spaces.echo import Echo
from drumcore.spaces.hall import Hall
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
    "Main to −∞ dB": e.SetChannel(channel="main", level_db=-120.0),
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
    "Snare · centre follows velocity like its piece": e.FollowStrength(articulation=SNARE, whole=None),
}


def taken_out(kit: Kit, piece: str) -> Kit:
    return kept_piece(kit, piece).kit


LINE = Curve(nodes=(Node(x=0, y=0), Node(x=127, y=90)))
SHAKEN = CrossTalk(after=36, note=38, up_to=20, within_ms=10.0)
ALSO: list[tuple[str, Callable[[Kit], e.Edit]]] = [
    ("The kit is called Other", lambda kit: e.RenameKit(name="Other")),
    ("The kit is called Small", lambda kit: e.RenameKit(name="  ")),
    ("The kit described", lambda kit: e.DescribeKit(description="Dry.")),
    ("The kit as it is", lambda kit: e.DescribeKit()),
    ("Pieces made: Kick, Snare and Hats", lambda kit: e.BuildPieces(mics=(), pieces=kit.pieces[:3])),
    ("Takes added to Snare", lambda kit: e.AddToPiece(piece="snare", mics=(), articulations=())),
    ("New piece Cowbell", lambda kit: e.MakePiece(name="Cowbell")),
    (
        "Snare is called Sharp, family tom and to −2.5 dB in all microphones",
        lambda kit: e.SetPiece(piece="snare", name="Sharp", family="tom", level_db=-2.5),
    ),
    ("Snare as it is", lambda kit: e.SetPiece(piece="snare")),
    ("Snare to place 1", lambda kit: e.MovePiece(piece="snare", place=0)),
    ("Snare duplicated", lambda kit: e.DuplicatePiece(piece="snare")),
    ("nobody deleted", lambda kit: e.RemovePiece(piece="nobody")),
    ("New articulation rimshot of Snare", lambda kit: e.MakeArticulation(piece="snare", name="rimshot")),
    ("Hats · open to place 1", lambda kit: e.MoveArticulation(articulation="hats/open", place=0)),
    ("Snare · centre duplicated", lambda kit: e.DuplicateArticulation(articulation=SNARE)),
    ("Snare · centre deleted", lambda kit: e.RemoveArticulation(articulation=SNARE)),
    ("Snare · centre is called middle", lambda kit: e.RenameArticulation(articulation=SNARE, name="middle")),
    ("Kick on 60 (C3)", lambda kit: e.AddSounds(mics=(), pieces=(kit.pieces[0],), note=60)),
    ("Snare of March added", lambda kit: e.BringPiece(alone=taken_out(kit, "snare"), of="March")),
    (
        "Snare of March replaces Snare",
        lambda kit: e.BringPiece(alone=taken_out(kit, "snare"), of="March", instead_of="snare"),
    ),
    ("Snare layered with Snare", lambda kit: e.BringPiece(alone=taken_out(kit, "snare"), together_with="snare")),
    (
        "Snare of March added",
        lambda kit: e.BringPieces(taken=(e.BringPiece(alone=taken_out(kit, "snare"), of="March"),)),
    ),
    (
        "Snare and Kick of March added",
        lambda kit: e.BringPieces(
            taken=(
                e.BringPiece(alone=taken_out(kit, "snare"), of="March"),
                e.BringPiece(alone=taken_out(kit, "kick"), of="March"),
            )
        ),
    ),
    (
        "Snare and Kick, replacing ours",
        lambda kit: e.BringPieces(
            taken=(
                e.BringPiece(alone=taken_out(kit, "snare"), of="March", instead_of="snare"),
                e.BringPiece(alone=taken_out(kit, "kick"), of="April", instead_of="kick"),
            )
        ),
    ),
    ("New layer above 2 of Snare · centre", lambda kit: e.AddLayer(articulation=SNARE, above=1)),
    ("Snare · centre layer levels evened out", lambda kit: e.EvenOutLayers(articulation=SNARE)),
    ("Gaps of Snare · centre closed", lambda kit: e.CloseGaps(articulation=SNARE)),
    ("Layer 1 of Snare · centre split", lambda kit: e.SplitLayer(articulation=SNARE, layer=0)),
    ("Overlaps of Snare · centre ended", lambda kit: e.EndOverlaps(articulation=SNARE)),
    ("Takes of Snare · centre matched in level", lambda kit: e.MatchTakeLevels(articulation=SNARE)),
    ("Snare · centre in 3 layers", lambda kit: e.MakeLayers(articulation=SNARE, count=3)),
    ("Layers 2 and 3 of Snare · centre merged", lambda kit: e.MergeLayers(articulation=SNARE, layer=1)),
    ("Layer 3 of Snare · centre deleted", lambda kit: e.RemoveLayer(articulation=SNARE, layer=2)),
    ("Layer 4 of Snare · centre by −1.0 dB", lambda kit: e.SetLayer(articulation=SNARE, layer=3, gain_db=-1.0)),
    ("Takes of Snare · centre in turn", lambda kit: e.SetOrder(articulation=SNARE, order="in_turn")),
    ("Layer 3 of Snare · centre together", lambda kit: e.SetOrder(articulation=SNARE, layer=2, order="together")),
    ("Layer 2 of Snare · centre from 20 to 40", lambda kit: e.SetRange(articulation=SNARE, layer=1, low=20, high=40)),
    ("Variation of Snare · centre", lambda kit: e.SetVariation(articulation=SNARE, variation=Variation(level_db=1.0))),
    ("Layers of Snare · centre by loudness", lambda kit: e.SortLayers(articulation=SNARE)),
    ("Snare · centre split by loudness", lambda kit: e.SplitByLoudness(articulation=SNARE)),
    ("Snare · centre split evenly", lambda kit: e.SplitEvenly(articulation=SNARE)),
    (
        "Snare · centre 1-1 borrows Room",
        lambda kit: e.BorrowRecording(articulation=SNARE, take="t1", mic="room", from_take="t2"),
    ),
    ("Snare · centre 1-1 centred", lambda kit: e.CentreRecording(articulation=SNARE, take="t1")),
    ("Room polarity flipped", lambda kit: e.FlipPolarity(mic="room")),
    ("Label of Snare · centre 1-1 ignored", lambda kit: e.ForgetLabel(articulation=SNARE, take="t1")),
    (
        "Room of Snare · centre 1-1 moved by −1.2 ms",
        lambda kit: e.MoveRecording(articulation=SNARE, take="t1", mic="room", by_ms=-1.25),
    ),
    ("Snare · centre 1-1 to layer 3", lambda kit: e.MoveTakes(articulation=SNARE, takes=("t1",), layer=2)),
    ("2 takes of Snare · centre unused", lambda kit: e.MoveTakes(articulation=SNARE, takes=("t1", "t2"), layer=None)),
    (
        "2 takes of Snare · centre to Kick · centre",
        lambda kit: e.MoveTakes(articulation=SNARE, takes=("t1", "t2"), layer=None, to="kick/centre"),
    ),
    ("Room is called Far, by 3.0 dB and muted", lambda kit: e.SetMic(mic="room", name="Far", gain_db=3.0, muted=True)),
    ("Room unmuted", lambda kit: e.SetMic(mic="room", muted=False)),
    (
        "Snare · centre 1-1 swapped with Snare · centre 1-2",
        lambda kit: e.SwapTakes(articulation=SNARE, take="t1", other="t2"),
    ),
    (
        "Snare · centre 1-1 by −2.0 dB, panned to the middle, tuned by −30 cents, polarity flipped and start trimmed by 1.5 ms",
        lambda kit: e.TrimTakes(
            articulation=SNARE, takes=("t1",), gain_db=-2.0, pan=0.0, tune_cents=-30.0, inverted=True, start_trim_ms=1.5
        ),
    ),
    (
        "2 takes of Snare · centre plays for 400 ms, fades in over 2.0 ms, fades out over 30.0 ms and disabled",
        lambda kit: e.TrimTakes(
            articulation=SNARE, takes=("t1", "t2"), end_ms=400.0, fade_in_ms=2.0, fade_out_ms=30.0, enabled=False
        ),
    ),
    (
        "2 takes of Snare · centre polarity normal and plays",
        lambda kit: e.TrimTakes(articulation=SNARE, takes=("t1", "t2"), inverted=False, enabled=True),
    ),
    ("Overheads (left) polarity flipped", lambda kit: e.FlipRecordings(mic="overheads", side="left")),
    ("Room polarity flipped in Snare", lambda kit: e.FlipRecordings(mic="room", piece="snare")),
    (
        "Room polarity flipped in Snare · centre 3",
        lambda kit: e.FlipRecordings(mic="room", articulation=SNARE, take="3"),
    ),
    ("Standard note map applied", lambda kit: e.ApplyMap()),
    ("Note map Quay applied", lambda kit: e.ApplyMap(map=SavedMap(name="Quay", entries=()))),
    ("Limit 1 of note 46 (A♯1) to 50", lambda kit: e.MoveOpennessLimit(note=46, limit=0, openness=50)),
    ("Everything on 46 (A♯1) on separate notes", lambda kit: e.NoteEach(note=46)),
    ("Snare · centre on 40 (E1)", lambda kit: e.PutOnNote(articulation=SNARE, note=40)),
    ("A hand chokes Crash left", lambda kit: e.SetHandStop(piece="crash-left", fade_ms=40.0)),
    ("No hand choke of Crash left", lambda kit: e.SetHandStop(piece="crash-left", fade_ms=None)),
    ("Middle C is C4", lambda kit: e.SetMiddleC(octave=4)),
    ("The pedal blended over 6 and has a sound of its own", lambda kit: e.SetOpenness(blend=6, pedal_sounds=True)),
    ("The pedal needs a note", lambda kit: e.SetOpenness(pedal_sounds=False)),
    ("Snare · centre on 38 (D1) at −4.0 dB", lambda kit: e.SetPlaced(note=38, articulation=SNARE, gain_db=-4.0)),
    (
        "Hats · closed chokes Hats · open in 30 ms",
        lambda kit: e.SetChoke(articulation="hats/closed", stopped="hats/open", fade_ms=30.0),
    ),
    (
        "Hats · closed no longer chokes Hats · open",
        lambda kit: e.SetChoke(articulation="hats/closed", stopped="hats/open", fade_ms=None),
    ),
    ("Hats has the usual chokes", lambda kit: e.ChokeAsUsual(piece="hats")),
    ("Articulations of Hats along the pedal on 46 (A♯1)", lambda kit: e.SpreadOpenness(piece="hats", note=46)),
    ("Snare · centre off 38 (D1)", lambda kit: e.RemoveFromNote(articulation=SNARE, note=38)),
    ("Snare · centre taught on 40 (E1)", lambda kit: e.TeachNote(articulation=SNARE, note=40)),
    (
        "Snare · centre follows velocity over the whole range",
        lambda kit: e.FollowStrength(articulation=SNARE, whole=True),
    ),
    (
        "Snare · centre follows velocity inside its layers",
        lambda kit: e.FollowStrength(articulation=SNARE, whole=False),
    ),
    ("Curve of everything", lambda kit: e.SetCurve(curve=LINE)),
    ("No curve of its own for Snare", lambda kit: e.SetCurve(target="snare", curve=None)),
    ("Curve of d", lambda kit: e.SetCurve(input="d", curve=LINE)),
    (
        "Pads with 1 pad with cross-talk, doubles within 20 ms, pedal on controller 4, closed at 10 and open at 120",
        lambda kit: e.SetInput(
            input="d", name="Pads", cross_talk=(SHAKEN,), doubles_ms=20.0, controller=4, closed_at=10, open_at=120
        ),
    ),
    (
        "Tracking of Snare level by 150 %, over the whole range, brightness by 2.0 octaves, soft attack 12.0 ms and hard attack 0.5 ms",
        lambda kit: e.SetTracking(
            piece="snare", level=1.5, whole=True, brightness=2.0, attack_soft_ms=12.0, attack_hard_ms=0.5
        ),
    ),
    ("Tracking of Snare inside its layers", lambda kit: e.SetTracking(piece="snare", whole=False)),
    ("Snare treated", lambda kit: e.SetChannel(channel="snare-channel", treated=True)),
    (
        "Snare unmuted, treatment bypassed and on both sides",
        lambda kit: e.SetChannel(channel="snare-channel", treated=False, side="both", muted=False),
    ),
    ("Snare panned to the middle", lambda kit: e.SetChannel(channel="snare-channel", pan=0.0)),
    (
        "Kick, Snare and Hats grouped",
        lambda kit: e.GroupChannels(channels=("kick-channel", "snare-channel", "hats-channel")),
    ),
    ("Kick ungrouped", lambda kit: e.Ungroup(channel="kick-channel")),
    ("Compressor removed from Kick", lambda kit: e.RemoveTreatment(channel="kick-channel", treatment="compressor")),
    ("Treatment of Kick", lambda kit: e.SetTreatments(channel="kick-channel", treatments=(Eq(),))),
    ("All treatment removed from Kick", lambda kit: e.SetTreatments(channel="kick-channel", treatments=())),
    ("All treatment bypassed", lambda kit: e.BypassTreatment(bypassed=True)),
    ("All treatment enabled", lambda kit: e.BypassTreatment(bypassed=False)),
    (
        "Snare in Room into Room at −3.0 dB, off",
        lambda kit: e.SetFeed(piece="snare", mic="room", channel="room-channel", level_db=-3.0, on=False),
    ),
    ("Room deleted", lambda kit: e.RemoveChannel(channel="room-channel")),
    ("Room deleted", lambda kit: e.RemoveBus(bus="room-channel")),
    ("New bus Air", lambda kit: e.MakeBus(name="Air")),
    ("Room to place 1", lambda kit: e.MoveBus(bus="room-channel", to=0)),
    ("Room is called Air", lambda kit: e.NameBus(bus="room-channel", name="Air")),
    ("Snare into Room at −9.0 dB", lambda kit: e.SetSend(channel="snare-channel", bus="room-channel", level_db=-9.0)),
    (
        "Snare into Room at −9.0 dB, pre-fader",
        lambda kit: e.SetSend(channel="snare-channel", bus="room-channel", level_db=-9.0, pre_fader=True),
    ),
    (
        "Snare into Room at −9.0 dB, post-fader",
        lambda kit: e.SetSend(channel="snare-channel", bus="room-channel", level_db=-9.0, pre_fader=False),
    ),
    ("Snare out of Room", lambda kit: e.SetSend(channel="snare-channel", bus="room-channel", level_db=None)),
    (
        "Kick and Snare into Room",
        lambda kit: e.GoIntoBus(channels=("kick-channel", "snare-channel"), bus="room-channel"),
    ),
    ("Room through a hall", lambda kit: e.SetSpace(bus="room-channel", space=Hall())),
    ("Room without reverb or echo", lambda kit: e.SetSpace(bus="room-channel", space=None)),
    ("Kick in Room off", lambda kit: e.LetIn(piece="kick", mic="room", on=False)),
    ("Kick in Room into Kick", lambda kit: e.LetInto(piece="kick", mic="room", channel="kick-channel")),
    ("Close microphones only", lambda kit: e.CloseOnly()),
    ("All as recorded", lambda kit: e.AllAsRecorded()),
    ("Route by the plan “One output per piece”", lambda kit: e.ApplyPlan(plan="one-output-a-piece")),
    ("Route by the plan “Pairs for a small host”", lambda kit: e.ApplyPlan(plan=PAIRS)),
    ("All outputs cleared", lambda kit: e.ClearOutputs()),
    ("Output 2 is called Snare and has the track Sn", lambda kit: e.NameOutput(output=2, name="Snare", track="Sn")),
    (
        "Output 2 has no name of its own and has a track without a name",
        lambda kit: e.NameOutput(output=2, name="", track=" "),
    ),
    ("Output names copied to tracks", lambda kit: e.CopyOutputNames()),
    ("Snare kept where it is, in the plan too", lambda kit: e.KeepPlace(channel="snare-channel")),
    ("A finding is ignored", lambda kit: e.IgnoreFinding(finding="x")),
    ("A finding is no longer ignored", lambda kit: e.IgnoreFinding(finding="x", ignored=False)),
    ("Both at once", lambda kit: e.Several(said="Both at once", edits=(e.CloseOnly(),))),
    ("Pads with 2 pads with cross-talk", lambda kit: e.SetInput(input="d", name="Pads", cross_talk=(SHAKEN, SHAKEN))),
]


@pytest.mark.parametrize(("sentence", "edit"), ALSO, ids=[sentence for sentence, _ in ALSO])
def test_every_kind_of_edit_is_said_in_all_it_can_say(small_kit: Kit, sentence: str, edit: Callable[[Kit], e.Edit]):
    assert said_of(small_kit, edit(small_kit)) == sentence


def test_there_is_a_sentence_here_for_every_kind_of_edit(small_kit: Kit):
    here = {type(edit(small_kit)) for _, edit in ALSO} | {type(edit) for edit in SAID.values()}
    assert here >= set(SENTENCES)


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
