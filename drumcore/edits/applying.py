"""What each edit means: `apply(kit, edit)` is pure, and refuses with a sentence."""

from drumcore.edits import (
    of_bleed,
    of_buses,
    of_findings,
    of_layers,
    of_notes,
    of_outputs,
    of_pieces,
    of_routing,
    of_sounds,
    of_takes,
    of_taking,
    of_touch,
)
from drumcore.edits import values as e
from drumcore.edits.meaning import Meanings
from drumcore.kit.holding import hold
from drumcore.kit.values import Kit


def apply(kit: Kit, edit: e.Edit) -> Kit:
    """The kit with the edit made. Raises Refusal with a sentence where it cannot be; the kit is never half changed.

    What comes out is held to what holds for every kit (`kit.holding`); of several edits made as one, at their end.
    """
    changed = _meaning(kit, edit)
    if changed is not kit:
        hold(changed)
    return changed


def _meaning(kit: Kit, edit: e.Edit) -> Kit:
    return MEANINGS[type(edit)](kit, edit)


def _several(kit: Kit, edit: e.Several) -> Kit:
    for one in edit.edits:
        kit = _meaning(kit, one)
    return kit


MEANINGS = Meanings(
    of_pieces.MEANINGS,
    of_layers.MEANINGS,
    of_takes.MEANINGS,
    of_sounds.MEANINGS,
    of_taking.MEANINGS,
    of_notes.MEANINGS,
    of_touch.MEANINGS,
    of_routing.MEANINGS,
    of_outputs.MEANINGS,
    of_buses.MEANINGS,
    of_bleed.MEANINGS,
    of_findings.MEANINGS,
)
MEANINGS.add(e.Several, _several)
