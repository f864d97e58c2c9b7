"""Prepares the data folder when a program starts: its owner, its permissions, its version."""

import os
import sqlite3
import time
from pathlib import Path

from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from drumcore.refusals import Refusal
from studio.maintenance.schema_copy import write_copy_of_schema

BEFORE = "before-upgrade"
COPIES_KEPT = 3
PRIVATE_FOLDERS = ("recordings", "uploads", "temporary", "jobs", "previews", "prepared", BEFORE)
PRIVATE_FILES = ("*.sqlite3*", "secret", "*.lock")


def make_private(data: Path) -> None:
    """Removes permissions that an older program gave to others."""
    for path in (*(data / name for name in PRIVATE_FOLDERS), *(p for form in PRIVATE_FILES for p in data.glob(form))):
        if path.exists():
            path.chmod(path.stat().st_mode & 0o700)


def bring_up_to_date(data: Path) -> None:
    """Migrates the database, after saving a copy of it. Raises Refusal for a folder that a newer program has changed."""
    executor = MigrationExecutor(connection)
    if (
        set(executor.loader.applied_migrations)
        - set(executor.loader.disk_migrations)
        - set(executor.loader.replacements)
    ):
        raise Refusal(
            f"The folder {data} was saved by a newer version of Zesty Skin; start that one. Nothing of it was changed."
        )
    targets = executor.loader.graph.leaf_nodes()
    database = Path(connection.settings_dict["NAME"])
    if executor.migration_plan(targets):
        if executor.loader.applied_migrations:
            copy_database(database, data / BEFORE)
        executor.migrate(targets)
    write_copy_of_schema(database, data)


def copy_database(database: Path, folder: Path) -> Path:
    """Copies the database, even while in use, to a folder that keeps the last few copies."""
    folder.mkdir(mode=0o700, exist_ok=True)
    target = folder / f"studio-{time.strftime('%Y-%m-%d-%H%M%S')}.sqlite3"
    write_copy(database, target)
    for old in sorted(folder.glob("studio-*.sqlite3"))[:-COPIES_KEPT]:
        old.unlink()
    return target


def write_copy(database: Path, target: Path) -> None:
    """SQLite's online backup into a new file, which appears complete or not at all."""
    half = target.with_name(f"{target.name}.part")
    half.unlink(missing_ok=True)
    try:
        source, copy = sqlite3.connect(database), sqlite3.connect(half)
        try:
            # In one step: a backup in several steps starts again with every edit made meanwhile.
            source.backup(copy)
            # As one complete file, without a write-ahead log.
            copy.execute("PRAGMA journal_mode=DELETE")
        finally:
            source.close()
            copy.close()
        with half.open("rb") as written:
            os.fsync(written.fileno())
        half.chmod(0o600)
        half.replace(target)
    finally:
        half.unlink(missing_ok=True)
