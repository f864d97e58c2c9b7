"""Checks strings, names and docs for words that are no longer used: `make lint` fails if one comes back. See
docs/words.md.
"""

import re
import subprocess
import sys
from pathlib import Path

GONE = {
    r"(?<![a-z])strokes?(?![a-z])": "articulation, or strike for a hit",
    r"(?<![a-z])lanes?(?![a-z])": "channel",
    r"(?<![a-z])mend(s|ed|ing|able)?(?![a-z])": "fix",
    r"(held|holds) back": "gain reduction",
    r"what enters": "input",
    r"turn(s|ed)? (it )?over": "flip polarity",
    r"stand[-_]?ins?\b": "simulated",
    r"take_piece|takepiece": "bring_piece",
}
"""What is not said any more, and what is said instead."""
EXEMPT = (
    # Canvas and SVG have strokes of their own.
    re.compile(
        r"stroke(?==|\(|:|-width|-dasharray|-linejoin|-linecap|-opacity|style|width|dash|line|opacity)|\.stroke\b", re.I
    ),
    re.compile(r"non-scaling-stroke"),
)
ALLOWED = ("docs/decisions.md", "tools/gone_words.py", "web/src/api/schema.d.ts", "docs/schemas/")
ENDINGS = (".py", ".ts", ".tsx", ".css", ".md", ".html")


def found_in(text: str) -> list[tuple[int, str, str]]:
    """Every occurrence of a gone word: its line, the word and its replacement."""
    said = []
    for exempt in EXEMPT:
        text = exempt.sub("", text)
    for number, line in enumerate(text.splitlines(), start=1):
        for pattern, instead in GONE.items():
            match = re.search(pattern, line, re.IGNORECASE)
            if match:
                said.append((number, match.group(0), instead))
    return said


def main() -> int:
    files = subprocess.run(["git", "ls-files"], capture_output=True, text=True, check=True).stdout.split("\n")
    wrong = 0
    for name in files:
        if not name.endswith(ENDINGS) or name.startswith(ALLOWED) or not Path(name).exists():
            continue
        for line, word, instead in found_in(Path(name).read_text(encoding="utf-8")):
            print(f"{name}:{line}: “{word}” is gone; say {instead}.")
            wrong += 1
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
