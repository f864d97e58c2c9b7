"""Records that SQLite cannot read as a whole any more: everything that can still be read is copied into new ones."""

import contextlib
import shutil
import sqlite3
import time
from contextlib import closing
from pathlib import Path

from drumcore.refusals import Refusal
from studio.maintenance.schema_copy import DAMAGED, Row, lenient, put_schema_back, read_copy_of_schema

FEW = 500


def salvage(database: Path) -> tuple[Path, int]:
    """Put a damaged database aside and new records in its place that hold what could be read; where the damaged one lies now,
    and how many rows were saved. Nobody else may have it open. Raises Refusal where nothing can be read."""
    kept = read_copy_of_schema(database.parent)
    # By its own description of its tables, which may be damaged, and by the copy of it, which may be of before its tables
    # were moved: whichever saves more.
    descriptions: list[list[Row] | None] = [None] if kept is None else [None, kept[1]]
    made: list[tuple[int, Path]] = []
    why = ""
    try:
        # What is in the log belongs to it; then it is worked on in copies, and stays as it was.
        with contextlib.suppress(*DAMAGED), closing(sqlite3.connect(database)) as opened:
            opened.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        for number, description in enumerate(descriptions):
            target = database.with_name(f"{database.name}.salvaged{number}")
            try:
                made.append((_read_as(database, description, target), target))
            except DAMAGED as error:
                why = why or str(error)
        if not made:
            raise Refusal(
                f"Nothing of {database} can be read ({why}); restore a backup into an empty folder with “zesty restore”."
            )
        saved, best = max(made, key=lambda each: each[0])
        aside = database.with_name(f"studio-damaged-{time.strftime('%Y-%m-%d-%H%M%S')}.sqlite3")
        for path in list(database.parent.glob(f"{database.name}-*")):
            path.unlink()
        database.rename(aside)
        best.chmod(0o600)
        best.rename(database)
    finally:
        for path in database.parent.glob(f"{database.name}.salvaged*"):
            path.unlink()
    return aside, saved


def _read_as(database: Path, schema: list[Row] | None, target: Path) -> int:
    """Copy what can be read of a database into a new one, by its own description of its tables or by another; how many rows."""
    whole = target.with_name(f"{target.name}-of")
    target.unlink(missing_ok=True)
    shutil.copyfile(database, whole)
    if schema is not None:
        put_schema_back(whole, schema)
    with closing(sqlite3.connect(whole)) as source, closing(sqlite3.connect(target)) as made:
        return _copied(source, made)


def _copied(source: sqlite3.Connection, target: sqlite3.Connection) -> int:
    """Copy tables row by row, then their indexes, then leave out what refers to rows that are lost."""
    # Text that a turned byte has made unreadable is kept as far as it can be.
    source.text_factory = lenient
    made = source.execute("SELECT type, name, sql FROM sqlite_master WHERE sql IS NOT NULL").fetchall()
    tables = {name: sql for kind, name, sql in made if kind == "table" and not name.startswith("sqlite_")}
    for sql in tables.values():
        target.execute(sql)
    saved = sum(_copy_table(source, target, name) for name in tables)
    for kind, name, sql in made:
        if kind == "index" and not name.startswith("sqlite_"):
            target.execute(sql)
    while lost := target.execute("PRAGMA foreign_key_check").fetchall():
        for table, row, _, _ in lost:
            target.execute(f'DELETE FROM "{table}" WHERE rowid = ?', (row,))
    target.commit()
    return saved


def _copy_table(source: sqlite3.Connection, target: sqlite3.Connection, name: str) -> int:
    """Copy what can be read of a table: from its first row on, and from its last row back, up to where neither goes."""
    saved = 0
    reached = -1
    for order, past in (("ASC", ">"), ("DESC", "<")):
        edge = -(2**62) if order == "ASC" else 2**62
        while True:
            query = f'SELECT rowid, * FROM "{name}" WHERE rowid {past} ? ORDER BY rowid {order} LIMIT {FEW}'
            try:
                rows = source.execute(query, (edge,)).fetchall()
            except DAMAGED:
                rows = _one_by_one(source, query, edge)
                if not rows:
                    break
            rows = [row for row in rows if order == "ASC" or row[0] > reached]
            for row in rows:
                marks = ", ".join("?" * (len(row) - 1))
                saved += target.execute(f'INSERT OR IGNORE INTO "{name}" VALUES ({marks})', row[1:]).rowcount
            if not rows:
                return saved
            edge = rows[-1][0]
            reached = max(reached, edge) if order == "ASC" else reached
    return saved


def _one_by_one(source: sqlite3.Connection, query: str, edge: int) -> list[tuple[int, ...]]:
    """The rows up to the first that cannot be read."""
    rows = []
    try:
        for row in source.execute(query, (edge,)):
            rows.append(row)
    except DAMAGED:
        pass
    return rows
