"""Side effects of fixes: findings that a fix would cause."""

from collections.abc import Sequence

from drumcore.edits.apply import apply
from drumcore.edits.findings import IgnoreFinding
from drumcore.edits.values import Edit
from drumcore.findings.finding import Finding
from drumcore.findings.rules import notice
from drumcore.kit.values import Kit
from drumcore.refusals import Refusal
from drumcore.value import Value


class Foreseen(Value):
    """A fix, by its label, and the titles of the findings it would cause."""

    label: str
    brings: tuple[str, ...]


def foreseen(kit: Kit, key: str, found: Sequence[Finding]) -> tuple[Foreseen, ...]:
    """What each fix of a finding would cause; `found` are all findings of the kit. Raises Refusal if the finding is not
    among them.
    """
    finding = next((f for f in found if f.key == key), None)
    if finding is None:
        raise Refusal("That finding no longer exists; the kit has changed.")
    before = {f.key for f in found}
    return tuple(
        Foreseen(label=fix.label, brings=brought(kit, fix.edit, before))
        for fix in finding.fixes
        if not isinstance(fix.edit, IgnoreFinding)
    )


def brought(kit: Kit, edit: Edit, before: set[str]) -> tuple[str, ...]:
    """Titles of the findings that an edit causes, apart from those with a key in `before`."""
    return tuple(f.title for f in _after(kit, edit) if f.key not in before and not f.ignored)


def _after(kit: Kit, edit: Edit) -> list[Finding]:
    try:
        return notice(apply(kit, edit))
    except Refusal:
        return []
