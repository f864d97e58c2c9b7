"""A kit's state as sent over HTTP."""

from django.http import HttpResponse

from studio.kits.state import KitState


def kit_state(state: KitState) -> HttpResponse:
    """A kit's state as JSON, serialised once: letting the framework validate it again doubles the cost of an edit. In
    the play table, which is most of it, values equal to their defaults are left out.
    """
    head = state.model_dump_json(exclude={"play_pieces"})
    parts = ",".join(piece.model_dump_json(exclude_defaults=True) for piece in state.play_pieces)
    return HttpResponse(f'{head[:-1]},"play_pieces":[{parts}]}}', content_type="application/json")
