"""The current workspace of a request, job or command. Without one, nothing can be reached."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

LOCAL = 1
"""The workspace of the person at this machine; the only one there is."""
_acting_in: ContextVar[int | None] = ContextVar("workspace", default=None)


class NoWorkspace(Exception):
    """Owned rows were requested without a workspace: a programming error, never a user's."""


def current_workspace() -> int:
    """The id of the current workspace. Raises NoWorkspace if there is none."""
    workspace = _acting_in.get()
    if workspace is None:
        raise NoWorkspace("Say whose rows these are: with acting_in(workspace).")
    return workspace


@contextmanager
def acting_in(workspace: int) -> Iterator[None]:
    """A context in which a workspace is the current one."""
    token = _acting_in.set(workspace)
    try:
        yield
    finally:
        _acting_in.reset(token)
