"""What docs/ shows as printed."""

import re
from pathlib import Path

DOCS = Path(__file__).resolve().parents[1] / "docs"


def shown(page: str) -> str:
    """The first block of a page that is set as it is printed."""
    block = re.search(r"^```\n(.*?)^```", (DOCS / page).read_text(encoding="utf-8"), re.DOTALL | re.MULTILINE)
    assert block, f"docs/{page} shows nothing that is printed"
    return block[1]
