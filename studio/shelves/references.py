"""Which recordings saved values refer to, kept in a table."""

import re
from collections.abc import Iterator

from studio.shelves.models import Kept, KeptReference

_HASH = re.compile(r"[0-9a-f]{40}(?:[0-9a-f]{24})?")


def named_within(value: object) -> Iterator[str]:
    """Every complete hash in the texts of a JSON value."""
    if isinstance(value, str):
        if _HASH.fullmatch(value):
            yield value
    elif isinstance(value, dict):
        for each in value.values():
            yield from named_within(each)
    elif isinstance(value, list):
        for each in value:
            yield from named_within(each)


def refer(kept: Kept) -> None:
    """Records exactly what a saved value refers to. Call it in the transaction that saves it."""
    KeptReference.objects.filter(kept=kept).delete()
    names = sorted(set(named_within(kept.data)))
    KeptReference.objects.bulk_create([KeptReference(kept=kept, name=name) for name in names], 500)
