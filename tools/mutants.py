"""`make mutants`: makes small faults in the core one by one, to see whether its tests notice.

It takes a sample with a fixed seed of flipped comparisons, changed signs and numbers, and swapped conditions. Each is
tried in a copy of the tree with the tests that run its line (found once by coverage) and pass without it, the most
specific first. It prints how many were noticed, and every one that was not. MUTANTS and SEED in the environment change
how many and which.
"""

import ast
import copy
import importlib
import json
import multiprocessing
import os
import random
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from itertools import accumulate
from pathlib import Path
from typing import NoReturn

import pytest

ROOT = Path(__file__).resolve().parents[1]
FIRST_TESTS = 40
MOST_S = 60.0
"""Of tests' own time spent on one fault: the most particular ones first, then the quickest, so few are left out."""
PRELOADED = ("numba", "scipy.signal", "scipy.stats", "soxr", "soundfile", "mido", "blake3", "pydantic", "hypothesis")
"""What every run would load anew: each is a fork of a process that has it. Nothing of ours is among it."""
SKIPPED = ("drumcore/demo/", "drumcore/cli")
"""The demo's sound is judged by its figures, which take as long as all the rest together, and whatever needs the demo takes
most of a minute to begin."""
EQUIVALENT = ROOT / "tools" / "equivalent_mutants.json"
"""Those that change nothing anybody could see, each with its reason."""

TURNED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
SIGNS: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.FloorDiv: ast.Mult, ast.Mod: ast.Mult,
}  # fmt: skip


@dataclass(frozen=True)
class Mutant:
    path: str
    line: int
    before: str
    after: str
    span: tuple[int, int, int, int]

    @property
    def name(self) -> str:
        return f"{self.path}:{self.line}  {self.before}  →  {self.after}"


def mutations(node: ast.AST) -> list[ast.AST]:
    """The mutations of a syntax node."""
    if isinstance(node, ast.Compare) and type(node.ops[0]) in TURNED:
        turned = copy.deepcopy(node)
        turned.ops[0] = TURNED[type(node.ops[0])]()
        return [turned]
    if isinstance(node, ast.BinOp) and type(node.op) in SIGNS:
        turned_sign = copy.deepcopy(node)
        turned_sign.op = SIGNS[type(node.op)]()
        return [turned_sign]
    if isinstance(node, ast.BoolOp):
        other = copy.deepcopy(node)
        other.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        return [other]
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        return [node.operand]
    if isinstance(node, ast.IfExp):
        return [ast.IfExp(test=node.test, body=node.orelse, orelse=node.body)]
    if isinstance(node, ast.Constant) and not isinstance(node.value, str | bytes | type(None)):
        if isinstance(node.value, bool):
            return [ast.Constant(not node.value)]
        if isinstance(node.value, int):
            return [ast.Constant(node.value + 1)]
        if isinstance(node.value, float):
            return [ast.Constant(node.value * 1.25 + 0.25)]
    return []


def candidates(path: Path) -> list[Mutant]:
    source = path.read_text(encoding="utf-8")
    tree = ast.parse(source)
    passed_over: set[ast.AST] = set()
    for node in ast.walk(tree):
        hints = [getattr(node, "annotation", None), getattr(node, "returns", None)]
        hints += getattr(node, "decorator_list", [])
        if isinstance(node, ast.AnnAssign) and isinstance(node.value, ast.Call):
            hints.append(node.value)
        for hint in hints:
            if hint is not None:
                passed_over |= set(ast.walk(hint))
    found = []
    for node in ast.walk(tree):
        if node in passed_over or not isinstance(node, ast.expr):
            continue
        for turned in mutations(node):
            span = (node.lineno, node.col_offset, node.end_lineno or node.lineno, node.end_col_offset or 0)
            before = " ".join((ast.get_source_segment(source, node) or "").split())
            after = ast.unparse(ast.fix_missing_locations(turned))
            found.append(Mutant(str(path.relative_to(ROOT)), node.lineno, before[:90], f"({after})", span))
    return found


def spoiled(source: str, mutant: Mutant) -> str:
    first, begin, last, end = mutant.span
    lines = source.encode().splitlines(keepends=True)
    head, tail = lines[first - 1][:begin], lines[last - 1][end:]
    return b"".join([*lines[: first - 1], head + mutant.after.encode() + tail, *lines[last:]]).decode()


def tree_for(folder: Path) -> Path:
    for name in ("drumcore", "tests", "docs", "pyproject.toml"):
        source = ROOT / name
        if source.is_dir():
            shutil.copytree(source, folder / name, ignore=shutil.ignore_patterns("__pycache__", "screenshots"))
        else:
            shutil.copy(source, folder / name)
    return folder


def environment(folder: Path) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": str(folder), "ZESTY_DATA": str(folder / "data"), "PYTHONDONTWRITEBYTECODE": "1"}


PYTEST = ["-p", "no:cacheprovider", "-p", "no:django", "-q"]
IMPORTS = re.compile(r"^(\s*)from (drumcore[\w.]*) import", re.MULTILINE)
"""Indented, a module is imported where it is used, as compiled ones are."""
BY_TEST = """
import coverage, json, pathlib, pytest

passed, began = {}, {}

def pytest_collection_modifyitems(items):
    items[:] = [item for item in items if "demo_sessions" not in item.fixturenames]

@pytest.hookimpl(wrapper=True)
def pytest_runtest_call(item):
    coverage.Coverage.current().switch_context(item.nodeid)
    try:
        return (yield)
    finally:
        coverage.Coverage.current().switch_context("")

def pytest_runtest_logreport(report):
    if report.when == "setup":
        began[report.nodeid] = report.duration
    if report.when == "call" and report.passed:
        passed[report.nodeid] = report.duration + began[report.nodeid]

def pytest_sessionfinish():
    pathlib.Path("passed.json").write_text(json.dumps(passed))
"""
"""Names lines by the test that runs them. Coverage's own way names those in a random test by a function of Hypothesis, which
pytest does not find: that counted as noticed. What fails without any fault (outside its tree, say) would notice them all,
so only what passes is kept, with its time."""


@dataclass(frozen=True)
class Tests:
    """The core's tests: how long each takes (s), and which run each line; line 0 is the module as a whole."""

    seconds: dict[str, float]
    running: dict[tuple[str, int], list[str]]

    def of(self, mutant: Mutant) -> list[str]:
        """The tests that run a fault's line: first the most specific ones, which run the fewest lines, then the
        quickest.
        """
        found = self.running.get((mutant.path, mutant.line)) or self.running.get((mutant.path, 0), [])
        every = [*found[:FIRST_TESTS], *sorted(found[FIRST_TESTS:], key=lambda test: self.seconds[test])]
        spent = accumulate(self.seconds[test] for test in every)
        return [test for test, so_far in zip(every, spent, strict=True) if so_far <= MOST_S]

    def in_turn(self, mutant: Mutant) -> list[tuple[list[str], float]]:
        """A fault's tests in two runs, each with the time (s) after which it counts as hanging."""
        every = self.of(mutant)
        runs = [some for some in (every[:FIRST_TESTS], every[FIRST_TESTS:]) if some]
        return [(some, 60 + 10 * sum(self.seconds[test] for test in some)) for some in runs]


def who_runs_what(folder: Path) -> Tests:
    """The tests that run each line of the core."""
    settings = folder / ".coveragerc"
    settings.write_text("[run]\nsource = drumcore\n")
    (folder / "by_test.py").write_text(BY_TEST)
    run = [sys.executable, "-m", "coverage", "run", f"--rcfile={settings}", "-m", "pytest", *PYTEST]
    run += ["-p", "by_test", "tests/core"]
    subprocess.run(run, cwd=folder, env=environment(folder), check=False, capture_output=True)
    report = [sys.executable, "-m", "coverage", "json", f"--rcfile={settings}", "--show-contexts", "-q", "-o", "c.json"]
    subprocess.run(report, cwd=folder, env=environment(folder), check=True, capture_output=True)
    seconds = json.loads((folder / "passed.json").read_text())
    found: dict[tuple[str, int], list[str]] = defaultdict(list)
    for path, file in json.loads((folder / "c.json").read_text())["files"].items():
        for line, contexts in file["contexts"].items():
            found[path, int(line)] = sorted({c for c in contexts if c in seconds})
    reach = Counter(test for tests in found.values() for test in tests)
    found.update({(path, 0): [*tests] for path, tests in _by_module(folder, found, seconds).items()})
    return Tests(seconds, {line: sorted(tests, key=lambda test: (reach[test], test)) for line, tests in found.items()})


def _by_module(folder: Path, found: Mapping[tuple[str, int], list[str]], seconds: Iterable[str]) -> dict[str, set[str]]:
    """The tests for code that runs at import (tables, defaults): those that run lines of the module or of one that
    imports it, directly or not. Compiled code is not traced either; its lines count for every test that reaches the
    module.
    """
    using: dict[str, set[str]] = defaultdict(set)
    for (path, _), tests in found.items():
        using[path].update(tests)
    for test in seconds:
        using[test.split("::")[0]].add(test)
    importers: dict[str, set[str]] = defaultdict(set)
    for path in [path for top in ("drumcore", "tests/core") for path in (folder / top).rglob("*.py")]:
        source, name = path.read_text(encoding="utf-8"), str(path.relative_to(folder))
        for imported in IMPORTS.finditer(source):
            module = imported[2].replace(".", "/") + ".py"
            if imported[1]:
                using[module].update(found.get((name, source.count("\n", 0, imported.start(2)) + 1), ()))
            else:
                importers[module].add(name)
    whole: dict[str, set[str]] = {}
    for module in using:
        waiting, seen = [module], {module}
        while waiting:
            more = importers[waiting.pop()] - seen
            seen |= more
            waiting += more
        whole[module] = set().union(*(using.get(name, set()) for name in seen))
    return whole


def noticed(mutant: Mutant, runs: list[tuple[list[str], float]]) -> bool:
    with tempfile.TemporaryDirectory(prefix="zesty-mutant-") as name:
        folder = tree_for(Path(name))
        path = folder / mutant.path
        path.write_text(spoiled(path.read_text(encoding="utf-8"), mutant), encoding="utf-8")
        return not all(_pass(some, folder, longest_s) for some, longest_s in runs)


def _pass(some: list[str], folder: Path, longest_s: float) -> bool:
    """Whether tests pass in a tree. A hanging run counts as failed."""
    child = os.fork()
    if child == 0:
        _run([*PYTEST, "-x", *some], folder)
    until = time.monotonic() + longest_s
    while time.monotonic() < until:
        ended, status = os.waitpid(child, os.WNOHANG)
        if ended:
            return status == 0
        time.sleep(0.02)
    os.killpg(child, signal.SIGKILL)
    os.waitpid(child, 0)
    return False


def _run(arguments: list[str], folder: Path) -> NoReturn:
    """Runs pytest in a process group of its own."""
    ended = 1
    try:
        os.setsid()
        os.chdir(folder)
        silent = os.open(os.devnull, os.O_RDWR)
        for stream in (0, 1, 2):
            os.dup2(silent, stream)
        os.environ.update(environment(folder))
        sys.path.insert(0, str(folder))
        ended = int(pytest.main(arguments))
    finally:
        os._exit(ended)


def main() -> int:
    count, seed = int(os.environ.get("MUTANTS", "60")), int(os.environ.get("SEED", "1"))
    paths = [p for p in sorted((ROOT / "drumcore").rglob("*.py")) if not str(p.relative_to(ROOT)).startswith(SKIPPED)]
    everything = [mutant for path in paths for mutant in candidates(path)]
    equivalent = json.loads(EQUIVALENT.read_text()) if EQUIVALENT.exists() else {}
    drawn = random.Random(seed).sample(everything, min(count, len(everything)))
    with tempfile.TemporaryDirectory(prefix="zesty-mutants-") as name:
        tests = who_runs_what(tree_for(Path(name)))
    tried = [mutant for mutant in drawn if mutant.name not in equivalent]
    for module in PRELOADED:
        importlib.import_module(module)
    with ProcessPoolExecutor(os.cpu_count() or 2, mp_context=multiprocessing.get_context("fork")) as pool:
        results = list(pool.map(noticed, tried, [tests.in_turn(mutant) for mutant in tried]))
    for mutant, was in zip(tried, results, strict=True):
        if not was:
            print(f"lived: {mutant.name}" + ("" if tests.of(mutant) else "   (no test runs this module)"))
    share = sum(results) / max(1, len(results))
    print(
        f"{sum(results)} of {len(results)} noticed ({share:.0%}), {len(drawn) - len(tried)} called equivalent, of "
        f"{len(everything)} there are; seed {seed}"
    )
    return 0 if share >= 0.8 else 1


if __name__ == "__main__":
    sys.exit(main())
