"""A copy of the database's schema, kept beside it: if damage hits the schema, everything else is still there."""

import hashlib
import json
import sqlite3
from enum import Enum
from pathlib import Path

NAME = "schema.json"
Row = tuple[str, str, str, int, str | None]
"""As in SQLite's own table: type, name, table, root page, SQL."""


DAMAGED = (sqlite3.DatabaseError, UnicodeDecodeError)
"""What reading a damaged database raises; its own messages quote what is no text."""


def lenient(data: bytes) -> str:
    """Decodes text of a database that may be damaged."""
    return data.decode("utf-8", "replace")


def tables_of(database: sqlite3.Connection) -> list[Row]:
    database.text_factory = lenient
    rows = database.execute(
        "SELECT type, name, tbl_name, rootpage, sql FROM sqlite_master ORDER BY type, name"
    ).fetchall()
    return [tuple(row) for row in rows]


def migrations_of(database: sqlite3.Connection) -> list[str]:
    return [
        f"{app}.{name}" for app, name in database.execute("SELECT app, name FROM django_migrations ORDER BY app, name")
    ]


def write_copy_of_schema(database: Path, folder: Path) -> None:
    """Saves the schema of an intact database, and its migrations."""
    opened = sqlite3.connect(database)
    try:
        held = json.dumps({"migrations": migrations_of(opened), "tables": tables_of(opened)})
    finally:
        opened.close()
    half = folder / f"{NAME}.part"
    half.write_text(json.dumps({"sha256": hashlib.sha256(held.encode()).hexdigest(), "held": held}))
    half.replace(folder / NAME)


def read_copy_of_schema(folder: Path) -> tuple[list[str], list[Row]] | None:
    """The saved migrations and schema; None if there are none, or they are damaged themselves."""
    try:
        kept = json.loads((folder / NAME).read_bytes())
        if hashlib.sha256(kept["held"].encode()).hexdigest() != kept["sha256"]:
            return None
        held = json.loads(kept["held"])
        return list(held["migrations"]), [tuple(row) for row in held["tables"]]
    except (OSError, ValueError, KeyError, TypeError, AttributeError):
        return None


class SchemaComparison(Enum):
    """A database's schema compared with the copy saved after the same migrations."""

    SAME = "same"
    MOVED = "moved"
    """The same tables lie elsewhere in the file: packed anew (VACUUM), or a turned byte in where they begin."""
    OTHER = "other"


def against_kept(database: Path, folder: Path) -> SchemaComparison:
    """Raises one of DAMAGED if the database cannot be read."""
    kept = read_copy_of_schema(folder)
    opened = sqlite3.connect(database)
    try:
        tables, migrations = tables_of(opened), migrations_of(opened)
    finally:
        opened.close()
    if kept is None or kept[0] != migrations or kept[1] == tables:
        return SchemaComparison.SAME
    described = [[(*row[:3], row[4]) for row in rows] for rows in (kept[1], tables)]
    return SchemaComparison.MOVED if described[0] == described[1] else SchemaComparison.OTHER


def put_schema_back(database: Path, tables: list[Row]) -> None:
    """Writes a schema into a database through SQLite's "writable_schema". Nobody else may have it open."""
    opened = sqlite3.connect(database, isolation_level=None)
    try:
        opened.execute("PRAGMA writable_schema = ON")
        opened.execute("DELETE FROM sqlite_master")
        # In this order each index comes after its table.
        tables = sorted(tables, key=lambda row: row[0] != "table")
        opened.executemany(
            "INSERT INTO sqlite_master (type, name, tbl_name, rootpage, sql) VALUES (?, ?, ?, ?, ?)", tables
        )
        opened.execute("PRAGMA writable_schema = RESET")
    finally:
        opened.close()
