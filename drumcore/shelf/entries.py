"""One item of the library, of any kind, with what is needed to find, sort and count it."""

from datetime import datetime

from drumcore.kit.summary import PieceSummary
from drumcore.kit.values import Description, Tags
from drumcore.value import Value


class Entry(Value):
    """`kind` is the plural of its kind, `id` its id among those. `words` are further search words: families, pieces,
    microphones, kits. `figures` says how much it holds; `pieces` are for its drawing. An item that is `carried` has a
    file form of its own. One that `ships` cannot be changed; one that is `built_in` cannot even be moved to the bin.
    `changed` is the time of the last change, None if unknown.
    """

    kind: str
    id: str
    name: str
    description: Description = ""
    tags: Tags = ()
    words: tuple[str, ...] = ()
    figures: str = ""
    pieces: tuple[PieceSummary, ...] = ()
    carried: bool = False
    ships: bool = False
    built_in: bool = False
    put_away: bool = False
    changed: datetime | None = None
    trouble: str = ""


def sized(size: int) -> str:
    """A file size in a readable unit."""
    return f"{size / 1e6:,.1f} MB" if size < 1e9 else f"{size / 1e9:,.2f} GB"


def counted(number: int, noun: str) -> str:
    """A number with its noun: “1 piece”, “1,224 takes”."""
    return f"{number:,} {noun}{'' if number == 1 else 's'}"
