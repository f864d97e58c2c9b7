"""Search in the library: every search word must begin a word of the item, all tags must match, and the result is
sorted.
"""

import re
import unicodedata
from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from enum import StrEnum

from drumcore.kit.memoization import remembered
from drumcore.natural_order import natural_key
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
    """`entries` is one page of the `total` found; `tags` are those of everything found, with the number of items each
    would leave.
    """

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
    """Searches name, description, tags and words. Every search word must begin one of them, ignoring accents and case;
    all tags must be present. Items with all the words in their name come first.
    """
    wanted = words_of(asked)
    found = [e for e in entries if set(tags) <= set(e.tags) and _say_all(wanted, _said(e))]
    found.sort(key=lambda e: (natural_key(unaccented(e.name)), e.id))
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
    """Whether every search word begins a word of some texts."""
    return _say_all(words_of(asked), words_of(" ".join(texts)))


def _say_all(wanted: Sequence[str], words: Sequence[str]) -> bool:
    return all(any(each.startswith(word) for each in words) for word in wanted)


@remembered(limit=8000)
def _said(entry: Entry) -> tuple[str, ...]:
    return words_of(" ".join((entry.name, entry.description, *entry.tags, *entry.words)))


def words_of(text: str) -> tuple[str, ...]:
    """The words of a text, without accents, in lower case."""
    return tuple(re.findall(r"[^\W_]+", unaccented(text)))


def unaccented(text: str) -> str:
    return "".join(c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c))
