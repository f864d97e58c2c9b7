"""Names and recordings are read today as they were when somebody read it over (tests/kept)."""

import itertools
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import get_args

import numpy as np

from drumcore.demo.start_trials import TRIALS
from drumcore.recordings.corrections import what_changed
from drumcore.recordings.gathering import Measured
from drumcore.recordings.guidance import Guidance, Meaning, Ruling
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
        for column in group.columns:
            yield f"    {short(column.model_dump(mode='json', exclude_defaults=True))}"


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
        measured = [
            Measured(
                path,
                f"{n:040x}",
                48_000,
                9000,
                1,
                Measurements(level, level + 6, 5.0, 150.0, -90.0, 0, 0.0, 900.0, "0" * 96, ""),
            )
            for n, (path, level) in enumerate(paths.items())
        ]
        reading = read_session(measured, [], lambda recording: Path("/nowhere"), guidance)
        lines += [f"# {word.word} {word.meaning} {word.value}: {saying}", *as_read(reading), *columns_of(reading)]
    same_as_kept("learned", lines)
