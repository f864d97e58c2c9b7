"""Treatments: EQ against values worked by hand, strips that ring on and fall silent, edits that set and take them."""

import numpy as np
import pytest
from hypothesis import given, settings
from scipy.signal import sosfilt, sosfreqz

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.grooves.values import Strike
from drumcore.kit.json_form import from_json, to_json
from drumcore.kit.lookup import channel_of
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_kit
from drumcore.playing.mixer import LONGEST_TAIL_S, Mixer
from drumcore.refusals import Refusal
from drumcore.treatments.eq import BandKind, Eq, EqBand, coefficients
from drumcore.treatments.kinds import compiled, stages
from tests.changes import eqs
from tests.conftest import RATE, whole


def response_db(band: EqBand, hz: float, rate: int = RATE) -> float:
    b0, b1, b2, a1, a2 = coefficients(band, rate)
    _, h = sosfreqz([[b0, b1, b2, 1.0, a1, a2]], worN=[hz], fs=rate)
    return float(20 * np.log10(abs(h[0])))


def test_bands_by_hand():
    """A peak lifts by its gain where it lies, a shelf by all of it far beyond and by half of it at its corner, a cut is 3 dB
    down at its corner unless it resonates and falls by 12 dB an octave."""
    peak = EqBand(kind=BandKind.PEAK, hz=1000, gain_db=6.0, q=2.0)
    assert response_db(peak, 1000) == pytest.approx(6.0, abs=1e-9)
    assert response_db(peak, 30) == pytest.approx(0.0, abs=0.02)
    low = EqBand(kind=BandKind.LOW_SHELF, hz=200, gain_db=-9.0)
    assert response_db(low, 20) == pytest.approx(-9.0, abs=0.02) and response_db(low, 8000) == pytest.approx(
        0, abs=0.02
    )
    assert response_db(low, 200) == pytest.approx(-4.5, abs=1e-9)
    high = EqBand(kind=BandKind.HIGH_SHELF, hz=4000, gain_db=5.0)
    assert response_db(high, 4000) == pytest.approx(2.5, abs=1e-9) and response_db(high, 22000) == pytest.approx(
        5, abs=0.05
    )
    for kind, octave in ((BandKind.LOW_CUT, 0.5), (BandKind.HIGH_CUT, 2.0)):
        cut = EqBand(kind=kind, hz=500)
        assert response_db(cut, 500) == pytest.approx(-3.01, abs=0.01)
        two, three = (response_db(cut, 500 * octave**n) for n in (2, 3))
        assert three - two == pytest.approx(-12.0, abs=0.5)
        assert response_db(EqBand(kind=kind, hz=500, resonance_db=9.0), 500) == pytest.approx(9.0, abs=0.01)
    # The Cookbook's own numbers for a peak of 6 dB, Q 2, at a quarter of half the rate: w0 = π/4, α = sin/(2Q) = 0.17678.
    b0, b1, _, a1, a2 = coefficients(EqBand(kind=BandKind.PEAK, hz=6000, gain_db=6.0, q=2.0), RATE)
    lift = 10 ** (6 / 40)
    a0 = 1 + 0.1767767 / lift
    assert b0 == pytest.approx((1 + 0.1767767 * lift) / a0) and a2 == pytest.approx((1 - 0.1767767 / lift) / a0)
    assert b1 == a1 == pytest.approx(-2 * np.sqrt(0.5) / a0)


def test_a_band_above_what_the_rate_can_hold_works_at_its_top():
    (eq,) = compiled((Eq(bands=(EqBand(kind=BandKind.HIGH_CUT, hz=20_000),)),), 44100)
    assert eq.bands[0].hz == 20_000
    (eq,) = compiled((Eq(bands=(EqBand(kind=BandKind.HIGH_CUT, hz=20_000),)),), 32000)
    assert eq.bands[0].hz == pytest.approx(0.49 * 32000)


@settings(max_examples=60)
@given(eqs)
def test_an_eq_is_the_same_in_blocks_and_whole_and_off_is_nothing(eq):
    noise = np.random.default_rng(3).standard_normal((2, 5000))
    play = compiled((eq,), RATE)
    assert len(play) == eq.on
    if not eq.on:
        return
    (whole,) = stages(play, RATE, 2)
    (parts,) = stages(play, RATE, 2)
    treated = whole.process(noise)
    at_once = [parts.process(noise[:, a : a + 640]) for a in range(0, 5000, 640)]
    np.testing.assert_array_equal(np.concatenate(at_once, axis=1), treated)
    if not eq.bands:
        np.testing.assert_array_equal(treated, noise)
    else:
        sections = [(*coefficients(b, RATE)[:3], 1.0, *coefficients(b, RATE)[3:]) for b in play[0].bands]
        np.testing.assert_array_equal(treated, sosfilt(np.array(sections), noise, axis=1))


RINGING = Eq(bands=(EqBand(kind=BandKind.PEAK, hz=120, gain_db=18.0, q=18.0),))
STRUCK = [Strike(time_s=0.01, note=38, velocity=120)]


def test_a_treated_channel_is_its_sound_through_its_eq_and_rings_on_after_its_last_voice(small_kit: Kit, sounds):
    kit = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    plain = whole(compile_kit(kit), STRUCK, sounds, 3)
    treated = apply(kit, e.SetTreatment(channel="snare-channel", treatment=RINGING))
    # Blocks are small, so that the render ends within one of them.
    out = whole(compile_kit(treated), STRUCK, sounds, 3, block_frames=1024)
    band = RINGING.bands[0]
    section = np.array([(*coefficients(band, RATE)[:3], 1.0, *coefficients(band, RATE)[3:])])
    padded = np.pad(plain.astype(float), ((0, 0), (0, out.shape[1])))
    expected = sosfilt(section, padded, axis=1)[:, : out.shape[1]]
    assert np.abs(out - expected).max() < 1e-6
    last_voice = np.flatnonzero(np.abs(plain).max(axis=0))[-1]
    assert np.abs(out[:, last_voice + 4800 :]).max() > 1e-3  # a peak that narrow rings for long
    assert np.abs(out[:, -1024:]).max() < 2e-6  # down to −120 dB
    # What does not ring is not rendered on: the same kit untreated ends with its last voice.
    assert plain.shape[1] <= last_voice + 16384


def test_a_strip_that_would_ring_for_ever_is_ended_and_one_that_is_silent_sleeps(small_kit: Kit, sounds):
    kit = apply(small_kit, e.SetTreatment(channel="kick-channel", treatment=RINGING))
    mixer = Mixer(compile_kit(kit).head, 16384, sounds)
    mixer.process(16384)
    assert not mixer.rings
    place = next(n for n, c in enumerate(mixer.head.channels) if c.id == "kick-channel")
    strip, channel = mixer._strips[place], mixer.channels[place]
    # Only what has something to do is worth a thread of its own.
    assert [each.works(True) for each in mixer._strips] == [strip is each for each in mixer._strips]
    assert not any(each.works(False) for each in mixer._strips)

    class ForEver:
        silent = True

        def process(self, sound, into):
            into[:] = sound + 1e-3

    strip._stages = [ForEver()]
    mixer.begin()
    channel.sound[:], channel.heard = 0.5, True
    blocks = 0
    mixer.process(16384)
    while mixer.rings:
        mixer.begin()
        mixer.process(16384)
        blocks += 1
    assert blocks * 16384 / RATE == pytest.approx(LONGEST_TAIL_S, abs=0.5)


def test_treatments_are_set_replaced_kept_and_taken_away(small_kit: Kit):
    kit = apply(small_kit, e.SetTreatment(channel="snare-channel", treatment=RINGING))
    quieter = Eq(bands=(EqBand(kind=BandKind.HIGH_CUT, hz=900),), on=False)
    kit = apply(kit, e.SetTreatment(channel="snare-channel", treatment=quieter))
    assert channel_of(kit, "snare-channel").treatments == (quieter,) and from_json(to_json(kit)) == kit
    assert compile_kit(kit).head.channels[1].treatments == ()
    gone = apply(kit, e.RemoveTreatment(channel="snare-channel", treatment="eq"))
    assert gone.routing == small_kit.routing
    with pytest.raises(Refusal, match="Snare has no treatment of the kind “eq”"):
        apply(gone, e.RemoveTreatment(channel="snare-channel", treatment="eq"))
