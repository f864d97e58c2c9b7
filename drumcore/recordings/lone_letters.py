"""Letters that stand before numbers in a session's names and mean nothing else there: the p of p1 to p5."""

import re
from collections.abc import Iterable

_LETTERED = re.compile(r"(?<![A-Za-z])([A-Za-z]{1,3})(?=\d)")
_DYNAMIC = re.compile(r"(?<![A-Za-z])(p{1,4}|mp|mf|f{1,4})(?![A-Za-z])", re.IGNORECASE)


def letters_before_numbers(names: Iterable[str]) -> frozenset[str]:
    """Of p, f and l, those that only ever stand right before a number, so that p1 to p5 count something: soft (piano) and
    loud (forte) come with other marks of that kind, and a left hand with a right one.
    """
    dynamics: set[str] = set()
    lettered: set[str] = set()
    bare: set[str] = set()
    right_alone = False
    for name in names:
        found = {match.lower() for match in _LETTERED.findall(name)}
        dynamics |= {match.lower() for match in _DYNAMIC.findall(name)}
        lettered |= found
        bare |= {match.lower() for match in re.findall(r"(?<![A-Za-z])([A-Za-z])(?![A-Za-z\d])", name)}
        right_alone |= "r" in found and "l" not in found
    counted: set[str] = {letter for letter in ("p", "f") if letter in lettered and dynamics <= {letter}}
    if "l" in lettered and not right_alone:
        counted.add("l")
    return frozenset(counted - bare)
