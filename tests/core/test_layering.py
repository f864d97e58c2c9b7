"""Layers and takes: laid out, levelled, blended, varied, trimmed."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.formats.kit_file import contents_of
from drumcore.grooves.values import Strike
from drumcore.kit.lookup import articulation_of, take_of, with_articulation
from drumcore.kit.values import Articulation, Kit, Layer, Order, Variation
from drumcore.layers.breaks import fits, goodness_of_fit
from drumcore.layers.from_takes import layer_levels_db, played_level_db
from drumcore.layers.ranges import blended, close_gaps, end_overlaps
from drumcore.listening.similarity import correlation, sameness
from drumcore.playing.compiler import compile_kit
from drumcore.playing.filters import low_pass
from drumcore.playing.renderer import render
from drumcore.playing.sounds import FileSounds, prepare
from drumcore.playing.striker import Striker
from drumcore.recordings.audio_files import read_audio
from drumcore.refusals import Refusal

CENTRE = "snare/centre"
SNARE = 38


@pytest.fixture
def sounds(small_kit: Kit, small_session) -> FileSounds:
    places = {content: small_session / r.path for content, r in contents_of(small_kit).items()}
    return FileSounds(lambda content: places[content])


def articulation(kit: Kit, name: str = CENTRE) -> Articulation:
    return articulation_of(kit, name)[1]


def ids(kit: Kit, name: str = CENTRE) -> list[list[str]]:
    return [list(layer.takes) for layer in articulation(kit, name).layers]


ranges_ = st.lists(st.tuples(st.integers(1, 127), st.integers(0, 40)), min_size=1, max_size=6).map(
    lambda found: [
        Layer(low=low, high=min(127, low + width), takes=("t1",)) for low, width in sorted(found, key=lambda f: f[0])
    ]
)


@given(ranges_)
def test_fixed_ranges_answer_every_velocity_once(layers):
    layers = [
        layer
        for k, layer in enumerate(layers)
        if k == 0 or (layer.low > layers[k - 1].low and layer.high > layers[k - 1].high)
    ]
    layers = [layer for k, layer in enumerate(layers) if k == 0 or layer.high > max(y.high for y in layers[:k])]
    fixed = close_gaps(end_overlaps(layers))
    assert [v for layer in fixed for v in range(layer.low, layer.high + 1)] == list(range(1, 128))


def test_a_blend_keeps_the_power_and_stays_inside_its_layers():
    layers = [
        Layer(low=1, high=60, takes=("a",), blend=8),
        Layer(low=61, high=66, takes=("b",), blend=40),
        Layer(low=67, high=127, takes=("c",)),
    ]
    answers = blended(layers)
    gain = [dict(zip(range(a.low, a.high + 1), a.gains, strict=True)) for a in answers]
    assert (answers[0].low, answers[0].high) == (1, 64)  # four below the boundary and four above
    assert gain[0][57] == pytest.approx(math.cos(math.pi / 18))  # t = 1/9
    assert gain[1][57] == pytest.approx(math.sin(math.pi / 18))
    for velocity in range(57, 61):
        assert gain[0][velocity] ** 2 + gain[1][velocity] ** 2 == pytest.approx(1.0)
    assert gain[0][56] == 1.0 and answers[1].low == 57
    assert answers[2].low == 61  # a wide blend reaches no further down than the narrow layer below begins


def test_takes_are_inserted_swapped_left_unused_and_moved_to_another_articulation(small_kit: Kit):
    before = ids(small_kit)
    moved = apply(small_kit, e.MoveTakes(articulation=CENTRE, takes=(before[0][0], before[3][1]), layer=1, place=1))
    assert ids(moved)[1] == [before[1][0], before[0][0], before[3][1], *before[1][1:]]
    assert sum(map(len, ids(moved))) == sum(map(len, before))
    along = apply(small_kit, e.MoveTakes(articulation=CENTRE, takes=(before[0][0],), layer=0, place=3))
    assert ids(along)[0] == [before[0][1], before[0][2], before[0][0]]
    swapped = apply(small_kit, e.SwapTakes(articulation=CENTRE, take=before[0][0], other=before[2][1]))
    assert ids(swapped)[0][0] == before[2][1] and ids(swapped)[2][1] == before[0][0]
    unused = apply(small_kit, e.MoveTakes(articulation=CENTRE, takes=(before[0][0],), layer=None))
    assert all(before[0][0] not in takes for takes in ids(unused)) and take_of(articulation(unused), before[0][0])
    over = apply(small_kit, e.MoveTakes(articulation="hats/closed", takes=("t1",), layer=0, to="hats/open"))
    assert len(articulation(over, "hats/closed").takes) == 3
    new = articulation(over, "hats/open").takes[-1]
    assert new.id == "t5" and new.id in articulation(over, "hats/open").layers[0].takes
    assert new.level_db == articulation(small_kit, "hats/closed").takes[0].level_db


def test_layers_are_added_divided_merged_removed_and_made_anew(small_kit: Kit):
    before = articulation(small_kit).layers
    added = articulation(apply(small_kit, e.AddLayer(articulation=CENTRE, above=1))).layers
    assert added[2].takes == () and added[1].low == before[1].low and added[2].high == before[1].high
    divided = apply(small_kit, e.SplitLayer(articulation=CENTRE, layer=3))
    levels = layer_levels_db(articulation(divided))
    assert len(articulation(divided).layers) == 5 and levels[4] > levels[3]
    merged = apply(divided, e.MergeLayers(articulation=CENTRE, layer=3))
    assert set(ids(merged)[3]) == set(before[3].takes) and articulation(merged).layers[3].low == before[3].low
    removed = apply(small_kit, e.RemoveLayer(articulation=CENTRE, layer=0))
    assert articulation(removed).layers[0].low == 1 and len(articulation(removed).layers) == 3
    again = apply(removed, e.MakeLayers(articulation=CENTRE, count=4))
    assert [set(takes) for takes in ids(again)] == [set(takes) for takes in ids(small_kit)]
    with pytest.raises(Refusal, match="it cannot have 13 layers"):
        apply(small_kit, e.MakeLayers(articulation=CENTRE, count=13))


@settings(max_examples=40)
@given(st.lists(st.tuples(st.sampled_from(["add", "divide", "merge", "remove"]), st.integers(0, 5)), max_size=8))
def test_layers_always_answer_every_velocity_once_and_lose_no_take(small_kit: Kit, steps):
    kit = small_kit
    for what, number in steps:
        edit = {
            "add": e.AddLayer(articulation=CENTRE, above=number),
            "divide": e.SplitLayer(articulation=CENTRE, layer=number),
            "merge": e.MergeLayers(articulation=CENTRE, layer=number),
            "remove": e.RemoveLayer(articulation=CENTRE, layer=number),
        }[what]
        try:
            kit = apply(kit, edit)
        except Refusal:
            continue
    found = articulation(kit)
    assert [v for y in found.layers for v in range(y.low, y.high + 1)] == list(range(1, 128))
    assert found.takes == articulation(small_kit).takes


def test_levelling_brings_takes_to_their_layers_median_and_layers_to_equal_steps(small_kit: Kit):
    levelled = articulation(apply(small_kit, e.MatchTakeLevels(articulation=CENTRE)))
    by_id = {t.id: played_level_db(t) for t in levelled.takes}
    for layer, was in zip(levelled.layers, layer_levels_db(articulation(small_kit)), strict=True):
        assert {round(by_id[i], 1) for i in layer.takes} == {round(was, 1)}
    kit = apply(small_kit, e.SetLayer(articulation=CENTRE, layer=1, gain_db=4.0))
    steps = [
        b - a for a, b in pairwise(layer_levels_db(articulation(apply(kit, e.EvenOutLayers(articulation=CENTRE)))))
    ]
    assert max(steps) - min(steps) < 0.03
    upside = apply(small_kit, e.SwapTakes(articulation="kick/centre", take="t1", other="t5"))
    upside = apply(upside, e.SwapTakes(articulation="kick/centre", take="t2", other="t6"))
    with pytest.raises(Refusal, match="sort its layers by loudness first"):
        apply(upside, e.EvenOutLayers(articulation="kick/centre"))
    sorted_ = apply(upside, e.SortLayers(articulation="kick/centre"))
    assert [set(takes) for takes in ids(sorted_, "kick/centre")] == [
        set(takes) for takes in ids(small_kit, "kick/centre")
    ]


def test_goodness_of_fit_is_the_share_of_variance_between_groups():
    assert goodness_of_fit([0.0, 2.0, 10.0, 12.0], [[0, 1], [2, 3]]) == pytest.approx(1 - 4 / 104)
    rising = fits([-30.0, -29.0, -20.0, -19.5, -10.0, -9.0])
    assert rising[0] == 0.0 and rising == sorted(rising) and rising[2] > 0.99
    assert [len(fits([float(-take) for take in range(takes)])) for takes in (1, 6, 12, 15)] == [1, 6, 12, 12]


def play(kit: Kit, sounds: FileSounds, velocity: int, output: int = 3):
    kit = apply(kit, e.ApplyPlan(plan="one-output-a-piece"))
    events = [Strike(time_s=0.0, note=SNARE, velocity=velocity)]
    return np.concatenate([b.outputs[output] for b in render(compile_kit(kit), events, sounds, length_s=0.5)], axis=1)


def test_trims_are_heard_as_written(small_kit: Kit, small_session, sounds):
    hardest = articulation(small_kit).layers[-1]
    plain = play(small_kit, sounds, 127)[0]

    def trimmed(**trims):
        return play(apply(small_kit, e.TrimTakes(articulation=CENTRE, takes=hardest.takes, **trims)), sounds, 127)

    np.testing.assert_allclose(trimmed(gain_db=-6.0, inverted=True)[0], -plain * 10 ** (-6 / 20), atol=1e-7)
    late = trimmed(start_trim_ms=5.0)[0]
    np.testing.assert_allclose(late[:4800], plain[240 : 240 + 4800], atol=1e-7)
    short = trimmed(end_ms=50.0, fade_in_ms=10.0, fade_out_ms=20.0)[0]
    ramp = np.ones(2400)
    ramp[:480] = np.arange(480) / 480
    ramp[-960:] *= np.arange(959, -1, -1) / 960
    np.testing.assert_allclose(short[:2400], plain[:2400] * ramp, atol=1e-6)
    assert not short[2400:].any()
    left, right = trimmed(pan=-1.0)
    np.testing.assert_allclose(left, plain * math.sqrt(2.0), atol=1e-6)
    assert not right.any()
    half = trimmed(pan=0.5)
    assert np.abs(half[1]).max() / np.abs(half[0]).max() == pytest.approx(math.tan(3 * math.pi / 8), rel=1e-3)
    take = take_of(articulation(small_kit), hardest.takes[0])
    close = next(r for r in take.recordings if r.mic == "snare-mic")
    octave = prepare(read_audio(small_session / close.path), 48000, close.width, 1200.0)
    assert len(octave) == pytest.approx(close.frames / 2, abs=2)
    high = trimmed(tune_cents=1200.0)[0]
    start = int(take.start_ms * 24)
    gain = np.abs(plain).max() / np.abs(read_audio(small_session / close.path).samples).max()
    np.testing.assert_allclose(high[:3000], octave[start : start + 3000, 0] * gain, atol=2e-4)


def test_a_blend_sounds_both_layers_and_other_velocities_one(small_kit: Kit):
    edge = articulation(small_kit).layers[1].high
    kit = apply(small_kit, e.SetLayer(articulation=CENTRE, layer=1, blend=6))
    striker = Striker(compile_kit(kit))
    assert [s.layer for s in striker.strike(SNARE, edge)] == [1, 2]
    assert [s.layer for s in striker.strike(SNARE, edge - 4)] == [1]
    lower, upper = striker.strike(SNARE, edge)
    plain = Striker(compile_kit(small_kit)).strike(SNARE, edge)[0].gain
    assert lower.gain == pytest.approx(plain * math.cos(3 / 7 * math.pi / 2))
    assert upper.gain > 0.0


def test_variation_repeats_from_render_to_render_and_never_twice_in_a_row(small_kit: Kit, sounds):
    vary = Variation(level_db=1.0, tune_cents=8.0, brightness=2.0)
    kit = apply(small_kit, e.SetVariation(articulation=CENTRE, variation=vary))
    found = [Striker(compile_kit(kit)).strike(SNARE, 100)[0] for _ in range(2)]
    assert found[0] == found[1]
    striker = Striker(compile_kit(kit))
    strikes = [striker.strike(SNARE, 100)[0] for _ in range(200)]
    assert all(a.tuning != b.tuning for a, b in pairwise(strikes))
    gains = [20 * math.log10(s.gain) for s in strikes]
    assert 1.5 < max(gains) - min(gains) <= 2.0
    assert {s.layer for s in strikes} == {strikes[0].layer}
    assert {s.take.id for s in strikes} == set(articulation(kit).layers[strikes[0].layer].takes)
    np.testing.assert_array_equal(play(kit, sounds, 100), play(kit, sounds, 100))


def test_the_low_pass_halves_the_power_at_its_cutoff_and_leaves_the_lows():
    b0, b1, b2, a1, a2 = low_pass(4000.0, 48000)

    def gain(hz):
        z = np.exp(-2j * np.pi * hz / 48000)
        return abs((b0 + b1 * z + b2 * z * z) / (1 + a1 * z + a2 * z * z))

    assert gain(4000.0) == pytest.approx(math.sqrt(0.5), rel=1e-6)
    assert gain(10.0) == pytest.approx(1.0, abs=1e-4) and gain(16000.0) < 0.03


def test_sameness_is_one_for_a_machine_and_falls_with_variation(small_kit: Kit, sounds):
    one = apply(
        small_kit,
        e.TrimTakes(articulation=CENTRE, takes=tuple(articulation(small_kit).layers[0].takes[1:]), enabled=False),
    )
    alike = sameness(one, CENTRE, sounds)
    assert alike[0] == pytest.approx(1.0) and alike[1] < 0.3  # noise bursts of different seeds share nothing
    assert sameness(apply(one, e.SetOrder(articulation=CENTRE, order=Order.RANDOM)), CENTRE, sounds)[0] == 1.0
    varied = apply(one, e.SetVariation(articulation=CENTRE, variation=Variation(tune_cents=20.0)))
    assert sameness(varied, CENTRE, sounds)[0] < 0.99
    a = np.zeros(100)
    a[10] = 1.0
    b = np.zeros(100)
    b[13] = 0.5
    assert correlation(a, b, 3) == pytest.approx(1.0) and correlation(a, b, 2) < 1e-9


def test_sameness_is_heard_through_the_pieces_own_microphone(small_kit: Kit, small_session, sounds):
    """The snare's takes differ in its own microphone; in a microphone before it, all hear the same."""
    alike = sameness(small_kit, CENTRE, sounds)
    bleed = small_kit.mics[0].but(id="aaa", name="Aaa")
    one = articulation(small_kit, "kick/centre").takes[0].recordings[0].but(mic="aaa")
    takes = tuple(t.but(recordings=(one, *t.recordings)) for t in articulation(small_kit).takes)
    kit = with_articulation(small_kit.but(mics=(bleed, *small_kit.mics)), CENTRE, lambda a: a.but(takes=takes))
    assert sameness(kit, CENTRE, sounds) == alike


def test_several_edits_are_one_and_all_or_none(small_kit: Kit):
    trim = e.TrimTakes(articulation=CENTRE, takes=("t1",), gain_db=-1.0)
    both = e.Several(said="Two trims", edits=(trim, e.TrimTakes(articulation=CENTRE, takes=("t2",), gain_db=-2.0)))
    assert [t.gain_db for t in articulation(apply(small_kit, both)).takes[:2]] == [-1.0, -2.0]
    with pytest.raises(Refusal, match="no take “t99”"):
        apply(small_kit, e.Several(said="x", edits=(trim, trim.but(takes=("t99",)))))


def test_blends_by_hand():
    """A blend of 4 above 10 lies over 9 to 12 at fifths of a quarter turn; one of 5 has one value more below than above."""
    low, high = Layer(low=1, high=10, takes=(), blend=4), Layer(low=11, high=20, takes=(), blend=9)
    one, other = blended([low, high])
    assert (one.low, one.high, other.low, other.high) == (1, 12, 9, 20)
    angles = [step / 5 * math.pi / 2 for step in (1, 2, 3, 4)]
    assert one.gains == pytest.approx([*[1.0] * 8, *(math.cos(angle) for angle in angles)])
    assert other.gains == pytest.approx([*(math.sin(angle) for angle in angles), *[1.0] * 8])
    one, other = blended([low.but(blend=5), high])
    assert (one.high, other.low) == (12, 8) and one.gains[7] == pytest.approx(math.cos(math.pi / 12))
    # As wide as both are at most, and never past the far end of either.
    narrow = blended([Layer(low=1, high=2, takes=(), blend=20), Layer(low=3, high=127, takes=())])
    assert (narrow[0].high, narrow[1].low, len(narrow[0].gains)) == (4, 1, 4)
    # Layers with a value between them, or one over the other, do not blend.
    for above in (Layer(low=12, high=20, takes=()), Layer(low=10, high=20, takes=())):
        assert [answer.gains for answer in blended([low, above])] == [
            (1.0,) * 10,
            (1.0,) * (above.high - above.low + 1),
        ]
