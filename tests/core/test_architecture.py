"""Imports run one way."""

import ast
import re
from collections.abc import Callable
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]
FLOORS = [
    "refusals",
    "validation_sentences",
    "file_names",
    "natural_order",
    "arrays",
    "value",
    "treatments",
    "spaces",
    "kit",
    "touch",
    "layers",
    "recordings",
    "notes",
    "routing",
    "grooves",
    "playing",
    "listening",
    "edits",
    "describing",
]
ROOF = [
    "shelf",
    "formats",
    "findings",
    "exports",
    "simulated",
    "demo",
    "cli",
]
ROOF_MAY = {
    "shelf": {*FLOORS},
    "formats": {*FLOORS, "shelf"},
    "findings": {*FLOORS},
    "exports": {*FLOORS, "formats"},
    "simulated": {*FLOORS},
    "demo": {*FLOORS, "formats", "simulated"},
    "cli": {*FLOORS, "shelf", "formats", "findings", "demo"},
}


def imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
        elif isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
    return found


def test_the_core_imports_only_downwards():
    wrong = []
    for path in sorted((ROOT / "drumcore").rglob("*.py")):
        floor = path.relative_to(ROOT / "drumcore").parts[0].removesuffix(".py")
        if floor == "__init__":
            continue
        allowed = {floor} | (ROOF_MAY[floor] if floor in ROOF else set(FLOORS[: FLOORS.index(floor)]))
        used = imports(path)
        wrong += [
            f"{path} imports {name}" for name in used if name.split(".")[0] in ("django", "ninja", "huey", "studio")
        ]
        inside = {name.split(".")[1] for name in used if name.startswith("drumcore.")}
        wrong += [f"{path} imports drumcore.{name}" for name in inside - allowed]
    assert not wrong


# From the ground up; what starts programs lies beside the packages and may import all of them.
STUDIO = ["people", "storage", "jobs", "shelves", "sessions", "kits", "catalogue", "maintenance", "http"]
OF_REQUESTS = ("ninja", "django.http", "django.urls", "django.middleware", "django.views")


def test_the_studio_imports_only_downwards_and_http_alone_knows_requests():
    wrong = []
    for path in sorted((ROOT / "studio").rglob("*.py")):
        package = path.relative_to(ROOT / "studio").parts[0]
        if package.endswith(".py") or "migrations" in path.parts:
            continue
        used = imports(path)
        inside = {name.split(".")[1] for name in used if name.startswith("studio.")}
        allowed = {*STUDIO[: STUDIO.index(package) + 1], "settings"}
        wrong += [f"{path} imports studio.{name}" for name in inside - allowed]
        if package != "http":
            wrong += [f"{path} imports {name}" for name in used if name.startswith(OF_REQUESTS)]
    assert not wrong


WEB = ROOT / "web/src"
# What a room of the interface may import: itself, and these.
WEB_MAY = {
    "api": set(),
    "ui": {"api"},
    "player": {"api"},
    "app": {"api", "ui", "player"},
    "views": {"api", "ui", "player", "app"},
    # For tests alone, which are not looked at here.
    "testing": {"api", "app"},
}
# The pages themselves are hung up here.
PAGES = "app/shell/App.tsx"


def web_imports() -> dict[str, set[str]]:
    """For each module of the interface, the modules it imports, types included."""
    modules = {path.relative_to(WEB).as_posix(): path for path in WEB.rglob("*.ts*")}
    found: dict[str, set[str]] = {}
    for name, path in modules.items():
        if ".test." in name or name.startswith("api/schema"):
            continue
        named = re.findall(r"(?:from|import\() ?'(\.[^']*)'", path.read_text(encoding="utf-8"))
        # A text that is shown is no module: the glossary is a page of the docs.
        named = [module for module in named if not module.endswith("?raw")]
        meant = [(path.parent / module).resolve().relative_to(WEB).as_posix() for module in named]
        found[name] = {m + end for m in meant for end in (".ts", ".tsx", "") if m + end in modules}
    return found


def test_the_interface_imports_only_downwards():
    for name, used in web_imports().items():
        if name == PAGES or "/" not in name:
            continue
        room, *inside = name.split("/")
        for other in used:
            there, *within = other.split("/")
            assert there == room or there in WEB_MAY[room], f"{name} imports {other}"
            if room == there == "views":
                assert inside[0] == within[0], f"{name} imports {other}, of another step"


def core_imports() -> dict[str, set[str]]:
    """For each module of the core, the modules it imports, types included."""
    paths = {".".join(p.relative_to(ROOT).with_suffix("").parts): p for p in (ROOT / "drumcore").rglob("*.py")}
    found: dict[str, set[str]] = {}
    for name, path in paths.items():
        used = found[name] = set()
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.ImportFrom) and node.module:
                used |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)} & paths.keys()
    return found


@pytest.mark.parametrize("modules", [web_imports, core_imports], ids=["interface", "core"])
def test_no_module_needs_itself(modules: Callable[[], dict[str, set[str]]]):
    used = modules()
    done: set[str] = set()

    def walk(name: str, way: tuple[str, ...]) -> None:
        assert name not in way, " → ".join((*way[way.index(name) :], name))
        if name not in done:
            for other in sorted(used.get(name, ())):
                walk(other, (*way, name))
            done.add(name)

    for name in used:
        walk(name, ())
