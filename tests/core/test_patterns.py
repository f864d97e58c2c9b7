"""Patterns: what is written on the grid stands where exact arithmetic puts it, and feel is the same every time."""

from fractions import Fraction as F

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from drumcore.grooves.compiling import compile_pass, events_of, pre_roll_ms
from drumcore.grooves.pattern import Feel, Pattern, PedalPoint, PedalRow, Row, Step, Swing, Target
from drumcore.grooves.swing import swung
from drumcore.grooves.tempo import Metre, MetreChange, TempoChange, TempoMap, steady
from drumcore.grooves.wander import TIMING, wander
from drumcore.kit.values import Family

SNARE, KICK, HATS = (
    Target(family=family, articulation=name)
    for family, name in ((Family.SNARE, "centre"), (Family.KICK, "centre"), (Family.HATS, "closed"))
)


def row(target: Target, *steps: Step, division: int = 4, **more) -> Row:
    return Row(id=target.family.value, target=target, division=division, steps=steps, **more)


def pattern(*rows: Row, **more) -> Pattern:
    return Pattern(name="Beat", rows=rows, **more)


def places(of: Pattern, pass_number: int = 0) -> list[F]:
    return [strike.quarters for strike in compile_pass(of, pass_number).strikes]


def frames_of(of: Pattern, articulations: dict[Target, str], **more) -> list[int]:
    return [round(e.time_s * 48_000) for e in events_of(of, [0, 1], articulations, 48_000, **more)]


def test_a_position_stands_on_its_frame_after_an_hour():
    """93.7 beats a minute for an hour are 5,622 beats: exactly 3,600 seconds. Adding up rounded beats would be 2,000
    frames off."""
    tempo = steady(93.7, Metre())
    assert tempo.seconds_at(F(5622)) == 3600
    assert tempo.frame_at(F(5622), 48_000) == 172_800_000
    third = F(1, 3)
    assert tempo.frame_at(5622 + third, 48_000) == 172_800_000 + round(60 / 93.7 / 3 * 48_000)


def test_time_follows_tempo_changes():
    changing = TempoMap(
        tempos=(TempoChange(at=F(0), bpm=120), TempoChange(at=F(4), bpm=60), TempoChange(at=F(6), bpm=240)),
        metres=(MetreChange(at=F(0), metre=Metre()),),
    )
    assert [changing.seconds_at(F(at)) for at in (0, 2, 4, 5, 6, 8)] == [0, 1, 2, 3, 4, F(9, 2)]
    assert changing.seconds_at(F(-1)) == F(-1, 2)
    assert changing.scaled(50).seconds_at(F(6)) == 8
    with pytest.raises(ValidationError, match="begin at 0 and come in order"):
        TempoMap(tempos=(TempoChange(at=F(1), bpm=120),), metres=changing.metres)


@pytest.mark.parametrize(
    ("metre", "beat", "beats", "bar"),
    [
        ((4, 4), 1, 4, 4),
        ((3, 4), 1, 3, 3),
        ((7, 8), F(1, 2), 7, F(7, 2)),
        ((6, 8), F(3, 2), 2, 3),
        ((12, 8), F(3, 2), 4, 6),
    ],
)
def test_the_beat_is_the_lower_figure_and_a_dotted_quarter_in_compound_metres(metre, beat, beats, bar):
    found = Metre(upper=metre[0], lower=metre[1])
    assert (found.beat, found.beats, found.bar) == (beat, beats, bar)
    # 60 beats a minute: each beat a second, whatever it is written as.
    assert steady(60.0, found).seconds_at(found.bar) == beats


def test_rows_of_different_divisions_stand_side_by_side():
    beat = pattern(
        row(KICK, Step(at=0, velocity=100), Step(at=1, velocity=90), division=2),
        row(HATS, *(Step(at=k, velocity=60) for k in range(3)), division=3),
        bpm=120,
    )
    assert places(beat) == [0, 0, F(1, 3), F(1, 2), F(2, 3)]
    assert frames_of(beat, {KICK: "k"}) == [0, 12_000, 96_000, 108_000]


@pytest.mark.parametrize(
    ("percent", "unit", "at", "stands"),
    [
        (50, "sixteenths", F(1, 4), F(1, 4)),
        (60, "sixteenths", F(1, 4), F(3, 10)),
        (60, "sixteenths", F(1, 8), F(3, 20)),  # a thirty-second in the first half is stretched along
        (60, "sixteenths", F(3, 8), F(2, 5)),
        (60, "sixteenths", F(1, 2), F(1, 2)),
        (66, "eighths", F(1, 2), F(33, 50)),
        (75, "eighths", F(5, 2), F(11, 4)),
    ],
)
def test_swing_bends_time_inside_each_pair(percent, unit, at, stands):
    swinging = pattern(swing=Swing(percent=percent, unit=unit))
    assert swung(swinging, at, 4) == stands
    assert swung(swinging, at, 3) == at, "triplets are not bent"


def test_a_last_unit_without_partner_and_compound_eighths_are_not_bent():
    seven = pattern(metre=Metre(upper=7, lower=8), bars=2, swing=Swing(percent=60, unit="eighths"))
    assert swung(seven, F(1, 2), 2) == F(3, 5)
    assert swung(seven, F(13, 4), 2) == F(13, 4)
    assert swung(seven, F(7, 2) + F(1, 2), 2) == F(7, 2) + F(3, 5), "pairs are counted from the bar line"
    six = pattern(metre=Metre(upper=6, lower=8), swing=Swing(percent=60, unit="eighths"))
    assert swung(six, F(1, 2), 2) == F(1, 2)
    assert swung(six.but(swing=Swing(percent=60)), F(1, 4), 4) == F(3, 10)


@given(
    percent=st.floats(50, 75),
    unit=st.sampled_from(["eighths", "sixteenths"]),
    upper=st.sampled_from([2, 3, 4, 5, 7]),
    places=st.lists(st.fractions(0, 8, max_denominator=96), min_size=2, unique=True),
)
def test_swing_never_changes_the_order_of_what_is_written(percent, unit, upper, places):
    swinging = pattern(metre=Metre(upper=upper, lower=8), bars=16, swing=Swing(percent=round(percent, 1), unit=unit))
    bent = [swung(swinging, place, 4) for place in sorted(places)]
    assert bent == sorted(set(bent))


@pytest.mark.parametrize(
    ("step", "velocities"),
    [
        (Step(at=0, velocity=40, strikes=4, to_velocity=100), [40, 60, 80, 100]),
        (Step(at=0, velocity=100, strikes=3, to_velocity=40), [100, 70, 40]),
        (Step(at=0, velocity=1, strikes=3, to_velocity=2), [1, 2, 2]),
        (Step(at=0, velocity=90, strikes=2), [90, 90]),
        (Step(at=0, velocity=90, to_velocity=20), [90]),
    ],
)
def test_a_slope_runs_in_equal_steps_from_the_first_to_the_last_strike(step: Step, velocities: list[int]):
    found = compile_pass(pattern(row(SNARE, step))).strikes
    assert [s.velocity for s in found] == velocities
    assert [s.quarters for s in found] == [F(k, 4 * step.strikes) for k in range(step.strikes)]


def test_a_flam_begins_before_its_step_and_makes_room_for_itself():
    flam = pattern(row(SNARE, Step(at=0, velocity=100, flam=True), Step(at=4, velocity=80, flam=True)), bpm=120)
    strikes = compile_pass(flam).strikes
    assert [(s.offset_ms, s.velocity, s.grace) for s in strikes] == [
        (-25.0, 60, True), (0.0, 100, False), (-25.0, 48, True), (0.0, 80, False),
    ]  # fmt: skip
    assert pre_roll_ms(flam, compile_pass(flam)) == 25.0
    frames = frames_of(flam, {SNARE: "s"})
    assert frames[:2] == [0, 1200]
    # The second pass's flam falls into the end of the first.
    assert frames[4:6] == [96_000, 97_200]


def test_what_rests_or_is_muted_is_kept_and_silent():
    hats = row(HATS, Step(at=0, velocity=60, rest=True), Step(at=1, velocity=70))
    beat = pattern(hats, row(SNARE, Step(at=0, velocity=100), muted=True))
    assert [(s.row, s.step) for s in compile_pass(beat).strikes] == [("hats", 1)]
    assert [s.row for s in compile_pass(beat, only=["snare"]).strikes] == ["snare"]


def test_the_pedal_moves_on_its_own_row():
    beat = pattern(pedal=PedalRow(division=2, points=(PedalPoint(at=0, openness=0), PedalPoint(at=3, openness=90))))
    assert [(m.quarters, m.openness) for m in compile_pass(beat).moves] == [(0, 0), (F(3, 2), 90)]


def full(**feel) -> Pattern:
    steps = tuple(Step(at=k, velocity=64) for k in range(64))
    return pattern(row(SNARE, *steps), row(KICK, *steps), bars=4, feel=Feel(seed=7, **feel))


def test_feel_has_the_spread_that_is_asked_for_and_half_of_it_is_shared():
    offsets: dict[str, list[float]] = {"snare": [], "kick": []}
    for number in range(60):
        for strike in sorted(compile_pass(full(timing_ms=8.0), number).strikes, key=lambda s: s.step):
            offsets[strike.row].append(strike.offset_ms)
    assert np.std(offsets["snare"]) == pytest.approx(8.0, rel=0.08)
    assert np.corrcoef(offsets["snare"], offsets["kick"])[0, 1] == pytest.approx(0.5, abs=0.12)
    velocities = [s.velocity for n in range(30) for s in compile_pass(full(velocity=6.0), n).strikes]
    assert np.std(velocities) == pytest.approx(6.0, rel=0.1) and np.mean(velocities) == pytest.approx(64.0, abs=0.5)


def test_a_pass_is_always_the_same_and_no_two_are_alike():
    felt = full(timing_ms=8.0, velocity=5.0)
    third = compile_pass(felt, 3)
    assert compile_pass(felt, 3) == third != compile_pass(felt, 4)
    assert compile_pass(felt.but(feel=felt.feel.but(seed=8)), 3) != third


def test_wandering_has_more_of_the_slow_than_of_the_fast():
    """1/f: each octave has the same power, so doubling the frequency halves it."""
    spectra = [np.abs(np.fft.rfft(wander(3, TIMING, n, 0, 1024))) ** 2 for n in range(100)]
    power = np.mean(spectra, axis=0)
    octaves = [power[2**k : 2 ** (k + 1)].sum() for k in range(2, 9)]
    assert max(octaves) < 1.4 * min(octaves)


def test_a_chance_is_taken_as_often_as_it_says():
    beat = pattern(row(SNARE, *(Step(at=k, velocity=90, chance=30) for k in range(16))))
    counts = [len(compile_pass(beat, number).strikes) for number in range(100)]
    assert sum(counts) / 1600 == pytest.approx(0.3, abs=0.035) and len(set(counts)) > 3
    assert compile_pass(beat, 5) == compile_pass(beat, 5)


@pytest.mark.parametrize(
    "wrong",
    [
        {"metre": {"upper": 4, "lower": 3}},
        {"rows": [{"id": "a", "target": {"family": "snare", "articulation": "x"}, "division": 5}]},
        {
            "rows": [
                {"id": "a", "target": {"family": "snare", "articulation": "x"}, "steps": [{"at": 16, "velocity": 9}]}
            ]
        },
        {
            "rows": [
                {"id": "a", "target": {"family": "snare", "articulation": "x"}, "steps": [{"at": 1, "velocity": 9}] * 2}
            ]
        },
        {"rows": [{"id": "a", "target": {"family": "snare", "articulation": "x"}}] * 2},
        {"bpm": 0},
        {"hand_stops": [{"row": "gone", "at": 0}]},
    ],
)
def test_a_pattern_that_cannot_be_is_refused(wrong: dict):
    with pytest.raises(ValidationError):
        Pattern.model_validate({"name": "Wrong", **wrong})


def test_a_pattern_survives_its_file():
    beat = full(timing_ms=3.0).but(swing=Swing(percent=57.5), metre=Metre(upper=4, lower=4))
    assert Pattern.model_validate_json(beat.model_dump_json()) == beat
    tempo = TempoMap(
        tempos=(TempoChange(at=F(0), bpm=99.5), TempoChange(at=F(7, 3), bpm=80)),
        metres=(MetreChange(at=F(0), metre=Metre()),),
    )
    assert TempoMap.model_validate_json(tempo.model_dump_json()) == tempo
