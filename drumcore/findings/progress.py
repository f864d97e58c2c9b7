"""Which steps of a kit have results. A step is done if it also has no open finding."""

from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit


def steps_made(kit: Kit) -> tuple[str, ...]:
    """The steps, in order, that have results in the kit: takes, layers that hold them, notes and touch that reach them,
    and outputs they leave by. Rehearsal and Delivery leave nothing in a kit.
    """
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
