"""Teaching notes by hitting pads: what was meant, and the edit that keeps it."""

from collections.abc import Sequence

from drumcore.edits.notes import TeachNote
from drumcore.kit.values import Kit
from drumcore.notes.lessons import (
    IgnoredStrike,
    Message,
    Taught,
    hear,
    hit_again,
    occupants,
    said,
    same_note_by_openness,
)
from drumcore.value import Value


class TeachingHeard(Value):
    """What was heard, with a sentence. `plays` is what the note plays now, `edit` what keeping it would do. `clash`
    names articulations taught on the same note in this round, because the same pad was hit twice. `taught` is None if
    no strike was meant.
    """

    said: str
    taught: Taught | None = None
    velocity: int = 0
    ignored: tuple[IgnoredStrike, ...] = ()
    plays: tuple[str, ...] = ()
    clash: tuple[str, ...] = ()
    edit: TeachNote | None = None


def teach(
    kit: Kit, articulation_id: str, messages: Sequence[Message], taught: Sequence[Taught], input_id: str
) -> TeachingHeard:
    """Interprets the messages received while an articulation was taught; `taught` holds the earlier results of this
    round.
    """
    heard = hear(kit, articulation_id, messages, taught, input_id)
    if heard.note is None:
        return TeachingHeard(said=said(kit, heard), ignored=heard.ignored)
    beside = same_note_by_openness(kit, articulation_id, heard, taught)
    sharing = {articulation_id, *(t.articulation for t in beside)}
    return TeachingHeard(
        said=said(kit, heard),
        taught=Taught(articulation=articulation_id, note=heard.note, openness=heard.openness),
        velocity=heard.velocity,
        ignored=heard.ignored,
        plays=occupants(kit, heard.note, sharing),
        clash=hit_again(kit, articulation_id, heard, taught, beside),
        edit=TeachNote(articulation=articulation_id, note=heard.note, openness=heard.openness, beside=beside),
    )
