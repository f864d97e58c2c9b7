"""Edits: each means what it says, refuses with a sentence, and never leaves half a change."""

import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.kit.json_form import from_json, from_parts, part_hashes, to_json, to_parts
from drumcore.kit.lookup import articulation_of, piece_of
from drumcore.kit.values import Articulation, Curve, Kit, MicKind, Node, Order, Piece, Width
from drumcore.refusals import OccupiedNote, Refusal
from drumcore.routing.default_routing import own_channel
from drumcore.routing.pan import pan_matrix

CENTRE = "snare/centre"


def layers(kit: Kit, articulation: str = CENTRE) -> list[tuple[int, int]]:
    return [(layer.low, layer.high) for layer in articulation_of(kit, articulation)[1].layers]


def test_building_gives_notes_silences_channels_and_feeds(small_kit: Kit):
    by_note = {p.note: p.articulation for p in small_kit.notes.placed if p.open_to == 127}
    assert by_note == {36: "kick/centre", 38: "snare/centre", 42: "hats/closed", 46: "hats/open", 49: "crash-left/edge"}
    closed = articulation_of(small_kit, "hats/closed")[1]
    assert [s.articulation for s in closed.chokes] == ["hats/open"]
    feeds = {(f.piece, f.mic): f.channel for f in small_kit.routing.feeds}
    assert feeds["kick", "kick-mic"] == "kick-channel"
    assert feeds["kick", "overheads"] == "overheads-channel"
    assert feeds["crash-left", "overheads"] == "crash-left-channel"  # no close microphone: heard through its overheads
    assert feeds["crash-left", "room"] == "room-channel"
    assert [c.output for c in small_kit.routing.channels] == [None] * len(small_kit.routing.channels)


def test_the_plan_sends_families_to_their_outputs(small_kit: Kit):
    routed = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    assert {c.name: c.output for c in routed.routing.channels} == {
        "Kick": 2,
        "Snare": 3,
        "Hats": 4,
        "Crash left": 10,
        "Overheads": 5,
        "Room": 6,
    }
    assert [o.name for o in routed.routing.outputs] == [
        "Main", "Kick", "Snare", "Hats", "Overheads", "Room", "Tom 1", "Tom 2", "Tom 3", "Crash 1", "Crash 2", "Ride",
        "Percussion 1", "Percussion 2", "Other cymbals", "Other pieces",
    ]  # fmt: skip
    assert apply(routed, e.ClearOutputs()).routing.channels == small_kit.routing.channels


def test_a_linked_boundary_moves_both_layers_and_an_unlinked_one_leaves_a_gap(small_kit: Kit):
    before = layers(small_kit)
    moved = layers(apply(small_kit, e.MoveBoundary(articulation=CENTRE, layer=1, velocity=before[1][1] - 3)))
    assert moved[1][1] == before[1][1] - 3 and moved[2][0] == before[1][1] - 2
    # It stays under the end of the layer above, and at its own beginning at least.
    for velocity, allowed in (
        (before[2][1] - 1, True),
        (before[2][1], False),
        (before[1][0], True),
        (before[1][0] - 1, False),
    ):
        asked = e.MoveBoundary(articulation=CENTRE, layer=1, velocity=velocity)
        if allowed:
            assert layers(apply(small_kit, asked))[1:3] == [(before[1][0], velocity), (velocity + 1, before[2][1])]
        else:
            with pytest.raises(Refusal, match=r"the boundary must stay below that|it cannot end below that"):
                apply(small_kit, asked)
    alone = e.MoveBoundary(articulation=CENTRE, layer=1, velocity=before[1][1] - 3, linked=False)
    assert layers(apply(small_kit, alone))[2] == before[2]


@settings(max_examples=60)
@given(st.lists(st.tuples(st.integers(0, 2), st.integers(1, 127)), max_size=12))
def test_linked_boundaries_never_leave_a_gap_or_an_overlap(small_kit: Kit, moves):
    kit = small_kit
    for layer, velocity in moves:
        try:
            kit = apply(kit, e.MoveBoundary(articulation=CENTRE, layer=layer, velocity=velocity))
        except Refusal:
            continue
    assert [v for low, high in layers(kit) for v in range(low, high + 1)] == list(range(1, 128))


def test_an_occupied_note_is_asked_about_and_never_guessed(small_kit: Kit):
    asked = e.PutOnNote(articulation="kick/centre", note=38)
    with pytest.raises(OccupiedNote, match=r"D1 plays Snare · centre; say whether to stack or replace\."):
        apply(small_kit, asked)
    stacked = apply(small_kit, asked.but(when_occupied="stack"))
    assert [p.articulation for p in stacked.notes.placed if p.note == 38] == ["snare/centre", "kick/centre"]
    taken = apply(small_kit, asked.but(when_occupied="take_over", from_note=36))
    assert [p.articulation for p in taken.notes.placed if p.note in (36, 38)] == ["kick/centre"]
    assert (
        len(apply(taken, e.RemoveFromNote(articulation="kick/centre", note=38)).notes.placed)
        == len(taken.notes.placed) - 1
    )


def test_takes_are_trimmed_left_out_and_moved(small_kit: Kit):
    first = articulation_of(small_kit, CENTRE)[1].layers[0].takes[0]
    quiet = apply(small_kit, e.TrimTakes(articulation=CENTRE, takes=(first,), gain_db=-3.0))
    assert articulation_of(quiet, CENTRE)[1].takes[0].gain_db == -3.0
    moved = apply(small_kit, e.MoveTakes(articulation=CENTRE, takes=(first,), layer=2))
    assert [len(layer.takes) for layer in articulation_of(moved, CENTRE)[1].layers] == [2, 3, 4, 3]
    ordered = apply(small_kit, e.SetOrder(articulation=CENTRE, order=Order.SHUFFLED))
    assert {layer.order for layer in articulation_of(ordered, CENTRE)[1].layers} == {Order.SHUFFLED}


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (e.MoveBoundary(articulation=CENTRE, layer=9, velocity=4), "there is no layer 10"),
        (e.SplitEvenly(articulation="gong/hit"), "no articulation “gong/hit”"),
        (e.SetChannel(channel="kick-channel", output=40), "has no output 40"),
        (e.SetChannel(channel="bassoon", muted=True), "no channel “bassoon”"),
        (e.ApplyPlan(plan="x"), "no plan “x”"),
        (e.RemoveFromNote(articulation=CENTRE, note=90), "does not play"),
        (e.SetCurve(target=None, curve=None), "cannot be removed"),
        (e.SetFeed(piece="kick", mic="zither", channel="kick-channel", level_db=0.0), "no microphone “zither”"),
    ],
)
def test_refusals_are_sentences(small_kit: Kit, edit, said):
    with pytest.raises(Refusal, match=said) as refusal:
        apply(small_kit, edit)
    assert str(refusal.value).endswith(".")


def test_taking_a_piece_out_takes_what_hangs_on_it(small_kit: Kit):
    kit = apply(small_kit, e.RemovePiece(piece="hats"))
    text = to_json(kit)
    assert "hats/" not in text and '"hats"' not in text
    assert {c.id for c in kit.routing.channels} == {
        f"{name}-channel" for name in ("kick", "snare", "crash-left", "overheads", "room")
    }


def test_a_kit_survives_its_json_and_its_parts(small_kit: Kit):
    kit = apply(small_kit, e.SetCurve(target="snare", curve=Curve(nodes=(Node(x=0, y=9, bend=0.2), Node(x=127, y=99)))))
    assert from_json(to_json(kit)) == kit
    head, parts = to_parts(kit)
    assert from_parts(head, parts) == (kit, ())
    assert set(part_hashes(head)) == set(parts)
    assert to_parts(small_kit)[1].keys() == parts.keys()  # an edit that touches no take adds no part


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('{"format": 99}', "newer version"),
        ("{", "not valid JSON"),
        ("[]", "does not describe a kit"),
        ('{"format": 1, "id": "a"}', "damaged at “name”"),
    ],
)
def test_other_kits_are_refused(text, said):
    with pytest.raises(Refusal, match=said):
        from_json(text)


@given(st.floats(-1, 1))
def test_panning_keeps_the_power_of_a_mono_source(pan):
    (left,), (right,) = pan_matrix(Width.MONO, Width.STEREO, pan)
    assert left * left + right * right == pytest.approx(1.0)


def test_panning_by_hand():
    centre = pan_matrix(Width.STEREO, Width.STEREO, 0.0)
    assert [round(c, 9) for row in centre for c in row] == [1, 0, 0, 1]
    hard_left = pan_matrix(Width.STEREO, Width.STEREO, -1.0)
    assert [round(c, 9) for row in hard_left for c in row] == [1, 1, 0, 0]
    assert pan_matrix(Width.STEREO, Width.MONO, 0.7) == ((0.5, 0.5),)


def test_channels_have_identifiers_of_their_own_and_say_what_they_gather(small_kit: Kit):
    by_name = {c.name: c for c in small_kit.routing.channels}
    assert by_name["Overheads"].gathers is MicKind.OVERHEAD and by_name["Room"].gathers is MicKind.ROOM
    assert by_name["Crash left"].gathers is None
    assert not {c.id for c in by_name.values()} & {p.id for p in small_kit.pieces}
    # Called and numbered otherwise, they are the same channels to what looks for a piece's or a shared one.
    odd = {c.id: f"x{number}" for number, c in enumerate(small_kit.routing.channels)}
    kit = small_kit.but(
        routing=small_kit.routing.but(
            channels=tuple(c.but(id=odd[c.id], name="?") for c in small_kit.routing.channels),
            feeds=tuple(f.but(channel=odd[f.channel]) for f in small_kit.routing.feeds),
        )
    )
    snare = piece_of(kit, "snare")
    assert own_channel(kit, snare) == by_name["Snare"].but(id=odd["snare-channel"], name="?")
    plan = lambda kit: [c.output for c in apply(kit, e.ApplyPlan(plan="one-output-a-piece")).routing.channels]  # noqa: E731
    assert plan(kit) == plan(small_kit) == [2, 3, 4, 10, 5, 6]
    tom = e.BuildPieces(
        mics=small_kit.mics, pieces=(snare.but(id="tom", name="Tom", articulations=articulations_of("tom", snare)),)
    )
    fed = {f.mic: f.channel for f in apply(kit, tom).routing.feeds if f.piece == "tom"}
    assert fed == {"snare-mic": "tom-channel", "overheads": odd["overheads-channel"], "room": odd["room-channel"]}


def articulations_of(piece_id: str, like: Piece) -> tuple[Articulation, ...]:
    return tuple(a.but(id=f"{piece_id}/{a.name}", chokes=()) for a in like.articulations)


def test_a_kit_of_format_4_learns_what_its_channels_gather(small_kit: Kit):
    raw = json.loads(to_json(small_kit))
    for channel in raw["routing"]["channels"]:
        del channel["gathers"]
        channel["id"] = channel["id"].removesuffix("-channel")
    for feed in raw["routing"]["feeds"]:
        feed["channel"] = feed["channel"].removesuffix("-channel")
    opened = from_json(json.dumps(raw | {"format": 4}))
    assert [c.gathers for c in opened.routing.channels] == [c.gathers for c in small_kit.routing.channels]


def test_a_kit_of_format_5_keeps_what_was_found_of_its_own_microphones(small_kit: Kit):
    raw = json.loads(to_json(small_kit))
    for take in raw["pieces"][1]["articulations"][0]["takes"]:
        for recording in take["recordings"]:
            del recording["against"]
            recording.update({"polarity": -1, "delay_ms": 1.5} if recording["mic"] == "snare-mic" else {"polarity": 0})
    opened = from_json(json.dumps(raw | {"format": 5}))
    recordings = [r for t in opened.pieces[1].articulations[0].takes for r in t.recordings]
    assert {(r.mic == "snare-mic", *((a.polarity, a.delay_ms) for a in r.against)) for r in recordings} == {
        (True, (-1, 1.5)),
        (False,),
    }


def test_outputs_of_an_older_kit_are_called_as_its_only_host_called_them(small_kit: Kit):
    routed = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    raw = json.loads(to_json(routed))
    for output in raw["routing"]["outputs"]:
        del output["called"], output["track"]
    assert from_json(json.dumps(raw | {"format": 10})) == routed
    assert routed.routing.outputs[2].called == "5/6"
