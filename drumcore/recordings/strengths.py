"""Decides velocity layers and round robins for a whole session: by words, then structure, then sound."""

from collections import Counter
from collections.abc import Mapping
from itertools import pairwise
from statistics import mean, median

from drumcore.kit.values import Family
from drumcore.recordings.files import Unread
from drumcore.recordings.name_groups import grouped, misfit
from drumcore.recordings.names import NameReading
from drumcore.recordings.numbers import Decision, Shape, decide_numbers, shape_of
from drumcore.recordings.rank_correlation import RISES, rank_correlation
from drumcore.recordings.trade_words import DEFAULT_ARTICULATION, LETTER_STRENGTHS

AUDIBLE_STEP_DB = 1.5
MOST_STEPS = 0.6
UNEVEN = 0.35
DOUBTED = 0.85


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
        rank_known_words(group, levels)
        _rank_strength_words(group, levels)
        _count_letters(group, levels)
    said = _take_away_constant(named)
    decisions = decide_numbers(named, levels)
    for reading in named:
        decision = decisions.get(shape_of(reading))
        if decision is None or (reading.path in said and decision.strength is None):
            reading.strength = reading.strength if reading.strength is not None else said.get(reading.path)
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


def _take_away_constant(readings: list[NameReading]) -> dict[str, float]:
    """Takes away a word for strength that all names share, which says nothing if their numbers do; returns what it was,
    by path.
    """
    said = {reading.strength for reading in readings}
    if len(said) != 1 or None in said or not all(reading.numbers for reading in readings):
        return {}
    taken = {r.path: r.strength for r in readings if r.strength is not None}
    for reading in readings:
        reading.strength = None
    return taken


def reasons_for(readings: list[NameReading], decisions: Mapping[Shape, Decision]) -> list[str]:
    """Why the numbers mean what they do: one sentence for each form of name, the most frequent first."""
    counted = Counter(decisions[shape_of(r)].why for r in readings if r.piece is not None and shape_of(r) in decisions)
    return [f"In {count:,} files {why}." for why, count in counted.most_common()]


def rank_known_words(group: list[NameReading], levels: Mapping[str, float]) -> None:
    """Ranks known words for strength by their files' levels, if those tell them apart: whether an accent is harder than
    hard, nobody but the recordings knows. Words alike in level keep their usual order.
    """
    known = {r.strength_said for r in group if r.strength_said}
    if len(known) < 2 or any(not r.strength_said or r.strength_word for r in group):
        return
    usual = {r.strength_said: r.strength or 0.0 for r in group}
    by_mic = grouped(group, lambda r: r.mic.lower()).values()
    above = {
        word: mean(
            mean(levels[r.path] for r in files if r.strength_said == word) - mean(levels[r.path] for r in files)
            for files in by_mic
            if any(r.strength_said == word for r in files)
        )
        for word in known
    }
    ordered = sorted(known, key=lambda word: (above[word], usual[word]))
    apart = all(above[b] - above[a] >= AUDIBLE_STEP_DB for a, b in pairwise(ordered))
    if not apart:
        ordered = sorted(known, key=lambda word: (usual[word], above[word]))
    for reading in group:
        reading.strength = float(ordered.index(reading.strength_said) + 1)


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
    doubted = False
    for members in grouped(group, lambda r: r.mic.lower()).values():
        if len(members) < 4 or any(r.strength is None or r.repeat is not None for r in members):
            return
        if any(n.mark.startswith("strength") for r in members for n in r.numbers):
            return
        if any(not r.numbers for r in members) or len({r.strength for r in members}) < len(members):
            return
        ordered = [levels[r.path] for r in sorted(members, key=lambda r: r.strength or 0.0)]
        steps = [b - a for a, b in pairwise(ordered)]
        rising = sum(step > AUDIBLE_STEP_DB for step in steps) >= MOST_STEPS * len(steps)
        rising = rising and median(steps) >= UNEVEN * max(steps)  # few large steps are the layers of a running number
        correlation = rank_correlation([r.strength or 0.0 for r in members], [levels[r.path] for r in members])
        if rising and correlation >= 0.3:
            return
        doubted |= correlation >= DOUBTED
    for reading in group:
        reading.doubted = doubted
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
