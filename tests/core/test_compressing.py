"""Compressor and drive against values worked by hand, the mixer that runs them, and the main mix as a channel."""

import json
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.cli.main import main
from drumcore.demo.treatment_figures import treatment_figures
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.grooves.values import Strike
from drumcore.kit.json_form import from_json, readable, to_json
from drumcore.kit.lookup import channel_of
from drumcore.kit.repairs import fixed
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_kit
from drumcore.playing.mixer import Mixer
from drumcore.refusals import Refusal
from drumcore.treatments.compressor import Compressor, reduction_db
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand
from drumcore.treatments.kinds import compiled, stages
from drumcore.treatments.shipped import SHIPPED
from tests.changes import compressors, drives
from tests.conftest import RATE, whole
from tests.printed import shown

HARD = Compressor(threshold_db=-20.0, ratio=4.0, knee_db=0.0, attack_ms=10.0, release_ms=100.0)


def through(treatment, sound: np.ndarray, rate: int = RATE) -> np.ndarray:
    (stage,) = stages(compiled((treatment,), rate), rate, len(sound))
    return stage.process(sound)


def test_the_curve_by_hand():
    """4:1 over −20: 12 dB over leave 3, 9 dB of gain reduction. A knee of 12 dB begins 6 dB below, and holds 1.125 dB back at the
    threshold: 0.75 · 6² / 24."""
    assert reduction_db(HARD, -8.0) == pytest.approx(9.0) and reduction_db(HARD, -20.1) == 0.0
    soft = HARD.but(knee_db=12.0)
    assert reduction_db(soft, -20.0) == pytest.approx(1.125)
    assert reduction_db(soft, -26.1) == 0.0 and reduction_db(soft, -14.0) == pytest.approx(reduction_db(HARD, -14.0))
    assert reduction_db(HARD.but(ratio=1.0), 0.0) == 0.0


def test_a_steady_level_is_reached_as_its_times_say_and_along_straight_lines():
    """Full scale, 20 dB over a hard 4:1: 15 dB of gain reduction in the end, 15·(1 − e^(−8k/τ)) after k stretches of 8 frames;
    inside a stretch the gain runs straight. When it falls silent the reduction dies with the release."""
    sound = np.concatenate([np.ones(9600), np.full(9600, 1e-4)])[None, :]
    out = through(HARD, sound)[0]
    kept = math.exp(-8 / 480)
    for k in (1, 2, 60, 400):
        assert out[8 * k - 1] == pytest.approx(10 ** (-15 * (1 - kept**k) / 20), rel=1e-12)
    gains = out[:16] / sound[0, :16]
    assert np.diff(gains[:8]) == pytest.approx(np.full(7, (gains[7] - 1) / 8), rel=1e-9)
    end = 15 * (1 - kept**1200)
    after = 20 * np.log10(out[9600 + 4800 - 1] / 1e-4)
    assert after == pytest.approx(-end * math.exp(-1), abs=1e-6)  # 100 ms of release later, a 1/e of it


def test_the_larger_side_decides_for_both_and_mix_and_make_up_say_how_much_is_heard():
    sound = np.stack([np.ones(9600), np.full(9600, 0.25)])
    out = through(HARD.but(make_up_db=6.0), sound)
    assert out[0] / out[1] == pytest.approx(np.full(9600, 4.0))
    assert 20 * np.log10(out[0, -1]) == pytest.approx(-15.0 + 6.0, abs=1e-3)
    half = through(HARD.but(make_up_db=6.0, mix=0.5), sound)
    np.testing.assert_allclose(half, 0.5 * sound + 0.5 * out, rtol=1e-12)
    np.testing.assert_array_equal(through(HARD.but(mix=0.0), sound), sound)


def test_a_low_cut_before_the_detector_lets_the_lows_pass_and_is_not_heard():
    t = np.arange(24_000) / RATE
    low, high = 0.9 * np.sin(2 * np.pi * 50 * t), 0.9 * np.sin(2 * np.pi * 2000 * t)
    cut = HARD.but(low_cut_hz=500.0)

    def held_back(compressor: Compressor, sound: np.ndarray) -> float:
        out = through(compressor, sound[None, :])[0]
        return -20 * np.log10(np.abs(out[-4800:]).max() / 0.9)

    assert held_back(HARD, low) > 10 and held_back(cut, low) < 0.1  # 40 dB less reach the detector
    assert held_back(cut, high) == pytest.approx(held_back(HARD, high), abs=0.1)


def test_drive_by_hand():
    sound = np.array([[0.0, 1e-6, 0.5, 1.0, -1.0]])
    bare = through(Drive(drive_db=0.0, level_matched=False), sound)
    np.testing.assert_allclose(bare, np.tanh(sound))
    push = 10 ** (12 / 20)
    lean = through(Drive(drive_db=12.0, asymmetry=0.5, level_matched=False), sound)
    np.testing.assert_allclose(lean, np.tanh(push * sound + 0.5) - math.tanh(0.5))
    level_matched = through(Drive(drive_db=12.0, asymmetry=0.5), sound)
    assert level_matched[0, 1] == pytest.approx(1e-6, rel=1e-5)  # what is soft leaves as loud as it came
    assert level_matched[0, 3] != pytest.approx(-level_matched[0, 4], rel=0.1)
    mixed = through(Drive(drive_db=12.0, asymmetry=0.5, mix=0.3), sound)
    np.testing.assert_allclose(mixed, 0.3 * level_matched + 0.7 * sound)


@settings(max_examples=60)
@given(st.one_of(compressors, drives), st.sampled_from([44_100, 48_000, 96_000]), st.integers(1, 2))
def test_blocks_and_whole_are_the_same_and_nothing_loud_comes_of_silence(treatment, rate, sides):
    rng = np.random.default_rng(5)
    sound = rng.standard_normal((sides, 4096)) * np.exp(-np.arange(4096) / 900)
    play = compiled((treatment,), rate)
    assert len(play) == treatment.on
    if not play:
        return
    (at_once,), (parts,) = stages(play, rate, sides), stages(play, rate, sides)
    before = sound.copy()
    treated = at_once.process(sound)
    np.testing.assert_array_equal(sound, before)
    blocks = [parts.process(sound[:, a : a + 640]) for a in range(0, 4096, 640)]
    np.testing.assert_array_equal(np.concatenate(blocks, axis=1), treated)
    assert np.isfinite(treated).all()
    assert np.abs(at_once.process(np.zeros((sides, 4096)))).max() < 1e-15


def test_a_compressor_that_sleeps_lets_go_first(small_kit: Kit, sounds):
    """Choke between two strikes: its reduction dies away meanwhile, also where nothing of the first rings any more."""
    slow = HARD.but(threshold_db=-40.0, release_ms=300.0)
    kit = apply(small_kit, e.SetTreatment(channel="kick-channel", treatment=slow))
    mixer = Mixer(compile_kit(kit).head, 4096, sounds)
    place = next(n for n, c in enumerate(mixer.head.channels) if c.id == "kick-channel")
    mixer.begin()
    mixer.channels[place].sound[:], mixer.channels[place].heard = 0.5, True
    mixer.process(4096)
    (stage,) = mixer._strips[place]._stages
    held = stage.reduction_db
    blocks = 0
    while not stage.silent:
        mixer.begin()
        mixer.process(4096)
        blocks += 1
    assert held > 10 and not mixer.rings
    # 300 ms to a 1/e: from 20-odd dB to a millionth of one takes some 17 times that.
    assert blocks * 4096 / RATE == pytest.approx(0.3 * math.log(held / 1e-6), abs=0.1)


STRUCK = [Strike(time_s=0.01, note=36, velocity=120), Strike(time_s=0.3, note=38, velocity=100)]
DULL = Eq(bands=(EqBand(kind=BandKind.HIGH_CUT, hz=900),))


def test_main_is_treated_muted_panned_and_leaves_by_the_first_output(small_kit: Kit, sounds):
    plain = whole(compile_kit(small_kit), STRUCK, sounds, 1)
    louder = apply(small_kit, e.SetChannel(channel="main", level_db=6.0))
    assert np.abs(whole(compile_kit(louder), STRUCK, sounds, 1) - 10 ** (6 / 20) * plain).max() < 1e-5
    left = whole(compile_kit(apply(small_kit, e.SetChannel(channel="main", pan=-1.0))), STRUCK, sounds, 1)
    assert np.abs(left[1]).max() == 0.0
    np.testing.assert_allclose(left[0], plain.sum(axis=0), atol=1e-5)
    driven = apply(small_kit, e.SetTreatment(channel="main", treatment=Drive(drive_db=20.0, level_matched=False)))
    out = whole(compile_kit(driven), STRUCK, sounds, 1)
    np.testing.assert_allclose(out[:, : plain.shape[1]], np.tanh(10.0 * plain.astype(float)), atol=1e-6)
    assert not whole(compile_kit(apply(small_kit, e.SetChannel(channel="main", muted=True))), STRUCK, sounds, 1).any()
    for edit, said in (
        (e.SetChannel(channel="main", output=2), "main mix always goes to output 1"),
        (e.SetFeed(piece="kick", mic="room", channel="main", level_db=0), "Main is fed by channels"),
    ):
        with pytest.raises(Refusal, match=said):
            apply(small_kit, edit)


def test_treatment_is_bypassed_in_a_channel_and_everywhere_and_keeps_what_was_set(small_kit: Kit):
    kit = apply(small_kit, e.SetTreatments(channel="snare-channel", treatments=(Drive(), DULL, HARD)))
    assert [t.kind for t in channel_of(kit, "snare-channel").treatments] == ["eq", "compressor", "drive"]

    def played(of: Kit) -> list[str]:
        return [t.kind for t in compile_kit(of).head.channels[1].treatments]

    assert played(kit) == ["eq", "compressor", "drive"]
    assert played(apply(kit, e.SetTreatment(channel="snare-channel", treatment=HARD.but(on=False)))) == ["eq", "drive"]
    for bypassed in (
        apply(kit, e.SetChannel(channel="snare-channel", treated=False)),
        apply(kit, e.BypassTreatment(bypassed=True)),
    ):
        assert played(bypassed) == []
        assert channel_of(bypassed, "snare-channel").treatments == channel_of(kit, "snare-channel").treatments
    assert apply(apply(kit, e.BypassTreatment(bypassed=True)), e.BypassTreatment(bypassed=False)) == kit
    assert apply(kit, e.SetTreatments(channel="snare-channel", treatments=())) == small_kit
    with pytest.raises(Refusal, match="Snare takes one treatment of each kind"):
        apply(kit, e.SetTreatments(channel="snare-channel", treatments=(Drive(), Drive(drive_db=1.0))))


def test_a_kit_of_the_format_before_has_its_main_level_and_a_channel_of_that_name(small_kit: Kit):
    raw = json.loads(to_json(small_kit))
    raw["format"] = 6
    del raw["routing"]["main"], raw["routing"]["treated"]
    raw["routing"]["main_level_db"] = -4.5
    text = json.dumps(raw).replace("kick-channel", "main")
    kit = from_json(text)
    assert kit.routing.main.level_db == -4.5 and kit.routing.main.id == "main"
    assert kit.routing.channels[0].id == "main-1"
    assert {f.channel for f in kit.routing.feeds if f.piece == "kick" and f.mic == "kick-mic"} == {"main-1"}


def test_what_ships_does_what_its_name_says_on_the_demo(demo_sessions, capsys):
    """Every one at the level it found within 1.5 dB (cut away is cut away), and to a tenth of a dB as docs/ has it."""
    assert main(["treatments", str(demo_sessions / "Boathouse No. 4")]) == 0
    printed = capsys.readouterr().out
    assert printed == shown("treatments.md")
    by_name = {line[:31].strip(): [float(cell) for cell in line[31:71].split()] for line in printed.splitlines()[1:]}
    assert list(by_name) == [shipped.name for shipped in SHIPPED] and len(by_name) >= 12
    figures = {shipped.id: by_name[shipped.name] for shipped in SHIPPED}
    for name, (level, *_) in figures.items():
        assert abs(level) < 1.5 or name == "overheads-cymbals", name
    crest, lows, middle, highs = 1, 2, 3, 4
    assert figures["snare-forward"][highs] > 2 and figures["snare-thick"][lows] > 1
    assert figures["kick-thud"][middle] < -3 and figures["hats-thin"][lows] < -10
    assert figures["toms-body"][highs] > 2 and figures["overheads-cymbals"][lows] < -10
    assert figures["room-far"][highs] < -1 and figures["main-warm"][crest] < -0.5
    with pytest.raises(Refusal, match="zesty demo"):
        treatment_figures(demo_sessions / "Tin Lantern")


def test_two_treatments_of_a_kind_in_a_file_are_refused_and_fixed_in_what_is_kept(small_kit: Kit):
    raw = json.loads(to_json(apply(small_kit, e.SetTreatment(channel="main", treatment=DULL))))
    raw["routing"]["main"]["treatments"] *= 2
    with pytest.raises(Refusal, match="Two treatments of Main"):
        from_json(json.dumps(raw))
    kit, left_out = fixed(readable(raw)[0])
    assert len(kit.routing.main.treatments) == 1 and left_out


@settings(max_examples=80)
@given(compressors, st.floats(-90.0, 6.0), st.floats(0.01, 12.0))
def test_a_louder_level_is_held_back_no_less_and_comes_out_no_softer(compressor, level, more):
    """The curve rises everywhere, never steeper than the line, and gain reduction is never less than nothing."""
    soft, loud = reduction_db(compressor, level), reduction_db(compressor, level + more)
    assert 0.0 <= soft <= loud + 1e-9
    assert level - soft <= level + more - loud + 1e-9
    # Far over the knee a decibel more comes out as 1/ratio of one.
    above = compressor.threshold_db + compressor.knee_db
    assert reduction_db(compressor, above + 10) - reduction_db(compressor, above) == pytest.approx(
        10 * (1 - 1 / compressor.ratio), abs=1e-9
    )


@settings(max_examples=60)
@given(compressors, st.integers(0, 50))
def test_a_compressor_treats_sides_alike_and_never_lifts_what_it_holds_back(compressor, seed):
    settings_ = compressor.but(on=True, make_up_db=0.0)
    sound = np.random.default_rng(seed).standard_normal((2, 2048)) * 0.5
    out = through(settings_, sound)
    swapped = through(settings_, sound[::-1])
    np.testing.assert_array_equal(out[::-1], swapped)
    assert (np.abs(out) <= np.abs(sound) * (1 + 1e-12)).all()
    assert (np.sign(out) == np.sign(sound)).all()


@settings(max_examples=60)
@given(drives, st.integers(0, 50))
def test_a_drive_keeps_the_order_of_samples_and_rounds_only_what_is_loud(drive, seed):
    on = drive.but(on=True)
    sound = np.sort(np.random.default_rng(seed).uniform(-1, 1, 400))[None, :]
    out = through(on, sound)[0]
    assert (np.diff(out) >= -1e-12).all()
    even = through(on.but(asymmetry=0.0), sound)[0]
    np.testing.assert_allclose(through(on.but(asymmetry=0.0), -sound)[0], -even, atol=1e-12)
    soft = through(on.but(level_matched=True), sound * 1e-6)[0]
    np.testing.assert_allclose(soft, sound[0] * 1e-6, rtol=1e-3, atol=1e-12)
