"""Tags: lower case, without duplicates."""

from collections.abc import Iterable

LONGEST = 40
MOST = 24


def plain_tags(tags: Iterable[str]) -> tuple[str, ...]:
    """Tags trimmed and in lower case, each once, in their order; empty ones are dropped."""
    plain = (" ".join(tag.split()).lower()[:LONGEST] for tag in tags)
    return tuple(dict.fromkeys(tag for tag in plain if tag))[:MOST]
