"""The browser tab that a request comes from: undo takes back what this tab did."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

LONGEST = 40
_tab: ContextVar[str] = ContextVar("tab", default="")


def this_tab() -> str:
    """The tab of the request that is being answered; empty for requests that name none."""
    return _tab.get()


@contextmanager
def asked_by(tab: str) -> Iterator[None]:
    """Everything done within counts as done by a tab."""
    before = _tab.set(tab[:LONGEST])
    try:
        yield
    finally:
        _tab.reset(before)
