"""The workspace that a request, a job or a command acts in. Whoever has said none reaches nothing."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

LOCAL = 1
"""The workspace of the person at this machine; the only one there is."""
_acting_in: ContextVar[int | None] = ContextVar("workspace", default=None)


class NoWorkspace(Exception):
    """Rows that belong to somebody were asked for by nobody: a fault of the program, never of a user."""


def current_workspace() -> int:
    """The identifier of the workspace that is acted in. Raises NoWorkspace where none is."""
    workspace = _acting_in.get()
    if workspace is None:
        raise NoWorkspace("Say whose rows these are: with acting_in(workspace).")
    return workspace


@contextmanager
def acting_in(workspace: int) -> Iterator[None]:
    """Act in a workspace within."""
    token = _acting_in.set(workspace)
    try:
        yield
    finally:
        _acting_in.reset(token)
