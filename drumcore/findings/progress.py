"""How far a kit has come: the steps that have made something. A step is done when nothing about it stands open as well."""

from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit


def steps_made(kit: Kit) -> tuple[str, ...]:
    """The steps, in their order, whose work is there: takes, layers that hold them, notes and touch that reach them, and
    outputs they leave by. Listening and delivering leave nothing in a kit."""
    articulations = [
        articulation for piece in pieces_of(kit) for articulation in piece.articulations if articulation.takes
    ]
    layered = bool(articulations) and all(
        any(layer.takes for layer in articulation.layers) for articulation in articulations
    )
    on_notes = {placed.articulation for placed in kit.notes.placed}
    reached = any(articulation.id in on_notes for articulation in articulations)
    leaves = any(feed.on for feed in kit.routing.feeds)
    made = {"recordings": bool(articulations), "layers": layered, "notes": reached, "touch": reached, "routing": leaves}
    return tuple(step for step, there in made.items() if there)
