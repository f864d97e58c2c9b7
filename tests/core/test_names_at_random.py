"""Names as many hands would write them: whatever they are, no file is lost, no take is made of two strikes, and a ruling holds."""

import itertools
from collections import Counter
from collections.abc import Mapping
from pathlib import Path
from typing import get_args

import numpy as np
import pytest

from drumcore.recordings.files import Measured
from drumcore.recordings.guidance import NO_GUIDANCE, Guidance, Meaning, PlacedFile, Ruling
from drumcore.recordings.lexicon import LearnedWord
from drumcore.recordings.measurement import Measurements
from drumcore.recordings.session import SessionReading, read_session

PIECES = (
    "Kick",
    "BD",
    "snare",
    "SD",
    "SN",
    "hihat",
    "HH",
    "Tom 1",
    "tom2",
    "FloorTom",
    "crash",
    "Ride",
    "tin lid",
    "Cymbal",
)
ARTICULATIONS = ("", "", "closed", "open", "rimshot", "sidestick", "edge", "bell", "centre", "choke", "scrape")
MICS = ("Top", "bottom", "OH", "OH L", "Room", "close", "Mono", "far", "In", "Out")
STRENGTHS: tuple[tuple[object, ...], ...] = (
    (1, 2, 3), ("01", "02", "03", "04"), ("soft", "medium", "hard"), ("p", "mf", "ff"), ("v1", "v2", "v3"), (20, 60, 100, 127),
    ("vel031", "vel064", "vel127"), ("1-42", "43-85", "86-127"), ("ghost", "loud"), ("A", "B", "C"),
)  # fmt: skip
REPEATS: tuple[tuple[object, ...], ...] = (
    (1, 2), ("rr1", "rr2", "rr3"), ("a", "b"), ("L", "R"), ("take 1", "take 2"), ("L1", "R1", "L2", "R2"), ("",),
)  # fmt: skip
OTHERS = ("", "", "", "Mx", "session 4", "C#2", "38", "dry", "take", "2031", "kit b")
Files = Mapping[str, tuple[float, float]]


def names_at_random(seed: int) -> dict[str, tuple[float, float]]:
    """Files by their paths: their levels in dB, and how bright they are in Hz."""
    rng = np.random.default_rng([23, seed])

    def one(of):
        return of[int(rng.integers(len(of)))]

    pieces = [one(PIECES) for _ in range(int(rng.integers(1, 4)))]
    hits, strengths, repeats = (
        [one(ARTICULATIONS) for _ in range(int(rng.integers(1, 3)))],
        one(STRENGTHS),
        one(REPEATS),
    )
    mics = [one(MICS) for _ in range(int(rng.integers(1, 3)))] if rng.random() < 0.6 else [""]
    other = one(OTHERS)
    parts = ["{p}", "{s}", "{o}", "{v}", "{r}", "{m}"]
    if rng.random() < 0.5:
        parts = [parts[n] for n in rng.permutation(len(parts))]
    joints = [one((" ", "_", "-", "/", "")) if n else "" for n in range(len(parts))]
    found: dict[str, tuple[float, float]] = {}
    for p, s, m in itertools.product(dict.fromkeys(pieces), dict.fromkeys(hits), dict.fromkeys(mics)):
        for (number, v), r in itertools.product(enumerate(strengths), repeats):
            told = {"p": p, "s": s, "o": other, "v": v, "r": r, "m": m}
            path = "".join(joint + part.format(**told) for joint, part in zip(joints, parts, strict=True))
            path = "/".join(folder.strip(" _-") or "x" for folder in path.split("/"))
            level = -9.0 * (len(strengths) - number) + float(rng.normal(0.0, 0.8))
            found[f"{path}.wav"] = (round(level, 2), round(300.0 * (1 + len(p)) * float(rng.uniform(0.9, 1.1)), 1))
    return found


def read(files: Files, guidance: Guidance = NO_GUIDANCE) -> SessionReading:
    """Files of which only the names, the levels and the brightness differ, read as one session."""
    measured = []
    for number, (path, (level, hz)) in enumerate(files.items()):
        sizes = Measurements(level, level + 6, 5.0, 150.0, -90.0, 0, 0.0, hz, "0" * 96, "")
        measured.append(Measured(path, f"{number:040x}", 48_000, 9000, 2 if "OH" in path else 1, sizes))
    return read_session(measured, [], lambda recording: Path("/nowhere"), guidance)


def holds_every_file_once(reading: SessionReading, files: Files) -> None:
    placed = Counter(r.path for p in reading.pieces for a in p.articulations for t in a.takes for r in t.recordings)
    listed = Counter(entry.path for entry in reading.unread)
    assert placed + listed == Counter(files.keys()), "every file is in one take, or listed"
    assert all(len(entry.why) > 10 for entry in reading.unread), "with why"
    for piece in reading.pieces:
        for articulation in piece.articulations:
            for take in articulation.takes:
                mics = [recording.mic for recording in take.recordings]
                assert len(mics) == len(set(mics)), "a take has one recording a microphone"
            in_layers = [take for layer in articulation.layers for take in layer.takes]
            assert sorted(in_layers) == sorted(take.id for take in articulation.takes)
            levels = [
                np.median([t.level_db for t in articulation.takes if t.id in layer.takes])
                for layer in articulation.layers
            ]
            assert levels == sorted(levels), "layers climb"


@pytest.mark.parametrize("block", range(3))
def test_no_file_is_lost_whatever_the_names_are_and_every_column_says_why(block: int):
    for seed in range(block * 20, block * 20 + 20):
        files = names_at_random(seed)
        reading = read(files)
        holds_every_file_once(reading, files)
        for group in reading.groups:
            assert all(column.reason and {*column.meaning.split()} <= {*get_args(Meaning)} for column in group.columns)


def test_a_ruling_is_obeyed_and_no_file_is_lost_by_it():
    obeyed = 0
    for seed in range(40):
        files = names_at_random(seed)
        reading = read(files)
        rng = np.random.default_rng([29, seed])
        group = reading.groups[int(rng.integers(len(reading.groups)))]
        if not group.columns:
            continue
        number = int(rng.integers(len(group.columns)))
        meaning = get_args(Meaning)[int(rng.integers(8))]
        paths = [*files]
        placed = PlacedFile(path=paths[-1], piece="Gong", articulation="edge")
        guided = Guidance(rulings=(Ruling(group=group.key, column=number, meaning=meaning),), placed=(placed,))
        ruled = read(files, guided)
        holds_every_file_once(ruled, files)
        gong = next(piece for piece in ruled.pieces if piece.name == "Gong")
        assert paths[-1] in {r.path for a in gong.articulations for t in a.takes for r in t.recordings}
        same = next((each for each in ruled.groups if each.key == group.key), None)
        if same is not None and number < len(same.columns):
            obeyed += same.columns[number].meaning == meaning
            assert same.columns[number].ruling == meaning
    assert obeyed > 25


@pytest.mark.parametrize(
    ("word", "pieces", "mics"),
    [
        (LearnedWord(word="qx", meaning="piece", value="Snare"), {"Snare"}, {"Close"}),
        (LearnedWord(word="qx", meaning="piece", value="Tin can"), {"Tin can"}, {"Close"}),
        (LearnedWord(word="qx", meaning="mic", value="room"), {"Kick"}, {"Qx"}),
        (LearnedWord(word="qx", meaning="ignored", value=""), {"Kick"}, {"Close"}),
    ],
)
def test_a_word_that_was_explained_is_read_so_in_every_name(word: LearnedWord, pieces: set[str], mics: set[str]):
    name = "qx_{v}_{r}.wav" if word.meaning == "piece" else "kick_qx_{v}_{r}.wav"
    files = {name.format(v=v, r=r): (-10.0 * (4 - v), 300.0) for v in (1, 2, 3) for r in (1, 2)}
    reading = read(files, Guidance(words=(word,)))
    assert {piece.name for piece in reading.pieces} == pieces and not reading.unread
    assert [len(layer.takes) for layer in reading.pieces[0].articulations[0].layers] == [2, 2, 2]
    if word.meaning == "mic":
        assert [mic.kind.value for mic in reading.mics] == ["room"]
