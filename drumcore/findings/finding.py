"""A finding: what was noticed, where, why it matters, and the edits that fix it."""

from collections.abc import Callable, Iterable, Iterator
from enum import StrEnum

from pydantic import computed_field

from drumcore.edits.apply import apply
from drumcore.edits.values import Edit, OneEdit, Several
from drumcore.kit.lookup import full_name
from drumcore.kit.values import Articulation, Kit, Piece, Take
from drumcore.refusals import Refusal
from drumcore.value import Value


class FindingLevel(StrEnum):
    INFORMATION = "information"
    WORTH_A_LOOK = "worth_a_look"
    WRONG = "wrong"


class Fix(Value):
    label: str
    edit: Edit


def fix(label: str, *edits: OneEdit) -> Fix:
    """A fix by one edit, or by several made as one."""
    return Fix(label=label, edit=edits[0] if len(edits) == 1 else Several(said=label, edits=edits))


def that_help(kit: Kit, tries: Iterable[Fix], helped: Callable[[Kit], bool]) -> Iterator[Fix]:
    """The possible fixes that really help; each is tried on the kit once."""
    tried: list[Edit] = []
    for one in tries:
        if one.edit in tried:
            continue
        tried.append(one.edit)
        try:
            after = apply(kit, one.edit)
        except Refusal:
            continue
        if helped(after):
            yield one


class Where(Value):
    """The step a finding belongs to and the items it is about, by id."""

    step: str
    piece: str | None = None
    articulation: str | None = None
    layer: int | None = None
    take: str | None = None
    mic: str | None = None
    channel: str | None = None
    note: int | None = None


ANSWERED_BY_ANOTHER = frozenset({"single_take", "all_but_identical", "hardly_louder", "quieter_than_what_it_replaced"})
"""What no fix of the piece itself makes good: it was recorded so."""


class Finding(Value):
    """`title` is a few words, `sentence` says what is wrong and why it matters, `place` names where."""

    rule: str
    level: FindingLevel
    title: str
    sentence: str
    place: str
    where: Where
    fixes: tuple[Fix, ...] = ()
    ignored: bool = False

    @computed_field  # type: ignore[prop-decorator]
    @property
    def key(self) -> str:
        """Identifies the finding however its figures change; `IgnoreFinding` refers to it by this key."""
        where = self.where
        about = (where.piece, where.articulation, where.layer, where.take, where.mic, where.channel, where.note)
        return " ".join([self.rule, *("-" if part is None else str(part) for part in about), self.place])[:600]

    @computed_field  # type: ignore[prop-decorator]
    @property
    def another(self) -> bool:
        """Whether replacing the piece would fix it."""
        return self.rule in ANSWERED_BY_ANOTHER and self.where.piece is not None


def articulation_place(piece: Piece, articulation: Articulation, detail: str = "") -> str:
    return full_name(piece, articulation) + (f" · {detail}" if detail else "")


def articulation_where(
    step: str, piece: Piece, articulation: Articulation, layer: int | None = None, take: Take | None = None
) -> Where:
    return Where(step=step, piece=piece.id, articulation=articulation.id, layer=layer, take=take.id if take else None)
