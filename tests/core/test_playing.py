"""The renderer against sounds added by hand, and where strikes arrive."""

import json

import numpy as np
import pytest
import soundfile

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.formats.kit_file import contents_of
from drumcore.grooves.values import PedalMove, Press, Strike
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit, Width
from drumcore.layers.dynamics import target_of
from drumcore.layers.from_takes import layer_levels_db
from drumcore.listening.audition import hit
from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlaySound
from drumcore.playing.sounds import FileSounds, prepare, write_prepared
from drumcore.playing.stems import whole_samples, write_stems
from drumcore.playing.striker import Striker
from drumcore.recordings.audio_files import read_audio
from tests.changes import edit_of
from tests.conftest import RATE, strike_sound, whole, write_sound


def test_one_strike_is_its_recordings_cut_scaled_and_panned(small_kit: Kit, small_session, sounds):
    kit = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    kit = apply(kit, e.SetChannel(channel="kick-channel", level_db=-6.0, pan=-0.5))
    table = compile_kit(kit)
    frame, velocity = 4801, 100
    out = whole(table, [Strike(time_s=frame / RATE, note=36, velocity=velocity)], sounds, 2)
    articulation = pieces_of(kit)[0].articulations[0]
    layer = next(y for y in articulation.layers if y.low <= velocity <= y.high)
    take = next(t for t in articulation.takes if t.id == layer.takes[0])
    close = next(r for r in take.recordings if r.mic == "kick-mic")
    samples, _ = soundfile.read(small_session / close.path, dtype="float32")
    cut = samples[int(take.start_ms * 48) :]
    target = target_of(articulation)
    assert target is not None
    own = layer_levels_db(articulation)[articulation.layers.index(layer)]
    gain = 10 ** ((-6 + target.level_db(velocity) - own) / 20)
    assert np.all(out[:, :frame] == 0)
    for side, share in ((0, np.cos(np.pi / 8)), (1, np.sin(np.pi / 8))):
        np.testing.assert_allclose(out[side, frame : frame + len(cut)], cut * gain * share, atol=2e-7)


def test_blocks_of_any_size_give_the_same_sound(small_kit: Kit, sounds):
    table = compile_kit(small_kit)
    events = [Strike(time_s=0.05 * i, note=n, velocity=30 + i) for i, n in enumerate([36, 46, 38, 42, 49] * 8)]
    by_large = whole(table, events, sounds, length_s=3.0)
    by_small = whole(table, events, sounds, length_s=3.0, block_frames=777)
    np.testing.assert_allclose(by_large, by_small, atol=3e-7)


def test_a_closed_hat_stops_an_open_one_by_its_time_constant(small_kit: Kit, sounds):
    kit = apply(small_kit, e.SetChoke(articulation="hats/closed", stopped="hats/open", fade_ms=20.0))
    kit = apply(kit, e.ApplyPlan(plan="one-output-a-piece"))
    kit = apply(kit, e.SetChannel(channel="hats-channel", pan=-1.0))
    table = compile_kit(kit)
    opened = Strike(time_s=0.0, note=46, velocity=120)
    ringing = whole(table, [opened], sounds, 4, length_s=0.3)[0]
    closed = Strike(time_s=0.05, note=42, velocity=1)
    both = whole(table, [opened, closed], sounds, 4, length_s=0.3)[0]
    tip = whole(table, [closed], sounds, 4, length_s=0.3)[0]
    at = np.arange(len(ringing))
    fade = np.where(at < 2400, 1.0, np.exp(-(at - 2400) / 960))
    np.testing.assert_allclose(both - tip, ringing * fade, atol=1e-6)


def test_the_pedal_chooses_the_hat_and_the_orders_move_on(small_kit: Kit):
    striker = Striker(compile_kit(small_kit))
    assert [s.articulation.id for s in striker.strike(46, 100)] == ["hats/open"]
    striker.pedal(0)
    assert [s.articulation.id for s in striker.strike(46, 100)] == ["hats/closed"]
    takes = [striker.strike(38, 127)[0].take.id for _ in range(4)]
    assert takes[0] == takes[3] and len(set(takes)) == 3
    assert striker.strike(99, 100) == []


def test_articulations_are_softened_darkened_and_faded_in_by_strength(small_kit: Kit, sounds):
    """A soft strike through its fade-in and its low-pass is the plain one treated by hand."""
    from scipy.signal import lfilter

    from drumcore.playing.filters import low_pass

    kit = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    kit = apply(kit, e.SetTracking(piece="kick", level=0.0))
    event = [Strike(time_s=0.0, note=36, velocity=64)]
    plain = whole(compile_kit(kit), event, sounds, 2)
    treated = apply(kit, e.SetTracking(piece="kick", brightness=3.0, attack_soft_ms=20.0, attack_hard_ms=0.0))
    out = whole(compile_kit(treated), event, sounds, 2)
    rise = round((20.0 - 20.0 * 63 / 126) * 48)  # half way from 20 ms to none
    assert rise == 480
    octaves = 3.0 * (1 - 64 / 127)
    b0, b1, b2, a1, a2 = low_pass(16000.0 * 2 ** -(round(octaves * 24) / 24), RATE)
    faded = plain * np.minimum(np.arange(plain.shape[1]) / rise, 1.0)
    expected = lfilter((b0, b1, b2), (1.0, a1, a2), faded, axis=1)
    np.testing.assert_allclose(out[:, : plain.shape[1]], expected, atol=1e-6)
    # Level over the whole range: 40 dB a decade from 127, whatever the layer.
    whole_range = apply(kit, e.SetTracking(piece="kick", level=1.0, whole=True))
    louder = whole(compile_kit(whole_range), event, sounds, 2)
    np.testing.assert_allclose(louder, plain * (64 / 127) ** 2, atol=1e-6)


def test_zones_of_openness_blend_by_equal_power_and_do_not_stop_one_another(small_kit: Kit, sounds):
    kit = apply(small_kit, e.SetOpenness(blend=20))
    table = compile_kit(kit)
    limit = next(p.open_to for p in kit.notes.placed if p.note == 46 and p.articulation == "hats/closed")
    striker = Striker(table)
    striker.pedal(limit)
    both = striker.strike(46, 100)
    assert [s.articulation.id for s in both] == ["hats/closed", "hats/open"]
    plain = Striker(compile_kit(small_kit))
    plain.pedal(limit)
    alone = plain.strike(46, 100)[0].gain
    assert both[0].gain == pytest.approx(alone * np.cos(10 / 21 * np.pi / 2))

    def at(compiled, openness: int):
        events = [PedalMove(time_s=0.0, openness=openness), Strike(time_s=0.0, note=46, velocity=100)]
        return whole(compiled, events, sounds, length_s=0.3)

    unblended = compile_kit(small_kit)
    angle = 10 / 21 * np.pi / 2
    expected = at(unblended, limit) * np.cos(angle) + at(unblended, limit + 1) * np.sin(angle)
    np.testing.assert_allclose(at(table, limit), expected, atol=1e-6)


def test_closing_the_pedal_and_a_hand_stop_what_rings(small_kit: Kit, sounds):
    kit = apply(small_kit, e.SetHandStop(piece="crash-left", fade_ms=5.0))
    table = compile_kit(kit)
    for struck, stopping in (
        (Strike(time_s=0.0, note=46, velocity=120), PedalMove(time_s=0.05, openness=0)),
        (Strike(time_s=0.0, note=49, velocity=120), Press(time_s=0.05, note=49, pressure=127)),
    ):
        rings = whole(table, [struck], sounds, length_s=0.3)
        stops = whole(table, [struck, stopping], sounds, length_s=0.3)
        np.testing.assert_array_equal(rings[:, :2400], stops[:, :2400])
        assert np.abs(rings[:, 7200:9600]).max() > 1e-4
        assert np.abs(stops[:, 7200:9600]).max() < np.abs(rings[:, 7200:9600]).max() * 0.1
    # With its own sound, the faster it closes the harder it sounds.
    striker = Striker(compile_kit(apply(kit, e.SetOpenness(pedal_sounds=True))))
    striker.pedal(100, 1.0)
    assert striker.pedal(30, 1.05)[1] == []
    assert [s.velocity for s in striker.pedal(0, 1.1)[1]] == [89]  # 127 − 380 · 0.1
    striker.pedal(127, 2.0)
    assert [s.velocity for s in striker.pedal(0, 4.0)[1]] == [20]


def test_cross_talk_and_doubles_of_an_input_do_not_sound(small_kit: Kit):
    talk = {"after": 38, "note": 36, "up_to": 20, "within_ms": 15.0}
    kit = apply(
        small_kit,
        edit_of({"kind": "set_input", "input": "pads", "name": "Pads", "cross_talk": [talk], "doubles_ms": 20.0}),
    )
    striker = Striker(compile_kit(kit))
    assert striker.strike(38, 100, 1.0, "pads") and striker.strike(36, 15, 1.01, "pads") == []
    assert striker.why == "cross_talk"
    assert striker.strike(38, 90, 1.015, "pads") == [] and striker.why == "double"
    assert striker.strike(36, 15, 1.01, "other pads"), "another input is taken as it is"
    assert striker.strike(99, 15, 3.0, "pads") == [] and striker.why == "free"


def test_curves_feed_one_another_and_zero_ignores(small_kit: Kit):
    floor = {"nodes": [{"x": 0, "y": 0}, {"x": 20, "y": 0}, {"x": 127, "y": 107}]}
    half = {"nodes": [{"x": 0, "y": 0}, {"x": 126, "y": 63}, {"x": 127, "y": 64}]}
    kit = apply(small_kit, edit_of({"kind": "set_curve", "target": None, "curve": floor}))
    kit = apply(kit, edit_of({"kind": "set_curve", "target": "snare", "curve": half}))
    striker = Striker(compile_kit(kit))
    assert striker.strike(38, 20) == []
    assert striker.strike(38, 60)[0].velocity == 20  # 60 − 20 = 40, then its half
    assert striker.strike(36, 60)[0].velocity == 40


def test_what_is_muted_or_off_is_silent_and_keeps_its_level(small_kit: Kit, sounds):
    event = [Strike(time_s=0, note=38, velocity=120)]
    muted = small_kit
    for channel in ("snare-channel", "overheads-channel", "room-channel"):
        muted = apply(muted, e.SetChannel(channel=channel, muted=True))
    assert np.abs(whole(compile_kit(muted), event, sounds)).max() == 0
    routed = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    feed = {"piece": "snare", "mic": "snare-mic", "channel": "snare-channel", "level_db": -4.0}
    off = apply(routed, e.SetFeed(**feed, on=False))
    assert np.abs(whole(compile_kit(off), event, sounds, 3)).max() == 0
    on = apply(off, e.SetFeed(**feed))
    heard = whole(compile_kit(on), event, sounds, 3)
    plain = whole(compile_kit(routed), event, sounds, 3)
    np.testing.assert_allclose(heard, plain * 10 ** (-4 / 20), atol=1e-7)
    silenced = apply(routed, e.SetMic(mic="snare-mic", muted=True))
    assert np.abs(whole(compile_kit(silenced), event, sounds, 3)).max() == 0
    assert np.abs(whole(compile_kit(silenced), event, sounds, 5)).max() > 0


def test_a_pieces_level_goes_over_all_its_feeds_and_a_channel_may_take_one_side(small_kit: Kit, sounds):
    event = [Strike(time_s=0, note=38, velocity=120)]
    routed = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    softer = apply(routed, e.SetPiece(piece="snare", level_db=-6.0))
    for output in (3, 5, 6):
        plain = whole(compile_kit(routed), event, sounds, output)
        np.testing.assert_allclose(
            whole(compile_kit(softer), event, sounds, output), plain * 10 ** (-6 / 20), atol=1e-7
        )
    # A mono channel into one side is whole there; of a stereo one both sides make one sound.
    left = whole(compile_kit(apply(routed, e.SetChannel(channel="snare-channel", side="left"))), event, sounds, 3)
    middle = whole(compile_kit(routed), event, sounds, 3)
    assert np.abs(left[1]).max() == 0
    np.testing.assert_allclose(left[0], middle[0] * np.sqrt(2), atol=1e-6)
    right = whole(compile_kit(apply(routed, e.SetChannel(channel="overheads-channel", side="right"))), event, sounds, 5)
    both = whole(compile_kit(routed), event, sounds, 5)
    assert np.abs(right[0]).max() == 0
    np.testing.assert_allclose(right[1], both.mean(axis=0), atol=1e-6)


def test_a_flipped_microphone_is_its_own_negative(small_kit: Kit, sounds):
    kit = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    event = [Strike(time_s=0, note=38, velocity=120)]
    flipped = apply(kit, e.FlipPolarity(mic="snare-mic"))
    np.testing.assert_array_equal(
        whole(compile_kit(flipped), event, sounds, 3), -whole(compile_kit(kit), event, sounds, 3)
    )


def test_strikes_arrive_where_the_plan_says(small_kit: Kit, sounds):
    table = compile_kit(apply(small_kit, e.ApplyPlan(plan="one-output-a-piece")))
    heard = list(hit(table, sounds, 38, 100, strikes=3))
    assert [set(h.peaks_dbfs) for h in heard] == [{3, 5, 6}] * 3
    assert len({h.sounding[0].take.id for h in heard}) == 3
    assert set(next(hit(table, sounds, 49, 100)).peaks_dbfs) == {6, 10}


def test_stems_are_one_file_an_output_and_a_list(small_kit: Kit, sounds, tmp_path):
    table = compile_kit(apply(small_kit, e.ApplyPlan(plan="one-output-a-piece")))
    events = [Strike(time_s=0.1 * i, note=n, velocity=110) for i, n in enumerate([36, 38, 42, 46])]
    listed = write_stems(table, events, sounds, tmp_path)
    assert json.loads((tmp_path / "stems.json").read_text()) == listed
    assert [s["file"] for s in listed["stems"]] == [
        "02 Kick.wav", "03 Snare.wav", "04 Hats.wav", "05 Overheads.wav", "06 Room.wav", "10 Crash 1.wav",
    ]  # fmt: skip
    for stem in listed["stems"]:
        sound, rate = soundfile.read(tmp_path / stem["file"], always_2d=True)
        assert (rate, len(sound), sound.shape[1]) == (RATE, listed["frames"], 2)
        peak = 20 * np.log10(max(np.abs(sound).max(), 1e-6))
        assert peak == pytest.approx(max(stem["peak_dbfs"], -120), abs=0.02)


def test_prepared_sounds_have_the_rate_and_width_asked_for(tmp_path):
    mono = write_sound(tmp_path / "mono.wav", strike_sound(0, rate=44100), rate=44100)
    audio = read_audio(mono)
    made = prepare(audio, 48000, Width.STEREO)
    assert made.shape == (pytest.approx(audio.frames * 48000 / 44100, abs=2), 2)
    np.testing.assert_array_equal(made[:, 0], made[:, 1])
    write_prepared(made, 48000, tmp_path / "p" / "made.flac")
    back, _ = soundfile.read(tmp_path / "p" / "made.flac", dtype="float32", always_2d=True)
    np.testing.assert_array_equal(back, made)
    assert list((tmp_path / "p").iterdir()) == [tmp_path / "p" / "made.flac"]


def test_little_is_held_in_memory(small_kit: Kit, small_session):
    places = {content: small_session / r.path for content, r in contents_of(small_kit).items()}
    sounds = FileSounds(lambda content: places[content], budget_bytes=200_000)
    wanted = [PlaySound(content=content, width=Width.MONO, start_frame=0) for content in places]
    got = [sounds.get(sound, RATE) for sound in wanted]
    assert sounds._bytes <= 200_000 == sounds._budget
    # What was asked for last is still there, what was asked for first has gone.
    assert sounds.get(wanted[-1], RATE) is got[-1] and sounds.get(wanted[0], RATE) is not got[0]


def test_stems_are_rounded_and_those_of_16_bits_dithered(small_kit: Kit, sounds, tmp_path):
    """24 bits lie within half a step of the sound; 16 within a step and a half, their error neither following the sound nor
    leaning, and the same every time, in blocks of any size."""
    table = compile_kit(small_kit)
    events = [Strike(time_s=0.1 * n, note=38, velocity=40) for n in range(4)]
    exact = whole(table, events, sounds, 1)
    made = {}
    for name, bits in (("one", 16), ("again", 16), ("fine", 24), ("float", 32)):
        listed = write_stems(table, events, sounds, tmp_path / name, bits=bits)
        made[name], _ = soundfile.read(tmp_path / name / listed["stems"][0]["file"], dtype="float64")
    assert np.array_equal(made["one"], made["again"]) and np.array_equal(made["float"], exact.T)
    assert np.abs(made["fine"] - exact.T).max() <= 2.0**-24
    step = 2.0**-15
    error = (made["one"] - exact.T)[:20000] / step
    assert np.abs(error).max() <= 1.5
    # Triangular noise of ± 1 step has a power of 1/6, rounding adds 1/12: a quarter in all, whatever the sound.
    assert error.var() == pytest.approx(0.25, rel=0.05) and abs(error.mean()) < 0.01
    noise = np.random.default_rng(1), np.random.default_rng(1)
    sound = exact[:, :5000]
    parts = [whole_samples(sound[:, a : a + 777], 16, noise[0]) for a in range(0, 5000, 777)]
    assert np.array_equal(np.concatenate(parts, axis=1), whole_samples(sound, 16, noise[1]))
    loud = np.array([[2.0, -2.0, 0.5 * 2.0**-23, -0.5 * 2.0**-23]], np.float32)
    assert list(whole_samples(loud, 24, noise[0])[0] >> 8) == [2**23 - 1, -(2**23), 1, 0]
