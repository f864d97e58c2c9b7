"""Patterns played: by articulation and not by note, on their frames, as the same MIDI file would be."""

import json
from pathlib import Path

import numpy as np
import pytest

from drumcore.cli.main import main
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.formats.kit_file import write_kit_file
from drumcore.formats.pattern_file import read_pattern_file, write_pattern_file
from drumcore.grooves.compiling import events_of
from drumcore.grooves.pattern import Feel, HandStop, Pattern, PedalPoint, PedalRow, Row, Step, Target
from drumcore.grooves.targets import found_in, notes_of, targets_of
from drumcore.grooves.values import PedalMove, Strike
from drumcore.kit.values import Curve, Family, Kit, Node
from drumcore.playing.compiler import compile_kit
from drumcore.refusals import Refusal
from tests.conftest import whole

SNARE, HATS = (
    Target(family=family, articulation=name) for family, name in ((Family.SNARE, "centre"), (Family.HATS, "open"))
)


def beat(**more) -> Pattern:
    rows = (
        Row(id="snare", target=SNARE, division=2, steps=(Step(at=1, velocity=120, flam=True), Step(at=3, velocity=40))),
        Row(id="hats", target=HATS, division=3, steps=(Step(at=0, velocity=90), Step(at=4, velocity=70))),
    )
    return Pattern(name="Beat", bpm=300, rows=rows, **more)


def test_it_sounds_as_its_notes_would_at_the_same_moments(small_kit: Kit, sounds):
    table, rate = compile_kit(small_kit), small_kit.rate_hz
    here = found_in(small_kit, [SNARE, HATS])
    notes = {here[target]: note for target, note in notes_of(small_kit, [SNARE, HATS]).items()}
    direct = events_of(beat(), [0, 1], here, rate)
    by_note = [Strike(time_s=d.time_s, note=notes[d.articulation], velocity=d.velocity) for d in direct]
    np.testing.assert_array_equal(whole(table, direct, sounds), whole(table, by_note, sounds))
    first = np.flatnonzero(np.abs(whole(table, direct, sounds)).max(axis=0) > 1e-3)[0]
    assert first < 0.02 * rate


def test_velocities_pass_the_piece_s_curve_and_not_the_input_s(small_kit: Kit, sounds):
    half = Curve(nodes=(Node(x=0, y=0), Node(x=127, y=60)))
    changed = [apply(small_kit, e.SetCurve(target=target, curve=half)) for target in (None, "snare")]
    events = events_of(beat(), [0], found_in(small_kit, [SNARE]), small_kit.rate_hz)
    plain, of_input, of_snare = (whole(compile_kit(kit), events, sounds) for kit in (small_kit, *changed))
    np.testing.assert_array_equal(plain, of_input)
    assert np.abs(of_snare).max() < 0.8 * np.abs(plain).max()


def test_a_hand_stops_a_piece_and_the_pedal_moves(small_kit: Kit, sounds):
    crash = Target(family=Family.CRASH, articulation="edge", piece="Crash left")
    here = found_in(small_kit, [crash])
    ringing = Pattern(name="Crash", bpm=300, rows=(Row(id="crash", target=crash, steps=(Step(at=0, velocity=120),)),))
    stopped = ringing.but(
        hand_stops=(HandStop(row="crash", at=1),), pedal=PedalRow(points=(PedalPoint(at=2, openness=5),))
    )
    events = events_of(stopped, [0], here, small_kit.rate_hz)
    assert [event.kind for event in events] == ["direct_strike", "hand_on", "pedal"]
    assert isinstance(events[2], PedalMove) and events[2].time_s == pytest.approx(0.1)
    table = compile_kit(small_kit)
    loud, hushed = (whole(table, events_of(p, [0], here, small_kit.rate_hz), sounds) for p in (ringing, stopped))
    late = slice(int(0.12 * small_kit.rate_hz), int(0.2 * small_kit.rate_hz))
    assert np.abs(hushed[:, late]).max() < 0.5 * np.abs(loud[:, late]).max()


def test_some_bars_of_a_pass_are_those_bars_of_the_whole_pass(small_kit: Kit):
    steps = tuple(Step(at=k, velocity=80) for k in range(0, 64, 3))
    long = Pattern(
        name="Long", bars=4, rows=(Row(id="s", target=SNARE, steps=steps),), feel=Feel(timing_ms=6, velocity=9)
    )
    here = found_in(small_kit, [SNARE])
    all_of_it = events_of(long, [5], here, 48_000)
    some = events_of(long, [5], here, 48_000, bars=(2, 3))
    bar_s = 4 * 0.6
    inside = [event for event, step in zip(all_of_it, steps, strict=True) if 16 <= step.at < 48]
    assert [event.velocity for event in some] == [event.velocity for event in inside]
    apart = [a.time_s - b.time_s for a, b in zip(inside, some, strict=True)]
    assert max(apart) - min(apart) < 1e-4 and apart[0] == pytest.approx(bar_s, abs=0.04)


def test_a_row_finds_its_articulation_by_name_or_by_family_and_number(small_kit: Kit):
    named = targets_of(small_kit)
    assert found_in(small_kit, named.values()) == {target: articulation for articulation, target in named.items()}
    other = Target(family=Family.SNARE, articulation="centre", piece="Parade drum")
    assert found_in(small_kit, [other]) == {other: "snare/centre"}
    missing = Target(family=Family.SNARE, articulation="brush")
    assert found_in(small_kit, [missing]) == {} and notes_of(small_kit, [missing]) == {}


def test_the_commands_write_read_and_render_it(small_kit: Kit, small_session: Path, tmp_path: Path, capsys):
    places = {
        r.content: small_session / r.path
        for p in small_kit.pieces
        for a in p.articulations
        for t in a.takes
        for r in t.recordings
    }
    write_kit_file(small_kit, lambda content: places[content], tmp_path / "small.zesty")
    write_pattern_file(beat(), tmp_path / "beat.json")
    assert main(["groove", str(tmp_path / "beat.json"), "-o", str(tmp_path / "beat.mid")]) == 0
    assert main(["groove", str(tmp_path / "beat.mid"), "-o", str(tmp_path / "again.json"), "--json"]) == 0
    capsys.readouterr()
    again = read_pattern_file(tmp_path / "again.json")
    assert [row.target.family for row in again.rows] == [Family.SNARE, Family.HATS]
    assert sum(len(row.steps) for row in again.rows) == 4 and again.rows[0].steps[0].flam
    options = ["--passes", "2", "--bars", "1", "--seed", "3", "--json"]
    kit = str(tmp_path / "small.zesty")
    assert main(["render", kit, str(tmp_path / "beat.json"), "-o", str(tmp_path / "out"), *options]) == 0
    assert json.loads(capsys.readouterr().out)["stems"]
    assert main(["render", kit, str(tmp_path / "beat.json"), "-o", str(tmp_path / "out"), "--bars", "2"]) == 2
    assert "Beat has 1 bar; there is no bar 2." in capsys.readouterr().err


@pytest.mark.parametrize(
    ("text", "said"),
    [("Buy lamp oil.", "is not a pattern"), ('{"name": "x", "bpm": "fast"}', "bpm"), ('{"name": "x", "rows": [{"id": "a"}]}', "rows 0 target: it is missing")],
)  # fmt: skip
def test_a_file_that_is_no_pattern_is_refused_with_where_and_why(text: str, said: str, tmp_path: Path):
    (tmp_path / "wrong.json").write_text(text)
    with pytest.raises(Refusal, match=said):
        read_pattern_file(tmp_path / "wrong.json")
