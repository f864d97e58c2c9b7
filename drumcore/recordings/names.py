"""Reads whole paths: what folders and file names say together, before structure and sound decide the rest."""

from collections import Counter, defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from pathlib import PurePosixPath

from drumcore.kit.values import Family, Hand, MicKind
from drumcore.recordings.guidance import NO_GUIDANCE, Guidance
from drumcore.recordings.lexicon import lexicon_with
from drumcore.recordings.lone_letters import letters_before_numbers
from drumcore.recordings.name_parts import NamedPiece, NoteText, Number, PartReading, read_part, rule_folder
from drumcore.recordings.rank_correlation import RISES, follows
from drumcore.recordings.trade_words import (
    CYMBAL,
    HANDS,
    HAT_ARTICULATIONS,
    IMPLIED,
    LETTERS,
    NUMBERED_FAMILIES,
    REPEAT_MARKS,
)

HEIGHTS = {"hi": "high", "high": "high", "mid": "mid", "lo": "low", "low": "low"}
CYMBALS = (Family.HATS, Family.CRASH, Family.RIDE, Family.SPLASH, Family.CHINA)
COUNTED_FAMILIES = (Family.TOM, *CYMBALS[1:])
MOST_BY_NUMBER, MOST_OF_A_FAMILY, FEWEST_SINGLES = 4, 8, 4


@dataclass
class NameReading:
    """What a whole path says."""

    path: str
    group: str = ""
    """Names alike in depth and in the roles of their segments share it."""
    segments: tuple[tuple[str, str], ...] = ()
    """Its columns: folders from the outermost, then the segments of the name, each (text, role)."""
    piece: NamedPiece | None = None
    articulation: str = ""
    articulations: tuple[str, ...] = ()
    """The words its articulation is made of."""
    mic: str = ""
    mic_kind: MicKind | None = None
    strength: float | None = None
    strength_said: str = ""
    """The known word its velocity layer comes from."""
    strength_word: str = ""
    repeat: int | None = None
    hand: Hand | None = None
    note: int | None = None
    note_text: NoteText | None = None
    size: int | None = None
    """In inches, or whatever its name says."""
    piece_letter: str = ""
    """A single letter right behind its piece."""
    numbers: list[Number] = field(default_factory=list)
    unknown: list[str] = field(default_factory=list)
    why_not: str = ""
    by_hand: bool = False
    doubted: bool = False
    """Its number follows level, but unevenly: a velocity layer or a running number."""
    maybe_close: bool = False
    """A word of it means a close microphone as well as closed hats."""


def read_paths(
    paths: list[str], guidance: Guidance = NO_GUIDANCE, levels: Mapping[str, float] | None = None
) -> list[NameReading]:
    """Reads every path by its words. Sibling folders help to tell microphones from pieces. The user's corrections
    override the reader.
    """
    lexicon = lexicon_with(guidance.words)
    folders: dict[str, PartReading] = {}
    siblings: dict[str, set[str]] = defaultdict(set)
    letters = letters_before_numbers(path.rpartition("/")[2] for path in paths)
    for path in paths:
        for key in _folders_of(path):
            if key not in folders:
                shelf, _, name = key.rpartition("/")
                folders[key] = read_part(name, is_folder=True, lexicon=lexicon, letters=letters)
                siblings[shelf].add(key)
    # The same name occurs under every microphone; it is read once.
    by_name: dict[str, PartReading] = {}
    stems: dict[str, PartReading] = {}
    for path in paths:
        name = path.rpartition("/")[2]
        if name not in by_name:
            by_name[name] = read_part(PurePosixPath(name).stem, is_folder=False, lexicon=lexicon, letters=letters)
        stems[path] = by_name[name]
    groups = {path: group_of(path, stems[path]) for path in paths}
    ruled_folders: dict[str, dict[str, PartReading]] = defaultdict(dict)
    for path in paths if guidance.rulings else ():
        depth = path.count("/")
        meanings = guidance.meanings(groups[path])
        own = {column - depth: meaning for column, meaning in meanings.items() if column >= depth}
        if own:
            name = PurePosixPath(path).stem
            stems[path] = read_part(name, is_folder=False, lexicon=lexicon, meanings=own, letters=letters)
        for column, meaning in meanings.items():
            if column < depth:
                key = "/".join(path.split("/")[: column + 1])
                ruled_folders[groups[path]][key] = rule_folder(key.rsplit("/", 1)[-1], meaning, lexicon)
    mic_shelves = {shelf for shelf, keys in siblings.items() if any(folders[key].names_mic for key in keys)}
    named_in_stem = sum(1 for stem in stems.values() if stem.pieces)
    seen_by = {group: {**folders, **ruled} for group, ruled in ruled_folders.items()}
    readings = []
    for path in paths:
        group = groups[path]
        reading = _combine(
            path,
            stems[path],
            seen_by.get(group, folders),
            mic_shelves,
            settled=ruled_folders.get(group, {}).keys(),
            stems_name_pieces=named_in_stem * 2 > len(paths),
        )
        reading.group = groups[path]
        reading.segments = _columns(path, stems[path], folders)
        readings.append(reading)
    _settle_close(readings)
    _settle_piece_numbers(readings, levels or {})
    _settle_piece_letters(readings)
    _settle_sizes(readings)
    _settle_cymbals(readings)
    _settle_notes(readings)
    _settle_hat_close(readings)
    return readings


def _folders_of(path: str) -> list[str]:
    """The folders a path is in, the deepest first."""
    found = []
    while path := path.rpartition("/")[0]:
        found.append(path)
    return found


def group_of(path: str, stem: PartReading) -> str:
    """The group of similar names a path belongs to."""
    return f"{path.count('/')} {stem.shape}"


def _columns(path: str, stem: PartReading, folders: dict[str, PartReading]) -> tuple[tuple[str, str], ...]:
    above = path.split("/")[:-1]
    outer = [(name, _folder_role(folders["/".join(above[: i + 1])])) for i, name in enumerate(above)]
    return (*outer, *((stem.text[s.start : s.end], s.role) for s in stem.segments))


def _folder_role(folder: PartReading) -> str:
    if folder.names_mic:
        return "mic"
    roles = [role for role, found in (("piece", folder.pieces), ("articulation", folder.articulations)) if found]
    return " ".join(roles) or ("strength" if folder.strength is not None else "unknown")


def _combine(
    path: str,
    stem: PartReading,
    folders: dict[str, PartReading],
    mic_shelves: set[str],
    *,
    settled: Collection[str],
    stems_name_pieces: bool,
) -> NameReading:
    """`settled` are the folders whose meaning the user gave."""
    reading = NameReading(path)
    parents = _folders_of(path)
    mic_folders, other_folders, fallback_pieces = [], [], []
    for key in parents:
        folder = folders[key]
        shelf = key.rpartition("/")[0]
        elsewhere = bool(stem.pieces) or stems_name_pieces
        deeper_piece = any(folders[k].pieces and not folders[k].names_mic for k in parents[: parents.index(key)])
        plain = not (folder.articulations and not folder.pieces)
        beside_mics = shelf in mic_shelves and (elsewhere or deeper_piece) and plain and key not in settled
        if folder.names_mic or beside_mics:
            mic_folders.append(folder)
            fallback_pieces += folder.pieces
        else:
            other_folders.append(folder)
    pieces = _named(stem.pieces)
    folder_pieces = _named([piece for folder in other_folders for piece in folder.pieces])
    mic_from_stem = stem.mic_text
    pieces = _struck_otherwise(pieces, stem)
    if len({p.family for p in pieces}) > 1 and not mic_folders and not stem.names_mic:
        mic_from_stem, reading.mic_kind = pieces[-1].title, MicKind.CLOSE
        pieces = pieces[:1]
    reading.piece = _choose_piece(pieces, folder_pieces)
    if reading.piece is None and fallback_pieces and not stems_name_pieces:
        reading.piece = fallback_pieces[0]
    _name_mic(reading, stem, mic_folders, mic_from_stem)
    words = _sum_up(reading, stem, other_folders)
    reading.maybe_close = any(part.maybe_close for part in (stem, *other_folders))
    _places_on_percussion(reading, stem, bool(mic_folders))
    if reading.piece is None and stem.begins_with_t:
        first, *others = reading.numbers
        reading.piece, reading.numbers = NamedPiece("Tom", Family.TOM, first.value), others
    if reading.piece is None and not reading.unknown:
        reading.piece = next((NamedPiece(*IMPLIED[word]) for word in words if word in IMPLIED), None)
    if reading.piece is None and not stems_name_pieces:
        reading.piece = _unknown_piece(stem, other_folders)
    if reading.piece is None:
        reading.why_not = "no word in its name says which piece was struck"
    return reading


def _sum_up(reading: NameReading, stem: PartReading, other_folders: list[PartReading]) -> list[str]:
    """Combines what a name and its folders say, microphone and piece apart; returns the words of the articulation."""
    parts = [*reversed(other_folders), stem]
    words = list(dict.fromkeys(word for part in parts for word in part.articulations))
    shortened = {word for word in words if any(other != word and other.startswith(word) for other in words)}
    reading.articulations = tuple(words)
    reading.articulation = " ".join(word for word in words if word not in shortened)
    reading.strength = next((p.strength for p in reversed(parts) if p.strength is not None), None)
    reading.strength_said = next((p.strength_said for p in reversed(parts) if p.strength_said), "")
    reading.strength_word = next((p.strength_word for p in reversed(parts) if p.strength_word), "")
    reading.repeat = next((p.repeat for p in reversed(parts) if p.repeat is not None), None)
    reading.hand = stem.hand or next((p.hand for p in other_folders if p.hand), None)
    reading.note_text = next((p.notes[0] for p in reversed(parts) if p.notes), None)
    reading.note = reading.note_text.note if reading.note_text else None
    reading.piece_letter = stem.piece_letter
    reading.size = next((p.size for p in reversed(parts) if p.size is not None), None)
    reading.numbers = [number for part in parts for number in part.numbers]
    reading.unknown = [word for part in parts for word in part.unknown]
    return words


def _name_mic(reading: NameReading, stem: PartReading, mic_folders: list[PartReading], mic_from_stem: str) -> None:
    """The microphone, from its folder or else from the name; from the name too if that says another kind."""
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


def _struck_otherwise(pieces: list[NamedPiece], stem: PartReading) -> list[NamedPiece]:
    """The pieces in a name without those that say how the first was struck: a ride may be crashed, and beside hats “ft”
    is the foot and no floor tom.
    """
    families = [piece.family for piece in pieces]
    if families == [Family.HATS, Family.TOM] and "ft" in stem.text.lower():
        stem.articulations.append("pedal")
        return pieces[:1]
    if families == [Family.RIDE, Family.CRASH]:
        stem.articulations.append("edge")
        return pieces[:1]
    return pieces


def _places_on_percussion(reading: NameReading, stem: PartReading, in_mic_folder: bool) -> None:
    """On a piece of hand percussion “back”, “front” and the like say how it was struck, unless it has microphones. What
    “hi” and “lo” mean there is decided by sound.
    """
    only_position = stem.positions and len(stem.mic_words) == len(stem.positions) and not in_mic_folder
    if only_position and reading.piece is not None and reading.piece.family is Family.PERCUSSION:
        reading.mic, reading.mic_kind = "", None
        reading.articulations = (*reading.articulations, *stem.positions)
        reading.articulation = " ".join(reading.articulations)
    if reading.piece is not None and reading.piece.family is Family.PERCUSSION:
        if stem.strength_said in HEIGHTS:
            reading.strength, reading.strength_said = None, ""
            reading.unknown = [stem.strength_said, *reading.unknown]
        reading.unknown.sort(key=lambda word: word not in HEIGHTS)  # they stand in one place, whatever else is there


def _settle_close(readings: list[NameReading]) -> None:
    """“Cls” on anything but hats is a close microphone: a kick is never closed."""
    for reading in readings:
        struck = reading.piece is not None and reading.piece.family not in (Family.HATS, Family.OTHER)
        if struck and reading.maybe_close and "closed" in reading.articulations:
            reading.articulations = tuple(word for word in reading.articulations if word != "closed")
            reading.articulation = " ".join(reading.articulations)
            if not reading.mic:
                reading.mic, reading.mic_kind = "Close", MicKind.CLOSE


def _named(pieces: list[NamedPiece]) -> list[NamedPiece]:
    """The pieces without the word “cymbal”, if another word says which cymbal it is."""
    others = [piece for piece in pieces if piece.name != CYMBAL]
    return others if any(p.family in CYMBALS for p in others) else pieces


def _choose_piece(from_stem: list[NamedPiece], from_folders: list[NamedPiece]) -> NamedPiece | None:
    if not from_stem:
        return from_folders[0] if from_folders else None
    for piece in from_folders:
        if piece.family is from_stem[0].family and piece.specific and not from_stem[0].specific:
            return piece
    return from_stem[0]


def _unknown_piece(stem: PartReading, folders: list[PartReading]) -> NamedPiece | None:
    """The name of an unknown piece: its folder, or the first word of its numbered files."""
    for folder in folders:
        if folder.unknown and not folder.articulations and (stem.numbers or stem.strength is not None):
            return NamedPiece(" ".join(folder.unknown).capitalize(), Family.OTHER)
    if stem.unknown and (stem.numbers or stem.strength is not None) and stem.text[:1].isalpha():
        return NamedPiece(stem.unknown[0].capitalize(), Family.OTHER)
    return None


def _settle_piece_numbers(readings: list[NameReading], levels: Mapping[str, float]) -> None:
    """Decides that a number beside a piece counts pieces, if other numbers remain for velocity layers and round robins,
    and if it does not rise with level; otherwise it is a velocity layer.
    """
    singles = _are_singles(readings)
    beside: dict[tuple[str, int], list[NameReading]] = defaultdict(list)
    for reading in readings:
        hats = reading.piece is not None and reading.piece.family is Family.HATS
        if reading.piece and not hats and reading.piece.index is None and any(n.beside_piece for n in reading.numbers):
            beside[reading.piece.name, len(reading.numbers)].append(reading)
    for group in beside.values():
        values = Counter(n.value for r in group for n in r.numbers if n.beside_piece)
        rises = bool(levels) and abs(_follows_level(group, levels)) >= RISES
        if (singles and _counts_singles(group, values)) or (not rises and _leaves_enough(group, values)):
            _number_pieces(group)


def _leaves_enough(group: list[NameReading], values: Mapping[int, int]) -> bool:
    """Whether names still give velocity layers and round robins without the number beside the piece. A number joined to
    a tom or cymbal needs less evidence than one that stands apart or beside a piece that kits usually have one of.
    """
    attached = all(any(n.attached_to_piece for n in r.numbers) for r in group)
    usual = attached and group[0].piece is not None and group[0].piece.family in COUNTED_FAMILIES
    others = independent_columns(group)
    family = group[0].piece.family if group[0].piece is not None else Family.OTHER
    if family not in NUMBERED_FAMILIES and not attached:
        return False
    return others >= (1 if usual else 2) or (usual and len(values) <= MOST_BY_NUMBER and max(values.values()) > 1)


def independent_columns(group: Sequence[NameReading]) -> int:
    """How many things vary in names beside the number at the piece: those that never vary, or always together with
    another, do not count.
    """
    columns: list[tuple[object, ...]] = [
        tuple(r.strength for r in group),
        tuple(r.strength_word for r in group),
        tuple(r.hand for r in group),
    ]
    rests = [[n.value for n in r.numbers if not n.beside_piece] for r in group]
    columns += list(zip(*rests, strict=True)) if len({len(rest) for rest in rests}) == 1 else []
    partitions = set()
    for column in columns:
        seen: dict[object, int] = {}
        partitions.add(tuple(seen.setdefault(value, len(seen)) for value in column))
    return sum(len(set(partition)) > 1 for partition in partitions)


def _number_pieces(group: list[NameReading]) -> None:
    """Makes the number beside the piece part of the piece's name."""
    for reading in group:
        index = next((n for n in reading.numbers if n.beside_piece), None)
        if index is not None and reading.piece is not None:
            reading.numbers = [n for n in reading.numbers if n is not index]
            reading.piece = NamedPiece(reading.piece.name, reading.piece.family, index.value)


def _settle_piece_letters(readings: list[NameReading]) -> None:
    """A letter right behind a drum or cymbal of which kits have several counts them, if velocity layer and round robin
    are said beside it: “Crash A” and “Crash B”. Behind hats “o” is open, and so on.
    """
    groups: dict[str, list[NameReading]] = defaultdict(list)
    for reading in readings:
        if reading.piece is not None and reading.piece.index is None and reading.piece_letter:
            groups[reading.piece.name].append(reading)
    for group in groups.values():
        letters = {reading.piece_letter for reading in group}
        assert group[0].piece is not None
        struck = LETTERS.get(group[0].piece.family, {})
        several = len(letters) > 1 and letters & {"o", "c"}
        if several and letters <= struck.keys() and not any(reading.articulation for reading in group):
            for reading in group:
                letter = reading.piece_letter
                if reading.strength_said == letter:
                    reading.strength, reading.strength_said = None, ""
                if letter in HANDS and reading.hand is HANDS[letter]:
                    reading.hand = None
                if letter in REPEAT_MARKS:
                    reading.numbers = [replace(n, mark="") for n in reading.numbers]
                reading.articulation = struck[reading.piece_letter]
                reading.articulations = (reading.articulation,)
                reading.unknown = [word for word in reading.unknown if word != reading.piece_letter]
            continue
        others = min(len(r.numbers) + (r.strength is not None) + (r.hand is not None) for r in group)
        if "a" in letters and 2 <= len(letters) <= MOST_BY_NUMBER and others >= 2:
            for reading in group:
                assert reading.piece is not None
                reading.piece = NamedPiece(f"{reading.piece.name} {reading.piece_letter.upper()}", reading.piece.family)
                reading.unknown = [word for word in reading.unknown if word != reading.piece_letter]


def _settle_sizes(readings: list[NameReading]) -> None:
    """Sizes in inches tell pieces apart where one name has several: “16in crash” and “18in crash”."""
    groups: dict[str, list[NameReading]] = defaultdict(list)
    for reading in readings:
        if reading.piece is not None and reading.piece.index is None and reading.size is not None:
            groups[reading.piece.name].append(reading)
    for group in groups.values():
        if len({reading.size for reading in group}) > 1:
            for reading in group:
                assert reading.piece is not None
                reading.piece = NamedPiece(reading.piece.name, reading.piece.family, reading.size)


def _counts_singles(group: list[NameReading], values: Mapping[int, int]) -> bool:
    """Whether, among single hits, a lone number beside toms or cymbals counts them: a few files, one each."""
    alone = all(len(r.numbers) == 1 and r.piece and r.piece.family in COUNTED_FAMILIES for r in group)
    return alone and max(values.values()) == 1 and max(values) <= MOST_OF_A_FAMILY


def _are_singles(readings: list[NameReading]) -> bool:
    """Whether a session holds single hits: without their numbers, most articulations are one file."""
    counted = Counter(
        (r.piece.name, r.articulation, r.mic)
        for r in readings
        if r.piece is not None and not any(n.beside_piece for n in r.numbers)
    )
    return len(counted) >= FEWEST_SINGLES and sum(n == 1 for n in counted.values()) >= 0.8 * len(counted)


def _follows_level(group: list[NameReading], levels: Mapping[str, float]) -> float:
    """The rank correlation of the number beside the piece with level, within articulations and microphones."""
    parts: dict[tuple[str, str], list[tuple[float, float]]] = defaultdict(list)
    for reading in group:
        number = next((n for n in reading.numbers if n.beside_piece), None)
        if number is not None:
            parts[reading.articulation, reading.mic].append((float(number.value), levels[reading.path]))
    return follows(([x for x, _ in pairs], [y for _, y in pairs]) for pairs in parts.values() if len(pairs) > 2) or 0.0


def _settle_cymbals(readings: list[NameReading]) -> None:
    """“Cymbal” alone: hats if it is struck as hats are, else a crash."""
    for reading in readings:
        if reading.piece is not None and reading.piece.name == CYMBAL:
            hats = any(articulation in HAT_ARTICULATIONS for articulation in reading.articulations)
            named = NamedPiece("Hats", Family.HATS) if hats else NamedPiece("Crash", Family.CRASH)
            reading.piece = NamedPiece(named.name, named.family, reading.piece.index)


def _settle_notes(readings: list[NameReading]) -> None:
    """A note name counts as one only if most files of an articulation share it; otherwise its digit is a number."""
    groups: dict[tuple[str, str], list[NameReading]] = defaultdict(list)
    for reading in readings:
        if reading.note is not None and reading.piece is not None:
            groups[reading.piece.title, reading.articulation].append(reading)
    for group in groups.values():
        most = Counter(r.note for r in group).most_common(1)[0][1]
        if most * 5 < len(group) * 3:
            for reading in group:
                written = reading.note_text
                assert written is not None
                if len(written.text) == 2 and written.text[1:].isdigit():
                    reading.unknown = [*reading.unknown, written.text[0]]
                    reading.numbers = [*reading.numbers, Number(written.number, segment=written.segment)]
                else:
                    reading.numbers = [*reading.numbers, Number(written.note, segment=written.segment)]
                reading.note = None


def _settle_hat_close(readings: list[NameReading]) -> None:
    """On hats, “close” without a microphone is how they were struck, not where the microphone was."""
    named = [r for r in readings if r.mic.lower() == "close"]
    if named and all(r.piece and r.piece.family is Family.HATS and not r.articulation for r in named):
        for reading in named:
            reading.mic, reading.mic_kind, reading.articulation = "", None, "closed"
