"""Cells of layer and articulation that hold too much to be round robins of one strike: the user is asked about them."""

from collections import defaultdict
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass

from drumcore.kit.values import Articulation, Piece
from drumcore.recordings.columns import NameGroup
from drumcore.recordings.files import Measured
from drumcore.recordings.names import NameReading
from drumcore.recordings.sound_differences import sound_unlike
from drumcore.recordings.unknown_words import Question

MOST_TAKES = 24
MOST_SPREAD_DB = 12.0
MOST_VALUES = 8
STANDS_OUT = 2.0
"""So many times further from the others than they are from one another, a take stands out."""
Place = tuple[str, int]


@dataclass(frozen=True)
class _Doubt:
    """Why a cell is doubtful: the files in it, and the sentence."""

    paths: tuple[str, ...]
    sentence: str
    words: frozenset[str] = frozenset()
    """The words that tell them apart, if it is not the number that counts round robins."""


def doubts_about_cells(
    pieces: Sequence[Piece],
    readings: Sequence[NameReading],
    groups: Sequence[NameGroup],
    files: Mapping[str, Measured],
) -> list[Question]:
    """One question for all doubtful cells whose files are kept apart by the same column: a cell of more than 24 takes,
    one whose takes are more than 12 dB apart, one whose round robins sound unlike, or one whose numbers may be layers. Columns that the user has settled
    are not asked about again.
    """
    by_path = {reading.path: reading for reading in readings}
    by_key = {group.key: group for group in groups}
    asked: dict[str, tuple[str, dict[Place, None]]] = {}
    for piece in pieces:
        for articulation in piece.articulations:
            for doubt in _doubts(piece, articulation, by_path, files):
                places = _columns_of(doubt, by_path, by_key)
                if places:
                    group, column = places[0]
                    text = by_key[group].columns[column].text.lower()
                    asked.setdefault(text, (doubt.sentence, {}))[1].update(dict.fromkeys(places))
    merged = _merged(list(asked.values()))
    return [
        Question(
            group=places[0][0],
            column=places[0][1],
            guess="repeat",
            why="nothing says otherwise",
            sentence=sentence,
            elsewhere=tuple(places[1:]),
        )
        for sentence, places in merged
    ]


def _merged(asked: Sequence[tuple[str, Mapping[Place, None]]]) -> list[tuple[str, list[Place]]]:
    """Doubts that share a column become one."""
    found: list[tuple[str, list[Place]]] = []
    for sentence, places in asked:
        same = next((known for _, known in found if set(known) & set(places)), None)
        if same is None:
            found.append((sentence, list(places)))
        else:
            same += [place for place in places if place not in same]
    return found


def _doubts(
    piece: Piece, articulation: Articulation, by_path: Mapping[str, NameReading], files: Mapping[str, Measured]
) -> list[_Doubt]:
    named = f"{piece.name} · {articulation.name}"
    found = []
    by_id = {take.id: take for take in articulation.takes}
    for number, layer in enumerate(articulation.layers, start=1):
        takes = [by_id[take] for take in layer.takes]
        paths = tuple(recording.path for take in takes for recording in take.recordings)
        if any(by_path[path].by_hand for path in paths if path in by_path):
            continue
        levels = [take.level_db for take in takes]
        if len(takes) > MOST_TAKES:
            found.append(_Doubt(paths, f"{named} has {len(takes)} takes in velocity layer {number}."))
        elif (apart := _spread_db(levels)) > MOST_SPREAD_DB and _by_names(articulation, by_path):
            apart = round(apart)
            found.append(_Doubt(paths, f"The takes of {named} in velocity layer {number} are {apart} dB apart."))
    if found:
        return found
    paths = tuple(recording.path for take in articulation.takes for recording in take.recordings)
    if any(by_path[path].doubted for path in paths if path in by_path):
        return [_Doubt(paths, f"The numbers of {named} rise with loudness, but not evenly.")]
    sentence = f"What reads as round robins of {named} sounds unlike."
    if unlike := _unlike(articulation, by_path, files, lambda reading: reading.repeat):
        return [_Doubt(unlike, sentence)]
    if unlike := _unlike(articulation, by_path, files, lambda reading: " ".join(reading.unknown)):
        words = frozenset(word for path in unlike for word in by_path[path].unknown)
        return [_Doubt(unlike, sentence, words)]
    return []


def _spread_db(levels: Sequence[float]) -> float:
    """How far apart takes are, without a single one that stands out, which is a finding and no question."""
    ordered = sorted(levels)
    for rest, gap in (
        ((ordered[1:], ordered[1] - ordered[0]), (ordered[:-1], ordered[-1] - ordered[-2])) if len(ordered) > 2 else ()
    ):
        if gap > STANDS_OUT * (rest[-1] - rest[0]):
            ordered = rest
            break
    return ordered[-1] - ordered[0]


def _by_names(articulation: Articulation, by_path: Mapping[str, NameReading]) -> bool:
    """Whether its layers come from names; those that come from loudness are as far apart as the recordings are."""
    paths = [recording.path for take in articulation.takes for recording in take.recordings]
    return all(by_path[path].strength is not None for path in paths if path in by_path)


def _unlike(
    articulation: Articulation,
    by_path: Mapping[str, NameReading],
    files: Mapping[str, Measured],
    counted_by: Callable[[NameReading], Hashable],
) -> tuple[str, ...]:
    """The files of an articulation whose round robins, by what counts them, sound unlike; empty if they do not."""
    by_repeat: dict[Hashable, dict[Hashable, Measured]] = defaultdict(dict)
    paths = [recording.path for take in articulation.takes for recording in take.recordings]
    for path in paths:
        reading = by_path.get(path)
        if reading is None or counted_by(reading) is None or reading.strength is None:
            return ()
        rest = None if counted_by(reading) == reading.repeat else reading.repeat
        by_repeat[counted_by(reading)][reading.mic.lower(), reading.strength, reading.hand, rest] = files[path]
    many = all(len(found) > 1 for found in by_repeat.values())
    if not 2 <= len(by_repeat) <= MOST_VALUES or not many or not sound_unlike(list(by_repeat.values())):
        return ()
    return tuple(paths)


def _columns_of(doubt: _Doubt, by_path: Mapping[str, NameReading], groups: Mapping[str, NameGroup]) -> list[Place]:
    """The column that counts the round robins of the files, in each of their groups of names."""
    places: dict[Place, None] = {}
    for key in dict.fromkeys(by_path[path].group for path in doubt.paths if path in by_path):
        group = groups.get(key)
        if group is None:
            continue
        told = [k for k, c in enumerate(group.columns) if doubt.words & {sample.lower() for sample in c.samples}]
        said = told or [k for k, column in enumerate(group.columns) if column.meaning == "repeat"]
        varied = sorted(
            (k for k, column in enumerate(group.columns) if column.meaning == "ignored" and column.distinct > 1),
            key=lambda k: -group.columns[k].distinct,
        )
        column = next(iter(said or varied), None)
        if column is not None and group.columns[column].ruling is None:
            places[key, column] = None
    return list(places)
