"""Edits of findings, and what they mean."""

from typing import Annotated, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.values import Kit
from drumcore.value import Value


class IgnoreFinding(Value):
    """Let a finding stand as it is meant to be (`ignored`), or bring it back. `finding` is its key."""

    kind: Literal["ignore_finding"] = "ignore_finding"
    finding: Annotated[str, Field(min_length=1, max_length=600)]
    ignored: bool = True


def _ignore_finding(kit: Kit, edit: IgnoreFinding) -> Kit:
    left = tuple(key for key in kit.ignored if key != edit.finding)
    # In an order of their own, so that it says nothing which was ignored first.
    return kit.but(ignored=tuple(sorted((*left, edit.finding))) if edit.ignored else left)


MEANINGS = Meanings()
MEANINGS.add(IgnoreFinding, _ignore_finding)
