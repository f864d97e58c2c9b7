"""Numbers written to an articulation that count articulations: Open1, Open2 and Open3 are three steps of open hats, and
so are Hat 1, Hat 2 and Hat 3 if velocity layer and round robin are said beside them.
"""

from collections import defaultdict
from collections.abc import Mapping, Sequence

from drumcore.kit.values import Family
from drumcore.recordings.files import Measured
from drumcore.recordings.names import NameReading
from drumcore.recordings.rank_correlation import follows
from drumcore.recordings.sound_differences import sound_unlike

MOST_STEPS = 8
OPENNESS = "openness"
AS_GOOD_AS_STRENGTH = 0.8


def number_articulations(readings: Sequence[NameReading], files: Mapping[str, Measured]) -> None:
    """Makes such numbers part of the articulations' names: if velocity layer and round robin are said beside them, or if
    one of the two is and the articulations sound unlike. `files` are the measured files by path.
    """
    groups: dict[tuple[object, str], list[NameReading]] = defaultdict(list)
    for reading in readings:
        if reading.piece is not None and _glued(reading) is not None:
            groups[reading.piece, reading.articulation].append(reading)
    for group in groups.values():
        if _count_articulations(group, files):
            for reading in group:
                glued = _glued(reading)
                assert glued is not None
                written = reading.numbers[glued]
                reading.numbers = [number for place, number in enumerate(reading.numbers) if place != glued]
                reading.articulation = f"{reading.articulation or OPENNESS} {written.value}"
                reading.articulations = (*reading.articulations, str(written.value))


def _glued(reading: NameReading) -> int | None:
    """The place of the number that is written to the name's articulation."""
    hats = reading.piece is not None and reading.piece.family is Family.HATS and not reading.articulation
    return next(
        (
            place
            for place, number in enumerate(reading.numbers)
            if (number.articulation and number.articulation in reading.articulation) or (hats and number.beside_piece)
        ),
        None,
    )


def _count_articulations(group: list[NameReading], files: Mapping[str, Measured]) -> bool:
    values = {reading.numbers[_glued(reading) or 0].value for reading in group}
    if not 2 <= len(values) <= MOST_STEPS:
        return False
    others = min(len(reading.numbers) for reading in group) - 1
    others += all(reading.strength is not None or reading.strength_word for reading in group)
    others += all(reading.repeat is not None or reading.hand is not None for reading in group)
    others += all(any(len(word) == 1 for word in reading.unknown) for reading in group)
    attached = all(reading.numbers[_glued(reading) or 0].attached for reading in group)
    if others >= 2 and (attached or not group[0].articulations):
        return True
    if others < 2 and not attached:
        return False
    if others == 0 or not group[0].articulations or _rises(group, files):
        return False
    return sound_unlike(list(_by_number(group, files).values()))


def _rises(group: list[NameReading], files: Mapping[str, Measured]) -> bool:
    """Whether the number follows level as a velocity layer does, and nothing else does."""
    columns = []
    for column in range(min(len(reading.numbers) for reading in group)):
        pairs = [(float(r.numbers[column].value), files[r.path].measurements.level_db) for r in group]
        columns.append(abs(follows([([x for x, _ in pairs], [y for _, y in pairs])]) or 0.0))
    glued = _glued(group[0]) or 0
    return columns[glued] >= AS_GOOD_AS_STRENGTH and columns[glued] == max(columns)


def _by_number(group: list[NameReading], files: Mapping[str, Measured]) -> dict[int, dict[object, Measured]]:
    """The files of each number, by what else their names say."""
    found: dict[int, dict[object, Measured]] = defaultdict(dict)
    for reading in group:
        glued = _glued(reading) or 0
        rest = tuple(number.value for place, number in enumerate(reading.numbers) if place != glued)
        place = (reading.mic.lower(), reading.strength, reading.repeat, reading.hand, rest, tuple(reading.unknown))
        found[reading.numbers[glued].value][place] = files[reading.path]
    return found
