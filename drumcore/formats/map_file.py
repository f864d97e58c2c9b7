"""Note maps as files: JSON, complete, and CSV for spreadsheets, one line per note."""

import csv
import io
import json
from collections.abc import Iterable
from dataclasses import dataclass

from pydantic import ValidationError

from drumcore.formats.csv_text import as_named, defused
from drumcore.kit.values import Family, MapEntry, SavedMap
from drumcore.notes.names import note_name
from drumcore.refusals import Refusal
from drumcore.validation_sentences import why_misread

LARGEST_FILE = 1 << 20
MOST_LINES = 4096
COLUMNS = ("note", "note_name", "family", "number", "piece", "articulation", "open_from", "open_to", "level_db")
FORMAT = 1


@dataclass(frozen=True)
class MapRead:
    """The map, and a sentence for each line that could not be used."""

    map: SavedMap
    problems: tuple[str, ...] = ()


def map_to_json(saved: SavedMap) -> str:
    return json.dumps({"note_map": FORMAT, **saved.model_dump(mode="json")}, indent=1, ensure_ascii=False)


def map_to_csv(saved: SavedMap, middle_c: int = 3) -> str:
    """One line per entry. `note_name` is there for people and is ignored when read."""
    text = io.StringIO()
    rows = csv.writer(text, lineterminator="\n")
    rows.writerow(COLUMNS)
    for e in saved.entries:
        rows.writerow(
            (
                e.note,
                note_name(e.note, middle_c).replace("♯", "#").replace("−", "-"),
                e.family.value,
                e.number,
                defused(e.piece),
                defused(e.articulation),
                e.open_from,
                e.open_to,
                f"{e.gain_db:g}",
            )
        )
    return text.getvalue()


def read_map(data: bytes, file_name: str) -> MapRead:
    """The map in a file, named after the file if it has no name. Raises Refusal if no line of it can be used."""
    if len(data) > LARGEST_FILE:
        raise Refusal(f"{file_name} is too large for a note map; choose one under {LARGEST_FILE >> 20} MB.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal(f"{file_name} is not text; choose a note map saved as CSV or JSON.") from None
    title = file_name.rsplit("/", 1)[-1].rsplit(".", 1)[0].strip()[:120] or "Imported map"
    if text.lstrip().startswith(("{", "[")):
        return _from_json(text, file_name, title)
    return _from_csv(text, file_name, title)


def _from_json(text: str, file_name: str, title: str) -> MapRead:
    try:
        raw = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise Refusal(f"{file_name} is not valid JSON ({error}); export the map again.") from None
    if not isinstance(raw, dict) or not isinstance(raw.get("entries"), list):
        raise Refusal(f"{file_name} does not describe a note map; choose one exported by this program.")
    if raw.get("note_map", FORMAT) != FORMAT:
        raise Refusal(f"{file_name} has format {raw['note_map']!r} and this version reads {FORMAT}.")
    name = raw.get("name")
    return _made(name if isinstance(name, str) and name.strip() else title, enumerate(raw["entries"], 1), file_name)


def _from_csv(text: str, file_name: str, title: str) -> MapRead:
    lines = text.splitlines()
    separator = max(",;\t", key=(lines[0] if lines else "").count)
    rows = csv.DictReader(io.StringIO(text), delimiter=separator)
    try:
        there = {(name or "").strip() for name in rows.fieldnames or ()}
        missing = {"note", "family", "articulation"} - there
        if missing:
            raise Refusal(
                f"{file_name} has no column {' or '.join(sorted(missing))}; its first line must name note, family and "
                "articulation."
            )
        found = [
            (
                rows.line_num,
                {(k or "").strip(): (v or "").strip() for k, v in row.items() if isinstance(v, str)},
            )
            for row in rows
        ]
    except csv.Error as error:
        raise Refusal(f"{file_name} is not CSV that can be read ({error}); export the map again.") from None
    return _made(title, ((line, _entry(row)) for line, row in found), file_name)


def _entry(row: dict[str, str]) -> dict[str, object]:
    renamed = {"level_db": "gain_db"}
    return {
        renamed.get(name, name): value.replace(",", ".") if name == "level_db" else as_named(value)
        for name, value in row.items()
        if name in COLUMNS and name != "note_name" and value
    }


def _made(name: str, entries: Iterable[tuple[int, object]], file_name: str) -> MapRead:
    made: list[MapEntry] = []
    problems: list[str] = []
    for line, raw in entries:
        if len(made) >= MOST_LINES:
            problems.append(f"{file_name} has more than {MOST_LINES:,} entries; the rest was left out.")
            break
        try:
            made.append(MapEntry.model_validate(raw))
        except ValidationError as error:
            problems.append(f"{file_name}, entry {line}: {_why(error)}")
    if not made:
        raise Refusal(problems[0] if problems else f"{file_name} holds no notes.")
    return MapRead(SavedMap(name=name.strip()[:120], entries=tuple(made)), tuple(problems))


def _why(error: ValidationError) -> str:
    first = error.errors()[0]
    field = ".".join(str(part) for part in first["loc"]) or "the entry"
    if field == "family":
        return f"family {first['input']!r} is not known; use one of {', '.join(Family)}."
    if field.startswith("note"):
        return f"note {first.get('input')!r} is not a note number from 0 to 127."
    return f"{field} is wrong: {why_misread(first)}."
