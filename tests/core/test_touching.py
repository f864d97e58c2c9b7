"""Touch: curves fitted, pads that misbehave, the pedal calibrated, strikes counted; and the simulated kits that play."""

import itertools
import math

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.touch import noticed_of_strikes
from drumcore.grooves.values import PedalMove, Strike
from drumcore.kit.lookup import articulation_of
from drumcore.kit.values import CrossTalk, Curve, Kit, Layer, Node
from drumcore.layers.dynamics import played_db
from drumcore.layers.from_takes import layer_levels_db
from drumcore.layers.splits import even_split
from drumcore.listening.strike_counts import struck_by
from drumcore.playing.compiler import compile_kit
from drumcore.playing.striker import Striker
from drumcore.refusals import Refusal
from drumcore.simulated.electronic_kits import DECKHAND_5, ELECTRONIC_KITS, STOWAWAY
from drumcore.simulated.performance import beat, every_pad, strikes
from drumcore.touch.curve_changes import heard_from, lifted_to_reach, never_falling
from drumcore.touch.curve_fit import NARROWEST, SOFTEST_PLAYS, Strikes, entering, fit
from drumcore.touch.curves import curve_table
from drumcore.touch.gate import CrossTalkRule, Gate
from drumcore.touch.layer_reach import StrikeCount, reach
from drumcore.touch.pad_faults import PadStrike, judged, learn
from drumcore.touch.pedal import Move, calibrate, openness_table
from drumcore.touch.tracking import harder

SNARE = "snare/centre"
VELOCITIES = st.lists(st.integers(1, 127), min_size=3, max_size=30)
CURVES = st.lists(
    st.tuples(st.integers(1, 126), st.integers(0, 127), st.floats(-1, 1)), max_size=6, unique_by=lambda n: n[0]
).map(
    lambda nodes: Curve(
        nodes=tuple(Node(x=x, y=y, bend=b) for x, y, b in [(0, 0, 0.0), *sorted(nodes), (127, 127, 0.0)])
    )
)


def layered(count: int) -> list[Layer]:
    return [Layer(low=low, high=high, takes=()) for low, high in even_split(count)]


@given(soft=VELOCITIES, medium=VELOCITIES, hard=VELOCITIES, count=st.integers(1, 24))
@settings(max_examples=150)
def test_a_fitted_curve_rises_reaches_every_layer_and_lands_hard_articulations_on_top(soft, medium, hard, count):
    played = [*soft, *medium, *hard]
    assume(max(played) - min(played) >= NARROWEST)
    layers = layered(count)
    found = fit(Strikes(soft=tuple(soft), medium=tuple(medium), hard=tuple(hard)), layers, min(9.6, layers[0].high))
    table = curve_table(found.curve)
    assert list(table) == sorted(table)
    assert table[max(played)] == 127 and all(table[v] for v in range(1, 128))
    within = {table[v] for v in range(min(played), max(played) + 1)}
    assert all(any(layer.low <= v <= layer.high for v in within) for layer in layers)


def test_articulations_of_each_strength_land_in_their_third():
    six = layered(6)
    kit = {
        strength: tuple(m.value for m in strikes(STOWAWAY, "Snare", strength, seed=5) if m.number == 37)
        for strength in ("soft", "medium", "hard")
    }
    found = fit(Strikes(**kit), six, 9.6)
    assert max(found.soft) <= six[1].high and max(found.medium) <= six[3].high and min(found.hard) >= six[3].low
    assert all(found.reached)
    # The softest strike is heard: it plays its layer as it was recorded, not at the bottom of its range.
    assert min(found.soft) == 10
    assert min(fit(Strikes(**kit), six, 60.0).soft) == min(fit(Strikes(**kit), six, None).soft) == SOFTEST_PLAYS


@pytest.mark.parametrize(
    ("articulations_of", "said"),
    [
        ({"soft": (20, 21), "medium": (60,) * 3, "hard": (100,) * 3}, "2 soft strikes are too few"),
        ({"soft": (60,) * 3, "medium": (70,) * 3, "hard": (80,) * 3}, "all came in from 60 to 80"),
    ],
)
def test_articulations_too_few_or_too_alike_are_refused(articulations_of, said):
    with pytest.raises(Refusal, match=said):
        fit(Strikes(**articulations_of), layered(4), 9.6)


def test_the_gate_by_hand():
    gate = Gate([CrossTalkRule(after=37, note=42, up_to=17, within_s=0.012)], doubles_s=0.02)
    judged = [
        gate.judge(37, 100, 1.000),
        gate.judge(42, 12, 1.006),  # cross-talk
        gate.judge(42, 18, 1.008),  # too hard to be cross-talk
        gate.judge(37, 60, 1.015),  # a double, softer than the first
        gate.judge(42, 12, 1.090),  # long after
        gate.judge(37, 40, 2.000),
        gate.judge(37, 90, 2.010),  # a flam's second articulation is the harder one
    ]
    assert judged == ["", "cross_talk", "", "double", "", "", ""]


def heard(kit, seed: int) -> list[PadStrike]:
    return [
        PadStrike(time_ms=m.time_ms, note=m.number, velocity=m.value) for m in beat(kit, seed=seed) if m.kind == "note"
    ]


@pytest.mark.parametrize("seed", range(1, 31))
def test_what_a_simulated_kits_does_wrong_is_learned_and_nothing_else(seed: int):
    played = heard(STOWAWAY, seed)
    found = learn(played)
    (talk,) = found.cross_talk
    assert (talk.after, talk.note) == (37, 42) and 15 <= talk.up_to <= 17 and 9 <= talk.within_ms <= 13
    assert 9 < found.doubles_ms <= 20
    kicks = [gone for gone in found.removed if gone.note == 33]
    toms = [gone for gone in found.removed if gone.note == 42]
    struck = [strike for strike in played if strike.note == 33]
    bounced = sum(b.time_ms - a.time_ms < 20 for a, b in itertools.pairwise(struck))
    assert len(kicks) == bounced >= (4 if seed in (1, 2, 3, 4) else 3)
    assert len(toms) >= 8 and len(found.removed) == len(kicks) + len(toms)
    assert all(gone.velocity <= 15 for gone in toms)
    honest = learn(heard(DECKHAND_5, seed))
    assert honest.cross_talk == () and honest.doubles_ms == 0 and honest.removed == ()


def test_soft_articulations_that_are_meant_are_not_taken_for_cross_talk():
    """A hat played softly with every kick is heard softly by itself as well."""
    together = [PadStrike(time_ms=500.0 * k, note=36, velocity=110) for k in range(12)]
    together += [PadStrike(time_ms=250.0 * k + 6, note=42, velocity=24 + k % 5) for k in range(24)]
    assert learn(together).cross_talk == ()


@pytest.mark.parametrize(("softness", "found"), [(30, [(36, 42, 30)]), (31, [])])
def test_a_pad_that_is_never_struck_by_itself_is_cross_talk_up_to_30(softness, found):
    kicks = [PadStrike(time_ms=500.0 * k, note=36, velocity=110) for k in range(8)]
    after = [PadStrike(time_ms=500.0 * k + 6, note=42, velocity=softness) for k in range(8)]
    assert [(c.after, c.note, c.up_to) for c in learn([*kicks, *after]).cross_talk] == found


def test_a_pad_that_two_neighbours_shake_is_blamed_on_each():
    shaken = [(0.0, 37), (1000.0, 33), (2000.0, 37)]
    strikes = [PadStrike(time_ms=t, note=n, velocity=110) for t, n in shaken]
    strikes += [PadStrike(time_ms=t + 5, note=42, velocity=9) for t, _ in shaken]
    rules = [CrossTalk(after=n, note=42, up_to=12, within_ms=10.0) for n in (33, 37)]
    found = judged(
        [*strikes, PadStrike(time_ms=2500, note=37, velocity=80), PadStrike(time_ms=2512, note=37, velocity=40)],
        rules,
        15.0,
    )
    assert [(gone.why, gone.note, gone.after) for gone in found.removed] == [
        ("cross_talk", 42, 37), ("cross_talk", 42, 33), ("cross_talk", 42, 37), ("double", 37, None),
    ]  # fmt: skip
    assert found.strikes == 8


def test_articulations_for_a_later_curve_are_those_the_first_one_lets_through(small_kit: Kit):
    bent = Curve(nodes=(Node(x=0, y=0), Node(x=20, y=0), Node(x=127, y=107)))
    kit = apply(small_kit, e.SetCurve(input="pads", input_name="Pads", curve=bent))
    played = Strikes(soft=(10, 30), medium=(60,), hard=(127,))
    assert entering(kit, "pads", played) == Strikes(soft=(1, 10), medium=(40,), hard=(107,))
    assert entering(kit, "another", played) == played


@pytest.mark.parametrize("whole", [False, True])
def test_what_is_drawn_of_tracking_is_what_plays(small_kit: Kit, whole: bool):
    tracked = e.SetTracking(
        piece="snare", level=0.7, whole=whole, brightness=2.0, attack_soft_ms=12.0, attack_hard_ms=1.0
    )
    kit = apply(small_kit, tracked)
    piece, articulation = articulation_of(kit, SNARE)
    drawn, heard = harder(piece.tracking), played_db(articulation, piece.tracking)
    table = compile_kit(kit)
    striker = Striker(table)
    for velocity in range(1, 128):
        (sounding,) = striker.strike(38, velocity)
        recorded = layer_levels_db(articulation)[sounding.layer]
        assert recorded + 20 * math.log10(sounding.gain) == pytest.approx(heard[velocity - 1], abs=1e-6)
        assert sounding.attack == pytest.approx(drawn.attack_ms[velocity - 1] * table.head.rate_hz / 1000, abs=1)
        # Voices go by steps of a twenty-fourth of an octave, at most half a step off.
        assert sounding.cutoff_hz is not None
        assert abs(math.log2(sounding.cutoff_hz / drawn.cutoff_hz[velocity - 1])) <= 0.5 / 24 + 1e-4


def test_simulated_kits_play_with_their_habits():
    for kit in ELECTRONIC_KITS:
        sent = beat(kit)
        assert sent == beat(kit) and sent != beat(kit, seed=2)
        assert [m.time_ms for m in sent] == sorted(m.time_ms for m in sent)
        assert max(m.value for m in sent if m.kind == "note") <= kit.hardest
    assert {m.kind for m in beat(DECKHAND_5)} == {"note", "controller", "pressure"}
    chatter = [m for m in beat(STOWAWAY) if m.number == STOWAWAY.pedal_note and m.value <= 18]
    assert chatter and {m.number for m in every_pad(STOWAWAY)} >= {48, 49, 51, 41, 37, 39, 33, 42, 46}
    with pytest.raises(Refusal, match="no pad “Gong”; it has Hats, Snare, Kick, Tom, Crash"):
        strikes(STOWAWAY, "Gong", "soft")


def test_a_pedal_is_calibrated_either_way_round():
    assert openness_table(0, 127) == tuple(range(128))
    reversed_ = openness_table(122, 8)
    assert (reversed_[127], reversed_[122], reversed_[65], reversed_[8], reversed_[0]) == (0, 0, 64, 127, 127)
    found = calibrate([Move(time_ms=t, controller=16, value=v) for t, v in enumerate((20, 126, 60, 4))])
    assert (found.controller, found.closed_at, found.open_at) == (16, 122, 8)
    plain = [Move(time_ms=t, controller=4, value=v) for t, v in enumerate((90, 3, 60, 120))]
    found = calibrate([*plain, Move(time_ms=9, controller=7, value=100)])
    assert (found.controller, found.closed_at, found.open_at) == (4, 7, 116)
    with pytest.raises(Refusal, match="No controller was received"):
        calibrate([])
    with pytest.raises(Refusal, match="CC 4 moved only from 3 to 9"):
        calibrate([Move(time_ms=0, controller=4, value=3), Move(time_ms=1, controller=4, value=9)])


@given(curve=CURVES, hardest=st.integers(60, 126), softest=st.integers(1, 30))
def test_bends_that_findings_offer_do_what_they_say(curve: Curve, hardest: int, softest: int):
    lifted = lifted_to_reach(curve, hardest)
    if curve_table(curve)[hardest]:
        assert curve_table(lifted)[hardest] == 127
    risen = curve_table(never_falling(curve))
    assert all(a <= b for a, b in itertools.pairwise(risen))
    if any(curve_table(curve)):
        first = next(v for v in range(1, 128) if curve_table(curve)[v])
        after = curve_table(heard_from(curve, softest))
        assert all(after[v] for v in range(min(first, softest), min(first, softest) + 1))


def test_strikes_are_counted_through_both_curves(small_kit: Kit):
    floor = Curve(nodes=(Node(x=0, y=0), Node(x=15, y=0), Node(x=16, y=16), Node(x=127, y=127)))
    kit = apply(small_kit, e.SetCurve(input="stowaway", input_name="Stowaway", curve=floor))
    kit = apply(kit, e.SetCurve(target="snare", curve=Curve(nodes=(Node(x=0, y=0), Node(x=127, y=63)))))
    struck = [
        StrikeCount(input="stowaway", articulation=SNARE, velocity=v, times=t)
        for v, t in ((10, 3), (60, 20), (112, 30))
    ]
    articulation = articulation_of(kit, SNARE)[1]
    found = reach(kit, struck, articulation)
    assert (found.total, found.ignored, found.hardest_in, found.hardest_plays) == (53, 3, 112, 56)
    assert found.entering[0] == 3 and found.came_in[10] == 3
    others = [*struck, StrikeCount(input="stowaway", articulation="kick/centre", velocity=112, times=9)]
    assert (reach(kit, others, articulation).of_shown, reach(kit, others, articulation).layers) == (53, found.layers)
    assert sum(found.layers) == 50 and found.layers[-1] == 0
    _, (finding,) = noticed_of_strikes(kit, SNARE, struck)
    assert finding.sentence.startswith("Your hardest of 53 strikes came in at 112 and plays at 56")
    for fix in finding.fixes[1:]:
        assert reach(apply(kit, fix.edit), struck, articulation).layers[-1] == 30
    straight = apply(small_kit, e.SetTracking(piece="snare", level=1.0))
    soft = [s.but(velocity=min(s.velocity, 60)) for s in struck]
    _, (finding,) = noticed_of_strikes(straight, SNARE, soft)
    for fix in finding.fixes:
        assert reach(apply(straight, fix.edit), soft, articulation).layers[-1] == 50


def test_a_groove_is_counted_by_its_notes_and_its_pedal(small_kit: Kit):
    events = [
        Strike(time_s=0.0, note=46, velocity=90),
        PedalMove(time_s=0.5, openness=0),
        Strike(time_s=1.0, note=46, velocity=80),
        Strike(time_s=1.5, note=38, velocity=70),
        Strike(time_s=1.6, note=38, velocity=70),
    ]
    counted = {(s.articulation, s.velocity): s.times for s in struck_by(small_kit, events)}
    assert counted == {("hats/open", 90): 1, ("hats/closed", 80): 1, (SNARE, 70): 2}


def test_what_is_known_of_an_input_is_forgotten_when_nothing_is_left(small_kit: Kit):
    kit = apply(small_kit, e.SetInput(input="midi:pads", name="Pads", doubles_ms=20.0))
    kit = apply(kit, e.SetInput(input="midi:pads", name="Pads", closed_at=120, open_at=4))
    assert (kit.inputs[0].doubles_ms, kit.inputs[0].closed_at) == (20.0, 120)
    with pytest.raises(Refusal, match="sends 4 for both closed and open"):
        apply(kit, e.SetInput(input="midi:pads", name="Pads", closed_at=4))
    plain = apply(kit, e.SetInput(input="midi:pads", name="Pads", doubles_ms=0.0, closed_at=0, open_at=127))
    assert plain == small_kit
