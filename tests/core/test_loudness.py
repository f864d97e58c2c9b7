"""Equally loud: gated loudness, a channel and a kit with treatment and without, a piece, and make-up set by it."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.grooves.values import Groove, Strike
from drumcore.kit.lookup import piece_of
from drumcore.kit.values import MAIN, Kit, Output, Width
from drumcore.listening.comparison_tables import channel_compared
from drumcore.listening.figures import Figure, OfChannel, OfKit, OfMakeUp, OfPiece, depends_on
from drumcore.listening.integrated_loudness import Integrated
from drumcore.listening.loudness import measured
from drumcore.playing.compiler import compile_kit
from drumcore.playing.renderer import render
from drumcore.recordings.k_weighting import strike_level_db
from drumcore.refusals import Refusal
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand

BEAT = Groove(
    name="Beat",
    bpm=120.0,
    beats_a_bar=4.0,
    length_s=2.0,
    events=tuple(
        Strike(time_s=k / 4, note=note, velocity=v)
        for k, (note, v) in enumerate([(36, 110), (38, 120), (36, 90), (38, 100), (49, 110), (38, 127), (36, 60)])
    ),
)
SNARE = "snare-channel"
LOUDER = Compressor(ratio=1.0, make_up_db=6.0)


def key_of(asked, kit: Kit, groove: Groove | None) -> str:
    return depends_on(kit, asked, groove)


def sine(dbfs: float, seconds: float, rate: int, hz: float = 1000.0, sides: int = 2) -> np.ndarray:
    one = 10 ** (dbfs / 20) * np.sin(2 * np.pi * hz * np.arange(round(seconds * rate)) / rate)
    return np.tile(one, (sides, 1)).astype(np.float32)


def loudness(sound: np.ndarray, rate: int, pieces: int = 4800) -> float | None:
    meter = Integrated(rate, len(sound))
    for at in range(0, sound.shape[1], pieces):
        meter.add(sound[:, at : at + pieces])
    return meter.loudness_db


@pytest.mark.parametrize(
    ("rate", "parts", "wanted"),
    [
        # The minimum requirements of EBU Tech 3341; at other rates the filter is another.
        (48000, [(-23.0, 20.0)], -23.0),
        (44100, [(-33.0, 8.0)], -33.0),
        (96000, [(-33.0, 8.0)], -33.0),
        (48000, [(-36.0, 10.0), (-23.0, 60.0), (-36.0, 10.0)], -23.0),
        (48000, [(-72.0, 10.0), (-36.0, 10.0), (-23.0, 60.0), (-36.0, 10.0), (-72.0, 10.0)], -23.0),
        (48000, [(-26.0, 20.0), (-20.0, 20.1), (-26.0, 20.0)], -23.0),
    ],
)
def test_gated_loudness_is_that_of_the_test_signals(rate: int, parts, wanted: float):
    sound = np.concatenate([sine(dbfs, seconds, rate) for dbfs, seconds in parts], axis=1)
    assert loudness(sound, rate, 48_000) == pytest.approx(wanted, abs=0.1)


def test_one_side_at_full_scale_is_three_under_and_silence_is_none():
    assert loudness(sine(0.0, 5.0, 48000, hz=997.0, sides=1), 48000) == pytest.approx(-3.01, abs=0.02)
    assert loudness(np.zeros((2, 96000), np.float32), 48000) is None
    assert loudness(sine(-75.0, 3.0, 48000), 48000) is None
    # Shorter than a block there is nothing to gate.
    assert loudness(sine(-10.0, 0.3, 48000), 48000) is None


@settings(max_examples=15)
@given(pieces=st.integers(100, 9000), db=st.floats(-20, 20))
def test_loudness_is_the_same_however_sound_is_cut_and_moves_with_its_level(pieces: int, db: float):
    noise = np.random.default_rng(3).normal(0, 0.02, (2, 24_000)).astype(np.float32)
    whole = loudness(noise, 48000, 24_000)
    assert whole is not None
    assert loudness(noise, 48000, pieces) == pytest.approx(whole, abs=1e-9)
    assert loudness(noise * np.float32(10 ** (db / 20)), 48000, pieces) == pytest.approx(whole + db, abs=1e-3)


def treated(kit: Kit, *treatments, channel: str = SNARE) -> Kit:
    return apply(kit, e.SetTreatments(channel=channel, treatments=treatments))


def figure(asked, kit: Kit, sounds) -> Figure:
    return asked.measure(kit, BEAT, sounds, lambda done, total: None)


def test_a_channel_is_compared_with_itself_before_level_pan_mute_and_bypass(small_kit: Kit, sounds):
    asked = OfChannel(channel=SNARE, groove=1)
    flat = figure(asked, small_kit, sounds)
    assert flat.louder_db == 0.0 and flat.db == pytest.approx(flat.plain_db, abs=1e-4)
    louder = treated(small_kit, LOUDER)
    found = figure(asked, louder, sounds)
    assert found.louder_db == 6.0 and found.plain_db == pytest.approx(flat.plain_db, abs=1e-4)
    moved = apply(louder, e.SetChannel(channel=SNARE, level_db=-20.0, pan=-1.0, muted=True, treated=False))
    moved = apply(moved, e.BypassTreatment(bypassed=True))
    assert figure(asked, moved, sounds) == found
    # It is the channel alone: what it lets in, and nothing of the others.
    alone = apply(small_kit, e.SetChannel(channel="kick-channel", level_db=12.0))
    assert figure(asked, alone, sounds).plain_db == pytest.approx(flat.plain_db, abs=1e-4)


def test_what_a_channel_is_treated_as_is_what_its_stem_holds(small_kit: Kit, sounds):
    kit = treated(small_kit, Eq(bands=(EqBand(kind=BandKind.HIGH_SHELF, hz=2000, gain_db=9.0),)), Drive(drive_db=12.0))
    apart = apply(kit, e.SetChannel(channel=SNARE, output=3))
    both = figure(OfChannel(channel=SNARE, groove=1), kit, sounds)
    for version, wanted in ((apart, both.db), (apply(apart, e.BypassTreatment(bypassed=True)), both.plain_db)):
        blocks = list(render(compile_kit(version), BEAT.events, sounds))
        stem = np.concatenate([block.outputs[3] for block in blocks], axis=1)
        # A mono channel in the middle of a stereo output has its power shared by both sides.
        assert loudness(stem, small_kit.rate_hz) == pytest.approx(wanted, abs=0.01)


def test_the_main_mix_and_a_kit_are_compared_as_they_are_heard(small_kit: Kit, sounds):
    squeezed = treated(small_kit, LOUDER, channel=MAIN)
    main = figure(OfChannel(channel=MAIN, groove=1), squeezed, sounds)
    assert main.louder_db == 6.0
    whole = figure(OfKit(groove=1), apply(squeezed, e.SetChannel(channel=MAIN, level_db=-4.0)), sounds)
    assert whole.louder_db == 6.0 and whole.plain_db == pytest.approx(main.plain_db - 4.0, abs=0.01)
    # What leaves by a mono output of its own is heard on both sides.
    outputs = (small_kit.routing.outputs[0], Output(number=2, name="Snare", width=Width.MONO))
    apart = small_kit.but(routing=small_kit.routing.but(outputs=outputs))
    apart = apply(apart, e.SetChannel(channel=SNARE, output=2))
    blocks = list(render(compile_kit(apart), BEAT.events, sounds))
    folded = np.concatenate([b.outputs[1] + b.outputs[2] for b in blocks], axis=1)
    assert figure(OfKit(groove=1), apart, sounds).db == pytest.approx(loudness(folded, small_kit.rate_hz), abs=0.01)


def test_a_pieces_level_is_the_mean_of_what_sounds_at_100_through_its_feeds(small_kit: Kit, sounds):
    asked = OfPiece(piece="snare")
    found = figure(asked, small_kit, sounds).db
    table = compile_kit(small_kit)
    piece = next(p for p in table.pieces if p.id == "snare")
    feeds = next(f for f in table.head.feeds if f.piece == "snare").mics
    powers = []
    for articulation in piece.articulations:
        for layer in (y for y in articulation.layers if y.low <= 100 <= y.high):
            for take in {place for step in layer.steps for place in step}:
                entered: dict[int, np.ndarray] = {}
                for voice in articulation.takes[take].voices:
                    sound = sounds.get(voice.sound, table.head.rate_hz).T.astype(float)
                    for feed in feeds[voice.mic]:
                        sides = 2 if table.head.channels[feed.channel].width is Width.STEREO else 1
                        heard = np.zeros((14_400, sides))
                        part = sound[:14_400] * feed.gain * voice.gain * layer.gains[100 - layer.low]
                        heard[: len(part)] += part
                        entered[feed.channel] = entered.get(feed.channel, 0.0) + heard
                powers.append(sum(10 ** (strike_level_db(s, 48_000) / 10) for s in entered.values()))
    assert len(powers) > 1
    assert found == pytest.approx(10 * np.log10(np.mean(powers)), abs=0.01)
    lower = apply(small_kit, e.SetPiece(piece="snare", level_db=-7.0))
    assert figure(asked, lower, sounds).db == pytest.approx(found - 7.0, abs=0.01)
    # Channels do not count, and a piece that nothing lets in has no level.
    assert figure(asked, apply(treated(lower, LOUDER), e.SetChannel(channel=SNARE, muted=True)), sounds).db == (
        pytest.approx(found - 7.0, abs=0.01)
    )
    assert figure(asked, small_kit.but(routing=small_kit.routing.but(feeds=())), sounds).db is None


@pytest.mark.parametrize("drive", [(), (Drive(drive_db=18.0, level_matched=False),)])
def test_make_up_is_found_at_which_treatment_changes_no_loudness(small_kit: Kit, sounds, drive):
    squeezed = Compressor(threshold_db=-45.0, ratio=6.0, attack_ms=1.0, release_ms=60.0, make_up_db=3.0)
    kit = treated(small_kit, squeezed, *drive)
    make_up = figure(OfMakeUp(channel=SNARE, groove=1), kit, sounds).db
    assert make_up is not None and make_up == round(make_up, 1) and make_up != 3.0
    found = measured(
        channel_compared(treated(small_kit, squeezed.but(make_up_db=make_up), *drive), SNARE), BEAT.events, sounds
    )
    assert abs(found.treated_db - found.plain_db) < 0.1


def test_make_up_goes_as_far_as_it_goes_and_says_what_it_needs(small_kit: Kit, sounds):
    crushed = Compressor(threshold_db=-60.0, ratio=20.0, knee_db=0.0, attack_ms=0.3)
    soft = apply(small_kit, e.SetPiece(piece="snare", level_db=20.0))
    assert figure(OfMakeUp(channel=SNARE, groove=1), treated(soft, crushed), sounds).db == 24.0
    for treatments in ((), (crushed.but(on=False),), (Drive(),)):
        with pytest.raises(Refusal, match="Snare has no compressor that is on"):
            figure(OfMakeUp(channel=SNARE, groove=1), treated(small_kit, *treatments), sounds)
    silent = BEAT.but(events=(Strike(time_s=0.0, note=36, velocity=100),))
    with pytest.raises(Refusal, match="Beat is too quiet in Snare"):
        OfMakeUp(channel=SNARE, groove=1).measure(treated(small_kit, crushed), silent, sounds, lambda *_: None)
    with pytest.raises(Refusal):
        figure(OfChannel(channel="nowhere", groove=1), small_kit, sounds)


def test_figures_stay_until_something_they_depend_on_changes(small_kit: Kit):
    kit = treated(small_kit, LOUDER)
    articulation = piece_of(kit, "snare").articulations[0].id
    kick = piece_of(kit, "kick").articulations[0]
    leave_alone = {
        "level": e.SetChannel(channel=SNARE, level_db=-3.0, pan=0.5, muted=True, output=3),
        "another channel": e.SetTreatments(channel="kick-channel", treatments=(Drive(),)),
        "another piece’s take": e.TrimTakes(articulation=kick.id, takes=(kick.takes[0].id,), gain_db=-3.0),
        "bypass": e.BypassTreatment(bypassed=True),
    }
    touch = {
        "treatment": e.SetTreatments(channel=SNARE, treatments=(Drive(),)),
        "feed": e.SetFeed(piece="snare", mic=piece_of(kit, "snare").own_mics[0], channel=SNARE, level_db=-3.0),
        "layers": e.SplitEvenly(articulation=articulation),
        "piece": e.SetPiece(piece="snare", level_db=1.0),
    }
    asked = OfChannel(channel=SNARE, groove=1)
    now = key_of(asked, kit, BEAT)
    for what, edit in leave_alone.items():
        assert key_of(asked, apply(kit, edit), BEAT) == now, what
    for what, edit in touch.items():
        assert key_of(asked, apply(kit, edit), BEAT) != now, what
    assert key_of(asked, kit, BEAT.but(events=BEAT.events[:3])) != now
    assert key_of(asked.but(channel=MAIN), kit, BEAT) != now
    assert key_of(OfMakeUp(channel=SNARE, groove=1), kit, BEAT) != now
    whole = OfKit(groove=1)
    for what, edit in leave_alone.items():
        changed = key_of(whole, apply(kit, edit), BEAT) != key_of(whole, kit, BEAT)
        # Bypass of all is what is compared there.
        assert changed == (what != "bypass"), what
    piece = OfPiece(piece="snare")
    assert key_of(piece, kit, None) == key_of(piece, treated(kit), None)
    assert key_of(piece, apply(kit, touch["piece"]), None) != key_of(piece, kit, None)
