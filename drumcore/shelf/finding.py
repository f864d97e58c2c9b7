"""Finding among many things: every word asked for begins a word of what it says; tags narrow; then they are sorted."""

import re
import unicodedata
from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from enum import StrEnum

from drumcore.kit.remembering import remembered
from drumcore.shelf.entries import Entry
from drumcore.value import Value

LONG_AGO = datetime(1, 1, 1, tzinfo=UTC)


class Sort(StrEnum):
    CHANGED = "changed"
    PLAYED = "played"
    NAME = "name"


class TagCount(Value):
    tag: str
    count: int


class Found(Value):
    """`entries` are a stretch of the `total` that were found; `tags` are those of all that were found, with how many more
    each would leave."""

    entries: tuple[Entry, ...]
    total: int
    tags: tuple[TagCount, ...]


def find(
    entries: Iterable[Entry],
    asked: str = "",
    tags: Sequence[str] = (),
    sort: Sort = Sort.CHANGED,
    start: int = 0,
    count: int | None = None,
) -> Found:
    """What an entry is found by: its name, description, tags and words. Every word asked for has to begin one of them,
    accents and case aside; all tags asked for have to be on it. Those whose name has all the words come first."""
    wanted = words_of(asked)
    found = [e for e in entries if set(tags) <= set(e.tags) and all(_begins(word, _said(e)) for word in wanted)]
    found.sort(key=lambda e: (unaccented(e.name), e.id))
    if sort is not Sort.NAME:
        found.sort(key=lambda e: getattr(e, sort.value) or LONG_AGO, reverse=True)
    if wanted:
        found.sort(key=lambda e: not all(_begins(word, words_of(e.name)) for word in wanted))
    counts = Counter(tag for entry in found for tag in entry.tags)
    listed = sorted(counts.items(), key=lambda each: (-each[1], each[0]))
    stretch = found[start:] if count is None else found[start : start + count]
    return Found(
        entries=tuple(stretch), total=len(found), tags=tuple(TagCount(tag=tag, count=number) for tag, number in listed)
    )


def _begins(word: str, words: Sequence[str]) -> bool:
    return any(each.startswith(word) for each in words)


@remembered(limit=8000)
def _said(entry: Entry) -> tuple[str, ...]:
    return words_of(" ".join((entry.name, entry.description, *entry.tags, *entry.words)))


def words_of(text: str) -> tuple[str, ...]:
    """The words of a text, without accents and in one case."""
    return tuple(re.findall(r"[^\W_]+", unaccented(text)))


def unaccented(text: str) -> str:
    return "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))
