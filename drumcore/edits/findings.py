"""The edit that ignores a finding."""

from typing import Annotated, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.values import Kit
from drumcore.value import Value


class IgnoreFinding(Value):
    """Ignores a finding, or stops ignoring it. `finding` is its key."""

    kind: Literal["ignore_finding"] = "ignore_finding"
    finding: Annotated[str, Field(min_length=1, max_length=600)]
    ignored: bool = True


def _ignore_finding(kit: Kit, edit: IgnoreFinding) -> Kit:
    left = tuple(key for key in kit.ignored if key != edit.finding)
    # Sorted, so that two kits with the same ignored findings are equal.
    return kit.but(ignored=tuple(sorted((*left, edit.finding))) if edit.ignored else left)


MEANINGS = Meanings()
MEANINGS.add(IgnoreFinding, _ignore_finding)
