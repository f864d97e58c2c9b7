"""One thing of the library, whatever its kind, as far as it is found, sorted and counted."""

from datetime import datetime

from drumcore.kit.summary import PieceSummary
from drumcore.kit.values import Description, Tags
from drumcore.value import Value


class Entry(Value):
    """`kind` is the plural of what it is, `id` its identifier among those. `words` are what else it is found by: families,
    pieces, microphones, kits. `figures` says how much there is of it; `pieces` are drawn. One that is `carried` has a file of its own. One that `ships` is nobody's to
    change; one that is `away` is put away. `changed` and `played` are when that was last, None where nobody noted it.
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
    put_away: bool = False
    changed: datetime | None = None
    played: datetime | None = None
    trouble: str = ""


def counted(number: int, noun: str) -> str:
    """“1 piece”, “1,224 takes”."""
    return f"{number:,} {noun}{'' if number == 1 else 's'}"
