"""One thing of the library, whatever its kind, as far as it is found, sorted and counted."""

from datetime import datetime

from drumcore.kit.summary import PieceSummary
from drumcore.kit.values import Description, Tags
from drumcore.value import Value


class Entry(Value):
    """`kind` is the plural of what it is, `id` its identifier among those. `words` are what else it is found by: families,
    pieces, microphones, kits. `figures` says how much there is of it; `pieces` are drawn. One that is `carried` has a file of its
    own. One that `ships` is nobody's to change, and one that is `built_in` cannot even be `put_away`. `changed` is when that was
    last, None where nobody noted it.
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
    """A size on the disk, in the unit that reads best."""
    return f"{size / 1e6:,.1f} MB" if size < 1e9 else f"{size / 1e9:,.2f} GB"


def counted(number: int, noun: str) -> str:
    """“1 piece”, “1,224 takes”."""
    return f"{number:,} {noun}{'' if number == 1 else 's'}"
