"""Commands print what they printed when somebody read it over (tests/kept)."""

import re
import shutil
from collections.abc import Callable
from pathlib import Path

import pytest

from drumcore.cli import main
from drumcore.demo.grooves import demo_grooves
from drumcore.edits import values as e
from drumcore.edits.applying import apply
from drumcore.formats.kit_file import contents_of, write_kit_file
from drumcore.formats.midi import write_midi
from drumcore.formats.piece_file import write_piece_file
from drumcore.kit.values import Kit
from drumcore.shelf.kept_piece import kept_piece
from tests.core.clean_session import kit_of
from tests.kept import same_as_kept

Prints = Callable[..., list[str]]


def _rows(document: str) -> list[str]:
    """JSON in rows of figures and names that belong together."""
    return re.sub(r"\n {4,}|\n +(?=[\]}])", " ", document).splitlines()


@pytest.fixture
def prints(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> Prints:
    """What a command prints and how it ends; folders of this run are not its own."""

    def run(*arguments: object) -> list[str]:
        try:
            status = main([str(argument) for argument in arguments])
        except SystemExit as refused:
            status = refused.code
        out, err = capsys.readouterr()
        said = " ".join(str(argument) for argument in arguments)
        lines = [
            f"# zesty {said} → {status}",
            *(f"  {line}" for line in (_rows(out) if "--json" in arguments else out.splitlines())),
            *(f"  ! {line}" for line in err.splitlines() if not line.startswith(("usage:", "  "))),
        ]
        return [line.replace(str(tmp_path), "TMP") for line in lines]

    return run


def test_commands_of_a_kit_print_as_they_did(
    small_kit: Kit, rich: Kit, sounds, clean_recordings: Path, tmp_path: Path, prints: Prints
):
    spoiled = rich
    for edit in (
        e.SetRange(articulation="snare/centre", layer=1, low=40, high=50),
        e.SetChannel(channel="hats-channel", level_db=-120.0),
        e.SetCurve(target="kick", curve=None),
    ):
        spoiled = apply(spoiled, edit)
    write_kit_file(small_kit, sounds._locate, tmp_path / "small.zestykit")
    write_kit_file(spoiled, sounds._locate, tmp_path / "spoiled.zestykit")
    clean = kit_of(clean_recordings)
    places = {content: clean_recordings / r.path for content, r in contents_of(clean).items()}
    write_kit_file(clean, places.__getitem__, tmp_path / "clean.zestykit")
    write_piece_file(kept_piece(clean, "snare"), places.__getitem__, tmp_path / "snare.zestypiece")
    write_midi(demo_grooves()[0], tmp_path / "groove.mid")
    small, bad, other = (tmp_path / f"{name}.zestykit" for name in ("small", "spoiled", "clean"))
    out = tmp_path / "out.zestykit"
    lines: list[str] = []
    for json in ([], ["--json"]):
        lines += prints("check", bad, *json)
        lines += prints("check", bad, "--lines", *json)
        lines += prints("hit", small, 38, 100, "--strikes", 4, *json)
        lines += prints("hit", small, 46, 127, *json)
        lines += prints("hit", small, 99, 1, *json)
        lines += prints("climb", small, *json)
        lines += prints("pieces", bad, *json)
        lines += prints("render", small, tmp_path / "groove.mid", "-o", tmp_path / "stems", "--bits", 16, *json)
    for form in ("csv", "json"):
        lines += prints("sheet", bad, "--as", form)
    for plan in ("pairs", "one-output-a-piece", "nobody"):
        lines += prints("route", bad, "--plan", plan, "--host", "raft", "-o", out)
    piece = tmp_path / "snare.zestypiece"
    for asked in (
        ("Snare", "--from", other, "--place", "Hats"),
        ("Snare", "--from", other, "--place", "Snare", "--with-treatment", "--with-touch", "--as-loud"),
        ("Snare", "--from", piece, "--with", "Snare", "--as-loud"),
        ("Hats", "--from", other, "--articulations", "closed,pedal", "--mics", "Hats", "--notes", "90,91"),
        ("Snare", "--from", other, "--into", "Overheads=Room", "--mics", "Overheads", "--notes", "38"),
        ("Snare", "--from", other, "--into", "Overheads=Nowhere", "--notes", "60"),
        ("Snare", "--from", other, "--into", "Overheads", "--notes", "60"),
        ("Snare", "--from", other, "--mics", "Lamp", "--notes", "60"),
        ("Snare", "--from", other, "--articulations", "scrape", "--notes", "60"),
        ("Snare", "--from", other, "--notes", "60,61"),
        ("Snare", "--from", other, "--notes", "128"),
        ("Gong", "--from", other, "--place", "Snare"),
        ("Snare", "--from", other, "--place", "Gong"),
    ):
        lines += prints("take", bad, "--piece", *asked, "-o", out)
    same_as_kept("commands", lines)


def test_commands_of_a_folder_print_as_they_did(small_session: Path, tmp_path: Path, prints: Prints):
    root = shutil.copytree(small_session, tmp_path / "session")
    (root / "Kick mic" / "shopping list.wav").write_text("lamp oil")
    (root / "notes.txt").write_text("lamp oil")
    lines: list[str] = []
    for json in ([], ["--json"]):
        lines += prints("read", root, *json)
        lines += prints("build", root, "-o", tmp_path / "made.zestykit", *json) if not json else []
        lines += prints("starts", "--each", 2, "--seed", 5, *json)
        lines += prints("microphones", "--each", 1, "--seed", 5, *json)
    lines += prints("spaces", "--json")
    same_as_kept("folders", lines)
