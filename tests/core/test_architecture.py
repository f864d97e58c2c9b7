"""Imports run one way."""

import ast
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
FLOORS = [
    "refusals",
    "arrays",
    "value",
    "treatments",
    "kit",
    "touch",
    "layers",
    "recordings",
    "notes",
    "routing",
    "grooves",
    "playing",
    "edits",
]
ROOF = ["formats", "findings", "demo", "cli"]
ROOF_MAY = {
    "formats": set(FLOORS),
    "findings": {*FLOORS},
    "demo": {*FLOORS, "formats"},
    "cli": {*FLOORS, "formats", "findings", "demo"},
}


def imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
        elif isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
    return found


@pytest.mark.parametrize("path", sorted((ROOT / "drumcore").rglob("*.py")), ids=lambda p: str(p.relative_to(ROOT)))
def test_the_core_imports_only_downwards(path: Path):
    floor = path.relative_to(ROOT / "drumcore").parts[0].removesuffix(".py")
    if floor == "__init__":
        return
    allowed = ROOF_MAY[floor] if floor in ROOF else set(FLOORS[: FLOORS.index(floor)])
    used = imports(path)
    assert not {name for name in used if name.split(".")[0] in ("django", "ninja", "huey", "studio")}
    inside = {name.split(".")[1] for name in used if name.startswith("drumcore.")}
    assert inside <= allowed | {floor}


def test_the_player_knows_nothing_of_the_views():
    for path in (ROOT / "web/src/player").glob("*.ts"):
        text = path.read_text()
        assert "../app/" not in text and "../views/" not in text and "../ui/" not in text, path
