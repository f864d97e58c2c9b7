"""How the names of a session are read, column by column: what each column means, why, and on what evidence."""

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from typing import Literal

from drumcore.recordings.guidance import Meaning
from drumcore.recordings.mics_by_sound import REASON
from drumcore.recordings.names import NameReading
from drumcore.recordings.names_without_marks import NamesRead, mark_of
from drumcore.recordings.numbers import Decision, Shape, shape_of
from drumcore.recordings.rank_correlation import said_of_repeat, said_of_strength
from drumcore.recordings.unknown_words import DOUBTFUL, SURE, Question
from drumcore.value import Value

MOST_SAMPLES = 8


class Column(Value):
    """One column of a group of similar names.

    `meaning` is its present meaning in words; `evidence` the rank correlation with level, if that decided; `ruling` the
    user's correction, made in group `ruled_in`; `samples` some of its texts, the most frequent first. `sure` is the
    confidence, 0 to 1; `doubtful` if that is too low. `elsewhere` lists columns (group, column) of other groups with
    the same content and meaning, to be corrected along with it. `by_itself` is the meaning without a correction.
    """

    text: str
    place: Literal["folder", "name"]
    meaning: str
    reason: str
    evidence: float | None = None
    ruling: Meaning | None = None
    ruled_in: str | None = None
    samples: tuple[str, ...] = ()
    distinct: int = 0
    sure: float = 1.0
    doubtful: bool = False
    elsewhere: tuple[tuple[str, int], ...] = ()
    by_itself: str = ""


class NameGroup(Value):
    """Names of one form: the same folder depth and the same kinds of words and numbers in the same order."""

    key: str
    example: str
    files: int
    columns: tuple[Column, ...]


_SAID = {"position": "mic", "micword": "mic", "unknown": "ignored"}
_REASONS = {
    "piece": "a word for a piece",
    "articulation": "a word for a way of striking",
    "mic": "names a microphone",
    "strength": "a word for a velocity layer",
    "hand": "left or right",
    "note": "names a note",
    "unknown": "no word of it is known",
    "ignored": "a word that is not used",
}


def name_groups(
    names: NamesRead, decisions: Mapping[Shape, Decision], questions: Sequence[Question] = ()
) -> tuple[NameGroup, ...]:
    """The groups of similar names, the largest first."""
    groups: dict[str, list[NameReading]] = defaultdict(list)
    for reading in names.readings:
        groups[reading.group].append(reading)
    asked = {place: q for q in questions for place in ((q.group, q.column), *q.elsewhere)}
    made = [_group(key, members, decisions, names, asked) for key, members in groups.items()]
    return tuple(_with_elsewhere(group, made) for group in sorted(made, key=lambda g: (-g.files, g.key)))


def _group(
    key: str,
    members: list[NameReading],
    decisions: Mapping[Shape, Decision],
    names: NamesRead,
    asked: Mapping[tuple[str, int], Question],
) -> NameGroup:
    example = members[len(members) // 2]
    meanings = names.guidance.meanings(key)
    depth = int(key.split(" ", 1)[0])
    columns = []
    for place, (text, role) in enumerate(example.segments):
        counted = Counter(r.segments[place][0] for r in members if place < len(r.segments))
        ruling = meanings.get(place)
        mark = mark_of(key)
        if place == mark:
            meaning, reason, evidence = "mic", REASON, None
        else:
            read_as = place - depth - (mark is not None and place > mark)
            meaning, reason, evidence = _meaning(example, read_as, role, decisions)
        question = asked.get((key, place))
        by_itself = meaning
        if ruling is not None:
            meaning, reason = ruling, "you said so"
        elif question is not None:
            meaning, reason = question.guess, f"a guess: {question.why}"
        elif place < depth and role in ("unknown", "piece") and text.strip() == example.mic:
            meaning, reason = "mic", "a folder beside microphones"
        sure = _sure(meaning, evidence, ruling, question, role, len(counted))
        columns.append(
            Column(
                text=text,
                place="folder" if place < depth else "name",
                meaning=meaning,
                reason=reason,
                evidence=evidence,
                ruling=ruling,
                ruled_in=names.ruled_in.get(key, key) if ruling is not None else None,
                samples=tuple(sample for sample, _ in counted.most_common(MOST_SAMPLES)),
                distinct=len(counted),
                by_itself=by_itself,
                sure=sure,
                doubtful=sure < SURE,
            )
        )
    return NameGroup(key=key, example=example.path, files=len(members), columns=tuple(columns))


def _meaning(
    example: NameReading, segment: int, role: str, decisions: Mapping[Shape, Decision]
) -> tuple[str, str, float | None]:
    """What a column means, why, and the correlation that decided it."""
    if role != "number":
        if role == "note" and example.note is None:
            return "ignored", "not the same note for most of an articulation", None
        said = " ".join(_SAID.get(word, word) for word in role.split())
        return said, " and ".join(_REASONS.get(word, "names a microphone") for word in role.split()), None
    decision = decisions.get(shape_of(example))
    column = next((i for i, n in enumerate(example.numbers) if n.segment == segment), None)
    if column is None:
        if example.piece is not None and example.piece.index is not None:
            return "piece", "counts the pieces", None
        return "ignored", "no file of its articulation differs in it", None
    if decision is None:
        return "ignored", "no file of its articulation differs in it", None
    follows = decision.follows[column] if column < len(decision.follows) else None
    mark = example.numbers[column].mark
    if column == decision.strength:
        reason = said_of_strength(follows) if follows is not None else "it is marked so"
        return "strength", reason, follows
    if column == decision.repeat:
        if follows is None:
            return "repeat", "it is marked so" if mark else "it counts files alike in level", None
        return "repeat", said_of_repeat(follows), follows
    return (
        "ignored",
        "no file of its articulation differs in it" if follows is None else "another column says it",
        follows,
    )


def _sure(
    meaning: str, evidence: float | None, ruling: Meaning | None, question: Question | None, role: str, distinct: int
) -> float:
    """The confidence in a column's meaning. A known word is almost certain; a number is as certain as its correlation
    with level is clear; a column with an open question is doubtful, and so is an ignored word that varies.
    """
    if ruling is not None:
        return 1.0
    if question is not None:
        return DOUBTFUL
    if meaning == "strength" and evidence is not None:
        return round(0.5 + 0.5 * abs(evidence), 2)
    if meaning == "repeat" and evidence is not None:
        return round(1.0 - 0.5 * abs(evidence), 2)
    if role == "unknown":
        return 0.7 if distinct > 1 else 0.9
    return 0.95


def _with_elsewhere(group: NameGroup, groups: Sequence[NameGroup]) -> NameGroup:
    """The group with the columns of other groups to which a correction of its own would also apply."""
    columns = []
    for column in group.columns:
        mine = {sample.lower() for sample in column.samples}
        fits = tuple(
            (other.key, place)
            for other in groups
            if other.key != group.key
            for place, theirs in enumerate(other.columns)
            if theirs.place == column.place
            and theirs.ruling is None
            and theirs.by_itself == column.by_itself
            and len(mine & {s.lower() for s in theirs.samples}) * 2 >= min(len(mine), len(theirs.samples))
        )
        columns.append(column.but(elsewhere=fits))
    return group.but(columns=tuple(columns))
