"""What each edit means: `apply(kit, edit)` is pure, and refuses with a sentence."""

from drumcore.edits import bleed as bleed_edits
from drumcore.edits import bring_piece
from drumcore.edits import buses as buses_edits
from drumcore.edits import channels as channels_edits
from drumcore.edits import findings as findings_edits
from drumcore.edits import layers as layers_edits
from drumcore.edits import notes as notes_edits
from drumcore.edits import outputs as outputs_edits
from drumcore.edits import pieces as pieces_edits
from drumcore.edits import single_sounds as single_sounds_edits
from drumcore.edits import takes as takes_edits
from drumcore.edits import touch as touch_edits
from drumcore.edits import values as e
from drumcore.edits.registry import Meanings
from drumcore.kit.invariants import hold
from drumcore.kit.values import Kit


def apply(kit: Kit, edit: e.Edit) -> Kit:
    """The kit with the edit made.

    Raises Refusal with a sentence if it cannot be made; nothing is half changed. The result is checked against the
    kit's invariants (`kit.invariants`), for several edits made as one only at their end.
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
    pieces_edits.MEANINGS,
    layers_edits.MEANINGS,
    takes_edits.MEANINGS,
    single_sounds_edits.MEANINGS,
    bring_piece.MEANINGS,
    notes_edits.MEANINGS,
    touch_edits.MEANINGS,
    channels_edits.MEANINGS,
    outputs_edits.MEANINGS,
    buses_edits.MEANINGS,
    bleed_edits.MEANINGS,
    findings_edits.MEANINGS,
)
MEANINGS.add(e.Several, _several)
