"""Saves what can still be read from a damaged database, by copying it into a new one."""

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
    """Moves a damaged database aside and puts a new one in its place with everything readable; returns where the
    damaged one is now, and how many rows were saved. Nobody else may have it open. Raises Refusal if nothing can be
    read.
    """
    kept = read_copy_of_schema(database.parent)
    # Tried with its own schema, which may be damaged, and with the saved copy of the schema, which may be older; the
    # one that saves more rows wins.
    descriptions: list[list[Row] | None] = [None] if kept is None else [None, kept[1]]
    made: list[tuple[int, Path]] = []
    why = ""
    try:
        # The write-ahead log belongs to the database. The work happens on copies; the originals stay unchanged.
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
    """Copies what can be read of a database into a new one, by its own or another schema; returns the number of rows."""
    whole = target.with_name(f"{target.name}-of")
    target.unlink(missing_ok=True)
    shutil.copyfile(database, whole)
    if schema is not None:
        put_schema_back(whole, schema)
    with closing(sqlite3.connect(whole)) as source, closing(sqlite3.connect(target)) as made:
        return _copied(source, made)


def _copied(source: sqlite3.Connection, target: sqlite3.Connection) -> int:
    """Copies tables row by row, then their indexes, then drops rows that refer to lost ones."""
    # Text with damaged bytes is kept as far as possible.
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
    """Copies the readable rows of a table: forwards from the first and backwards from the last, until neither goes
    further.
    """
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
    """The rows up to the first unreadable one."""
    rows = []
    try:
        for row in source.execute(query, (edge,)):
            rows.append(row)
    except DAMAGED:
        pass
    return rows
