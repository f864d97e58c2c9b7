"""Which recordings are needed, which can be deleted, and how much space everything takes.

A recording's bytes stay while any version of any kit, a saved item, a session or an active job names them, and for an
hour after they arrived. Tables hold these references (`kits.references`, `shelves.references`), so no stored version
has to be opened.
"""

import contextlib
import os
import shutil
import time
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django.db.models import Exists, OuterRef, Q, QuerySet, Sum
from django.utils import timezone

from drumcore.refusals import Refusal
from studio.jobs.models import Job
from studio.kits.kit_files import OPEN
from studio.kits.models import KitReference, RecordingInSet
from studio.kits.references import NamedByKits, clear_parts, unnamed_parts
from studio.kits.references import held_by as held_by_kits
from studio.sessions.models import SessionArchive, SessionFile
from studio.sessions.work import BRING_IN
from studio.shelves.models import KeptReference
from studio.shelves.references import named_within
from studio.storage.batches import AT_ONCE, batches
from studio.storage.files import file_name
from studio.storage.locks import may_remove
from studio.storage.models import StoredFile
from studio.storage.recordings import recordings

YOUNG = timedelta(hours=1)


def of_jobs() -> set[str]:
    """What waiting and running jobs were given to work on."""
    going = Job.everywhere.filter(state__in=("waiting", "running"))
    return {name for arguments in going.values_list("arguments", flat=True) for name in named_within(arguments)}


@dataclass(frozen=True)
class Leaving:
    """The items about to be deleted, by id."""

    kits: tuple[str, ...] = ()
    kept: tuple[int, ...] = ()
    sessions: tuple[int, ...] = ()


def held_by(leaving: Leaving) -> set[str]:
    """Everything that the items about to be deleted refer to."""
    kept = KeptReference.objects.filter(kept_id__in=leaving.kept).values_list("name", flat=True)
    files = SessionFile.objects.filter(session_id__in=leaving.sessions, stored__isnull=False)
    return held_by_kits(leaving.kits) | set(kept) | set(files.values_list("stored_id", flat=True))


class Needed:
    """Which names are still needed after something is deleted."""

    def __init__(self, leaving: Leaving = Leaving()) -> None:
        self._kits = NamedByKits(leaving.kits)
        self._kept = KeptReference.objects.exclude(kept_id__in=leaving.kept)
        self._files = SessionFile.objects.exclude(session_id__in=leaving.sessions)
        self._jobs = of_jobs()

    def without(self, files: list[StoredFile]) -> list[StoredFile]:
        """Of at most `AT_ONCE` files, those that nothing needs."""
        hashes = [stored.sha256 for stored in files]
        names = {name for stored in files for name in (stored.sha256, stored.content) if name}
        needed = self._kits.among(hashes) | self._jobs.intersection(names)
        needed |= set(self._kept.filter(name__in=names).values_list("name", flat=True))
        needed |= set(self._files.filter(stored_id__in=hashes).values_list("stored_id", flat=True))
        return [stored for stored in files if not {stored.sha256, stored.content} & needed]


FILES_AT_ONCE = AT_ONCE // 2


def may_be_coming() -> bool:
    """Whether an active job brings in recordings that nothing refers to yet."""
    return Job.everywhere.filter(kind__in=(OPEN, BRING_IN), state__in=("waiting", "running")).exists()


def _files_of(names: Iterable[str]) -> Iterator[list[StoredFile]]:
    """The files for these names, in batches."""
    seen: set[str] = set()
    for some in batches(names):
        rows = StoredFile.objects.filter(Q(sha256__in=some) | Q(content__in=some)).defer("measured")
        new = [stored for stored in rows if stored.sha256 not in seen]
        seen |= {stored.sha256 for stored in new}
        for first in range(0, len(new), FILES_AT_ONCE):
            yield new[first : first + FILES_AT_ONCE]


@dataclass(frozen=True)
class FreedSpace:
    """What a deletion would free: the `files` nothing else needs and their bytes, of the `held` files it refers to."""

    held: int
    files: int
    size: int


def freed_by(leaving: Leaving) -> FreedSpace:
    """What deleting these items would free. Recent files count, unless a job may be bringing them in again."""
    held, files, size = 0, 0, 0
    needed, young_too = Needed(leaving), not may_be_coming()
    for some in _files_of(held_by(leaving)):
        held += len(some)
        free = [stored for stored in needed.without(some) if young_too or _is_old(stored)]
        files, size = files + len(free), size + sum(stored.size for stored in free)
    return FreedSpace(held, files, size)


def _is_old(stored: StoredFile) -> bool:
    return stored.came < timezone.now() - YOUNG


@dataclass(frozen=True)
class Cleared:
    files: int
    size: int


def clear(names: Iterable[str], *, young_too: bool = False) -> Cleared:
    """Deletes the files for these names that nothing needs any more; with `young_too` also those less than an hour old,
    unless a job may be bringing them in again.

    It works in short steps, so that an edit waits for one step at most. Each step checks again in its own transaction
    what is needed. While a backup is written nothing is deleted; "Clear" finds the files later.
    """
    files, size = 0, 0
    for some in _files_of(names):
        with may_remove(Path(settings.DATA)) as allowed:
            if not allowed:
                break
            gone = _remove(some, young_too=young_too)
        files, size = files + len(gone), size + sum(stored.size for stored in gone)
    return Cleared(files, size)


def _remove(some: list[StoredFile], *, young_too: bool) -> list[StoredFile]:
    """Deletes those of some files that nothing needs."""
    with transaction.atomic():
        gone = Needed().without(some)
        if not young_too or may_be_coming():
            gone = [stored for stored in gone if _is_old(stored) and not _came_young(stored)]
        StoredFile.objects.filter(sha256__in=[stored.sha256 for stored in gone]).delete()
    _unlink(gone)
    return gone


def _unlink(gone: list[StoredFile]) -> None:
    """Deletes the bytes, unless they arrived again meanwhile: then they have their record, or the import notices that
    they are gone (`sessions.incoming.keep_names`).
    """
    with transaction.atomic():
        hashes = [stored.sha256 for stored in gone]
        known = set(StoredFile.objects.filter(sha256__in=hashes).values_list("sha256", flat=True))
        for stored in gone:
            if stored.sha256 not in known:
                recordings().delete(file_name(stored))


def _came_young(stored: StoredFile) -> bool:
    return _within_the_hour(recordings().came(file_name(stored)))


def _is_young(place: Path) -> bool:
    try:
        return _within_the_hour(place.stat().st_mtime)
    except FileNotFoundError:
        return False


def _within_the_hour(came: float | None) -> bool:
    return came is not None and time.time() - came < YOUNG.total_seconds()


def remove_parts(names: Iterable[str]) -> None:
    """Deletes the parts among these names that no version of any kit has, in batches."""
    for some in batches(names):
        with transaction.atomic():
            clear_parts(some)


def unneeded() -> QuerySet[StoredFile]:
    """Files that are older than an hour and that nothing refers to."""
    old = StoredFile.objects.filter(came__lt=timezone.now() - YOUNG).defer("measured")
    found = old.filter(~Exists(SessionFile.objects.filter(stored=OuterRef("sha256"))))
    for table in (KitReference, RecordingInSet, KeptReference):
        for by in ("sha256", "content"):
            found = found.filter(~Exists(table._base_manager.filter(name=OuterRef(by))))
    return found


def clear_unneeded() -> Cleared:
    """Deletes everything that nothing needs: recordings, parts of deleted versions, and unfinished files. Raises
    Refusal while a backup is written.
    """
    with may_remove(Path(settings.DATA)) as allowed:
        if not allowed:
            raise Refusal("A backup is being written, and needs everything to stay; try again when it is done.")
    remove_parts(unnamed_parts())
    cleared = clear(list(unneeded().values_list("sha256", flat=True)))
    files, size = cleared.files, cleared.size
    store = recordings()
    for name in list(_nameless_recordings()):
        with may_remove(Path(settings.DATA)) as allowed:
            if not allowed:
                break
            files, size = files + 1, size + (store.size(name) or 0)
            store.delete(name)
    for path in list(_leftovers()):
        with may_remove(Path(settings.DATA)) as allowed, contextlib.suppress(FileNotFoundError):
            if not allowed:
                break
            length = path.stat().st_size
            path.unlink()
            files, size = files + 1, size + length
    return Cleared(files, size)


def unneeded_now() -> Cleared:
    """What `clear_unneeded` would delete."""
    jobs = of_jobs()
    files = [stored for stored in unneeded() if not {stored.sha256, stored.content} & jobs]
    left = [recordings().size(name) or 0 for name in _nameless_recordings()]
    left += [path.stat().st_size for path in _leftovers() if path.is_file()]
    return Cleared(len(files) + len(left), sum(stored.size for stored in files) + sum(left))


def _nameless_recordings() -> Iterator[str]:
    """Stored recordings without a record, partly written ones included, older than an hour."""
    known, store = set(StoredFile.objects.values_list("sha256", flat=True)), recordings()
    for name in store.names():
        if name.split(".")[0] not in known and not _within_the_hour(store.came(name)):
            yield name


def _leftovers() -> Iterator[Path]:
    """Other unneeded files older than an hour: uploads that no job waits for, and temporary files."""
    data = Path(settings.DATA)
    # Older versions kept temporary files beside the folders of recordings.
    yield from (path for path in (data / "recordings").glob("*.part") if not _is_young(path))
    waited_for = uploads_waited_for()
    for folder in (data / "uploads", data / "temporary"):
        for path in folder.rglob("*"):
            if path.is_file() and path.name not in waited_for and not _is_young(path):
                yield path


def uploads_waited_for() -> set[str]:
    """The uploads that a job has yet to read, or may read again, and archives not yet unpacked."""
    jobs = Job.everywhere.exclude(state="done").values_list("arguments", flat=True)
    archives = SessionArchive.objects.values_list("file", flat=True)
    return {Path(str(arguments["path"])).name for arguments in jobs if "path" in arguments} | set(archives)


@dataclass(frozen=True)
class DiskUse:
    """Sizes in bytes: recordings, prepared sounds, results of jobs and previews, uploads, the database, and free space."""

    recordings: int
    prepared: int
    made: int
    uploads: int
    records: int
    free: int


def room() -> DiskUse:
    data = Path(settings.DATA)
    return DiskUse(
        recordings=StoredFile.objects.aggregate(all=Sum("size"))["all"] or 0,
        prepared=_size(data / "prepared"),
        made=_size(data / "jobs") + _size(data / "previews"),
        uploads=_size(data / "uploads") + _size(data / "temporary"),
        records=sum(path.stat().st_size for path in data.glob("*.sqlite3*")),
        free=shutil.disk_usage(data).free,
    )


def _size(folder: Path) -> int:
    total = 0
    for root, _, names in os.walk(folder):
        for name in names:
            try:
                total += (Path(root) / name).stat().st_size
            except FileNotFoundError:
                continue
    return total
