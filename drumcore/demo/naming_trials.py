"""How many takes the name reader places right, over conventions written for it, with and without its questions answered."""

from collections import defaultdict
from collections.abc import Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from itertools import product
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
import soundfile

from drumcore.demo.naming_conventions import Convention, Struck
from drumcore.demo.naming_sounds import EARS, HISS_DBFS, RATE_HZ, TIMBRES, WAYS, heard_by, strike
from drumcore.recordings.guidance import NO_GUIDANCE, Guidance, Meaning, Ruling
from drumcore.recordings.session import SessionReading, read_folder
from drumcore.recordings.unknown_words import Question
from drumcore.value import Value

MOST_ANSWERS = 2


@dataclass(frozen=True)
class Meant:
    """What a file is. Numbers count from 0."""

    struck: Struck
    strength: int
    repeat: int
    mic: int
    texts: Mapping[str, str]
    """What stands in its path, by the letter of its place."""


class ConventionFigures(Value):
    """Takes placed right of one convention: at once, and after at most two answers."""

    path: str
    takes: int
    right: int
    right_after: int
    questions: int
    answers: int
    said: str = ""
    """What was read, for somebody who looks for the fault."""

    @property
    def wrong_unasked(self) -> int:
        """Takes placed wrong although nothing was asked."""
        return 0 if self.questions else self.takes - self.right


def paths_of(convention: Convention) -> Iterator[tuple[str, Meant]]:
    """Every file's path with what it means."""
    struck_in_turn = product(convention.struck, enumerate(convention.strengths), enumerate(convention.repeats))
    counted: dict[Struck, int] = defaultdict(int)
    for struck, (v, said_v), (r, said_r) in struck_in_turn:
        counted[struck] += 1
        for m, said_m in enumerate(convention.mics):
            texts = {"p": struck.said, "a": struck.how, "v": said_v, "r": said_r, "m": said_m, "n": counted[struck]}
            path = convention.path.format(**texts)
            yield path, Meant(struck, v, r, m, {key: str(text) for key, text in texts.items()})


def write_recordings(convention: Convention, folder: Path, seed: int = 1) -> dict[str, Meant]:
    """Writes a convention's recordings into a folder, 16-bit mono, and returns what each means."""
    meant = dict(paths_of(convention))

    def write(item: tuple[str, Meant]) -> None:
        path, what = item
        place = folder / path
        place.parent.mkdir(parents=True, exist_ok=True)
        soundfile.write(place, _recorded(convention, what, seed), RATE_HZ, subtype="PCM_16")

    with ThreadPoolExecutor() as pool:
        list(pool.map(write, meant.items()))
    return meant


def _recorded(convention: Convention, what: Meant, seed: int) -> np.ndarray:
    number = convention.struck.index(what.struck)
    of_family = [s for s in convention.struck if s.family is what.struck.family]
    pieces = sorted({s.piece for s in of_family})
    articulations = [s for s in of_family if s.piece == what.struck.piece]
    tuned = 1.0 + 0.22 * pieces.index(what.struck.piece)
    later = articulations.index(what.struck)
    take = (seed, number, what.strength, what.repeat)
    rng = np.random.default_rng((*take, 3))
    lead_s, longer = rng.uniform(0.004, 0.011), rng.uniform(0.92, 1.08)
    strengths = len(convention.strengths)
    strength = 1.0 if strengths == 1 else what.strength / (strengths - 1)
    timbre = TIMBRES[what.struck.family]
    known, (_brighter, stretch) = what.struck.articulation in WAYS, WAYS.get(what.struck.articulation, (1.0, 1.0))
    if not known:
        tuned, stretch = tuned * (1.0 + 0.45 * later), stretch * (1.0 + 0.5 * later)
    lasts_s = max(timbre.ringing_ms, timbre.noise_ms) * stretch * 0.0055 * (0.7 + 0.3 * strength) * longer + 0.06
    dry = strike(what.struck.family, what.struck.articulation, tuned, strength, take, lasts_s)
    heard = heard_by(dry, EARS[what.mic], lead_s, number, take)
    if convention.padded:
        whole = round(max(timbre.ringing_ms, timbre.noise_ms) * 4 * 0.006 * RATE_HZ)
        hiss = np.random.default_rng((*take, what.mic, 5)).standard_normal(max(0, whole - len(heard)))
        heard = np.concatenate([heard, hiss * 10.0 ** (HISS_DBFS / 20.0)])[:whole]
    if convention.even:
        opening = heard[: round((lead_s + 0.3) * RATE_HZ)]
        heard = heard * 0.06 / float(np.sqrt(np.mean(opening**2)))
    return heard


def placed_right(reading: SessionReading, meant: Mapping[str, Meant]) -> int:
    """The takes placed right: a take's files, and no others, are a take of the family that was struck, in the layer of
    its strength, in an articulation that holds no other; and what is meant by a known word is called so.
    """
    takes: dict[tuple[Struck, int, int], set[str]] = defaultdict(set)
    for path, what in meant.items():
        takes[what.struck, what.strength, what.repeat].add(path)
    found: dict[frozenset[str], tuple[str, str, str, int]] = {}
    for piece in reading.pieces:
        for articulation in piece.articulations:
            layer_of = {take: number for number, layer in enumerate(articulation.layers) for take in layer.takes}
            for take in articulation.takes:
                paths = frozenset(r.path for r in take.recordings)
                found[paths] = (piece.name, piece.family.value, articulation.name, layer_of[take.id])
    cells: dict[Struck, set[tuple[str, str]]] = defaultdict(set)
    for (struck, _, _), files in takes.items():
        if there := found.get(frozenset(files)):
            cells[struck].add((there[0], there[2]))
    right = 0
    for (struck, strength, _), files in takes.items():
        there = found.get(frozenset(files))
        if there is None:
            continue
        piece_name, family, articulation_name, layer = there
        others = {cell for other, of in cells.items() if other is not struck for cell in of}
        named = struck.articulation not in WAYS or articulation_name == struck.articulation
        families = family == struck.family or struck.family.value in ("percussion", "other")
        alone = cells[struck] == {(piece_name, articulation_name)} and (piece_name, articulation_name) not in others
        right += families and named and alone and layer == strength
    return right


MEANINGS: dict[str, Meaning] = {
    "p": "piece",
    "a": "articulation",
    "v": "strength",
    "r": "repeat",
    "m": "mic",
    "n": "repeat",
}


def answered(question: Question, reading: SessionReading, meant: Mapping[str, Meant]) -> Meaning | None:
    """What somebody who knows the recordings answers: the place in the path whose text the column's text follows."""
    group = next((g for g in reading.groups if g.key == question.group), None)
    if group is None:
        return None
    example = meant[group.example]
    text = group.columns[question.column].text.lower()
    fits = [
        letter
        for letter, written in example.texts.items()
        if letter in MEANINGS and written and (_plain(text) == _plain(written) or text in written.lower().split())
    ] or [
        letter for letter, written in example.texts.items() if letter in MEANINGS and text and text in written.lower()
    ]
    return MEANINGS[fits[0]] if fits else "ignored"


def _plain(text: str) -> str:
    """A text without case and leading zeros."""
    return text.lower().lstrip("0")


def try_convention(convention: Convention, seed: int = 1) -> ConventionFigures:
    """Writes a convention's recordings, reads them, answers at most two questions, and counts."""
    with TemporaryDirectory() as name:
        folder = Path(name)
        meant = write_recordings(convention, folder, seed)
        reading = read_folder(folder)
        right = placed_right(reading, meant)
        guidance, answers, after = NO_GUIDANCE, 0, reading
        first = len(reading.questions)
        while after.questions and answers < MOST_ANSWERS:
            question = after.questions[0]
            meaning = answered(question, after, meant)
            if meaning is None:
                break
            places = ((question.group, question.column), *question.elsewhere)
            said = tuple(Ruling(group=group, column=column, meaning=meaning) for group, column in places)
            guidance = Guidance(rulings=(*guidance.rulings, *said))
            answers += 1
            after = read_folder(folder, guidance=guidance)
        return ConventionFigures(
            path=convention.path,
            takes=len({(w.struck, w.strength, w.repeat) for w in meant.values()}),
            right=right,
            right_after=placed_right(after, meant),
            questions=first,
            answers=answers,
            said=_said(after),
        )


def _said(reading: SessionReading) -> str:
    pieces = ", ".join(
        f"{p.name} · {a.name} {[len(layer.takes) for layer in a.layers]}"
        for p in reading.pieces
        for a in p.articulations
    )
    return f"{pieces}; microphones {', '.join(m.name for m in reading.mics)}; {len(reading.unread)} unread"
