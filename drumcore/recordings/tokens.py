"""Splits folder and file names into words and numbers."""

import re
from dataclasses import dataclass

from drumcore.recordings.lexicon import TRADE, Lexicon
from drumcore.recordings.trade_words import GLUED, NUMBER_WORDS, REPEAT_MARKS, SHORT_STRENGTHS, STRENGTH_MARKS

_NOTE = re.compile(r"(?<![A-Za-z0-9])([A-G])(#|♯|b|s)?(-?\d)(?![A-Za-z0-9])")
_RUN = re.compile(r"[A-Za-zÀ-ÿ]+|\d+")
_CAMEL = re.compile(
    r"[A-ZÀ-Þ]{2,}(?=[a-zß-ÿ](?![a-zß-ÿ]))|[A-ZÀ-Þ]+(?![a-zß-ÿ])|[A-ZÀ-Þ]?[a-zß-ÿ]+"  # “BDi”: BD and i
)
_ORDINAL = re.compile(r"\d(?:st|nd|rd|th)(?![A-Za-z])", re.IGNORECASE)
_SEMITONES = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
LONGEST_NUMBER = 6


@dataclass(frozen=True)
class Token:
    """A word (lower case), a number or a note name, and its position in the name. `attached`: nothing separates it from
    the token before.
    """

    text: str
    start: int
    end: int
    attached: bool = False
    number: int | None = None
    note: int | None = None
    """For a note name: its MIDI number when C3 is middle C."""


def tokens_of(part: str, lexicon: Lexicon = TRADE) -> list[Token]:
    """The tokens of one folder or file name, split at separators, changes of case, and between letters and digits."""
    found: list[Token] = []
    at = 0
    for match in _NOTE.finditer(part):
        found += _plain_tokens(part, at, match.start(), lexicon)
        letter, accidental, octave = match.groups()
        shift = {"#": 1, "♯": 1, "s": 1, "b": -1}.get(accidental or "", 0)
        note = 12 * (int(octave) + 2) + _SEMITONES[letter] + shift
        token = Token(match.group().lower(), match.start(), match.end(), note=note, number=abs(int(octave)))
        found.append(token)
        at = match.end()
    return found + _plain_tokens(part, at, len(part), lexicon)


def _plain_tokens(part: str, first: int, last: int, lexicon: Lexicon) -> list[Token]:
    found: list[Token] = []
    end = -1
    skip = 0
    for run in _RUN.finditer(part, first, last):
        if run.start() < skip:
            end = run.end()
            continue
        attached = run.start() == end
        end = run.end()
        if run.group()[0].isdigit():
            ordinal = _ORDINAL.match(part, run.start(), last)
            if ordinal:
                found.append(Token(ordinal.group().lower(), run.start(), ordinal.end(), attached))
                skip = ordinal.end()
                continue
            if len(run.group()) <= LONGEST_NUMBER:
                found.append(Token(run.group(), run.start(), end, attached, number=int(run.group())))
            continue
        words = _words(run.group(), lexicon)
        if len(words) == 1 and part[end : end + 1].isdigit():
            words = _without_mark(words[0], lexicon)
        spelled = "".join(words) == run.group().lower()
        at = run.start()
        if len(words) == 1 and words[0] in NUMBER_WORDS:
            found.append(Token(words[0], run.start(), end, attached, number=NUMBER_WORDS[words[0]]))
            continue
        for word in words:
            # An abbreviation that was written together has the position of the whole.
            start, stop = (at, at + len(word)) if spelled else (run.start(), end)
            found.append(Token(word, start, stop, attached))
            attached, at = True, stop
    return found


def _without_mark(word: str, lexicon: Lexicon) -> list[str]:
    """A run of letters before a number as a known word and the letters that mark the number or say a strength: the bdv of
    bdv1, the kickmf of kickmf1.
    """
    if word in lexicon.vocabulary or word in STRENGTH_MARKS or word in REPEAT_MARKS or word in GLUED:
        return [word]
    for size in (1, 2):
        known, mark = word[:-size], word[-size:]
        marks = mark in SHORT_STRENGTHS or (size == 1 and mark in STRENGTH_MARKS | REPEAT_MARKS)
        if marks and len(known) > 1 and (known in lexicon.vocabulary or known in GLUED):
            return [*GLUED.get(known, [known]), mark]
    return [word]


def _words(run: str, lexicon: Lexicon) -> list[str]:
    """A run of letters as words: whole if it is a known word, else split at changes of case or into two known words."""
    lower = run.lower()
    if lower in lexicon.vocabulary or lower in STRENGTH_MARKS or lower in REPEAT_MARKS:
        return [lower]
    if lower in GLUED:
        return GLUED[lower]
    pieces = [piece.lower() for piece in _CAMEL.findall(run)]
    if len(pieces) > 1:
        return [word for piece in pieces for word in _words(piece, lexicon)]
    for cut in range(len(lower) - 2, 1, -1):
        if lower[:cut] in lexicon.vocabulary and lower[cut:] in lexicon.vocabulary:
            return [lower[:cut], lower[cut:]]
    return [lower]
