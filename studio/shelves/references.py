"""Which recordings kept values name, kept in a table beside them."""

import re
from collections.abc import Iterator

from studio.shelves.models import Kept, KeptReference

_HASH = re.compile(r"[0-9a-f]{40}(?:[0-9a-f]{24})?")


def named_within(value: object) -> Iterator[str]:
    """Every hash that stands alone in a text of a JSON value."""
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
    """Note what a kept value names, and nothing else. To be called in the transaction that keeps it."""
    KeptReference.objects.filter(kept=kept).delete()
    names = sorted(set(named_within(kept.data)))
    KeptReference.objects.bulk_create([KeptReference(kept=kept, name=name) for name in names], 500)
