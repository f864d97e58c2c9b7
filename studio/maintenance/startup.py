"""Repairs what would keep the studio from starting."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

from studio.maintenance.backup import DATABASE, damage_of_database
from studio.maintenance.files import QUEUE, set_queue_aside
from studio.maintenance.salvage import salvage
from studio.maintenance.schema_copy import DAMAGED, SchemaComparison, against_kept, lenient


def fix_records(data: Path) -> Iterator[str]:
    """Repairs the database and the queue if they are unusable; returns what was done, in sentences. Raises Refusal if
    nothing in the database can be read. Smaller damage is left for `zesty doctor`.
    """
    database = data / DATABASE
    if database.exists() and not _opens(database, data):
        aside, saved = salvage(database)
        yield (
            f"The records were damaged. {saved:,} rows of them could be read and are used; the damaged file is kept as "
            f"{aside.name}. Run “zesty doctor” to see what is missing."
        )
    queue = data / QUEUE
    if queue.exists() and damage_of_database(queue):
        set_queue_aside(data)
        yield "The queue of jobs was damaged; a new one is made, and jobs that waited are put into it."


def _opens(database: Path, data: Path) -> bool:
    """Whether a database has the same tables as before, and lists its migrations."""
    try:
        stands = against_kept(database, data)
        if stands is SchemaComparison.OTHER or (stands is SchemaComparison.MOVED and damage_of_database(database)):
            return False
        with closing(sqlite3.connect(database)) as opened:
            opened.text_factory = lenient
            for table in ("kits_kitrecord", "jobs_job"):
                opened.execute(f'SELECT * FROM "{table}"').fetchall()
    except sqlite3.OperationalError as error:
        # A new database has no tables yet; one that is locked or unreadable by permission is not damaged.
        return not str(error).startswith(("no such column", "near", "malformed")) and _is_new_or_sound(database)
    except DAMAGED:
        return False
    return True


def _is_new_or_sound(database: Path) -> bool:
    try:
        with closing(sqlite3.connect(database)) as opened:
            return not opened.execute("SELECT 1 FROM sqlite_master").fetchall() or not damage_of_database(database)
    except sqlite3.OperationalError:
        return True
    except DAMAGED:
        return False
