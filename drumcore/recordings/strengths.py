"""Decides velocity layers and round robins for a whole session: by words, then structure, then sound."""

from collections import Counter
from collections.abc import Mapping
from itertools import pairwise
from statistics import mean

from drumcore.kit.values import Family
from drumcore.recordings.files import Unread
from drumcore.recordings.name_groups import grouped, misfit
from drumcore.recordings.names import NameReading
from drumcore.recordings.numbers import Decision, Shape, decide_numbers, shape_of
from drumcore.recordings.rank_correlation import RISES, rank_correlation
from drumcore.recordings.trade_words import DEFAULT_ARTICULATION, LETTER_STRENGTHS

AUDIBLE_STEP_DB = 1.5
MOST_STEPS = 0.6


def settle_strengths(readings: list[NameReading], levels: dict[str, float]) -> Mapping[Shape, Decision]:
    """Gives every reading its velocity layer, round robin and articulation; returns the decision for each form of name."""
    named = [r for r in readings if r.piece is not None]
    for reading in named:
        assert reading.piece is not None
        reading.articulation = reading.articulation or DEFAULT_ARTICULATION[reading.piece.family]
    for group in grouped(named, lambda r: (r.piece, r.articulation)).values():
        letters = [[w for w in r.unknown if w in LETTER_STRENGTHS] for r in group]
        used = {w for words in letters for w in words}
        if all(len(words) == 1 for words in letters) and {"s", "h"} <= used:
            for reading, words in zip(group, letters, strict=True):
                reading.strength = LETTER_STRENGTHS[words[0]]
        _rank_strength_words(group, levels)
        _count_letters(group, levels)
    decisions = decide_numbers(named, levels)
    for reading in named:
        decision = decisions.get(shape_of(reading))
        if decision is None:
            continue
        if decision.strength is not None and reading.strength is None:
            value = reading.numbers[decision.strength].value
            reading.strength = float(value if decision.rising else -value)
        if decision.repeat is not None and reading.repeat is None:
            reading.repeat = reading.numbers[decision.repeat].value
    for group in grouped(named, lambda r: (r.piece, r.articulation)).values():
        _doubt_lone_strengths(group, levels)
    return decisions


def reasons_for(readings: list[NameReading], decisions: Mapping[Shape, Decision]) -> list[str]:
    """Why the numbers mean what they do: one sentence for each form of name, the most frequent first."""
    counted = Counter(decisions[shape_of(r)].why for r in readings if r.piece is not None and shape_of(r) in decisions)
    return [f"In {count:,} files {why}." for why, count in counted.most_common()]


def _rank_strength_words(group: list[NameReading], levels: dict[str, float]) -> None:
    """Ranks words that the user called velocity layers by the levels of their files."""
    if not any(r.strength_word for r in group):
        return
    by_word = grouped(group, lambda r: r.strength_word or r.strength)
    loudness = {word: mean(levels[r.path] for r in members) for word, members in by_word.items() if word is not None}
    for rank, word in enumerate(sorted(loudness, key=lambda w: loudness[w]), start=1):
        for reading in by_word[word]:
            reading.strength = float(rank)


def _count_letters(group: list[NameReading], levels: Mapping[str, float]) -> None:
    """Single letters a, b, c… in every name of an articulation: velocity layers if they follow level, otherwise round
    robins.
    """
    letters = [[w for w in r.unknown if len(w) == 1 and w.isascii() and w.isalpha()] for r in group]
    used = {w for words in letters for w in words}
    if not (all(len(words) == 1 for words in letters) and len(used) > 1 and "a" in used):
        return
    places = [float(ord(words[0])) for words in letters]
    follows = rank_correlation(places, [levels[r.path] for r in group])
    rises = abs(follows) >= RISES and len(group) > len(used) and all(r.strength is None for r in group)
    for reading, place in zip(group, places, strict=True):
        if rises:
            reading.strength = place if follows > 0 else -place
        else:
            reading.repeat = reading.repeat if reading.repeat is not None else int(place)


def _doubt_lone_strengths(group: list[NameReading], levels: Mapping[str, float]) -> None:
    """A lone number that is a velocity layer elsewhere counts round robins here if it does not follow level, or if most
    steps from one number to the next are no louder.
    """
    for members in grouped(group, lambda r: r.mic.lower()).values():
        if len(members) < 4 or any(r.strength is None or r.repeat is not None for r in members):
            return
        if any(not r.numbers for r in members) or len({r.strength for r in members}) < len(members):
            return
        ordered = [levels[r.path] for r in sorted(members, key=lambda r: r.strength or 0.0)]
        steps = [b - a for a, b in pairwise(ordered)]
        rising = sum(step > AUDIBLE_STEP_DB for step in steps) >= MOST_STEPS * len(steps)
        if rising and rank_correlation([r.strength or 0.0 for r in members], [levels[r.path] for r in members]) >= 0.3:
            return
    for reading in group:
        reading.repeat, reading.strength = int(abs(reading.strength or 0.0)), None


def leave_out_misfits(
    readings: list[NameReading], contents: Mapping[str, str], left_out: list[Unread]
) -> list[NameReading]:
    """The readings that fit with the others; the rest is added to `left_out`. `contents` are hashes by path."""
    kept: list[NameReading] = []
    for group in grouped(readings, lambda r: (r.piece, r.articulation)).values():
        without = [r for r in group if r.strength is None]
        few = without and len(without) * 4 <= len(group)
        for reading in group:
            if few and reading.strength is None:
                reading.why_not = "it has no velocity layer where its neighbours have one"
                left_out.append(misfit(reading, contents))
            else:
                kept.append(reading)
    unknown = Counter(r.piece for r in kept if r.piece and r.piece.family is Family.OTHER)
    for reading in [r for r in kept if r.piece is not None and unknown.get(r.piece, 9) < 2]:
        reading.why_not = "no word in its name is known, and no other file shares them"
        left_out.append(misfit(reading, contents))
        kept.remove(reading)
    return kept
