"""Records that SQLite cannot read as a whole any more: everything that can still be read is copied into new ones."""

import contextlib
import shutil
import sqlite3
import time
from contextlib import closing
from pathlib import Path

from drumcore.refusals import Refusal
from studio.maintenance.schema_copy import DAMAGED, Row, lenient, put_schema_back, read_copy_of_schema, tables_of

FEW = 500


def salvage(database: Path) -> tuple[Path, int]:
    """Put a damaged database aside and new records in its place that hold what could be read; where the damaged one lies now,
    and how many rows were saved. Nobody else may have it open. Raises Refusal where nothing can be read."""
    half, whole = database.with_name(f"{database.name}.salvaged"), database.with_name(f"{database.name}.copied")
    for path in (half, whole):
        path.unlink(missing_ok=True)
    try:
        # What is in the log belongs to it; then it is worked on in a copy, and stays as it was.
        with contextlib.suppress(*DAMAGED), closing(sqlite3.connect(database)) as opened:
            opened.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        shutil.copyfile(database, whole)
        kept = read_copy_of_schema(database.parent)
        if kept is not None and _schema_is_damaged(whole, kept[1]):
            put_schema_back(whole, kept[1])
        with closing(sqlite3.connect(whole)) as source, closing(sqlite3.connect(half)) as target:
            saved = _copied(source, target)
    except DAMAGED as error:
        half.unlink(missing_ok=True)
        raise Refusal(
            f"Nothing of {database} can be read ({error}); restore a backup into an empty folder with “zesty restore”."
        ) from None
    finally:
        for path in database.parent.glob(f"{whole.name}*"):
            path.unlink()
    aside = database.with_name(f"studio-damaged-{time.strftime('%Y-%m-%d-%H%M%S')}.sqlite3")
    for path in list(database.parent.glob(f"{database.name}-*")):
        path.unlink()
    database.rename(aside)
    half.chmod(0o600)
    half.rename(database)
    return aside, saved


def _schema_is_damaged(database: Path, kept: list[Row]) -> bool:
    try:
        with closing(sqlite3.connect(database)) as opened:
            return tables_of(opened) != kept
    except DAMAGED:
        return True


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
