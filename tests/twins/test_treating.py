"""What the browser's treatments make of a sound is what the core's make of it; and a control that is turned does not click."""

from collections.abc import Callable, Iterator

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.signal import butter, sosfiltfilt

from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand
from drumcore.treatments.kinds import KINDS, compiled, stages
from tests.changes import TREATMENTS, treatments
from tests.twins.asking import answering


@pytest.fixture(scope="module")
def browser(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Callable]:
    with answering("treat", tmp_path_factory.mktemp("treat")) as ask:
        yield ask


def dumped(play) -> list:
    return [t.model_dump(mode="json", exclude_defaults=True) | {"kind": t.kind} for t in play]


def test_every_kind_is_drawn():
    assert set(TREATMENTS) == {kind.name for kind in KINDS}


def drum(rate: int, seed: int) -> np.ndarray:
    """A strike and silence: a falling tone in noise that dies, both sides their own."""
    t = np.arange(4096) / rate
    noise = np.random.default_rng(seed).standard_normal((2, 4096))
    return (0.6 * np.sin(2 * np.pi * 160 * t) + 0.3 * noise) * np.exp(-t / 0.02)


@settings(max_examples=80)
@given(treatments, st.sampled_from([44_100, 48_000, 96_000]), st.integers(1, 2), st.integers(0, 99))
def test_both_make_the_same_of_a_strike(browser, treatment, rate, sides, seed):
    sound = drum(rate, seed)[:sides]
    play = compiled((treatment,), rate)
    ours = sound
    for stage in stages(play, rate, sides):
        ours = stage.process(ours)
    theirs = np.array(browser({"rate": rate, "treatments": dumped(play), "sides": sound.tolist()})["sides"])
    assert np.abs(theirs - ours).max() <= 10 ** (-110 / 20) * max(np.abs(ours).max(), 1e-9)


def test_a_stage_that_is_silent_says_so_and_one_that_rings_does_not(browser):
    ringing = Eq(bands=(EqBand(kind=BandKind.PEAK, hz=60, gain_db=18.0, q=18.0),))
    silence = np.zeros((1, 4096))
    play = dumped(compiled((ringing,), 48_000))
    assert browser({"rate": 48_000, "treatments": play, "sides": silence.tolist()})["silent"]
    assert not browser({"rate": 48_000, "treatments": play, "sides": drum(48_000, 1)[:1].tolist()})["silent"]


def test_a_strip_that_was_turned_sleeps_again_when_all_has_died_away(browser):
    """Settings that have arrived, bands that went, places that never had one: none keeps the audio thread awake."""
    rate = 48_000
    sound = np.zeros((1, 128 * 1200))
    sound[0, :4096] = drum(rate, 1)[0]
    one, two, none = (
        dumped(compiled((Eq(bands=bands),), rate))
        for bands in (LIFTED.bands, (*EQ_TURNS["gain"].bands, EqBand(kind=BandKind.HIGH_CUT, hz=900)), ())
    )
    for before, after in ((one, two), (two, one), (two, none), (none, one), (none, none)):
        then = {"at": 1280, "treatments": after}
        assert browser({"rate": rate, "treatments": before, "then": then, "sides": sound.tolist()})["silent"]


LIFTED = Eq(bands=(EqBand(kind=BandKind.PEAK, hz=200, gain_db=12.0, q=1.0),))
SQUEEZED = Compressor(threshold_db=-30.0, ratio=6.0, attack_ms=15.0, release_ms=150.0, make_up_db=8.0)
DRIVEN = Drive(drive_db=15.0, asymmetry=0.3)
OFF = LIFTED.but(on=False)
TURNS = {
    "a compressor switched on": (OFF, SQUEEZED),
    "a compressor switched off": (SQUEEZED, OFF),
    "its threshold": (SQUEEZED, SQUEEZED.but(threshold_db=-10.0)),
    "its ratio and knee": (SQUEEZED, SQUEEZED.but(ratio=1.5, knee_db=20.0)),
    "its times": (SQUEEZED, SQUEEZED.but(attack_ms=60.0, release_ms=40.0)),
    "its make-up": (SQUEEZED, SQUEEZED.but(make_up_db=-4.0)),
    "its mix": (SQUEEZED, SQUEEZED.but(mix=0.2)),
    "its low cut": (SQUEEZED, SQUEEZED.but(low_cut_hz=400.0)),
    "its low cut taken away": (SQUEEZED.but(low_cut_hz=400.0), SQUEEZED),
    "a drive switched on": (OFF, DRIVEN),
    "a drive switched off": (DRIVEN, OFF),
    "its push": (DRIVEN, DRIVEN.but(drive_db=3.0)),
    "its asymmetry": (DRIVEN, DRIVEN.but(asymmetry=0.9)),
    "Match level no longer": (DRIVEN, DRIVEN.but(level_matched=False)),
    "its mix of dry": (DRIVEN, DRIVEN.but(mix=0.1)),
}
EQ_TURNS = {
    "gain": Eq(bands=(EqBand(kind=BandKind.PEAK, hz=200, gain_db=-12.0, q=1.0),)),
    "frequency": Eq(bands=(EqBand(kind=BandKind.PEAK, hz=900, gain_db=12.0, q=1.0),)),
    "off": LIFTED.but(on=False),
    "kind": Eq(bands=(EqBand(kind=BandKind.LOW_CUT, hz=400),)),
    "one more": LIFTED.but(bands=(*LIFTED.bands, EqBand(kind=BandKind.LOW_SHELF, hz=300, gain_db=-10.0))),
}


TURNS |= {f"a band's {what}": (LIFTED, turned) for what, turned in EQ_TURNS.items()}


@pytest.mark.parametrize("turn", TURNS)
def test_a_control_that_is_turned_does_not_click_and_arrives(browser, turn):
    """A loud tone of 200 Hz, turned at a crest: what splashes above 4 kHz stays far under it, and half a second later it
    sounds as if it had always been so. (Set at once, a gain splashes at −39 dB.) What a drive adds by itself is taken off:
    its harmonics are its sound."""
    rate, frames = 48_000, 128 * 400
    t = np.arange(frames) / rate
    tone = 0.8 * np.sin(2 * np.pi * 200 * t)
    at = 128 * 60
    before, after = (compiled((one,), rate) for one in TURNS[turn])
    then = {"at": at, "treatments": dumped(after)}
    asked = {"rate": rate, "treatments": dumped(before), "then": then, "sides": [tone.tolist()]}
    turned = np.array(browser(asked)["sides"][0])
    # Long after either beginning: the filters' own start is no part of it.
    above = np.abs(sosfiltfilt(butter(6, 4000, "highpass", fs=rate, output="sos"), turned))
    own = max(above[at - 2048 : at - 512].max(), above[-4800:-512].max())
    splash = above[at - 512 : at + 6000].max() - own
    assert 20 * np.log10(max(splash, 1e-9) / np.abs(turned).max()) < -70
    settled = tone[None, :]
    for stage in stages(after, rate, 1):
        settled = stage.process(settled)
    settled = settled[0]
    assert np.abs(turned[-4800:] - settled[-4800:]).max() < 1e-4
