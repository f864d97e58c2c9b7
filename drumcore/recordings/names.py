"""Reading one path: what each of its words decides by itself, before structure and sound decide the rest."""

from collections import Counter, defaultdict
from dataclasses import dataclass, field
from pathlib import PurePosixPath

from drumcore.kit.values import Family, Hand, MicKind
from drumcore.recordings.tokens import Token, tokens_of
from drumcore.recordings.trade_words import (
    ARTICULATIONS,
    HANDS,
    MIC_KINDS,
    MIC_POSITIONS,
    NUMBERED_FAMILIES,
    PIECES,
    REPEAT_MARKS,
    STRENGTH_MARKS,
    STRENGTHS,
    phrase_at,
)


@dataclass(frozen=True)
class Number:
    """A number of a file name. `mark` is `strength` or `repeat` where the word before it says so."""

    value: int
    mark: str = ""
    attached_to_piece: bool = False
    digits: int = 1


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


@dataclass
class PartReading:
    """What one folder or file name says."""

    text: str
    pieces: list[NamedPiece] = field(default_factory=list)
    articulations: list[str] = field(default_factory=list)
    mic_text: str = ""
    mic_kind: MicKind | None = None
    strength: float | None = None
    hand: Hand | None = None
    notes: list[int] = field(default_factory=list)
    numbers: list[Number] = field(default_factory=list)
    unknown: list[str] = field(default_factory=list)

    @property
    def names_mic(self) -> bool:
        return self.mic_kind is not None


@dataclass
class NameReading:
    """What a whole path says."""

    path: str
    piece: NamedPiece | None = None
    articulation: str = ""
    mic: str = ""
    mic_kind: MicKind | None = None
    strength: float | None = None
    repeat: int | None = None
    hand: Hand | None = None
    note: int | None = None
    numbers: list[Number] = field(default_factory=list)
    unknown: list[str] = field(default_factory=list)
    why_not: str = ""


def read_part(text: str, *, is_folder: bool) -> PartReading:
    """Read one folder or file name (without its suffix)."""
    part = PartReading(text)
    tokens = tokens_of(text)
    at = 0
    previous = ""
    mic_words: list[str] = []
    while at < len(tokens):
        token = tokens[at]
        if token.note is not None:
            part.notes.append(token.note)
            at, previous = at + 1, "note"
            continue
        if token.number is not None:
            _read_number(part, token, tokens, at, previous, is_folder)
            at, previous = at + 1, "number"
            continue
        words = _words_from(tokens, at)
        if _marks_a_number(tokens, at):
            at, previous = at + 1, "mark"
            continue
        phrase = phrase_at(words, 0)
        if phrase is None:
            part.unknown.append(token.text)
            at, previous = at + 1, "unknown"
            continue
        role, size = phrase.role, phrase.size
        if role == "hand" and previous in ("mic", "position"):
            mic_words.append(phrase.text.upper())
        elif role == "position" and not (part.pieces or is_folder or previous == "mic"):
            part.unknown.append(phrase.text)
        else:
            mic_words += _take_phrase(part, role, phrase.text, previous)
        at, previous = at + size, role
    if part.mic_kind is not None:
        part.mic_text = text.strip() if is_folder else " ".join(mic_words)
    return part


def _words_from(tokens: list[Token], at: int) -> list[str]:
    words = []
    for token in tokens[at:]:
        if token.number is not None:
            break
        words.append(token.text)
    return words


def _marks_a_number(tokens: list[Token], at: int) -> bool:
    following = tokens[at + 1] if at + 1 < len(tokens) else None
    if following is None or following.number is None or following.note is not None:
        return False
    word = tokens[at].text
    if word in STRENGTH_MARKS or word in REPEAT_MARKS:
        return following.attached or word not in HANDS
    return False


def _read_number(part: PartReading, token: Token, tokens: list[Token], at: int, previous: str, is_folder: bool) -> None:
    assert token.number is not None
    if is_folder and previous == "piece" and part.pieces:
        last = part.pieces[-1]
        part.pieces[-1] = NamedPiece(last.name, last.family, token.number)
        return
    mark = ""
    if previous == "mark":
        mark = "strength" if tokens[at - 1].text in STRENGTH_MARKS else "repeat"
    beside_piece = previous == "piece" and part.pieces[-1].family in NUMBERED_FAMILIES
    part.numbers.append(Number(token.number, mark, beside_piece and token.attached, len(token.text)))


def _take_phrase(part: PartReading, role: str, text: str, previous: str) -> list[str]:
    """Note what a phrase decides; the words it adds to a microphone's name."""
    if role == "piece":
        name, family = PIECES[text]
        part.pieces.append(NamedPiece(name, family))
    elif role == "articulation":
        part.articulations.append(ARTICULATIONS[text])
    elif role == "strength":
        part.strength = STRENGTHS[text]
    elif role == "hand":
        part.hand = HANDS[text]
    elif role == "mic":
        part.mic_kind = MIC_KINDS[text]
        return [text.upper() if len(text) <= 3 else text.capitalize()]
    elif role == "position":
        part.mic_kind = part.mic_kind or MicKind.CLOSE
        owner = part.pieces[-1].name if part.pieces else ""
        return [f"{owner} {MIC_POSITIONS[text]}".strip().capitalize()]
    elif role == "micword":
        part.mic_kind = part.mic_kind or MicKind.CLOSE
        if previous == "piece" and part.pieces:
            return [part.pieces[-1].name]
    return []


def read_paths(paths: list[str]) -> list[NameReading]:
    """Read every path by its words, using the folders beside each folder to tell microphones from pieces."""
    folders: dict[str, PartReading] = {}
    siblings: dict[str, set[str]] = defaultdict(set)
    for path in paths:
        for parent in list(PurePosixPath(path).parents)[:-1]:
            key = str(parent)
            if key not in folders:
                folders[key] = read_part(parent.name, is_folder=True)
                siblings[str(parent.parent)].add(key)
    mic_shelves = {shelf for shelf, keys in siblings.items() if any(folders[key].names_mic for key in keys)}
    stems = {path: read_part(PurePosixPath(path).stem, is_folder=False) for path in paths}
    named_in_stem = sum(1 for stem in stems.values() if stem.pieces)
    readings = [
        _combine(path, stems[path], folders, mic_shelves, stems_name_pieces=named_in_stem * 2 > len(paths))
        for path in paths
    ]
    _settle_piece_numbers(readings)
    _settle_notes(readings)
    _settle_hat_close(readings)
    return readings


def _combine(
    path: str, stem: PartReading, folders: dict[str, PartReading], mic_shelves: set[str], *, stems_name_pieces: bool
) -> NameReading:
    reading = NameReading(path)
    parents = [str(p) for p in PurePosixPath(path).parents][:-1]  # deepest first
    mic_folders, other_folders, fallback_pieces = [], [], []
    for key in parents:
        folder = folders[key]
        shelf = str(PurePosixPath(key).parent)
        elsewhere = bool(stem.pieces) or stems_name_pieces
        deeper_piece = any(folders[k].pieces and not folders[k].names_mic for k in parents[: parents.index(key)])
        plain = not (folder.articulations and not folder.pieces)
        if folder.names_mic or (shelf in mic_shelves and (elsewhere or deeper_piece) and plain):
            mic_folders.append(folder)
            fallback_pieces += folder.pieces
        else:
            other_folders.append(folder)
    pieces = list(stem.pieces)
    folder_pieces = [piece for folder in other_folders for piece in folder.pieces]
    mic_from_stem = stem.mic_text
    if len({p.family for p in pieces}) > 1 and not mic_folders and not stem.names_mic:
        mic_from_stem, reading.mic_kind = pieces[-1].title, MicKind.CLOSE
        pieces = pieces[:1]
    reading.piece = _choose_piece(pieces, folder_pieces)
    if reading.piece is None and fallback_pieces and not stems_name_pieces:
        reading.piece = fallback_pieces[0]
    if mic_folders:
        reading.mic = mic_folders[0].text.strip()
        kinds = [folder.mic_kind for folder in mic_folders if folder.mic_kind is not None]
        reading.mic_kind = kinds[0] if kinds else MicKind.CLOSE
        if stem.names_mic and mic_from_stem.lower() not in reading.mic.lower() and stem.mic_kind != reading.mic_kind:
            reading.mic, reading.mic_kind = mic_from_stem, stem.mic_kind
    elif stem.names_mic:
        reading.mic, reading.mic_kind = mic_from_stem, stem.mic_kind
    elif mic_from_stem:
        reading.mic = mic_from_stem
    parts = [*reversed(other_folders), stem]
    words = list(dict.fromkeys(word for part in parts for word in part.articulations))
    shortened = {word for word in words if any(other != word and other.startswith(word) for other in words)}
    reading.articulation = " ".join(word for word in words if word not in shortened)
    reading.strength = next((p.strength for p in reversed(parts) if p.strength is not None), None)
    reading.hand = stem.hand or next((p.hand for p in other_folders if p.hand), None)
    reading.note = next((p.notes[0] for p in reversed(parts) if p.notes), None)
    reading.numbers = [number for part in parts for number in part.numbers]
    reading.unknown = [word for part in parts for word in part.unknown]
    if reading.piece is None and not stems_name_pieces:
        reading.piece = _unknown_piece(stem, other_folders)
    if reading.piece is None:
        reading.why_not = "no word in its name says which piece was struck"
    return reading


def _choose_piece(from_stem: list[NamedPiece], from_folders: list[NamedPiece]) -> NamedPiece | None:
    if not from_stem:
        return from_folders[0] if from_folders else None
    for piece in from_folders:
        if piece.family is from_stem[0].family and piece.specific and not from_stem[0].specific:
            return piece
    return from_stem[0]


def _unknown_piece(stem: PartReading, folders: list[PartReading]) -> NamedPiece | None:
    """A piece the trade words do not know, named by its folder, or by the word its numbered files begin with."""
    for folder in folders:
        if folder.unknown and not folder.articulations and (stem.numbers or stem.strength is not None):
            return NamedPiece(" ".join(folder.unknown).capitalize(), Family.OTHER)
    if stem.unknown and (stem.numbers or stem.strength is not None) and stem.text[:1].isalpha():
        return NamedPiece(stem.unknown[0].capitalize(), Family.OTHER)
    return None


def _settle_piece_numbers(readings: list[NameReading]) -> None:
    """A number beside a tom or a cymbal counts the pieces where other numbers are left to count takes."""
    beside: dict[str, list[NameReading]] = defaultdict(list)
    for reading in readings:
        if reading.piece and reading.piece.index is None and any(n.attached_to_piece for n in reading.numbers):
            beside[reading.piece.name].append(reading)
    for group in beside.values():
        values = Counter(n.value for r in group for n in r.numbers if n.attached_to_piece)
        others = min(len(r.numbers) for r in group) > 1 or all(r.strength is not None for r in group)
        if not others and (len(values) > 4 or max(values.values()) == 1):
            continue
        for reading in group:
            index = next(n for n in reading.numbers if n.attached_to_piece)
            reading.numbers = [n for n in reading.numbers if n is not index]
            assert reading.piece is not None
            reading.piece = NamedPiece(reading.piece.name, reading.piece.family, index.value)


def _settle_notes(readings: list[NameReading]) -> None:
    """A note name is one only where most files of a stroke share it; otherwise its digit is a number."""
    groups: dict[tuple[str, str], list[NameReading]] = defaultdict(list)
    for reading in readings:
        if reading.note is not None and reading.piece is not None:
            groups[reading.piece.title, reading.articulation].append(reading)
    for group in groups.values():
        most = Counter(r.note for r in group).most_common(1)[0][1]
        if most * 5 < len(group) * 3:
            for reading in group:
                assert reading.note is not None
                reading.numbers = [*reading.numbers, Number(reading.note)]
                reading.note = None


def _settle_hat_close(readings: list[NameReading]) -> None:
    """“close” on hats alone is how they were struck, not where the microphone stood."""
    named = [r for r in readings if r.mic.lower() == "close"]
    if named and all(r.piece and r.piece.family is Family.HATS and not r.articulation for r in named):
        for reading in named:
            reading.mic, reading.mic_kind, reading.articulation = "", None, "closed"
