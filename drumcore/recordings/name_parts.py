"""Reads one folder or file name: what each word decides by itself, or by the user's correction of its column."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field

from drumcore.kit.values import Family, Hand, MicKind
from drumcore.recordings.guidance import Meaning
from drumcore.recordings.lexicon import TRADE, Lexicon, Phrase, known_piece
from drumcore.recordings.tokens import Token, tokens_of
from drumcore.recordings.trade_words import (
    ARTICULATIONS,
    BETWEEN_MIC_AND_ARTICULATION,
    HANDS,
    MIC_KINDS,
    REPEAT_MARKS,
    SIZE_WORDS,
    STRENGTH_MARKS,
    STRENGTHS,
)

RULED = "!"
"""Behind a number's mark: somebody said so, and nothing overrules it."""


@dataclass(frozen=True)
class Number:
    """A number in a name. `mark` is `strength` or `repeat` if the word before it, or a correction, says so. `segment`
    is its position among the segments of the file name, −1 for a folder.
    """

    value: int
    mark: str = ""
    attached_to_piece: bool = False
    beside_piece: bool = False
    segment: int = -1
    articulation: str = ""
    """The articulation whose word it stands behind: “Open2”."""
    attached: bool = False


@dataclass(frozen=True)
class NoteText:
    """What reads as a note name: the note, and for “A1” that is no note after all its letter and its number."""

    note: int
    text: str
    number: int = 0
    segment: int = -1


@dataclass(frozen=True)
class NamedPiece:
    name: str
    family: Family
    index: int | None = None

    @property
    def title(self) -> str:
        return self.name if self.index is None else f"{self.name} {self.index}"

    @property
    def specific(self) -> bool:
        return self.index is not None or len(self.name.split()) > 1


@dataclass(frozen=True)
class Segment:
    """A part of a name that decides one thing: a word, a phrase, or a number with its mark. `role` says what."""

    start: int
    end: int
    role: str


@dataclass
class PartReading:
    """What one folder or file name says."""

    text: str
    pieces: list[NamedPiece] = field(default_factory=list)
    articulations: list[str] = field(default_factory=list)
    mic_text: str = ""
    mic_kind: MicKind | None = None
    strength: float | None = None
    strength_said: str = ""
    strength_word: str = ""
    repeat: int | None = None
    hand: Hand | None = None
    notes: list[NoteText] = field(default_factory=list)
    positions: list[str] = field(default_factory=list)
    size: int | None = None
    piece_letter: str = ""
    """A single letter right behind a piece: “Crash B”."""
    maybe_close: bool = False
    """A word of it means a close microphone as well as closed hats."""
    numbers: list[Number] = field(default_factory=list)
    unknown: list[str] = field(default_factory=list)
    segments: list[Segment] = field(default_factory=list)
    mic_words: list[str] = field(default_factory=list)
    said_pieces: list[NamedPiece] = field(default_factory=list)
    begins_with_t: bool = False
    """“T2…”: the second tom, where no other word says what was struck; else a take."""

    @property
    def names_mic(self) -> bool:
        return self.mic_kind is not None

    @property
    def shape(self) -> str:
        """The roles of its segments; names of the same shape form a group."""
        return " ".join(segment.role for segment in self.segments)


def read_part(
    text: str,
    *,
    is_folder: bool,
    lexicon: Lexicon = TRADE,
    meanings: Mapping[int, Meaning] | None = None,
    letters: Collection[str] = (),
) -> PartReading:
    """Reads one folder or file name (without its suffix). `meanings` overrides single segments, by position. `letters`
    only mark the number behind them: “p” where names have p1 to p5.
    """
    part = PartReading(text)
    tokens = tokens_of(text, lexicon)
    ruled = meanings or {}
    at, previous, begun = 0, "", None
    while at < len(tokens):
        token = tokens[at]
        if _is_size(tokens, at):
            part.size = token.number
            part.segments.append(Segment(token.start, tokens[at + 1].end, "ignored"))
            at, previous = at + 2, "ignored"
            continue
        if token.number is None and _marks_a_number(tokens, at, letters):
            part.begins_with_t |= at == 0 and token.text == "t"
            if previous == "piece" and len(token.text) == 1:
                part.piece_letter = token.text
            at, previous, begun = at + 1, "mark", token.start
            continue
        phrase = None if token.number is not None else lexicon.phrase_at(_words_from(tokens, at))
        size = phrase.size if phrase else 1
        place, end = len(part.segments), tokens[at + size - 1].end
        start = token.start if begun is None else begun
        begun = None
        ruling = ruled.get(place)
        if ruling is not None:
            role = _natural_role(token, phrase, part, is_folder, previous)
            _ruled(part, ruling, text[token.start : end].strip(), token)
        elif token.note is not None:
            part.notes.append(NoteText(token.note, token.text, token.number or 0, len(part.segments)))
            role = "note"
        elif token.number is not None:
            _read_number(part, token, tokens, at, previous, is_folder)
            role = "number"
        elif phrase is None:
            part.unknown.append(token.text)
            role = "unknown"
        else:
            role = _natural_role(token, phrase, part, is_folder, previous)
            _take_phrase(part, phrase, role, previous)
        if previous == "piece" and len(token.text) == 1 and token.number is None:
            part.piece_letter = token.text
        part.segments.append(Segment(start, end, role))
        at, previous = at + size, role if token.number is None else "number" if token.note is None else "note"
    part.pieces = _with_said(part.pieces, part.said_pieces)
    if part.mic_kind is not None:
        part.mic_text = text.strip() if is_folder else " ".join(part.mic_words)
    return part


def _with_said(pieces: list[NamedPiece], said: list[NamedPiece]) -> list[NamedPiece]:
    """The pieces in a name after the user called a word a piece: beside a known piece, a word without a family becomes
    part of that piece's name.
    """
    if not said:
        return pieces
    which = [piece for piece in said if piece.family is Family.OTHER]
    if pieces and which:
        first = pieces[0]
        return [NamedPiece(" ".join([first.name, *(p.name for p in which)]), first.family, first.index), *pieces[1:]]
    return said + pieces


def rule_folder(text: str, meaning: Meaning, lexicon: Lexicon) -> PartReading:
    """Applies the user's meaning of a whole folder name."""
    read = read_part(text, is_folder=True, lexicon=lexicon)
    part = PartReading(text, segments=read.segments)
    if meaning == "piece":
        part.pieces = read.pieces or [NamedPiece(*known_piece(text.strip()))]
    elif meaning == "articulation":
        part.articulations = read.articulations or [text.strip().lower()]
    elif meaning == "mic":
        part.mic_kind, part.mic_text = read.mic_kind or MicKind.CLOSE, text.strip()
        part.pieces = read.pieces
    elif meaning == "strength":
        part.strength = read.strength
        part.numbers = [Number(n.value, "strength" + RULED) for n in read.numbers[:1]]
        if part.strength is None and not part.numbers:
            part.strength_word = text.strip().lower()
    elif meaning == "repeat":
        part.numbers = [Number(n.value, "repeat" + RULED) for n in read.numbers[:1]]
    elif meaning == "hand":
        part.hand = read.hand or HANDS.get(text.strip().lower()[:1])
    elif meaning == "note":
        part.notes = read.notes or [NoteText(n.value, str(n.value)) for n in read.numbers[:1] if n.value < 128]
    return part


def _words_from(tokens: list[Token], at: int) -> list[str]:
    words = []
    for token in tokens[at:]:
        if token.number is not None:
            break
        words.append(token.text)
    return words


def _is_size(tokens: list[Token], at: int) -> bool:
    """Whether a number says how large a drum or cymbal is: “16in”, “14 inch”."""
    token, following = tokens[at], tokens[at + 1] if at + 1 < len(tokens) else None
    if token.number is None or token.note is not None or following is None or not 5 <= token.number <= 30:
        return False
    inside = following.text == "in" and (token.attached or not following.attached)  # “Kick 8 in”: the microphone
    return following.text in SIZE_WORDS and not inside


def _marks_a_number(tokens: list[Token], at: int, letters: Collection[str]) -> bool:
    following = tokens[at + 1] if at + 1 < len(tokens) else None
    if following is None or following.number is None or following.note is not None:
        return False
    word = tokens[at].text
    if word in letters:
        return following.attached
    if word in STRENGTH_MARKS or word in REPEAT_MARKS:
        return following.attached or word not in HANDS
    return False


def _read_number(part: PartReading, token: Token, tokens: list[Token], at: int, previous: str, is_folder: bool) -> None:
    assert token.number is not None
    if is_folder and previous == "piece" and part.pieces:
        last = part.pieces[-1]
        part.pieces[-1] = NamedPiece(last.name, last.family, token.number)
        return
    if is_folder and previous in ("mic", "micword", "position"):
        return  # “Channel 3”, “Room 2”: part of the microphone's name
    mark = ""
    if previous == "mark":
        before = tokens[at - 1].text
        mark = "strength" if before in STRENGTH_MARKS else "repeat" if before in REPEAT_MARKS else ""
    beside_piece = previous == "piece" and bool(part.pieces)
    beside_piece |= previous == "unknown" and token.attached and len(part.segments) == 1 and not is_folder
    place = -1 if is_folder else len(part.segments)
    struck = part.articulations[-1] if previous == "articulation" and part.articulations else ""
    number = Number(
        token.number,
        mark,
        attached_to_piece=beside_piece and token.attached,
        beside_piece=beside_piece,
        segment=place,
        articulation=struck,
        attached=token.attached,
    )
    part.numbers.append(number)


def _natural_role(token: Token, phrase: Phrase | None, part: PartReading, is_folder: bool, previous: str) -> str:
    """What a segment means by itself, without corrections."""
    if token.note is not None:
        return "note"
    if token.number is not None:
        return "number"
    if phrase is None:
        return "unknown"
    if phrase.role == "hand" and previous in ("mic", "position"):
        return "mic"
    if phrase.role == "position" and not (part.pieces or is_folder or previous == "mic"):
        return "unknown"
    return phrase.role


def _take_phrase(part: PartReading, phrase: Phrase, role: str, previous: str) -> None:
    """Records what a phrase decides, and the words it adds to a microphone's name."""
    text, value = phrase.text, phrase.value
    if role == "unknown":
        part.unknown.append(text)
    elif phrase.role == "hand" and role == "mic":
        part.mic_words.append(text.upper())
    elif role == "piece":
        part.pieces.append(NamedPiece(*value))
    elif role == "articulation":
        part.articulations.append(value)
        part.maybe_close |= text in BETWEEN_MIC_AND_ARTICULATION
    elif role == "strength":
        part.strength, part.strength_said = value, text
    elif role == "hand":
        part.hand = value
    elif role == "mic":
        # A room or overhead is never close, whatever else its name says.
        part.mic_kind = value if part.mic_kind is None or value is not MicKind.CLOSE else part.mic_kind
        part.mic_words.append(text.upper() if len(text) <= 3 else text.capitalize())
    elif role == "position":
        part.mic_kind = part.mic_kind or MicKind.CLOSE
        part.positions.append(text)
        owner = part.pieces[-1].name if part.pieces else ""
        part.mic_words.append(f"{owner} {value}".strip().capitalize())
    elif role == "micword":
        part.mic_kind = part.mic_kind or MicKind.CLOSE
        if previous == "piece" and part.pieces:
            part.mic_words.append(part.pieces[-1].name)


def _ruled(part: PartReading, meaning: Meaning, written: str, token: Token) -> None:
    """Records the user's meaning of a segment."""
    text = written.lower()
    place = len(part.segments)
    if meaning == "piece":
        part.said_pieces.append(NamedPiece(*known_piece(written)))
    elif meaning == "articulation":
        part.articulations.append(ARTICULATIONS.get(text, text))
    elif meaning == "mic":
        part.mic_kind = MIC_KINDS.get(text, part.mic_kind or MicKind.CLOSE)
        part.mic_words.append(written.upper() if len(text) <= 3 else written.capitalize())
    elif meaning in ("strength", "repeat") and token.number is not None:
        part.numbers.append(Number(token.number, meaning + RULED, segment=place))
    elif meaning == "strength":
        if text in STRENGTHS:
            part.strength, part.strength_said = STRENGTHS[text], text
        else:
            part.strength_word = text
    elif meaning == "repeat":
        part.repeat = int.from_bytes(text.encode()[:4].ljust(4, b"\0"), "big")  # words are ordered alphabetically
    elif meaning == "hand":
        part.hand = HANDS.get(text) or HANDS.get(text[:1])
    elif meaning == "note":
        note = token.note if token.note is not None else token.number
        if note is not None and note < 128:
            part.notes.append(NoteText(note, text, token.number or 0, place))
