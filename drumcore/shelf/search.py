"""Finding among many things: every word asked for begins a word of what it says; tags narrow; then they are sorted."""

import re
import unicodedata
from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from enum import StrEnum

from drumcore.kit.memoization import remembered
from drumcore.shelf.entries import Entry
from drumcore.value import Value

LONG_AGO = datetime(1, 1, 1, tzinfo=UTC)


class Sort(StrEnum):
    CHANGED = "changed"
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
    found = [e for e in entries if set(tags) <= set(e.tags) and _say_all(wanted, _said(e))]
    found.sort(key=lambda e: (unaccented(e.name), e.id))
    if sort is Sort.CHANGED:
        found.sort(key=lambda e: e.changed or LONG_AGO, reverse=True)
    if wanted:
        found.sort(key=lambda e: not _say_all(wanted, words_of(e.name)))
    counts = Counter(tag for entry in found for tag in entry.tags)
    listed = sorted(counts.items(), key=lambda each: (-each[1], each[0]))
    stretch = found[start:] if count is None else found[start : start + count]
    return Found(
        entries=tuple(stretch), total=len(found), tags=tuple(TagCount(tag=tag, count=number) for tag, number in listed)
    )


def says(asked: str, *texts: str) -> bool:
    """Whether every word asked for begins a word of some texts."""
    return _say_all(words_of(asked), words_of(" ".join(texts)))


def _say_all(wanted: Sequence[str], words: Sequence[str]) -> bool:
    return all(any(each.startswith(word) for each in words) for word in wanted)


@remembered(limit=8000)
def _said(entry: Entry) -> tuple[str, ...]:
    return words_of(" ".join((entry.name, entry.description, *entry.tags, *entry.words)))


def words_of(text: str) -> tuple[str, ...]:
    """The words of a text, without accents and in one case."""
    return tuple(re.findall(r"[^\W_]+", unaccented(text)))


def unaccented(text: str) -> str:
    return "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))
