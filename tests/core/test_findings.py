"""The demo's planted mistakes are all noticed, and fixes fix."""

import numpy as np
import pytest
import soundfile

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.edits.values import BuildPieces
from drumcore.findings.finding import FindingLevel
from drumcore.findings.rules import notice, notice_session
from drumcore.findings.stems import StemPeak, clipping
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit
from drumcore.recordings.session import read_folder
from tests.changes import edit_of
from tests.conftest import RATE, strike_sound, write_sound
from tests.core.clean_session import kit_of


def rules(findings):
    return {f.rule for f in findings}


def test_every_planted_mistake_is_noticed_where_it_is(boathouse):
    found = {(f.rule, f.place) for f in notice_session(boathouse)}
    planted = {
        ("clipped", "Snare top/Snare centre/sn_06_3_R.wav"),
        ("late_start", "Floor tom/Floor tom centre/floor_tom_03_2.wav"),
        ("polarity", "Snare bottom"),
        ("missing_microphone", "Hat/Hats open/hat_open_02_1_R.wav"),
        ("other_rate", "Overheads/Ride bow/ride_02_3.wav"),
        ("same_content", "Percussion/Cowbell/cowbell_03_3_G#2.wav"),
        ("wrong_width", "Rack tom/Rack tom centre/rack_tom_02_1.wav"),
        ("stands_out", "Mid tom · centre · layer 2 · take 2-2"),
        ("label_names_other_note", "Percussion/Tambourine shake/tamb_01_3_D#2.wav"),
        ("unread", "Snare top/Snare centre/keep this one maybe.wav"),
        ("unread", "Room/Kick centre/readme.rtf.wav"),
    }
    assert planted <= found
    # Besides them only the clipped take, which is also too loud for its layer.
    assert found - planted == {("stands_out", "Snare · centre · layer 6 · take 6-3")}


def test_every_fix_of_the_demo_fixes(boathouse):
    kit = apply(Kit(id="b", name="B"), BuildPieces(mics=boathouse.mics, pieces=boathouse.pieces))
    before = notice(kit)
    assert any(f.level is FindingLevel.WRONG for f in before)
    fixed = 0
    for finding in before:
        for fix in finding.fixes:
            after = {(f.rule, f.place) for f in notice(apply(kit, fix.edit)) if not f.ignored}
            assert (finding.rule, finding.place) not in after, fix.label
            fixed += 1
    assert fixed >= 6


def test_labels_that_agree_offer_the_note_they_name(boathouse):
    kit = apply(Kit(id="b", name="B"), BuildPieces(mics=boathouse.mics, pieces=boathouse.pieces))
    moved = apply(kit, e.MoveNote(note=54, to=100))
    said = "Play Tambourine · shake from F♯2 as well"
    labelled = [f for f in notice(moved) if f.rule == "label_names_other_note" and f.fixes[0].label == said]
    assert len(labelled) > 1 and not any(f.fixes[0].label == said for f in notice(kit))
    after = apply(moved, labelled[0].fixes[0].edit)
    assert {p.note for p in after.notes.placed if p.articulation == "tambourine/shake"} == {54, 100}
    assert not any(f.fixes[0].label == said for f in notice(after) if f.fixes)


def test_what_goes_wrong_with_layers_notes_touch_and_routing_is_noticed(small_kit: Kit):
    assert not [f for f in notice(small_kit) if f.level is FindingLevel.WRONG]
    layers = pieces_of(small_kit)[1].articulations[0].layers
    changes = [
        (e.MoveBoundary(articulation="snare/centre", layer=1, velocity=layers[1].high - 2, linked=False), "gap"),
        (e.MoveBoundary(articulation="snare/centre", layer=1, velocity=layers[1].high + 2, linked=False), "overlap"),
        (e.MoveBoundary(articulation="snare/centre", layer=0, velocity=layers[1].high - 1), "narrow_layer"),
        (e.RemoveFromNote(articulation="snare/centre", note=38), "without_note"),
        (e.PutOnNote(articulation="kick/centre", note=38, when_occupied="stack"), "stacked_note"),
        (e.SetChoke(articulation="hats/closed", stopped="hats/open", fade_ms=None), "open_hat_rings_on"),
        (
            edit_of({"kind": "set_curve", "target": "kick", "curve": _curve((0, 0), (127, 20))}),
            "layer_never_reached",
        ),
        (edit_of({"kind": "set_curve", "target": "kick", "curve": _curve((0, 0), (127, 0))}), "everything_ignored"),
        (edit_of({"kind": "set_curve", "target": "kick", "curve": _curve((0, 90), (127, 20))}), "curve_falls"),
        (
            edit_of({"kind": "set_curve", "target": "kick", "curve": _curve((0, 0), (60, 0), (127, 127))}),
            "curve_is_deaf",
        ),
        (edit_of({"kind": "set_curve", "input": "p", "curve": _curve((0, 0), (60, 80), (127, 70))}), "curve_falls"),
        (edit_of({"kind": "set_curve", "curve": _curve((0, 0), (127, 30))}), "layer_never_reached"),
        (e.SetTracking(piece="snare", whole=True), "dynamics_doubled"),
        (e.MoveNote(note=36, to=90), "standard_note_empty"),
        (edit_of({"kind": "apply_map", "map": _one_zone()}), "openness_gap"),
        (e.SetFeed(piece="crash-left", mic="overheads", channel="crash-left-channel", level_db=None), "empty_channel"),
    ]
    for edit, rule in changes:
        kit = apply(small_kit, edit)
        found = [f for f in notice(kit) if f.rule == rule]
        assert found, rule
        for fix in found[0].fixes:
            left = {f.key for f in notice(apply(kit, fix.edit)) if not f.ignored}
            assert found[0].key not in left, f"{rule}: {fix.label}"


def test_a_settled_finding_is_set_apart_and_can_be_brought_back(small_kit: Kit):
    second = pieces_of(small_kit)[1].articulations[0].layers[1]
    kit = apply(small_kit, e.MoveBoundary(articulation="snare/centre", layer=0, velocity=second.high - 1))
    finding = next(f for f in notice(kit) if f.rule == "narrow_layer")
    ignored = apply(kit, finding.fixes[-1].edit)
    apart = next(f for f in notice(ignored) if f.key == finding.key)
    assert apart.ignored and [m.label for m in apart.fixes] == ["Stop ignoring"]
    assert apply(ignored, apart.fixes[0].edit) == kit


def test_so_many_of_a_kind_are_named_and_settled_ones_take_no_place_among_them(small_kit: Kit):
    for articulation, note in (("kick/centre", 36), ("snare/centre", 38)):
        small_kit = apply(small_kit, e.RemoveFromNote(articulation=articulation, note=note))

    def unreached(kit: Kit, most: int) -> list[str]:
        return [f.where.articulation or "" for f in notice(kit, most) if f.rule == "without_note"]

    assert unreached(small_kit, 2) == ["kick/centre", "snare/centre"] and unreached(small_kit, 1) == ["kick/centre"]
    first = next(f for f in notice(small_kit) if f.rule == "without_note")
    assert unreached(apply(small_kit, first.fixes[-1].edit), 1) == ["snare/centre", "kick/centre"]


def _curve(*nodes):
    return {"nodes": [{"x": x, "y": y} for x, y in nodes]}


def _one_zone():
    entry = {"family": "hats", "note": 60, "articulation": "open", "open_from": 64, "open_to": 127}
    return {"name": "Half a pedal", "entries": [entry]}


def test_faults_of_single_recordings_are_noticed(session_of):
    root = session_of({f"Kick/kick_{s}_{r}.wav": -8.0 * (3 - s) for s in (1, 2, 3) for r in (1, 2, 3, 4)})
    write_sound(root / "Kick" / "kick_1_5.wav", np.zeros(9600))
    write_sound(root / "Kick" / "kick_2_5.wav", strike_sound(-8, 77) + 0.05)
    write_sound(root / "Kick" / "kick_3_5.wav", strike_sound(0, 78)[:1500])
    found = {(f.rule, f.place) for f in notice_session(read_folder(root))}
    assert {
        ("silent", "Kick/kick_1_5.wav"),
        ("dc_offset", "Kick/kick_2_5.wav"),
        ("odd_length", "Kick/kick_3_5.wav"),
    } <= found


def test_copies_and_odd_lengths_are_found_in_any_microphone_layer_and_polarity(clean_session):
    def changed(name: str, to: str, change, subtype: str = "PCM_24") -> None:
        sound, rate = soundfile.read(clean_session / name, always_2d=True)
        soundfile.write(clean_session / to, change(sound), rate, subtype=subtype)

    # Half a decibel down and in 16 bits; flipped, in another layer; in one of three microphones.
    for mic in ("Kick", "Overheads"):
        changed(f"{mic}/kick_3_1.wav", f"{mic}/kick_3_4.wav", lambda x: x * 10 ** (-0.5 / 20), "PCM_16")
        changed(f"{mic}/kick_2_1.wav", f"{mic}/kick_1_3.wav", lambda x: x * -(10 ** (-11 / 20)))
    changed("Overheads/snare_2_1.wav", "Overheads/snare_2_3.wav", lambda x: x * 0.98)
    changed("Snare bottom/snare_3_2.wav", "Snare bottom/snare_3_2.wav", lambda x: x[: round(0.045 * RATE)])
    talk = np.random.default_rng(5).uniform(-0.02, 0.02, (RATE * 2, 2))
    changed("Overheads/rack_tom_2_2.wav", "Overheads/rack_tom_2_2.wav", lambda x: np.concatenate([x, talk]))
    kit = kit_of(clean_session)
    found = {f.title: f for f in notice(kit)}
    assert set(found) == {
        "Takes 3-1 and 3-4 are all but identical",
        "Takes 1-3 and 2-1 are all but identical",
        "Takes 2-1 and 2-3 are all but identical in Overheads",
        "Snare · centre 3-2 ends early in Snare bottom",
        "Rack tom · centre 2-2 goes on in Overheads",
    }
    assert "with flipped polarity" in found["Takes 1-3 and 2-1 are all but identical"].sentence
    for finding in found.values():
        kit = apply(kit, finding.fixes[0].edit)
    assert notice(kit) == []


def muted(kit: Kit, *names: str) -> Kit:
    for channel in kit.routing.channels:
        if channel.name in names:
            kit = apply(kit, e.SetChannel(channel=channel.id, muted=True))
    return kit


SILENCED = {
    "its only channel, of two microphones, is muted": lambda k: apply(
        muted(k, "Snare"),
        e.Several(
            said="One channel",
            edits=(
                e.SetFeed(piece="snare", mic="room", channel="snare-channel", level_db=0.0),
                e.SetFeed(piece="snare", mic="room", channel="room-channel", level_db=None),
                e.SetFeed(piece="snare", mic="overheads", channel="overheads-channel", level_db=None),
            ),
        ),
    ),
    "its channels are muted": lambda k: muted(k, "Snare", "Overheads", "Room"),
    "its channel is at −∞ dB": lambda k: apply(
        muted(k, "Overheads", "Room"), e.SetChannel(channel="snare-channel", level_db=-120.0)
    ),
    "the piece is at −∞ dB": lambda k: apply(k, e.SetPiece(piece="snare", level_db=-120.0)),
    "main is at −∞ dB": lambda k: apply(k, e.SetChannel(channel="main", level_db=-120.0)),
    "its feed is at −∞ dB": lambda k: apply(
        muted(k, "Overheads", "Room"),
        e.SetFeed(piece="snare", mic="snare-mic", channel="snare-channel", level_db=-120.0),
    ),
    "its microphone is at −∞ dB": lambda k: apply(
        muted(k, "Overheads", "Room"), e.SetMic(mic="snare-mic", gain_db=-120.0)
    ),
}


@pytest.mark.parametrize("how", SILENCED)
def test_a_piece_that_is_silent_is_found_whatever_silences_it_and_each_fix_lets_it_be_heard(small_kit: Kit, how: str):
    before = {f.rule for f in notice(small_kit)}
    kit = SILENCED[how](small_kit)
    finding = next(f for f in notice(kit) if f.rule == "reaches_no_output" and f.where.piece == "snare")
    assert finding.fixes and "silent" in finding.sentence
    assert len({fix.label for fix in finding.fixes}) == len(finding.fixes)
    for fix in finding.fixes:
        fixed = notice(apply(kit, fix.edit))
        assert not [f for f in fixed if f.rule == "reaches_no_output" and f.where.piece == "snare"], fix.label
        assert {f.rule for f in fixed} - before <= {"reaches_no_output"}, fix.label


def test_articulations_without_a_note_are_each_offered_another(small_kit: Kit):
    kit = small_kit.but(notes=small_kit.notes.but(placed=()))
    offered = [f.fixes[0].edit.note for f in notice(kit) if f.rule == "without_note"]
    assert len(offered) > 3 and len(set(offered)) == len(offered)


def test_a_stem_that_clipped_is_fixed_by_lowering_what_sounds_there(small_kit: Kit):
    """A bus at −∞ dB at the same output is left alone: it can go no lower, and it did not clip."""
    kit = small_kit
    for edit in (
        e.SetChannel(channel="snare-channel", output=3, level_db=6.0),
        e.MakeBus(name="Quiet"),
        e.SetChannel(channel="quiet-bus", output=3, level_db=-120.0),
    ):
        kit = apply(kit, edit)
    stems = [
        StemPeak(output=3, peak_dbfs=1.84, clipped_samples=12),
        StemPeak(output=1, peak_dbfs=-3.0, clipped_samples=0),
    ]
    (finding,) = clipping(kit, stems, kit)
    after = apply(kit, finding.fixes[0].edit)
    assert [(c.id, c.level_db) for c in after.routing.channels if c.output == 3] == [("snare-channel", 4.0)]
    assert after.routing.buses[0].level_db == -120.0
    assert not list(clipping(after, stems, kit))
