"""The main mix as a channel: its input, what chokes it and is said of it, and hosts whose first output is mono."""

import numpy as np
import pytest

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.rules import notice
from drumcore.grooves.values import Strike
from drumcore.kit.lookup import channel_of
from drumcore.kit.values import MAIN, Kit, Output, Width
from drumcore.playing.compiler import compile_head, compile_kit
from drumcore.playing.mixer import Mixer
from drumcore.playing.renderer import render
from drumcore.routing.reachability import is_heard, silent_pieces, why_silent
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand
from drumcore.treatments.kinds import in_order

STRUCK = [Strike(time_s=0.0, note=36, velocity=127), Strike(time_s=0.25, note=49, velocity=110)]
MUTED = e.SetChannel(channel=MAIN, muted=True)
NOTHING = e.SetChannel(channel=MAIN, level_db=-120.0)


def played(kit: Kit, sounds, number: int = 1) -> np.ndarray:
    blocks = list(render(compile_kit(kit), STRUCK, sounds, length_s=1))
    return np.concatenate([block.outputs[number] for block in blocks], axis=1).astype(float)


@pytest.mark.parametrize(("edit", "why"), [(MUTED, "muted"), (NOTHING, "at −∞ dB")])
def test_a_silent_main_is_said_of_what_goes_nowhere_else_and_is_brought_up(small_kit: Kit, edit, why):
    apart = apply(small_kit, e.SetChannel(channel="kick-channel", output=3))
    silent = apply(apart, edit)
    # The kick's own channel leaves by itself; its overheads and room do not, and are enough to be told apart.
    assert is_heard(silent, "kick") and not is_heard(silent, "snare")
    assert "kick" not in silent_pieces(silent) and "snare" in silent_pieces(silent)
    snare = next(piece for piece in silent.pieces if piece.id == "snare")
    assert why_silent(silent, snare) == f"The main mix is {why}, and Snare goes nowhere else; it is silent."
    found = [f for f in notice(silent) if f.rule == "reaches_no_output" and f.where.piece == "snare"]
    (fix,) = [m for m in found[0].fixes if m.label == "Turn the main mix up"]
    healed = apply(silent, fix.edit)
    assert is_heard(healed, "snare") and not silent_pieces(healed)
    # Only what silenced it is put right.
    assert channel_of(healed, MAIN).level_db == channel_of(apart, MAIN).level_db


def test_a_host_with_a_mono_first_output_hears_the_mean_of_both_sides(small_kit: Kit, sounds):
    mono = small_kit.but(routing=small_kit.routing.but(outputs=(Output(number=1, name="Main", width=Width.MONO),)))
    both, one = played(small_kit, sounds), played(mono, sounds)
    assert one.shape[0] == 1
    np.testing.assert_allclose(one[0], both.mean(axis=0), atol=1e-6)
    head = compile_head(mono)
    assert head.main.matrix == ((0.5, 0.5),) and head.main.output == 1 and head.main.width is Width.STEREO


def test_what_has_an_output_of_its_own_passes_by_main_and_its_treatment(small_kit: Kit, sounds):
    apart = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    kick = next(c for c in apart.routing.channels if c.id == "kick-channel")
    assert kick.output
    treated = apply(apart, e.SetTreatments(channel=MAIN, treatments=(Drive(drive_db=30.0),)))
    treated = apply(treated, e.SetChannel(channel=MAIN, level_db=-20.0))
    np.testing.assert_array_equal(played(apart, sounds, kick.output), played(treated, sounds, kick.output))


def test_main_is_compressed_as_one_sound_not_channel_by_channel(small_kit: Kit, sounds):
    squeezed = Compressor(threshold_db=-40.0, ratio=20.0, knee_db=0.0, attack_ms=0.3, release_ms=50.0)
    plain, out = (
        played(small_kit, sounds),
        played(apply(small_kit, e.SetTreatment(channel=MAIN, treatment=squeezed)), sounds),
    )
    loud = np.abs(plain[:, : out.shape[1]]).max(axis=0) > 0.02
    ratio = out[:, : plain.shape[1]][:, loud] / np.where(plain[:, loud] == 0, np.nan, plain[:, loud])
    # One gain for both sides at every moment.
    np.testing.assert_allclose(ratio[0], ratio[1], rtol=1e-3)
    assert np.nanmin(ratio[0]) < 0.2


def test_main_rings_on_after_the_last_voice_and_then_the_mixer_rests(small_kit: Kit, sounds):
    ringing = Eq(bands=(EqBand(kind=BandKind.PEAK, hz=100, gain_db=18.0, q=18.0),))
    kit = apply(small_kit, e.SetTreatment(channel=MAIN, treatment=ringing))
    mixer = Mixer(compile_head(kit), 2048, sounds)
    assert not mixer.rings
    mixer.begin()
    channel = mixer.channels[mixer.head.order[0]]
    channel.sound[:, :100], channel.heard = 0.5, True
    first = mixer.process(2048)[1]
    assert mixer.rings and np.abs(first).max() > 0.1
    heard, blocks = [], 0
    while mixer.rings:
        mixer.begin()
        heard.append(np.abs(mixer.process(2048)[1]).max())
        blocks += 1
    assert blocks > 5 and heard[-1] < 1e-6 < heard[-2]
    mixer.begin()
    assert not mixer.process(2048)[1].any()


def test_treatments_simulated_kits_the_order_in_which_sound_passes_them():
    drive, compressor, eq = Drive(), Compressor(), Eq()
    assert in_order((drive, compressor, eq)) == in_order((compressor, eq, drive)) == (eq, compressor, drive)
    assert in_order(()) == ()


def test_strips_side_by_side_make_the_same_sound_every_time(small_kit: Kit, sounds):
    kit = small_kit
    for channel in kit.routing.channels:
        chain = (Eq(bands=(EqBand(kind=BandKind.PEAK, hz=900, gain_db=9.0),)), Compressor(threshold_db=-40.0), Drive())
        kit = apply(kit, e.SetTreatments(channel=channel.id, treatments=chain))
    together = played(kit, sounds)
    # One channel at a time, the others muted: what all of them make is the sum.
    alone = []
    for channel in kit.routing.channels:
        others = tuple(c.but(muted=c.id != channel.id) for c in kit.routing.channels)
        alone.append(played(kit.but(routing=kit.routing.but(channels=others)), sounds))
    np.testing.assert_allclose(sum(alone), together, atol=1e-6)
    for _ in range(5):
        np.testing.assert_array_equal(played(kit, sounds), together)
