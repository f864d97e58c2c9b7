"""Places files by hand among those whose names were read."""

from collections.abc import Iterable, Iterator, Sequence
from pathlib import PurePosixPath

from drumcore.kit.values import MicKind
from drumcore.recordings.guidance import PlacedFile
from drumcore.recordings.lexicon import family_of, known_piece
from drumcore.recordings.name_parts import NamedPiece, read_part
from drumcore.recordings.names import NameReading
from drumcore.recordings.trade_words import DEFAULT_ARTICULATION


def place_by_hand(
    placed: Sequence[tuple[NameReading, PlacedFile]], others: Sequence[NameReading], levels: dict[str, float]
) -> list[NameReading]:
    """The readings of files placed by hand. A file placed beside another joins its take. Otherwise it is a take of its
    own, in the layer nearest in level.
    """
    by_path = {reading.path: reading for reading in others}
    done = []
    for reading, asked in placed:
        reading.piece = _piece(asked.piece, others)
        reading.articulation = asked.articulation.strip().lower() or DEFAULT_ARTICULATION[reading.piece.family]
        if asked.mic:
            same = next((r for r in others if r.mic.lower() == asked.mic.lower()), None)
            kind = same.mic_kind if same else read_part(asked.mic, is_folder=True).mic_kind
            reading.mic, reading.mic_kind = (same.mic if same else asked.mic.strip()), kind or MicKind.CLOSE
        beside = by_path.get(asked.beside or "")
        if beside is not None:
            reading.piece, reading.articulation = beside.piece, beside.articulation
            reading.strength, reading.repeat, reading.hand = beside.strength, beside.repeat, beside.hand
            reading.numbers, reading.unknown = beside.numbers, beside.unknown
        else:
            reading.strength, reading.repeat = _nearest_strength(reading, others, levels), None
            reading.numbers, reading.unknown = [], [reading.path]
        reading.why_not, reading.by_hand = "", True
        done.append(reading)
    return done


def named_by_files(paths: Iterable[str], taken: Iterable[str] = ()) -> Iterator[tuple[str, str]]:
    """Each path with a piece name made from its file name, with a number if that is `taken`."""
    names = {name.casefold() for name in taken}
    for path in paths:
        plain = " ".join(PurePosixPath(path).stem.replace("_", " ").split())[:100] or "Sound"
        plain = plain[:1].upper() + plain[1:]
        name, number = plain, 2
        while name.casefold() in names:
            name, number = f"{plain} {number}", number + 1
        names.add(name.casefold())
        yield path, name


def each_by_itself(readings: Sequence[NameReading]) -> Sequence[NameReading]:
    """The readings of files that each become a piece of their own, named after the file."""
    named = dict(named_by_files(reading.path for reading in readings))
    for reading in readings:
        name = named[reading.path]
        reading.piece = NamedPiece(name, family_of(name))
        reading.articulation = DEFAULT_ARTICULATION[reading.piece.family]
        reading.mic, reading.mic_kind = "", None
        reading.strength, reading.repeat, reading.hand, reading.note = None, None, None, None
        reading.numbers, reading.unknown, reading.why_not, reading.by_hand = [], [], "", True
    return readings


def _piece(title: str, others: Sequence[NameReading]) -> NamedPiece:
    wanted = title.strip().lower()
    for reading in others:
        if reading.piece is not None and reading.piece.title.lower() == wanted:
            return reading.piece
    return NamedPiece(*known_piece(title.strip()))


def _nearest_strength(reading: NameReading, others: Sequence[NameReading], levels: dict[str, float]) -> float | None:
    articulation = [r for r in others if r.piece == reading.piece and r.articulation == reading.articulation]
    heard = [r for r in articulation if r.mic.lower() == reading.mic.lower()] or articulation
    if not heard:
        return None
    return min(heard, key=lambda r: abs(levels[r.path] - levels[reading.path])).strength
