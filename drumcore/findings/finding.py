"""What the product noticed: what, where, why it matters, and the edits that fix it."""

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
    """A fix of one edit, or of several made as one."""
    return Fix(label=label, edit=edits[0] if len(edits) == 1 else Several(said=label, edits=edits))


def that_help(kit: Kit, tries: Iterable[Fix], helped: Callable[[Kit], bool]) -> Iterator[Fix]:
    """Of the fixes there might be, those after which a kit is helped: each is tried, once."""
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
    """The step a finding belongs to and what it is about, by identifier."""

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
    """`title` is a few words, `sentence` says what and why it matters, `place` is where, in words."""

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
        """What it is about, the same however its figures change: `IgnoreFinding` names it so."""
        where = self.where
        about = (where.piece, where.articulation, where.layer, where.take, where.mic, where.channel, where.note)
        return " ".join([self.rule, *("-" if part is None else str(part) for part in about), self.place])[:600]

    @computed_field  # type: ignore[prop-decorator]
    @property
    def another(self) -> bool:
        """Whether another piece in the place of this one would answer it."""
        return self.rule in ANSWERED_BY_ANOTHER and self.where.piece is not None


def articulation_place(piece: Piece, articulation: Articulation, detail: str = "") -> str:
    return full_name(piece, articulation) + (f" · {detail}" if detail else "")


def articulation_where(
    step: str, piece: Piece, articulation: Articulation, layer: int | None = None, take: Take | None = None
) -> Where:
    return Where(step=step, piece=piece.id, articulation=articulation.id, layer=layer, take=take.id if take else None)
