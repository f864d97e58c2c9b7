"""Patterns as MIDI and back: every strike keeps its tick, note and velocity, and what a file cannot hold is said."""

from io import BytesIO

import mido
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.formats.pattern_midi import TICKS, pattern_from_midi, pattern_to_midi
from drumcore.grooves.pattern import DIVISIONS, HandStop, Pattern, PedalPoint, PedalRow, Row, Step, Swing, Target
from drumcore.grooves.tempo import Metre
from drumcore.kit.values import Family
from drumcore.refusals import Refusal

TARGETS = {
    36: Target(family=Family.KICK, articulation="centre"),
    38: Target(family=Family.SNARE, articulation="centre"),
    42: Target(family=Family.HATS, articulation="closed"),
}
NOTES = {target: note for note, target in TARGETS.items()}


def strikes_in(data: bytes) -> list[tuple[int, int, int]]:
    found, tick = [], 0
    for message in mido.merge_tracks(mido.MidiFile(file=BytesIO(data)).tracks):
        tick += message.time
        if message.type == "note_on" and message.velocity:
            found.append((tick, message.note, message.velocity))
    return sorted(found)


@st.composite
def patterns(draw) -> Pattern:
    upper, lower = draw(st.sampled_from([(4, 4), (3, 4), (2, 4), (6, 8), (7, 8), (12, 8)]))
    metre, bars = Metre(upper=upper, lower=lower), draw(st.integers(1, 2))
    rows = []
    for note in draw(st.lists(st.sampled_from(sorted(TARGETS)), min_size=1, unique=True)):
        division = draw(st.sampled_from(DIVISIONS))
        places = draw(st.lists(st.integers(0, bars * metre.beats * division - 1), min_size=1, max_size=8, unique=True))
        steps = [
            Step(
                at=at,
                velocity=draw(st.integers(1, 127)),
                strikes=draw(st.sampled_from([1, 1, 1, 2, 3, 4, 6])),
                to_velocity=draw(st.none() | st.integers(1, 127)),
                flam=draw(st.booleans()),
                nudge_ms=draw(st.floats(-20, 20).map(lambda ms: round(ms, 2))),
            )
            for at in sorted(places)
        ]
        rows.append(Row(id=f"row-{note}", target=TARGETS[note], division=division, steps=tuple(steps)))
    return Pattern(
        name="Rope Walk",
        bars=bars,
        metre=metre,
        bpm=round(draw(st.floats(40, 240)), 2),
        rows=tuple(rows),
        swing=Swing(
            percent=draw(st.sampled_from([50.0, 57.5, 66.7])), unit=draw(st.sampled_from(["eighths", "sixteenths"]))
        ),
    )


@settings(max_examples=60)
@given(patterns())
def test_a_pattern_read_back_strikes_on_the_same_ticks_and_a_second_export_is_the_same_file(pattern: Pattern):
    first, _ = pattern_to_midi(pattern, NOTES)
    divisions = {NOTES[row.target]: row.division for row in pattern.rows}
    read = pattern_from_midi(first, "Rope Walk.mid", TARGETS, divisions, pattern.swing)
    second, _ = pattern_to_midi(read.pattern, NOTES)
    # Only what no step is free for may be missing, and then it is said.
    missing = set(strikes_in(first)) - set(strikes_in(second))
    assert set(strikes_in(second)) <= set(strikes_in(first))
    assert bool(missing) <= any("find no step of their own" in said for said in read.not_held)
    again = pattern_from_midi(second, "Rope Walk.mid", TARGETS, divisions, pattern.swing)
    assert pattern_to_midi(again.pattern, NOTES)[0] == second


def plain(**more) -> Pattern:
    rows = (
        Row(id="kick", target=TARGETS[36], division=2, steps=(Step(at=0, velocity=110), Step(at=5, velocity=90))),
        Row(id="snare", target=TARGETS[38], steps=(Step(at=4, velocity=100, flam=True), Step(at=12, velocity=60, strikes=4, to_velocity=120))),
        Row(id="hats", target=TARGETS[42], division=3, steps=tuple(Step(at=k, velocity=70) for k in range(0, 12, 2))),
    )  # fmt: skip
    return Pattern(name="Tide Turn", bpm=96, rows=rows, **more)


def test_rolls_and_flams_come_back_as_what_they_were():
    data, said = pattern_to_midi(plain(), NOTES)
    assert said == ()
    read = pattern_from_midi(data, "x.mid", TARGETS, {36: 2, 38: 4, 42: 3})
    assert read.not_held == () and read.pattern.name == "Tide Turn" and read.pattern.bpm == 96
    assert [row.steps for row in read.pattern.rows] == [row.steps for row in plain().rows]
    assert (960, 42, 70) not in strikes_in(data) and (2 * TICKS // 3, 42, 70) in strikes_in(data)


def test_the_fewest_steps_that_fit_are_found_by_themselves():
    data, _ = pattern_to_midi(plain(), NOTES)
    rows = {row.target.family: row.division for row in pattern_from_midi(data, "x.mid", TARGETS).pattern.rows}
    assert (rows[Family.KICK], rows[Family.HATS]) == (2, 3)


def test_the_pedal_and_hand_stops_come_along():
    moving = plain(
        pedal=PedalRow(division=2, points=(PedalPoint(at=0, openness=10), PedalPoint(at=3, openness=100))),
        hand_stops=(HandStop(row="hats", at=6),),
    )
    read = pattern_from_midi(pattern_to_midi(moving, NOTES)[0], "x.mid", TARGETS, {42: 3})
    assert [(p.at, p.openness) for p in read.pattern.pedal.points] == [(0, 10), (18, 100)]
    (stop,) = read.pattern.hand_stops
    assert stop.at == 6 and stop.row.startswith("hats")


def test_what_a_file_cannot_hold_is_said():
    cowbell = Row(
        id="cow",
        target=Target(family=Family.PERCUSSION, articulation="hit", piece="Cowbell"),
        steps=(Step(at=0, velocity=80),),
    )
    resting = plain().rows[0].but(steps=(Step(at=0, velocity=80, rest=True), Step(at=1, velocity=80, chance=50)))
    early = Row(id="snare", target=TARGETS[38], steps=(Step(at=0, velocity=90, nudge_ms=-30),))
    data, said = pattern_to_midi(plain().but(rows=(cowbell, resting, early)), NOTES)
    assert said == (
        "Cowbell · hit has no note in the map; 1 step is left out.",
        "kick · centre: rests cannot be written; 1 step is left out.",
        "kick · centre: chances are decided once, as in the first pass.",
        "A strike before the first beat makes the file begin a bar earlier.",
    )  # fmt: skip
    assert min(strikes_in(data))[0] == 4 * TICKS - round(30 / 625 * TICKS)


def written(*messages: mido.Message, ticks: int = 480, kind: int = 1) -> bytes:
    out = BytesIO()
    mido.MidiFile(type=kind, ticks_per_beat=ticks, tracks=[mido.MidiTrack(messages)]).save(file=out)
    return out.getvalue()


def hit(time: int = 0) -> mido.Message:
    return mido.Message("note_on", note=38, velocity=90, time=time)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"Buy lamp oil.", "is not a MIDI file"),
        (written(), "holds no notes"),
        (written(hit(), hit(480 * 4 * 300)), "bars long; a pattern takes 256"),
        (written(mido.MetaMessage("set_tempo", tempo=50_000), hit()), "beats a minute; a pattern takes 10 to 600"),
        (
            written(mido.MetaMessage("time_signature", numerator=48, denominator=4), hit()),
            "a pattern's figures go to 32",
        ),
    ],
)
def test_files_that_are_no_pattern_end_in_a_sentence(data: bytes, said: str):
    with pytest.raises(Refusal, match=said):
        pattern_from_midi(data, "odd.mid", TARGETS)


def test_a_file_without_a_tempo_plays_at_120_and_unknown_notes_are_listed():
    read = pattern_from_midi(written(hit(), hit(240), mido.Message("note_on", note=99, velocity=5)), "odd.mid", TARGETS)
    assert read.pattern.bpm == 120 and [step.at for step in read.pattern.rows[0].steps] == [0, 1]
    assert read.not_held == ("Note 99 plays nothing in the map; 1 strike is left out.",)
