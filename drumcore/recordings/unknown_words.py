"""Files that differ only by unknown words: sound decides what the words mean, and the user is asked.

They are different articulations if they sound different (in brightness or decay), of drums that kits have several of
different pieces; velocity layers if they sound alike and each word has its own level; otherwise round robins. Words of
files that begin and end together have been read as microphones before (`recordings.mics_by_sound`).
"""

from collections import defaultdict
from collections.abc import Hashable, Mapping
from itertools import pairwise
from typing import Literal

from drumcore.kit.values import Family
from drumcore.recordings.files import Measured
from drumcore.recordings.name_groups import grouped
from drumcore.recordings.name_parts import NamedPiece
from drumcore.recordings.names import HEIGHTS, NameReading
from drumcore.recordings.sound_differences import sound_unlike
from drumcore.value import Value

SEVERAL = (Family.KICK, Family.SNARE, Family.TOM, Family.CRASH, Family.SPLASH, Family.CHINA)
"""Drums of which kits have several, called by words of their own."""
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
    guess: Literal["repeat", "piece", "strength", "articulation"]
    why: str
    sentence: str
    elsewhere: tuple[tuple[str, int], ...] = ()
    """Columns (group, column) of other kinds of names that the same answer settles."""


def settle_unknown_words(readings: list[NameReading], by_path: Mapping[str, Measured]) -> list[Question]:
    """Gives readings with unknown words the piece, velocity layer or round robin that their sound suggests; returns
    open questions.
    """
    questions: dict[tuple[str, ...], Question] = {}
    for group in grouped([r for r in readings if r.piece is not None], lambda r: (r.piece, r.articulation)).values():
        _doubt_known_beside_unknown(group)
        by_words: dict[Words, list[NameReading]] = defaultdict(list)
        most = max(len(reading.unknown) for reading in group)
        extra = {word for reading in group if len(reading.unknown) == most for word in reading.unknown}
        for reading in group:
            by_words[tuple(reading.unknown)].append(reading)
        if most == 1 and len(extra) == 1 and len(by_words) == 2:
            by_words = {words or ("",): members for words, members in by_words.items()}
        if not 2 <= len(by_words) <= MOST_WORDS or not _collide(by_words):
            continue
        telling = _telling(by_words)
        if telling is None or any(len(words[telling]) == 1 for words in by_words) or _only_a_letter(by_words):
            continue  # single letters are handled in `recordings.strengths`
        _settle(by_words, telling, by_path, questions)
    return list(questions.values())


def _only_a_letter(by_words: Mapping[Words, list[NameReading]]) -> bool:
    """Whether some names have no unknown word, and the others only one of a letter or two."""
    return ("",) in by_words and all(len(words[0]) < 3 for words in by_words)


def _doubt_known_beside_unknown(group: list[NameReading]) -> None:
    """Makes a known word for strength unknown where most of its neighbours have unknown ones in its place: of feather,
    light, firm and full the trade knows one.
    """
    known = [r for r in group if r.strength_said and r.strength is not None]
    others = [r for r in group if r.strength is None and r.unknown]
    few = {r.strength_said for r in known}
    if not known or len(known) + len(others) != len(group) or len(few) >= len({r.unknown[0] for r in others}):
        return
    if {len(r.unknown) + 1 for r in known} != {len(r.unknown) for r in others}:
        return
    for reading in known:
        reading.unknown = [reading.strength_said, *reading.unknown]
        reading.strength, reading.strength_said = None, ""


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
    questions: dict[tuple[str, ...], Question],
) -> None:
    named = {words: words[telling] for words in by_words}
    example = next(iter(by_words.values()))[0]
    assert example.piece is not None
    parts: dict[str, dict[Hashable, Measured]] = {
        named[words]: {_place(r): by_path[r.path] for r in members} for words, members in by_words.items()
    }
    if sound_unlike(list(parts.values())):
        several = example.piece.family in SEVERAL and not example.articulations and "" not in named.values()
        for words, members in by_words.items():
            for reading in members:
                assert reading.piece is not None
                if not named[words]:
                    continue
                if several:
                    title = f"{reading.piece.name} {named[words].capitalize()}"
                    reading.piece = NamedPiece(title, reading.piece.family, reading.piece.index)
                else:
                    word = HEIGHTS.get(named[words], named[words])
                    reading.articulations = (*reading.articulations, word)
                    reading.articulation = " ".join(reading.articulations)
                reading.unknown = [word for place, word in enumerate(reading.unknown) if place != telling]
        if all(word in HEIGHTS for word in named.values()):
            return  # of two blocks that sound unlike, “hi” and “lo” leave no doubt
        guess, why = ("piece" if several else "articulation"), "they sound unlike"
    elif _levels_apart(by_words, by_path):
        for words, members in by_words.items():
            for reading in members:
                reading.strength_word = named[words]
                reading.unknown = [word for place, word in enumerate(reading.unknown) if place != telling]
        guess, why = "strength", "they sound alike and each has its own level"
    else:
        guess, why = "repeat", "they sound alike and are as loud"
    listed = " and ".join(
        f"“{word}”" if word else "names without it" for word in sorted(set(named.values()))[::-1][:4][::-1]
    )
    read_as = {
        "piece": "different pieces",
        "articulation": "different articulations",
        "strength": "velocity layers",
        "repeat": "round robins of one articulation",
    }[guess]
    places: dict[tuple[str, int], None] = {}
    for reading in (members[0] for members in by_words.values()):
        column = next(
            (k for k, (text, _) in enumerate(reading.segments) if text.lower() in named.values() and text), None
        )
        if column is not None:
            places[reading.group, column] = None
    key = (guess, *sorted(set(named.values())))
    before = questions.get(key)
    if before is not None:
        known = ((before.group, before.column), *before.elsewhere)
        more = tuple(place for place in places if place not in known)
        questions[key] = before.but(elsewhere=(*before.elsewhere, *more))
    elif places:
        (group, at), *others = places
        questions[key] = Question(
            group=group,
            column=at,
            guess=guess,
            why=why,
            sentence=f"Nothing known tells {listed} of {example.piece.title} apart; because {why} they are read as "
            f"{read_as}.",
            elsewhere=tuple(others),
        )


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
