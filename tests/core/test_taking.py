"""A piece of another kit: in another's place, together with one, or by itself; what stays and what comes along."""

import numpy as np
import pytest

from drumcore.describing.bringing import (
    articulations_coming,
    climb,
    compared,
    consequences,
    places_for,
    tried,
    tried_one_by_one,
)
from drumcore.describing.edits import said_of
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.edits.bring_piece_steps import matches
from drumcore.edits.bring_piece_values import Entering, OnNote
from drumcore.grooves.values import Strike
from drumcore.kit.lookup import piece_of
from drumcore.kit.values import Curve, Kit, Node, Origin, Side
from drumcore.layers.dynamics import played_db
from drumcore.listening.loudness import piece_level_db
from drumcore.playing.compiler import compile_kit
from drumcore.refusals import Refusal
from drumcore.routing.default_routing import own_channel
from drumcore.shelf.kept_piece import kept_piece
from drumcore.treatments.eq import Eq
from tests.conftest import whole

BENT = Curve(nodes=(Node(x=0, y=0), Node(x=127, y=100)))


def changed(kit: Kit, *edits) -> Kit:
    for edit in edits:
        kit = apply(kit, edit)
    return kit


@pytest.fixture
def other(small_kit: Kit) -> Kit:
    """Another kit of the same recordings: treated, bent, its microphones called otherwise."""
    return changed(
        small_kit,
        e.RenameKit(name="Lantern"),
        e.SetTreatment(channel="snare-channel", treatment=Eq()),
        e.SetChannel(channel="snare-channel", level_db=-6.0, pan=0.5),
        e.SetCurve(target="snare", curve=BENT),
        e.SetMic(mic="room", name="Far", gain_db=3.0),
        e.SetPiece(piece="snare", level_db=-2.0),
    )


def taken(other: Kit, piece: str, **asked) -> e.BringPiece:
    return e.BringPiece(alone=kept_piece(other, piece).kit, of=other.name, **asked)


def events(kit: Kit, *notes: int):
    return [
        Strike(time_s=0.5 * i, note=note, velocity=v)
        for i, (note, v) in enumerate((n, v) for n in notes for v in (40, 110))
    ]


def heard(kit: Kit, sounds, *notes: int) -> np.ndarray:
    return whole(compile_kit(kit), events(kit, *notes), sounds, length_s=0.5 * 2 * len(notes) + 0.5)


def test_in_anothers_place_our_mix_notes_and_chokes_stay_and_nothing_else_sounds_otherwise(small_kit, other, sounds):
    kit = changed(
        small_kit,
        e.SetChannel(channel="kick-channel", level_db=-3.0, pan=-0.25, output=2),
        e.LetIn(piece="kick", mic="room", level_db=-9.0),
        e.PutOnNote(articulation="kick/centre", note=35),
        e.SetPiece(piece="kick", level_db=-1.5),
    )
    origin = Origin(kind="kits", id="lantern", name="Lantern", piece="snare", version=3)
    after = apply(kit, taken(other, "snare", instead_of="kick", origin=origin))
    piece, before = piece_of(after, "kick"), piece_of(kit, "kick")
    assert [p.id for p in after.pieces] == [p.id for p in kit.pieces]
    assert (piece.name, piece.family, piece.level_db, piece.origin) == ("Snare 2", "snare", -1.5, origin)
    assert piece.curve == BENT and [a.id for a in piece.articulations] == ["kick/centre"]
    assert [p for p in after.notes.placed if p.articulation == "kick/centre"] == [
        p for p in kit.notes.placed if p.articulation == "kick/centre"
    ]
    assert piece.articulations[0].chokes == before.articulations[0].chokes
    channel, was = own_channel(after, piece), own_channel(kit, before)
    assert channel == was.but(name="Snare 2", treatments=(Eq(),))
    # The microphones come with names of their own; what only the old kick's heard has gone.
    mics = {mic.id: mic.name for mic in after.mics}
    assert {"Snare mic of Lantern", "Overheads of Lantern", "Far"} <= set(mics.values())
    feeds = {(mics[f.mic], f.channel): (f.level_db, f.on) for f in after.routing.feeds if f.piece == "kick"}
    assert feeds == {
        ("Snare mic of Lantern", "kick-channel"): (0.0, True),
        ("Overheads of Lantern", "overheads-channel"): (0.0, True),
        ("Far", "room-channel"): (-9.0, True),
    }
    others = (38, 42, 49)
    assert np.array_equal(heard(after, sounds, *others), heard(kit, sounds, *others))
    assert said_of(kit, taken(other, "snare", instead_of="kick")) == "Snare of Lantern replaces Kick"


def test_what_does_not_come_along_stays_ours(small_kit, other):
    kit = changed(
        small_kit,
        e.SetTreatment(channel="kick-channel", treatment=Eq(on=False)),
        e.SetCurve(target="kick", curve=BENT),
        e.SetTracking(piece="kick", brightness=2.0),
    )
    asked = {"treatment": False, "touch": False, "balance": True, "gain_db": 4.0}
    after = apply(
        kit, taken(changed(other, e.SetCurve(target="snare", curve=None)), "snare", instead_of="kick", **asked)
    )
    piece = piece_of(after, "kick")
    assert piece.curve == BENT and piece.tracking.brightness == 2.0
    channel = own_channel(after, piece)
    assert (channel.treatments, channel.level_db, channel.pan) == ((Eq(on=False),), -6.0, 0.5)
    assert piece.level_db == 2.0


def test_articulations_are_matched_by_name_then_the_main_one_and_notes_without_a_match_are_offered_it(small_kit, other):
    hats = piece_of(small_kit, "hats")
    assert [s.name for s in hats.articulations] == ["closed", "open"]
    asked = taken(other, "snare", instead_of="hats")
    after = apply(small_kit, asked)
    assert [s.id for s in piece_of(after, "hats").articulations] == ["hats/closed"]
    assert {p.note for p in after.notes.placed if p.articulation == "hats/closed"} == {42, 46}
    assert not any(p.articulation == "hats/open" for p in after.notes.placed)
    whole_ = apply(small_kit, asked.but(rest_to_main=True))
    open_ = {p.note for p in small_kit.notes.placed if p.articulation == "hats/open"}
    assert open_ <= {p.note for p in whole_.notes.placed if p.articulation == "hats/closed"}
    back = apply(after, taken(small_kit, "hats", instead_of="hats", articulations=("hats/open",)))
    assert [(s.id, s.name) for s in piece_of(back, "hats").articulations] == [("hats/closed", "open")]


def test_together_it_sounds_on_every_note_and_by_itself_on_notes_that_were_chosen(small_kit, other):
    both = apply(small_kit, taken(other, "kick", together_with="snare"))
    new = both.pieces[2]
    assert (new.id, new.name, both.pieces[1].id) == ("kick-2", "Kick 2", "snare")
    notes = {p.note for p in both.notes.placed if p.articulation == "snare/centre"}
    assert {p.note for p in both.notes.placed if p.articulation == "kick-2/centre"} == notes != set()
    alone = apply(small_kit, taken(other, "kick", notes=(OnNote(articulation="kick/centre", note=35),)))
    assert alone.pieces[-1].name == "Kick 2"
    assert [p.note for p in alone.notes.placed if p.articulation == "kick-2/centre"] == [35]
    channel = own_channel(alone, alone.pieces[-1])
    assert channel.name == "Kick 2" and channel.id not in {c.id for c in small_kit.routing.channels}


def test_by_itself_it_takes_the_standard_notes_that_are_free_unless_it_is_said_otherwise(small_kit, other):
    kit = apply(small_kit, e.PutOnNote(articulation="hats/open", note=35))
    # 36 is our kick's and 35 taken; of the standard map's kicks none is free, so it is the first that the map leaves alone.
    for before, note in ((small_kit, 35), (kit, 82)):
        after = apply(before, taken(other, "kick"))
        new = after.pieces[-1].articulations[0].id
        assert [p.note for p in after.notes.placed if p.articulation == new] == [note]
    silent = apply(small_kit, taken(other, "kick", notes=()))
    assert silent.notes == small_kit.notes


def test_a_microphone_joins_one_that_is_here_with_its_level_and_polarity_carried(small_kit, other, sounds):
    source = changed(other, e.FlipRecordings(mic="room"), e.FlipPolarity(mic="room"))
    joined = taken(source, "snare", mics=(Entering(mic="room", joins="room"), *LEFT))
    after = apply(small_kit, joined)
    piece = after.pieces[-1]
    assert [mic.id for mic in after.mics] == [mic.id for mic in small_kit.mics]
    (feed,) = (f for f in after.routing.feeds if f.piece == piece.id)
    # Its own 3 dB are in the feed, and what was flipped twice is as it was recorded.
    assert (feed.mic, feed.channel, feed.level_db) == ("room", "room-channel", 3.0)
    assert {r.flipped for s in piece.articulations for t in s.takes for r in t.recordings} == {None}
    flipped = taken(changed(other, e.FlipPolarity(mic="room")), "snare", mics=joined.mics)
    turned = apply(small_kit, flipped).pieces[-1]
    assert {r.flipped for s in turned.articulations for t in s.takes for r in t.recordings} == {Side.BOTH}
    for entering, said in (
        (Entering(mic="snare-mic", joins="room"), "is mono and Room is stereo"),
        (Entering(mic="room", joins="none"), "no microphone “none”"),
        (Entering(mic="overheads", joins="room"), "cannot both use Room"),
    ):
        mics = (entering, *(m for m in (Entering(mic="room", joins="room"),) if m.mic != entering.mic))
        with pytest.raises(Refusal, match=said):
            apply(small_kit, taken(other, "snare", mics=mics))


LEFT = (Entering(mic="snare-mic", taken=False), Entering(mic="overheads", taken=False))


def test_only_some_microphones_and_articulations_are_taken_and_led_where_somebody_wants_them(small_kit, other):
    mics = (
        Entering(mic="snare-mic", taken=False),
        Entering(mic="overheads", own=True),
        Entering(mic="room", channel="kick-channel"),
    )
    after = apply(small_kit, taken(other, "snare", mics=mics))
    piece = after.pieces[-1]
    names = {mic.id: mic.name for mic in after.mics}
    into = {names[f.mic]: f.channel for f in after.routing.feeds if f.piece == piece.id}
    assert into == {"Overheads of Lantern": own_channel(after, piece).id, "Far": "kick-channel"}
    assert [names[m] for m in piece.own_mics] == ["Overheads of Lantern"]
    for asked, said in (
        ({"articulations": ()}, "No articulation of Snare is chosen"),
        ({"mics": (*LEFT, Entering(mic="room", taken=False))}, "that recorded it is chosen"),
        ({"mics": (Entering(mic="room", channel="gone"),)}, "no channel “gone”"),
        ({"instead_of": "gone"}, "no piece “gone”"),
        ({"together_with": "gone"}, "no piece “gone”"),
    ):
        with pytest.raises(Refusal, match=said):
            apply(small_kit, taken(other, "snare", **asked))


def test_it_is_as_loud_as_what_it_replaces_by_the_figure_of_both(small_kit, other, sounds):
    asked = taken(other, "snare", instead_of="kick")
    quiet = apply(small_kit, asked)
    apart = piece_level_db(small_kit, "kick", sounds) - piece_level_db(quiet, "kick", sounds)
    assert abs(apart) > 0.5
    loud = apply(small_kit, asked.but(gain_db=apart))
    assert piece_level_db(loud, "kick", sounds) == pytest.approx(piece_level_db(small_kit, "kick", sounds), abs=0.01)


def test_articulations_that_take_no_other_s_place_do_not_decide_how_loud_a_piece_is(small_kit, other, sounds):
    """A snare that brings a soft side stick along plays its backbeat as loud as the snare before."""
    snare = next(p for p in other.pieces if p.id == "snare")
    centre = snare.articulations[0]
    soft = centre.but(
        id="snare/extra", name="brush", layers=tuple(layer.but(gain_db=layer.gain_db - 20.0) for layer in centre.layers)
    )
    with_soft = other.but(
        pieces=tuple(p.but(articulations=(*p.articulations, soft)) if p.id == "snare" else p for p in other.pieces)
    )

    def level_db(kit, piece, articulations):
        return piece_level_db(kit, piece, sounds, articulations=articulations)

    edit = taken(with_soft, "snare", instead_of="snare")
    after = apply(small_kit, compared(small_kit, edit, level_db, as_loud=True).edit)
    backbeats = [piece_level_db(kit, "snare", sounds, articulations=("snare/centre",)) for kit in (small_kit, after)]
    assert backbeats[0] == pytest.approx(backbeats[1], abs=0.06)


def test_taken_into_a_kit_without_anything_it_plays(small_kit, other, sounds):
    empty = Kit(id="new", name="New")
    kit = apply(empty, taken(other, "snare", notes=(OnNote(articulation="snare/centre", note=38),)))
    assert np.abs(heard(kit, sounds, 38)).max() > 0.01
    assert {m.name for m in kit.mics} == {"Snare mic", "Overheads", "Far"}


def test_several_at_once_are_one_edit_and_what_heard_them_comes_once(small_kit, other, sounds):
    origin = Origin(kind="kits", id="lantern", name="Lantern", piece="snare", version=3)
    both = e.BringPieces(taken=tuple(taken(other, piece, origin=origin) for piece in ("snare", "crash-left")))
    assert said_of(small_kit, both) == "Snare and Crash left of Lantern added"
    after = apply(small_kit, both)
    snare, crash = after.pieces[-2:]
    assert [snare.name, crash.name] == ["Snare 2", "Crash left 2"]
    came = [mic.name for mic in after.mics if mic not in small_kit.mics]
    # Overheads and room heard both; each is one microphone of this kit, in feeds of both.
    assert came == ["Snare mic of Lantern", "Overheads of Lantern", "Far"]
    shared = {mic.id for mic in after.mics if mic.name in ("Overheads of Lantern", "Far")}
    for piece in (snare, crash):
        heard = {r.mic for a in piece.articulations for t in a.takes for r in t.recordings}
        assert shared <= heard and shared <= {f.mic for f in after.routing.feeds if f.piece == piece.id}
    # Each sounds as it does where it is taken alone.
    for piece, alone in ((snare, "snare"), (crash, "crash-left")):
        one = apply(small_kit, taken(other, alone, origin=origin))
        note, by_itself = (usual(kit, p) for kit, p in ((after, piece), (one, one.pieces[-1])))
        np.testing.assert_allclose(heard_on(after, sounds, note), heard_on(one, sounds, by_itself), atol=1e-6)


def usual(kit: Kit, piece) -> int:
    return next(p.note for p in kit.notes.placed if p.articulation == piece.articulations[0].id)


def heard_on(kit: Kit, sounds, note: int) -> np.ndarray:
    return whole(compile_kit(kit), [Strike(time_s=0.0, note=note, velocity=100)], sounds, length_s=0.5)


def test_several_take_the_places_of_ours_of_their_kinds_as_far_as_there_are_some(small_kit, other):
    toms = [piece_of(small_kit, "snare").but(id=f"tom-{n}", name=f"Tom {n}", family="tom") for n in (1, 2)]
    assert list(places_for(small_kit, [*other.pieces, *toms, other.pieces[0]])) == [
        "kick",
        "snare",
        "hats",
        "crash-left",
        "",
        "",
        "",
    ]
    edit = e.BringPieces(taken=(taken(other, "kick", instead_of="kick"), taken(other, "snare", instead_of="snare")))
    assert said_of(small_kit, edit) == "Kick and Snare of Lantern, replacing ours"
    after = apply(small_kit, edit)
    assert [p.id for p in after.pieces] == [p.id for p in small_kit.pieces]
    assert after.notes == small_kit.notes
    first, second = tried_one_by_one(small_kit, edit)
    assert second.after == after and first.after != after
    said = [each.said for trial in (first, second) for each in consequences(trial, by_itself=False)]
    assert not any("Undo" in sentence for sentence in said)
    assert said[0].startswith("6 takes under 3 microphones are added")


def test_an_articulation_stands_for_one_of_ours_and_no_two_for_the_same(small_kit, other):
    hats, snare = piece_of(small_kit, "hats"), piece_of(small_kit, "snare")
    (centre,) = snare.articulations
    rim = centre.but(id="snare/rim", name="rim")
    # Ours is named by their second: their main one stands for nothing.
    assert matches(snare, snare.but(articulations=(rim, centre))) == {"snare/centre": "snare/centre"}
    assert matches(snare, snare.but(articulations=(rim,))) == {"snare/rim": "snare/centre"}
    assert matches(hats, hats.but(articulations=hats.articulations[::-1])) == {
        "hats/open": "hats/open",
        "hats/closed": "hats/closed",
    }
    kit = apply(small_kit, taken(other, "snare", instead_of="hats", rest_to_main=True))
    assert [(p.note, p.articulation) for p in kit.notes.placed if not p.articulation.startswith("hats/")] == [
        (p.note, p.articulation) for p in small_kit.notes.placed if not p.articulation.startswith("hats/")
    ]
    coming = articulations_coming(tried(small_kit, taken(small_kit, "hats", instead_of="hats")))
    assert [(s.id, s.stands_for, s.takes, s.layers) for s in coming] == [
        ("hats/closed", "Hats · closed", 4, 2),
        ("hats/open", "Hats · open", 4, 2),
    ]
    assert {s.stands_for for s in articulations_coming(tried(small_kit, taken(small_kit, "hats")))} == {""}


def test_what_it_replaced_is_remembered_with_the_level_that_makes_it_as_loud(small_kit, other):
    origin = Origin(kind="kits", id="lantern", name="Lantern", piece="snare", version=3)

    def remembered(**asked) -> Origin | None:
        after = apply(small_kit, taken(other, "snare", origin=origin, **asked))
        return next(piece.origin for piece in after.pieces if piece.origin)

    assert remembered(instead_of="kick") == origin and remembered() == origin
    ours = piece_of(small_kit, "kick").level_db
    as_loud = remembered(instead_of="kick", apart_db=3.5)
    assert as_loud == origin.but(instead_of="Kick", as_loud_at_db=ours + 3.5)


def test_how_loud_it_climbs_is_drawn_through_its_measured_figure(small_kit):
    drawn = dict(climb(small_kit, "snare", -20.0))
    assert list(drawn) == list(range(4, 128, 3)) and drawn[100] == -20.0
    articulation = piece_of(small_kit, "snare").articulations[0]
    played = played_db(articulation, piece_of(small_kit, "snare").tracking)
    for velocity, db in drawn.items():
        assert db - drawn[100] == pytest.approx(played[velocity - 1] - played[99], abs=0.011)
    assert drawn[127] > drawn[4] + 5.0
    assert climb(small_kit, "snare", None) == ()


def test_where_it_plays_is_said_with_what_else_sounds_there(small_kit, other):
    def said(**asked) -> list[str]:
        return [each.said for each in consequences(tried(small_kit, taken(other, "kick", **asked)))]

    beside, alone = (said(notes=(OnNote(articulation="kick/centre", note=note),)) for note in (38, 40))
    assert "It plays on 38 (D1)." in beside and "38 (D1) plays Snare · centre too, so both play." in beside
    assert "It plays on 40 (E1)." in alone and not any("both sound" in sentence for sentence in alone)
    assert "It has no note yet, so nothing plays it." in said(notes=())
    assert "One strike plays Snare and it, on 38 (D1)." in said(together_with="snare")
    in_place = said(instead_of="kick")
    assert "It plays on 36 (C1)." in in_place and "Undo restores Kick as it was." in in_place
