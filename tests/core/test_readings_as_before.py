"""Names and recordings are read today as they were when somebody read it over (tests/kept)."""

import itertools
from collections.abc import Iterator, Mapping
from dataclasses import asdict
from pathlib import Path
from typing import get_args

import numpy as np

from drumcore.demo.start_trials import TRIALS
from drumcore.recordings.columns import Column
from drumcore.recordings.corrections import what_changed
from drumcore.recordings.gathering import Measured
from drumcore.recordings.guidance import NO_GUIDANCE, Guidance, Meaning, PlacedFile, Ruling
from drumcore.recordings.lexicon import LearnedWord
from drumcore.recordings.measuring import Measurements, measure
from drumcore.recordings.reading import Audio
from drumcore.recordings.session import SessionReading, read_session
from tests.core.test_ways_of_naming import read as read_way
from tests.core.ways_of_naming import TUNED, UNSEEN
from tests.kept import same_as_kept, short


def as_read(reading: SessionReading) -> Iterator[str]:
    for piece in reading.pieces:
        for stroke in piece.articulations:
            sizes = " ".join(str(len(layer.takes)) for layer in stroke.layers)
            labels = " ".join(take.label for take in stroke.takes)
            yield f"  {piece.name} ({piece.family.value}) · {stroke.name}: {sizes} | {labels} | {' '.join(piece.own_mics)}"
    yield f"  microphones: {', '.join(f'{m.name} {m.kind.value} {m.width.value}' for m in reading.mics)}"
    yield from (f"  unread: {one.path}: {one.why}" for one in reading.unread)
    yield from (f"  because: {reason}" for reason in reading.reasons)
    yield from (f"  asked: {short(one.model_dump(mode='json'))}" for one in reading.questions)


def columns_of(reading: SessionReading) -> Iterator[str]:
    for group in reading.groups:
        yield f"  {group.key} {group.files} {group.example}"
        yield from (f"    {' '.join(_column(column))}" for column in group.columns)


def _column(column: Column) -> Iterator[str]:
    yield f"“{column.text}” {column.meaning}: {column.reason}, {column.sure:g}{' doubtful' if column.doubtful else ''};"
    yield f"{column.place[0]} {column.distinct} {','.join(column.samples)}"
    yield from (
        f"{key} {value}"
        for key, value in (("evidence", column.evidence), ("ruled", column.ruling), ("in", column.ruled_in))
        if value is not None
    )
    if column.by_itself != column.meaning or column.elsewhere:
        yield f"by itself {column.by_itself}, elsewhere {column.elsewhere}"


def test_names_of_many_hands_are_read_as_they_were():
    lines = []
    for way in (*TUNED, *UNSEEN):
        reading = read_way(way)[0]
        lines += [f"# {way.name}", *as_read(reading), *columns_of(reading)]
    same_as_kept("readings", lines)


def test_rulings_change_what_they_changed():
    lines = []
    for way in TUNED[:3]:
        reading = read_way(way)[0]
        usual = [*as_read(reading)]
        for group in reading.groups[:1]:
            for number in range(len(group.columns)):
                for meaning in get_args(Meaning):
                    ruled = read_way(way, Guidance(rulings=(Ruling(group=group.key, column=number, meaning=meaning),)))[
                        0
                    ]
                    now = [line for line in as_read(ruled) if line not in usual]
                    lines += [f"# {way.name}: {group.key} {number} {meaning}", *now]
                    lines += [f"  changed: {line}" for line in what_changed(reading, ruled)]
    same_as_kept("rulings", lines)


def test_recordings_measure_as_they_did():
    lines = []
    for kind in TRIALS:
        for number in range(4):
            rng = np.random.default_rng([17, list(TRIALS).index(kind), number])
            rate = (44_100, 48_000, 96_000)[number % 3]
            sound, _, said = TRIALS[kind](rng, rate, 0.02 + 0.03 * number)
            loud = sound[:rate] * 10 ** (-4 * number / 20)
            sides = loud[:, None] if number % 2 else np.stack([loud, 0.7 * np.roll(loud, 9)], axis=1)
            raw = np.round(np.clip(sides, -1.0, 1.0) * (2**23 - 1)).astype(np.int32) << 8
            lines.append(f"# {kind} {number}: {said}")
            lines += [f"  {key}: {value}" for key, value in asdict(measure(Audio(raw, rate, "PCM_24", ""))).items()]
    same_as_kept("measures", lines)


def read_named(files: Mapping[str, tuple[float, float, int]], guidance: Guidance = NO_GUIDANCE) -> SessionReading:
    """Files of which only the names, the levels, the brightness in Hz and the widths differ, read as one session."""
    measured = []
    for number, (path, (level, hz, width)) in enumerate(files.items()):
        sizes = Measurements(level, level + 6, 5.0, 150.0, -90.0, 0, 0.0, hz, "0" * 96, "")
        measured.append(Measured(path, f"{number:040x}", 48_000, 9000, width, sizes))
    return read_session(measured, [], lambda recording: Path("/nowhere"), guidance)


LEARNED = [
    LearnedWord(word=word, meaning=meaning, value=value)
    for word, meaning, value in (
        ("sn", "piece", "Snare"), ("sn", "piece", "Tin can"), ("sn", "articulation", "rimshot"), ("sn", "articulation", "Clank"),
        ("sn", "mic", "room"), ("sn", "mic", ""), ("sn", "strength", "hard"), ("sn", "strength", "bold"), ("sn", "hand", "left"),
        ("sn", "hand", ""), ("sn", "ignored", ""), ("zz top", "mic", "overhead"), ("2", "ignored", ""), ("bd", "piece", "Snare"),
    )
]  # fmt: skip
SAYING = ("bd_sn_zz top_{v}_{r}", "zz top/sn bd {v} rr{r}", "sn/zz top/{v} {r}", "Sn{v} 2 L{r}", "zz top {v}")


def test_learned_words_read_as_they_did():
    lines = []
    for word, saying in itertools.product(LEARNED, SAYING):
        paths = {f"{saying.format(v=v, r=r)}.wav": -10.0 * v for v in (1, 2, 3) for r in (1, 2)}
        guidance = Guidance(words=(word,), into="Drum" if saying == SAYING[-1] else None)
        reading = read_named({path: (level, 900.0, 1) for path, level in paths.items()}, guidance)
        lines += [f"# {word.word} {word.meaning} {word.value}: {saying}", *as_read(reading), *columns_of(reading)]
    same_as_kept("learned", lines)


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
    "cowbell",
    "tin lid",
    "Cymbal",
)
STROKES = ("", "", "closed", "open", "rimshot", "sidestick", "edge", "bell", "centre", "choke", "scrape", "half open")
MICS = ("Top", "bottom", "OH", "OH L", "Room", "close", "Mono", "far", "In", "Out")
STRENGTHS: tuple[tuple[object, ...], ...] = (
    (1, 2, 3), ("01", "02", "03", "04"), ("soft", "medium", "hard"), ("p", "mf", "ff"), ("v1", "v2", "v3"), (20, 60, 100, 127),
    ("vel031", "vel064", "vel127"), ("1-42", "43-85", "86-127"), ("ghost", "loud"), ("A", "B", "C"),
)  # fmt: skip
REPEATS: tuple[tuple[object, ...], ...] = (
    (1, 2),
    ("rr1", "rr2", "rr3"),
    ("a", "b"),
    ("L", "R"),
    ("take 1", "take 2"),
    ("L1", "R1", "L2", "R2"),
    ("",),
)
OTHERS = ("", "", "", "Mx", "session 4", "C#2", "38", "dry", "take", "2031", "kit b")


def names_at_random(seed: int) -> dict[str, tuple[float, float]]:
    """Files as one of many hands would name them: their levels, and how bright they are."""
    rng = np.random.default_rng([23, seed])

    def one(of):
        return of[int(rng.integers(len(of)))]

    pieces = [one(PIECES) for _ in range(int(rng.integers(1, 4)))]
    strokes, strengths, repeats = [one(STROKES) for _ in range(int(rng.integers(1, 3)))], one(STRENGTHS), one(REPEATS)
    mics = [one(MICS) for _ in range(int(rng.integers(1, 3)))] if rng.random() < 0.6 else [""]
    other, turned = one(OTHERS), rng.random() < 0.15
    parts = ["{p}", "{s}", "{o}", "{v}", "{r}", "{m}"]
    if rng.random() < 0.5:
        parts = [parts[n] for n in rng.permutation(len(parts))]
    joints = [one((" ", "_", "-", "/", "")) if n else "" for n in range(len(parts))]
    found: dict[str, tuple[float, float]] = {}
    for p, s, m in itertools.product(dict.fromkeys(pieces), dict.fromkeys(strokes), dict.fromkeys(mics)):
        for (number, v), r in itertools.product(enumerate(strengths), repeats):
            if rng.random() < 0.04:
                continue
            told = {"p": p, "s": s, "o": other, "v": v, "r": r, "m": m}
            path = "".join(joint + part.format(**told) for joint, part in zip(joints, parts, strict=True))
            path = "/".join(folder.strip(" _-") or "x" for folder in path.split("/"))
            level = -9.0 * (number if turned else len(strengths) - number) + float(rng.normal(0.0, 0.8))
            found[f"{path}.wav"] = (round(level, 2), round(300.0 * (1 + len(p)) * float(rng.uniform(0.9, 1.1)), 1))
    return found


def test_names_at_random_are_read_as_they_were():
    lines = []
    for seed in range(90):
        named = names_at_random(seed)
        files = {path: (level, hz, 2 if "OH" in path and seed % 2 else 1) for path, (level, hz) in named.items()}
        paths = [*files]
        reading = read_named(files)
        lines += [f"# {seed}: {paths[0] if paths else ''}", *as_read(reading), *columns_of(reading)]
        # And once more with a column of it ruled, a file placed by hand and one left aside.
        if paths and reading.groups:
            rng = np.random.default_rng([29, seed])
            group = reading.groups[int(rng.integers(len(reading.groups)))]
            ruling = Ruling(
                group=group.key,
                column=int(rng.integers(max(1, len(group.columns)))),
                meaning=get_args(Meaning)[int(rng.integers(8))],
            )
            placed = PlacedFile(
                path=paths[-1], piece=("Snare", "Gong", "hats")[seed % 3], articulation=("", "edge")[seed % 2],
                mic=("", "Room", "Lamp")[seed % 3], beside=paths[0] if seed % 4 == 0 else None,
            )  # fmt: skip
            guided = Guidance(rulings=(ruling,), placed=(placed,), apart=(paths[len(paths) // 2],))
            ruled = read_named(files, guided)
            usual = {*as_read(reading)}
            lines.append(f"  ruled: {short(guided.model_dump(mode='json', exclude_defaults=True))}")
            lines += [f"  ruled: {line}" for line in as_read(ruled) if line not in usual]
            lines += [f"  changed: {line}" for line in what_changed(reading, ruled)]
    same_as_kept("random", lines)
