"""A kit's state as it goes over the wire."""

from django.http import HttpResponse

from studio.kits.state import KitState


def kit_state(state: KitState) -> HttpResponse:
    """A kit's state as JSON, written once: a framework that validates it again doubles the cost of an edit.

    Of the play table, the bulk, only what differs from the usual is written.
    """
    head = state.model_dump_json(exclude={"play_pieces"})
    parts = ",".join(piece.model_dump_json(exclude_defaults=True) for piece in state.play_pieces)
    return HttpResponse(f'{head[:-1]},"play_pieces":[{parts}]}}', content_type="application/json")
