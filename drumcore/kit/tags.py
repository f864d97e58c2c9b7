"""What a tag may be: a few words in lower case, each once."""

from collections.abc import Iterable

LONGEST = 40
MOST = 24


def plain_tags(tags: Iterable[str]) -> tuple[str, ...]:
    """Tags without spaces around them, in lower case, each once, in their order; empty ones are left out."""
    plain = (" ".join(tag.split()).lower()[:LONGEST] for tag in tags)
    return tuple(dict.fromkeys(tag for tag in plain if tag))[:MOST]
