"""Figures and sentences as they were when somebody read them over: what the product does today it does tomorrow.

Each page of tests/core/kept is written by `KEEP=1 pytest`, read over line by line (`python -m tests.kept PAGE` prints it), and
committed: what changes there is meant. A test that fails shows which lines differ. In the file what belongs together stands
in one line.
"""

import difflib
import hashlib
import math
import os
import re
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

PAGES = Path(__file__).parent / "core" / "kept"


def same_as_kept(page: str, lines: Iterable[str]) -> None:
    """What differs from a page is shown as somebody who reads it over would want it."""
    path, now = PAGES / f"{page}.txt", [line.replace("\n", " ") for line in lines]
    if os.environ.get("KEEP"):
        path.write_text("".join(f"{BREAK.join(group)}\n" for group in _together(now)), encoding="utf-8")
    kept = lines_of(page)
    if len(kept) == len(now) and all(map(alike, kept, now)):
        return
    told = list(difflib.unified_diff(kept, now, f"{page} as it was", f"{page} as it is", lineterm="", n=1))
    assert not told, "\n".join(told[:60])


BREAK = " ⏎"
LONGEST_GROUP = 16


def _together(lines: Iterable[str]) -> Iterator[list[str]]:
    """Lines that belong under one that begins with “#”; others some at a time."""
    group: list[str] = []
    for line in lines:
        if group and (line.startswith("#") or (not group[0].startswith("#") and len(group) == LONGEST_GROUP)):
            yield group
            group = []
        group.append(line)
    yield group


def lines_of(page: str) -> list[str]:
    """The lines of a page."""
    text = (PAGES / f"{page}.txt").read_text(encoding="utf-8")
    return [line for group in text.splitlines() for line in group.split(BREAK)]


NUMBER = re.compile(r"(-?\d+\.\d+(?:e[-+]\d+)?)")


def alike(kept: str, now: str) -> bool:
    """Two lines that say the same, whose broken numbers are no further apart than processors round."""
    if kept == now:
        return True
    then, there = NUMBER.split(kept), NUMBER.split(now)
    return then[::2] == there[::2] and all(
        math.isclose(float(one), float(other), rel_tol=1e-4, abs_tol=1e-9)
        for one, other in zip(then[1::2], there[1::2], strict=True)
    )


def figure(value: float) -> str:
    return f"{value:.6g}"


def told(before: Any, after: Any, at: str = "") -> Iterator[str]:
    """What changed from one JSON value to another, leaf by leaf; things that have an identity are held against their own."""
    if before == after:
        return
    if isinstance(before, dict) and isinstance(after, dict):
        for key in [*before, *(k for k in after if k not in before)]:
            yield from told(before.get(key), after.get(key), f"{at}.{key}".removeprefix("."))
        return
    then, now = _by_identity(before), _by_identity(after)
    if then is not None and now is not None:
        for key in [*then, *(k for k in now if k not in then)]:
            yield from told(then.get(key), now.get(key), f"{at}[{key}]")
        if [k for k in then if k in now] != [k for k in now if k in then]:
            yield f"{at} in the order {', '.join(now)}"
        return
    yield f"{at}: {short(before)} → {short(after)}"


def some(lines: Iterable[str], most: int = 8) -> Iterator[str]:
    """The first of some lines; of the others a figure that any change of theirs changes too."""
    every = [*lines]
    yield from every[:most]
    if len(every) > most:
        yield f"{every[0][: len(every[0]) - len(every[0].lstrip())]}… {len(every) - most} more, {_digest(chr(10).join(every[most:]))}"


def leaves(value: Any, at: str = "") -> Iterator[str]:
    """A JSON value part by part, those in one line that have no parts of their own."""
    parts = _by_identity(value) if isinstance(value, list) and value else None
    if isinstance(value, dict) and any(isinstance(part, dict) or _by_identity(part) for part in value.values()):
        for key, part in value.items():
            yield from leaves(part, f"{at}.{key}".removeprefix("."))
    elif parts:
        for key, part in parts.items():
            yield from leaves(part, f"{at}[{key}]")
    else:
        yield f"{at}: {short(value)}"


def _by_identity(values: Any) -> dict[str, Any] | None:
    if not isinstance(values, list) or not all(isinstance(value, dict) for value in values):
        return None
    found: dict[str, Any] = {}
    for number, value in enumerate(values):
        keys = [
            str(value[key])
            for key in ("id", "number", "piece", "mic", "channel", "note", "articulation")
            if key in value
        ]
        name = "/".join(keys) or str(number)
        found[name if name not in found else f"{name}#{number}"] = value
    return found


LONGEST = 200


def short(value: Any) -> str:
    """Long ones are cut, and end in a figure that any change of the rest changes too."""
    text = _text(value)
    if len(text) <= LONGEST:
        return text
    return f"{text[:LONGEST]}… {_digest(text)}"


def _digest(text: str) -> str:
    return hashlib.blake2b(text.encode(), digest_size=4).hexdigest()


def _text(value: Any) -> str:
    if isinstance(value, float):
        return figure(value)
    if isinstance(value, dict) and "path" in value:
        return str(value["path"])
    if isinstance(value, dict):
        return "{" + ", ".join(f"{k}: {_text(v)}" for k, v in value.items() if v not in (None, [], "")) + "}"
    if isinstance(value, list):
        return "[" + ", ".join(_text(v) for v in value) + "]"
    return "nothing" if value is None else str(value)


if __name__ == "__main__":
    print("\n".join(lines_of(sys.argv[1])))
