"""Ways of naming recordings, invented and told apart without help; and what somebody says going before all of it."""

from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest

from drumcore.kit.values import Family, Hand
from drumcore.recordings.files import Measured
from drumcore.recordings.guidance import Guidance, PlacedFile, Ruling
from drumcore.recordings.lexicon import LearnedWord
from drumcore.recordings.measurement import Measurements
from drumcore.recordings.session import SessionReading, read_session

STEP_DB = 7.0


def measured(path: str, level_db: float, seed: int) -> Measured:
    """A file as if it had been measured: what is read here depends on names and levels alone."""
    sizes = Measurements(level_db, level_db + 6, 5.0, 300.0, -90.0, 0, 0.0, 900.0, "0" * 96, "")
    return Measured(path, f"{seed:040x}", 48000, 24000, 1, sizes)


def read(files: dict[str, float], guidance: Guidance = Guidance()) -> SessionReading:
    def nowhere(recording) -> Path:
        return Path("/nowhere") / recording.path

    return read_session([measured(p, level, i) for i, (p, level) in enumerate(files.items())], [], nowhere, guidance)


def strikes(strengths: int, repeats: int) -> Iterator[tuple[int, int, float]]:
    """(strength from 1, repeat from 1, level in dB): louder by strength, and by hardly anything from take to take."""
    rng = np.random.default_rng(strengths * 10 + repeats)
    for s in range(1, strengths + 1):
        for r in range(1, repeats + 1):
            yield s, r, -STEP_DB * (strengths - s) + float(rng.uniform(-0.6, 0.6))


def sizes(reading: SessionReading) -> dict[str, list[int]]:
    return {f"{p.name} · {a.name}": [len(y.takes) for y in a.layers] for p in reading.pieces for a in p.articulations}


def climbs(reading: SessionReading) -> bool:
    """Whether every layer is louder than the one below it: the strengths were read as strengths."""
    for piece in reading.pieces:
        for articulation in piece.articulations:
            level = {t.id: t.level_db for t in articulation.takes}
            by_layer = [[level[i] for i in layer.takes] for layer in articulation.layers]
            if any(min(b) <= max(a) for a, b in pairwise(by_layer)):
                return False
    return True


WORDS = ["ghost", "soft", "medium", "hard"]
MARKS = ["pp", "mp", "f", "ff"]
VELOCITIES = [16, 52, 88, 127]
NOTES = {"Kick": "C1", "Snare": "D1", "Hat": "F#1"}


def camel(mics: tuple[str, ...]) -> dict[str, float]:
    return {
        f"{piece}{articulation}{mic}Vel{VELOCITIES[s - 1]}Take{r}.wav": level - 9 * (mic == "Room")
        for piece, articulation in (("Snare", "Rimshot"), ("FloorTom", "Centre"))
        for mic in mics
        for s, r, level in strikes(4, 3)
    }


CONVENTIONS: dict[str, tuple[dict[str, float], dict[str, list[int]], int]] = {
    "velocity values, microphones as suffixes in short, dashes": (
        {
            f"bd-{VELOCITIES[s - 1]:03d}-rr{r}-{mic}.wav": level - 8 * (mic != "in")
            for mic in ("in", "oh", "rm")
            for s, r, level in strikes(4, 2)
        },
        {"Kick · centre": [2] * 4},
        3,
    ),
    "strength as words in folders, repeats as letters, dots": (
        {
            f"Snare Drum/{WORDS[s - 1].title()}/sn.{'abc'[r - 1]}.{mic}.wav": level - 8 * (mic == "room")
            for mic in ("top", "room")
            for s, r, level in strikes(4, 3)
        },
        {"Snare · centre": [3] * 4},
        2,
    ),
    "dynamic marks, hands, no zero padding, microphones as prefixes": (
        {
            f"{mic} Rack Tom {MARKS[s - 1]} {hand} {r}.wav": level - 8 * (mic != "Close")
            for mic in ("Close", "OH", "Room")
            for hand in ("L", "R")
            for s, r, level in strikes(4, 2)
        },
        {"Rack tom · centre": [4] * 4},
        3,
    ),
    "camel case with velocity values and takes, several pieces in one folder": (
        camel(("Close", "Room")),
        {"Snare · rimshot": [3] * 4, "Floor tom · centre": [3] * 4},
        2,
    ),
    "repeat before strength, both bare, note names": (
        {
            f"All/{name}_{note}_{r}_{s}.wav": level
            for name, note in (("kick", "C1"), ("snare", "D1"))
            for s, r, level in strikes(4, 4)
        },
        {"Kick · centre": [4] * 4, "Snare · centre": [4] * 4},
        1,
    ),
    "note numbers before the piece, t for take": (
        {
            f"{number} {name} v{s} t{r}.wav": level
            for number, name in ((36, "Kick"), (38, "Snare"), (46, "Hat Open"))
            for s, r, level in strikes(3, 3)
        },
        {"Kick · centre": [3] * 3, "Snare · centre": [3] * 3, "Hats · open": [3] * 3},
        1,
    ),
    "one folder a piece, a folder an articulation, a folder a microphone": (
        {
            f"HiHat/{articulation}/{mic}/{s}x{r}.wav": level - 8 * (mic != "Hat Mic")
            for articulation in ("Tight", "Half Open", "Pedal")
            for mic in ("Hat Mic", "Overheads")
            for s, r, level in strikes(3, 4)
        },
        {"Hats · tight": [4] * 3, "Hats · half open": [4] * 3, "Hats · pedal": [4] * 3},
        2,
    ),
    "zero-padded layers and repeats, microphones as folders in short": (
        {
            f"{mic}/CrashL_Lyr{s:03d}_Rep{r:02d}.wav": level - 4 * (mic == "RM")
            for mic in ("OHL", "OHR", "RM")
            for s, r, level in strikes(3, 2)
        },
        {"Crash left · edge": [2] * 3},
        3,
    ),
    "no strength at all": (
        {f"Ride/ride bow {number:02d}.wav": -13.0 * (number * 7 % 3) for number in range(1, 13)},
        {"Ride · bow": [4] * 3},
        1,
    ),
    "articulations as words, strengths that count down, repeats in brackets": (
        {
            f"SD {articulation} {5 - s} ({r}).wav": level
            for articulation in ("Centre", "Cross Stick")
            for s, r, level in strikes(4, 3)
        },
        {"Snare · centre": [3] * 4, "Snare · side stick": [3] * 4},
        1,
    ),
    "uneven repeats, spaces and underscores mixed": (
        {f"Cow Bell/cow_bell  {WORDS[s - 1]}_hit {r}.wav": level for s, r, level in strikes(4, 4) if r <= 5 - s},
        {"Cowbell · hit": [4, 3, 2, 1]},
        1,
    ),
    "take numbers that run through all strengths": (
        {f"Tambourine/tamb_shake_{WORDS[s - 1]}_x{(s - 1) * 3 + r}.wav": level for s, r, level in strikes(4, 3)},
        {"Tambourine · shake": [3] * 4},
        1,
    ),
}


@pytest.mark.parametrize("name", CONVENTIONS)
def test_conventions_are_read_without_help(name: str):
    files, expected, mics = CONVENTIONS[name]
    reading = read(files)
    assert sizes(reading) == expected
    assert climbs(reading)
    assert len(reading.mics) == mics
    assert reading.unread == ()
    assert all(len(t.recordings) == mics for p in reading.pieces for a in p.articulations for t in a.takes)


def test_hands_are_kept_apart():
    files, *_ = CONVENTIONS["dynamic marks, hands, no zero padding, microphones as prefixes"]
    takes = read(files).pieces[0].articulations[0].takes
    assert {t.hand for t in takes} == {Hand.LEFT, Hand.RIGHT}


def columns(reading: SessionReading, group: int = 0) -> list[tuple[str, str, str]]:
    return [(c.text, c.meaning, c.reason) for c in reading.groups[group].columns]


def test_every_column_says_what_it_means_and_why():
    reading = read({f"Snare top/Snare centre/sn_{s:02d}_{r}_{'LR'[r % 2]}.wav": v for s, r, v in strikes(6, 4)})
    found = columns(reading)
    assert [(text, meaning) for text, meaning, _ in found] == [
        ("Snare top", "mic"),
        ("Snare centre", "piece articulation"),
        ("sn", "piece"),
        ("04", "strength"),
        ("1", "repeat"),
        ("R", "hand"),
    ]
    assert found[3][2].startswith("higher is louder, ") and found[4][2].startswith("higher is no louder (0.")
    assert reading.groups[0].columns[3].evidence > 0.9
    assert reading.groups[0].files == 24 and reading.groups[0].columns[3].distinct == 6


def ruled(reading: SessionReading, column: int, meaning: str) -> Guidance:
    return Guidance(rulings=(Ruling(group=reading.groups[0].key, column=column, meaning=meaning),))


def test_a_ruling_on_a_column_holds_for_all_files_of_its_group():
    files = {f"sn_{s}_{r}.wav": level for s, r, level in strikes(4, 4)}
    reading = read(files)
    turned = read(files, ruled(reading, 1, "repeat"))
    assert [c.meaning for c in turned.groups[0].columns][1] == "repeat" and turned.groups[0].columns[
        1
    ].reason == "you said so"
    assert turned.groups[0].key == reading.groups[0].key
    labels = [r.pieces[0].articulations[0].takes[0].label for r in (reading, turned)]
    assert labels == ["1-1", "1"]  # no strength in the names any more: layers from loudness
    passed_over = read(files, ruled(reading, 2, "ignored"))
    # Without their repeats three of four names say the same: they are listed, not lost.
    assert len(passed_over.unread) + passed_over.takes == 16


@pytest.mark.parametrize(("words", "sure"), [(("quay", "quay", "quay"), 0.9), (("quay", "quay", "jetty"), 0.7)])
def test_a_word_not_used_is_surer_to_mean_nothing_where_it_never_varies(words: tuple[str, ...], sure: float):
    files = {f"snare_{words[s - 1]}_v{s}_rr{r}.wav": level for s, r, level in strikes(3, 2)}
    word = read(files).groups[0].columns[1]
    assert (word.meaning, word.sure) == ("ignored", sure)


def test_unknown_words_become_strengths_ranked_by_their_level():
    words = ["feather", "walk", "run", "storm"]
    files = {f"Snare/snare {words[s - 1]} {r}.wav": level for s, r, level in strikes(4, 3)}
    reading = read(files)
    column = next(i for i, c in enumerate(reading.groups[0].columns) if c.text in words)
    assert reading.groups[0].columns[column].meaning == "strength" and reading.groups[0].columns[column].sure < 0.6
    (question,) = reading.questions
    assert question.guess == "strength" and "each has its own level" in question.sentence and reading.sure < 0.6
    told = read(files, ruled(reading, column, "strength"))
    assert sizes(told) == {"Snare · centre": [3] * 4} and climbs(told)


def test_a_folder_is_said_to_be_a_piece_and_another_a_microphone():
    files = {f"{mic}/Thunder Box/{s} {r}.wav": level for mic in ("Alpha", "Beta") for s, r, level in strikes(3, 2)}
    key = read(files).groups[0].key
    told = read(
        files,
        Guidance(rulings=(Ruling(group=key, column=0, meaning="mic"), Ruling(group=key, column=1, meaning="piece"))),
    )
    assert sizes(told) == {"Thunder Box · hit": [2] * 3}
    assert [m.name for m in told.mics] == ["Alpha", "Beta"]


def test_a_learned_word_is_known_in_every_name():
    files = {f"zork_{s}_{r}.wav": level for s, r, level in strikes(3, 2)}
    assert read(files).pieces[0].name == "Zork"
    told = read(files, Guidance(words=(LearnedWord(word="zork", meaning="piece", value="Floor tom"),)))
    assert (told.pieces[0].name, told.pieces[0].family) == ("Floor tom", Family.TOM)
    hushed = read(
        {f"kick_zork_{s}_{r}.wav": level for s, r, level in strikes(3, 2)},
        Guidance(words=(LearnedWord(word="zork", meaning="articulation", value="muffled"),)),
    )
    assert sizes(hushed) == {"Kick · muffled": [2] * 3}


def test_files_are_placed_by_hand_left_apart_or_taken_into_one_piece():
    files = {f"{mic}/sn_{s}_{r}.wav": v - 9 * (mic == "Room") for mic in ("Top", "Room") for s, r, v in strikes(4, 3)}
    files |= {"Top/keep this one maybe.wav": -STEP_DB, "Room/same again.wav": -STEP_DB - 9, "Top/cough.wav": -40.0}
    unread = read(files)
    assert {u.path for u in unread.unread} == {"Top/keep this one maybe.wav", "Room/same again.wav", "Top/cough.wav"}
    assert all(u.content for u in unread.unread)
    kept = PlacedFile(path="Top/keep this one maybe.wav", piece="Snare", mic="Top")
    told = read(files, Guidance(placed=(kept,), apart=("Top/cough.wav",)))
    assert sizes(told) == {"Snare · centre": [3, 3, 4, 3]}  # one layer under the loudest is 7 dB down
    assert told.apart == ("Top/cough.wav",) and [u.path for u in told.unread] == ["Room/same again.wav"]
    other = PlacedFile(path="Top/keep this one maybe.wav", piece="Snare", articulation="flam", mic="Top")
    assert sizes(read(files, Guidance(placed=(other,))))["Snare · flam"] == [1]
    clash = kept.model_copy(update={"beside": "Top/sn_2_1.wav"})
    said = {u.path: u.why for u in read(files, Guidance(placed=(clash,))).unread}
    assert "same take and microphone as sn_2_1.wav" in said["Top/keep this one maybe.wav"]
    into = read(files, Guidance(into="Thunder", into_family=Family.PERCUSSION))
    assert {p.name for p in into.pieces} == {"Thunder"}
