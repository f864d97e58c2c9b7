"""How far a kit has come: the steps that have made something. A step is done when nothing about it stands open as well."""

from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit


def steps_made(kit: Kit) -> tuple[str, ...]:
    """The steps, in their order, whose work is there: takes, layers that hold them, notes and touch that reach them, and
    outputs they leave by. Listening and delivering leave nothing in a kit."""
    strokes = [stroke for piece in pieces_of(kit) for stroke in piece.articulations if stroke.takes]
    layered = bool(strokes) and all(any(layer.takes for layer in stroke.layers) for stroke in strokes)
    on_notes = {placed.articulation for placed in kit.notes.placed}
    reached = any(stroke.id in on_notes for stroke in strokes)
    leaves = any(feed.on for feed in kit.routing.feeds)
    made = {"recordings": bool(strokes), "layers": layered, "notes": reached, "touch": reached, "routing": leaves}
    return tuple(step for step, there in made.items() if there)
