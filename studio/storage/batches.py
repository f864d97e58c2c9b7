"""Batches: a query takes a limited number of values, and nobody should wait for all of them."""

from collections.abc import Iterable, Iterator
from itertools import islice
from typing import TypeVar

Item = TypeVar("Item")
AT_ONCE = 500
"""How many a query is asked for: SQLite takes some thousands, other databases fewer."""


def batches(items: Iterable[Item], size: int = AT_ONCE) -> Iterator[list[Item]]:
    """Lists of at most `size`, in order."""
    left = iter(items)
    while batch := list(islice(left, size)):
        yield batch
