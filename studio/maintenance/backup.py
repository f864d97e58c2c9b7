"""Backs up a running studio: a copy of its database, then every recording by its hash.

A backup folder holds `studio.sqlite3`, `recordings/` in the studio's own layout, `uploads/` not unpacked yet, and
`zesty-backup.json`, which is written last: an interrupted backup leaves the previous one intact. A later backup into
the same folder copies only what is new. What can be made again (prepared sounds, previews, exports) is left out.
"""

import json
import os
import shutil
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import asdict, dataclass, field
from datetime import UTC, datetime
from pathlib import Path

from drumcore.refusals import Refusal
from studio.maintenance.schema_copy import DAMAGED
from studio.maintenance.upgrade import write_copy
from studio.storage.locks import keep_everything
from studio.storage.recordings import copy_durably, sha256_of

Progress = Callable[[int, int], None]
MANIFEST = "zesty-backup.json"
DATABASE = "studio.sqlite3"
FORMAT = 1


@dataclass
class BackupReport:
    """What a backup holds and what was copied this time; `problems` say what could not be."""

    folder: str
    recordings: int = 0
    bytes: int = 0
    copied: int = 0
    copied_bytes: int = 0
    problems: list[str] = field(default_factory=list)

    @property
    def sound(self) -> bool:
        return not self.problems


@dataclass(frozen=True)
class BackupFile:
    """A file that belongs in a backup, by its path under the data folder; `name` is the user's name for it. The size of
    an upload is unknown (−1).
    """

    place: str
    size: int
    sha256: str
    name: str


def write_backup(data: Path, folder: Path, progress: Progress) -> BackupReport:
    """Backs up a data folder while it is in use. Nothing is cleared meanwhile (`keep_everything`). Raises Refusal for a
    folder that cannot be used, and OSError if the disk is full.
    """
    check_place(data, folder)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    report = BackupReport(folder=str(folder))
    with keep_everything(data):
        new = folder / f"{DATABASE}.new"
        write_copy(data / DATABASE, new)
        why = damage_of_database(new)
        if why:
            raise Refusal(f"The studio's records are damaged ({why}); run “zesty doctor --repair” before you back up.")
        wanted = list(wanted_of(new))
        for done, each in enumerate(wanted):
            progress(done, len(wanted))
            _copy(each, data, folder, report)
    new.replace(folder / DATABASE)
    manifest = {
        "zesty_backup": FORMAT,
        "made": datetime.now(UTC).isoformat(timespec="seconds"),
        "database_sha256": sha256_of(folder / DATABASE),
        **asdict(report),
    }
    half = folder / f"{MANIFEST}.part"
    half.write_text(json.dumps(manifest, indent=1, ensure_ascii=False))
    half.replace(folder / MANIFEST)
    os.sync()
    progress(1, 1)
    return report


def check_place(data: Path, folder: Path) -> None:
    """Raises Refusal for a folder inside the data folder, or one that holds something else."""
    if not folder.is_absolute():
        raise Refusal(f"“{folder}” is not a whole path; give one that begins with “/”.")
    try:
        folder.resolve().stat()
    except FileNotFoundError:
        pass
    except (OSError, ValueError):
        raise Refusal(f"“{str(folder)[:200]}” cannot be used as a folder; choose another.") from None
    if folder.resolve().is_relative_to(data.resolve()) or data.resolve().is_relative_to(folder.resolve()):
        raise Refusal("A backup belongs outside the data folder, best on another disk; choose another folder.")
    if folder.exists() and not folder.is_dir():
        raise Refusal(f"{folder} is a file; choose a folder for the backup.")
    if folder.is_dir() and not (folder / MANIFEST).exists():
        others = [
            path.name for path in folder.iterdir() if path.name not in (f"{DATABASE}.new", "recordings", "uploads")
        ]
        if others:
            raise Refusal(f"{folder} holds something else ({sorted(others)[0]}); choose an empty folder, or a backup.")


def damage_of_database(database: Path) -> str:
    """What SQLite finds wrong with a database file, empty if nothing."""
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as opened:
            found = opened.execute("PRAGMA integrity_check(3)").fetchall()
    except DAMAGED as error:
        return str(error)
    return "" if found == [("ok",)] else "; ".join(str(row[0]) for row in found)


def wanted_of(database: Path) -> Iterator[BackupFile]:
    """The files that a backup's database refers to."""
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as opened:
        names = dict(opened.execute("SELECT stored_id, path FROM library_sessionfile WHERE stored_id IS NOT NULL"))
        for sha256, suffix, size in opened.execute(
            "SELECT sha256, suffix, size FROM library_storedfile ORDER BY sha256"
        ):
            name = names.get(sha256) or f"a recording that no session names ({sha256[:12]}…)"
            yield BackupFile(f"recordings/{sha256[:2]}/{sha256}{suffix}", size, sha256, name)
        for name, file, sha256 in opened.execute("SELECT name, file, sha256 FROM library_sessionarchive ORDER BY id"):
            yield BackupFile(f"uploads/{file}", -1, sha256, name)


def _copy(wanted: BackupFile, data: Path, folder: Path, report: BackupReport) -> None:
    """Copies one file, unless it is there already, and reads it back."""
    source, target = data / wanted.place, folder / wanted.place
    if target.is_file() and target.stat().st_size == wanted.size:
        report.recordings, report.bytes = report.recordings + 1, report.bytes + wanted.size
        return
    half = target.with_name(f"{target.name}.part")
    target.parent.mkdir(parents=True, exist_ok=True)
    try:
        copy_durably(source, half)
        if sha256_of(half) != wanted.sha256:
            raise FileNotFoundError(source)
        half.replace(target)
    except FileNotFoundError:
        report.problems.append(
            f"{wanted.name} is missing or damaged on the disk, so it is missing in the backup; add it again."
        )
        return
    finally:
        half.unlink(missing_ok=True)
    size = target.stat().st_size
    report.recordings, report.bytes = report.recordings + 1, report.bytes + size
    report.copied, report.copied_bytes = report.copied + 1, report.copied_bytes + size


def restore_backup(folder: Path, data: Path, progress: Progress) -> BackupReport:
    """Restores a backup into a data folder without a studio. If interrupted, it can be run again: the database comes
    last. Raises Refusal if it is not a backup, or if the folder is in use.
    """
    if (data / DATABASE).exists():
        raise Refusal(f"{data} holds a studio already; give an empty folder with ZESTY_DATA.")
    manifest = read_manifest(folder)
    if sha256_of(folder / DATABASE) != manifest["database_sha256"]:
        raise Refusal(f"The records in {folder} are damaged; use another backup.")
    report = BackupReport(folder=str(folder))
    wanted = list(wanted_of(folder / DATABASE))
    for done, each in enumerate(wanted):
        progress(done, len(wanted))
        _copy(each, folder, data, report)
    half = data / f"{DATABASE}.part"
    shutil.copyfile(folder / DATABASE, half)
    with closing(sqlite3.connect(half)) as opened, opened:
        # The exports that waiting jobs would resume are not in a backup.
        opened.execute(
            "UPDATE jobs_job SET state = 'stopped', message = 'The studio was restored from a backup; run it again.'"
            " WHERE state IN ('waiting', 'running')"
        )
    half.chmod(0o600)
    half.replace(data / DATABASE)
    os.sync()
    progress(1, 1)
    return report


def read_manifest(folder: Path) -> dict[str, str]:
    """A backup's description of itself. Raises Refusal if there is none."""
    try:
        manifest = json.loads((folder / MANIFEST).read_text())
        made = manifest["zesty_backup"]
    except (OSError, ValueError, KeyError, TypeError):
        raise Refusal(
            f"{folder} is no backup of a studio, or one that was not finished; choose another folder."
        ) from None
    if made != FORMAT or not (folder / DATABASE).is_file():
        raise Refusal(f"{folder} was written by a newer version of Zesty Skin, or its records are gone.")
    return dict(manifest)
