"""Edits of findings, and what they mean."""

from typing import Annotated, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.values import Kit
from drumcore.value import Value


class SettleFinding(Value):
    """Let a finding stand as it is meant to be (`settled`), or bring it back. `finding` is its key."""

    kind: Literal["settle_finding"] = "settle_finding"
    finding: Annotated[str, Field(min_length=1, max_length=600)]
    settled: bool = True


def _settle_finding(kit: Kit, edit: SettleFinding) -> Kit:
    left = tuple(key for key in kit.settled if key != edit.finding)
    # In an order of their own, so that it says nothing which was settled first.
    return kit.but(settled=tuple(sorted((*left, edit.finding))) if edit.settled else left)


MEANINGS = Meanings()
MEANINGS.add(SettleFinding, _settle_finding)
