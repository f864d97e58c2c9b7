"""Files that differ only by unknown words: sound decides what the words mean, and if it does not, the user is asked.

They are different pieces if they sound different (in brightness or decay), velocity layers if they sound alike and each
word has its own level, otherwise round robins with a question. Words of files that begin and end together have been
read as microphones before (`recordings.mic_marks`).
"""

from collections import defaultdict
from collections.abc import Mapping
from itertools import pairwise
from statistics import median
from typing import Literal

from drumcore.recordings.files import Measured
from drumcore.recordings.name_groups import grouped
from drumcore.recordings.name_parts import NamedPiece
from drumcore.recordings.names import NameReading
from drumcore.value import Value

UNLIKE_CENTROID = 1.3
UNLIKE_LENGTH = 1.7
WITHIN = 1.15
"""How far the files of one word differ among themselves where a difference between words tells anything."""
MOST_WORDS = 8
DOUBTFUL = 0.4
"""How sure a column is that had to be asked about."""
SURE = 0.6
"""A column that is less sure than this is the first thing to look at."""

Words = tuple[str, ...]


class Question(Value):
    """An open question: which column of which names, how it is read for now, and why it is open."""

    group: str
    column: int
    guess: Literal["repeat", "piece", "strength"]
    why: str
    sentence: str


def settle_unknown_words(readings: list[NameReading], by_path: Mapping[str, Measured]) -> list[Question]:
    """Gives readings with unknown words the piece, velocity layer or round robin that their sound suggests; returns
    open questions.
    """
    questions: dict[tuple[str, int], Question] = {}
    for group in grouped([r for r in readings if r.piece is not None], lambda r: (r.piece, r.articulation)).values():
        by_words: dict[Words, list[NameReading]] = defaultdict(list)
        for reading in group:
            by_words[tuple(reading.unknown)].append(reading)
        if not 2 <= len(by_words) <= MOST_WORDS or not _collide(by_words):
            continue
        telling = _telling(by_words)
        if telling is None or any(len(words[telling]) == 1 for words in by_words):
            continue  # single letters are handled in `recordings.strengths`
        _settle(by_words, telling, by_path, questions)
    return list(questions.values())


def _collide(by_words: Mapping[Words, list[NameReading]]) -> bool:
    """Whether files would be the same take and microphone if their unknown words were ignored."""
    places = [{_place(reading) for reading in members} for members in by_words.values()]
    first = places[0]
    return all(len(first & others) * 2 > min(len(first), len(others)) for others in places[1:])


def _place(reading: NameReading) -> tuple[object, ...]:
    numbers = tuple(n.value for n in reading.numbers)
    return (reading.mic.lower(), reading.strength, reading.strength_word, reading.repeat, reading.hand, numbers)


def _telling(by_words: Mapping[Words, list[NameReading]]) -> int | None:
    """The unknown word that differs between names, if there is exactly one such position."""
    lengths = {len(words) for words in by_words}
    if len(lengths) != 1:
        return None
    varying = [place for place in range(lengths.pop()) if len({words[place] for words in by_words}) > 1]
    return varying[0] if len(varying) == 1 else None


def _settle(
    by_words: Mapping[Words, list[NameReading]],
    telling: int,
    by_path: Mapping[str, Measured],
    questions: dict[tuple[str, int], Question],
) -> None:
    named = {words: words[telling] for words in by_words}
    example = next(iter(by_words.values()))[0]
    assert example.piece is not None
    if _unlike(by_words, by_path):
        for words, members in by_words.items():
            for reading in members:
                assert reading.piece is not None
                title = f"{reading.piece.name} {named[words].capitalize()}"
                reading.piece = NamedPiece(title, reading.piece.family, reading.piece.index)
                reading.unknown = [word for place, word in enumerate(reading.unknown) if place != telling]
        guess, why = "piece", "they sound unlike"
    elif _levels_apart(by_words, by_path):
        for words, members in by_words.items():
            for reading in members:
                reading.strength_word = named[words]
                reading.unknown = [word for place, word in enumerate(reading.unknown) if place != telling]
        guess, why = "strength", "they sound alike and each has its own level"
    else:
        guess, why = "repeat", "they sound alike and are as loud"
    listed = " and ".join(f"“{word}”" for word in sorted(set(named.values()))[:4])
    read_as = {
        "piece": "different pieces",
        "strength": "velocity layers",
        "repeat": "round robins of one articulation",
    }[guess]
    for reading in (members[0] for members in by_words.values()):
        column = next((k for k, (text, _) in enumerate(reading.segments) if text.lower() in named.values()), None)
        if column is not None:
            questions[reading.group, column] = Question(
                group=reading.group,
                column=column,
                guess=guess,
                why=why,
                sentence=f"Nothing known tells {listed} of {example.piece.title} apart; because {why} they are read as "
                f"{read_as}.",
            )


def _unlike(by_words: Mapping[Words, list[NameReading]], by_path: Mapping[str, Measured]) -> bool:
    """Whether brightness or decay differs more between words than within them, at the same positions in the names."""
    for measure, enough in (("centroid_hz", UNLIKE_CENTROID), ("length_ms", UNLIKE_LENGTH)):
        ratios = []
        base = {_place(r): getattr(by_path[r.path].measurements, measure) for r in next(iter(by_words.values()))}
        for members in list(by_words.values())[1:]:
            there = [
                getattr(by_path[r.path].measurements, measure) / base[_place(r)]
                for r in members
                if base.get(_place(r), 0.0) > 0.0
            ]
            if not there:
                return False
            middle = median(there)
            steady = all(1.0 / WITHIN <= ratio / middle <= WITHIN for ratio in there)
            ratios.append(max(middle, 1.0 / middle) if middle > 0.0 and steady else 1.0)
        if ratios and min(ratios) >= enough:
            return True
    return False


def _levels_apart(by_words: Mapping[Words, list[NameReading]], by_path: Mapping[str, Measured]) -> bool:
    """Whether in each microphone every word's files have levels of their own."""
    if any(r.strength is not None for members in by_words.values() for r in members):
        return False
    for mic in {r.mic.lower() for members in by_words.values() for r in members}:
        levels = sorted(
            [by_path[r.path].measurements.level_db for r in members if r.mic.lower() == mic]
            for members in by_words.values()
        )
        levels = [found for found in levels if found]
        if len(levels) < 2 or any(max(a) >= min(b) for a, b in pairwise(levels)):
            return False
    return True
