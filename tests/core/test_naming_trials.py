"""How many takes are placed right by their names and their sound, counted over conventions with recordings of their own."""

import re
from pathlib import Path

import numpy as np
import pytest
import soundfile

from drumcore.cli.names import summary
from drumcore.demo.naming_conventions import FIRST, Convention, Struck
from drumcore.demo.naming_sounds import RATE_HZ
from drumcore.demo.naming_trials import try_convention, write_recordings
from drumcore.edits.apply import apply
from drumcore.edits.pieces import BuildPieces
from drumcore.kit.values import Family, Kit, MicKind
from drumcore.recordings.file_correlation import correlation_peak
from drumcore.recordings.guidance import Guidance, Ruling
from drumcore.recordings.session import SessionReading, read_folder

KICK, SNARE = Struck("Kick", Family.KICK), Struck("Snare", Family.SNARE)


def read(convention: Convention, folder: Path) -> SessionReading:
    write_recordings(convention, folder)
    return read_folder(folder)


def cells(reading: SessionReading) -> dict[str, list[int]]:
    return {f"{p.name} · {a.name}": [len(y.takes) for y in a.layers] for p in reading.pieces for a in p.articulations}


def test_nearly_every_take_is_placed_right_and_none_wrong_without_a_question():
    figures = [try_convention(convention) for convention in FIRST]
    print(summary(figures))
    assert len(figures) >= 40
    assert sum(f.right_after for f in figures) >= 0.97 * sum(f.takes for f in figures)
    assert max(f.answers for f in figures) <= 2
    assert [f.path for f in figures if f.wrong_unasked] == []


@pytest.mark.parametrize("padded", [True, False], ids=["all of one length", "each as long as it sounds"])
@pytest.mark.parametrize("path", ["{m}/{p}_{v}_{r}.wav", "{p}_{v}_{r}_{m}.wav", "{p} Mic{m} {v} {r}.wav"])
def test_what_a_microphone_is_called_is_its_own_affair(path: str, padded: bool, tmp_path: Path):
    reading = read(Convention(path, (KICK, SNARE), mics=("Tern", "Rook"), padded=padded), tmp_path)
    assert cells(reading) == {"Kick · centre": [2, 2, 2], "Snare · centre": [2, 2, 2]}
    assert len(reading.mics) == 2 and reading.questions == () and reading.unread == ()
    assert {len(t.recordings) for p in reading.pieces for a in p.articulations for t in a.takes} == {2}


def test_takes_of_one_length_are_no_microphones(tmp_path: Path):
    reading = read(Convention("{p}_{v}_{r}.wav", (KICK, SNARE), repeats=("a", "b", "c"), padded=True), tmp_path)
    assert cells(reading) == {"Kick · centre": [3, 3, 3], "Snare · centre": [3, 3, 3]} and len(reading.mics) == 1


def test_a_room_that_is_near_is_a_room(tmp_path: Path):
    reading = read(
        Convention("{m} {p} {v} {r}.wav", (KICK, SNARE), mics=("Spot", "Room Close", "Overhead Near")), tmp_path
    )
    assert {m.name: m.kind for m in reading.mics} == {
        "Spot": MicKind.CLOSE, "Room Close": MicKind.ROOM, "Overhead Near": MicKind.OVERHEAD,
    }  # fmt: skip


def test_more_takes_in_a_cell_than_anyone_plays_are_asked_about_once(tmp_path: Path):
    crowd = Convention("{p}_{n:03d}.wav", (KICK, SNARE), strengths=(1,), repeats=tuple(range(26)))
    reading = read(crowd, tmp_path)
    (question,) = reading.questions
    assert "26 takes in velocity layer 1" in question.sentence and question.guess == "repeat"
    group = next(g for g in reading.groups if g.key == question.group)
    assert group.columns[question.column].doubtful
    said = tuple(
        Ruling(group=key, column=at, meaning="repeat")
        for key, at in ((question.group, question.column), *question.elsewhere)
    )
    answered = read_folder(tmp_path, guidance=Guidance(rulings=said))
    assert answered.questions == () and cells(answered) == cells(reading)


def test_takes_of_a_layer_far_apart_in_level_are_asked_about(tmp_path: Path):
    for layer in (1, 2):
        for take in (1, 2, 3):
            loud = 10.0 ** (-(12.0 + 9.0 * take if layer == 1 else 3.0 * take) / 20.0)
            hit = np.random.default_rng([layer, take]).standard_normal(9000) * np.exp(-np.arange(9000) / 2000.0)
            sound = np.concatenate([np.zeros(200), hit * loud / np.abs(hit).max()])
            soundfile.write(tmp_path / f"Snare soft{'er' * (2 - layer)} {'xyz'[take - 1]}.wav", sound, RATE_HZ)
    (question,) = read_folder(tmp_path).questions
    assert re.fullmatch(r"The takes of Snare · centre in velocity layer 1 are 1[4-9] dB apart\.", question.sentence)


def test_two_microphones_of_a_strike_correlate_and_two_strikes_do_not():
    rng = np.random.default_rng(4)
    strikes = [rng.standard_normal(4000) * np.exp(-np.arange(4000) / 900.0) for _ in range(2)]
    far = np.concatenate([np.zeros(150), 0.3 * strikes[0][:-150]]) + 0.001 * rng.standard_normal(4000)
    assert correlation_peak(strikes[0], far, RATE_HZ) > 0.9
    assert correlation_peak(strikes[0], strikes[1], RATE_HZ) < 0.2
    assert correlation_peak(strikes[0], -0.5 * strikes[0], RATE_HZ) == 0.0, "a copy is no other microphone"


def test_steps_of_open_hats_follow_the_pedal(tmp_path: Path):
    steps = tuple(Struck("Hat", Family.HATS, f"open {n}", how=f"Open{n}") for n in (1, 2, 3))
    closed = Struck("Hat", Family.HATS, "closed", how="Closed")
    reading = read(Convention("{p}_{a}_v{v}_rr{r}.wav", (closed, *steps)), tmp_path)
    kit = apply(Kit(id="k", name="K"), BuildPieces(mics=reading.mics, pieces=reading.pieces))
    names = {a.id: a.name for piece in kit.pieces for a in piece.articulations}
    on_46 = [(names[p.articulation], p.open_from, p.open_to) for p in kit.notes.placed if p.note == 46]
    assert on_46 == [("closed", 0, 47), ("open 1", 48, 73), ("open 2", 74, 100), ("open 3", 101, 127)]


def test_folders_beside_a_known_microphone_are_read_by_their_words_though_sound_tells_them_apart_too(tmp_path: Path):
    """Cut to one length, only some names are formed alike; taking the microphones out of those alone would mix folders."""
    close = Convention("Snare top/{p}/{p}_{v}_{r}.wav", (SNARE,), padded=True)
    far = Convention("{m}/{p}/{p}_{v}_{r}.wav", (KICK, SNARE), mics=("Overheads", "Hat"), padded=True)
    write_recordings(far, tmp_path)
    reading = read(close, tmp_path)
    assert sorted(m.name for m in reading.mics) == ["Hat", "Overheads", "Snare top"]
    assert cells(reading) == {"Kick · centre": [2, 2, 2], "Snare · centre": [2, 2, 2]}


def test_one_take_that_stands_out_is_no_question_of_names(tmp_path: Path):
    write_recordings(Convention("{p}_v{v}_rr{r}.wav", (SNARE,), repeats=(1, 2, 3, 4)), tmp_path)
    one = tmp_path / "Snare_v3_rr2.wav"
    sound, rate = soundfile.read(one)
    soundfile.write(one, sound * 0.12, rate)
    assert read_folder(tmp_path).questions == ()
