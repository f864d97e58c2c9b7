"""The words a reader knows: trade terms, and words learned from the user."""

import functools
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field

from drumcore.kit.values import Family, Hand, MicKind
from drumcore.recordings.trade_words import (
    ARTICULATIONS,
    HANDS,
    IGNORED,
    MIC_KINDS,
    MIC_POSITIONS,
    MIC_WORDS,
    PIECES,
    STRENGTHS,
)
from drumcore.value import Value

LONGEST = 3
FAR_MICS = {"room": MicKind.ROOM, "ambien": MicKind.ROOM, "overh": MicKind.OVERHEAD}
"""How unknown words for microphones begin that are never close: “roomy”, “overheadz”."""
WordMeaning = Literal["piece", "articulation", "mic", "strength", "hand", "ignored"]


def _plain(word: object) -> object:
    """A word normalised for comparison: lower case, single spaces."""
    return " ".join(word.lower().split()) if isinstance(word, str) else word


class LearnedWord(Value):
    """A word the user explained, such as “sn” for Snare. `value` is its meaning; empty means the word itself."""

    word: Annotated[str, BeforeValidator(_plain), Field(min_length=1, max_length=60)]
    meaning: WordMeaning
    value: Annotated[str, Field(max_length=60)] = ""


@dataclass(frozen=True)
class Phrase:
    """Words that decide one thing; `value` is their meaning, as listed in their role's table."""

    role: str
    text: str
    size: int
    value: Any


Tables = tuple[tuple[str, Mapping[str, Any]], ...]
_TRADE: Tables = (
    ("piece", PIECES),
    ("mic", MIC_KINDS),
    ("articulation", ARTICULATIONS),
    ("strength", STRENGTHS),
    ("hand", HANDS),
    ("position", MIC_POSITIONS),
    ("micword", dict.fromkeys(MIC_WORDS, "")),
    ("ignored", dict.fromkeys(IGNORED, "")),
)


@dataclass(frozen=True)
class Lexicon:
    """Tables in order of preference, and every word in them."""

    tables: Tables
    vocabulary: frozenset[str]

    def phrase_at(self, words: list[str]) -> Phrase | None:
        """The longest phrase at the start of a list of words; among equal lengths, the first table's."""
        for size in range(min(LONGEST, len(words)), 0, -1):
            text = " ".join(words[:size])
            for role, table in self.tables:
                if text in table:
                    return Phrase(role, text, size, table[text])
        far = next((kind for start, kind in FAR_MICS.items() if words and words[0].startswith(start)), None)
        return Phrase("mic", words[0], 1, far) if far else None


def _lexicon(tables: Tables) -> Lexicon:
    return Lexicon(
        tables,
        frozenset(word for _, table in tables for phrase in table for word in (phrase, *phrase.split())),
    )


TRADE = _lexicon(_TRADE)


@functools.lru_cache(maxsize=16)
def lexicon_with(words: tuple[LearnedWord, ...]) -> Lexicon:
    """The built-in words with learned ones before them."""
    if not words:
        return TRADE
    learned: dict[str, dict[str, Any]] = {}
    for entry in words:
        text = " ".join(entry.word.lower().split())
        learned.setdefault(entry.meaning, {})[text] = _value(entry, text)
    return _lexicon((*learned.items(), *_TRADE))


def _value(entry: LearnedWord, text: str) -> Any:
    value = entry.value.strip() or text
    if entry.meaning == "piece":
        return known_piece(value)
    if entry.meaning == "articulation":
        return ARTICULATIONS.get(value.lower(), value.lower())
    if entry.meaning == "mic":
        return MIC_KINDS.get(value.lower(), MicKind.CLOSE)
    if entry.meaning == "strength":
        return STRENGTHS.get(value.lower(), 5.0)
    if entry.meaning == "hand":
        return HANDS.get(value.lower(), Hand.RIGHT)
    return ""


def known_piece(name: str) -> tuple[str, Family]:
    """A piece's name and family: those of the known drum, or the name itself and family `other`."""
    found = PIECES.get(name.lower())
    if found:
        return found
    named = {title.lower(): (title, family) for title, family in PIECES.values()}
    return named.get(name.lower(), (name[:1].upper() + name[1:], Family.OTHER))


def family_of(name: str) -> Family:
    """The family a name stands for, by the longest known word in it; `other` if there is none."""
    words = name.lower().split()
    runs = [" ".join(words[a:b]) for a in range(len(words)) for b in range(len(words), a, -1)]
    known = [run for run in runs if run in PIECES]
    return PIECES[max(known, key=len)][1] if known else Family.OTHER
