"""Which recordings are needed, what nothing needs any more, and how much room all of it takes.

A recording's bytes stay as long as any version of any kit, anything kept under a name, a session or a job at work names
them, and for an hour after they came in. Whatever looks like a hash in what is stored counts as naming it: too much may be
kept, never too little.
"""

import os
import re
import shutil
import time
import zlib
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django.db.models import Sum
from django.utils import timezone

from studio.jobs.models import Job
from studio.kits.models import KitVersion, Part
from studio.library.models import SessionFile, StoredFile
from studio.library.store import place_of, recordings_folder
from studio.shelves.models import Kept

YOUNG = timedelta(hours=1)
_HASH = re.compile(rb'"([0-9a-f]{40}(?:[0-9a-f]{24})?)"')
AT_ONCE = 500


def named_in(data: bytes) -> set[str]:
    """Every hash that a text names: contents of 40 digits, parts and files of 64."""
    return {found.decode() for found in _HASH.findall(data)}


def of_versions(kits: Iterable[str] | None = None, but: Iterable[str] = ()) -> set[str]:
    """What the versions of some kits, or of all but some, name: contents of recordings, and the parts that hold takes."""
    rows = KitVersion.objects.exclude(kit_id__in=list(but))
    if kits is not None:
        rows = rows.filter(kit_id__in=list(kits))
    named: set[str] = set()
    for head in rows.values_list("head", flat=True).iterator(AT_ONCE):
        named |= named_in(zlib.decompress(bytes(head)))
    for some in _batches(sorted(name for name in named if len(name) == 64)):
        for data in Part.objects.filter(hash__in=some).values_list("data", flat=True):
            named |= named_in(zlib.decompress(bytes(data)))
    return named


def of_kept(rows: Iterable[int] | None = None, but: Iterable[int] = ()) -> set[str]:
    """What things kept under a name name."""
    found = Kept.objects.exclude(id__in=list(but)) if rows is None else Kept.objects.filter(id__in=list(rows))
    return {name for data in found.values_list("data", flat=True).iterator(AT_ONCE) for name in _within(data)}


def _within(value: object) -> Iterator[str]:
    if isinstance(value, str):
        yield from named_in(f'"{value}"'.encode())
    elif isinstance(value, dict):
        for each in value.values():
            yield from _within(each)
    elif isinstance(value, list):
        for each in value:
            yield from _within(each)


def of_sessions(sessions: Iterable[int] | None = None, but: Iterable[int] = ()) -> set[str]:
    """The files of sessions, by the hash of their bytes."""
    rows = SessionFile.objects.filter(stored__isnull=False).exclude(session_id__in=list(but))
    if sessions is not None:
        rows = rows.filter(session_id__in=list(sessions))
    return set(rows.values_list("stored_id", flat=True).distinct())


def of_jobs() -> set[str]:
    going = Job.objects.filter(state__in=("waiting", "running"))
    return {name for arguments in going.values_list("arguments", flat=True) for name in _within(arguments)}


@dataclass(frozen=True)
class Leaving:
    """What somebody is about to remove, by identifiers."""

    kits: tuple[str, ...] = ()
    kept: tuple[int, ...] = ()
    sessions: tuple[int, ...] = ()


def needed(leaving: Leaving = Leaving()) -> set[str]:
    """All that is named once something has left."""
    return of_versions(but=leaving.kits) | of_kept(but=leaving.kept) | of_sessions(but=leaving.sessions) | of_jobs()


def unneeded(names: set[str], among: set[str] | None = None) -> list[StoredFile]:
    """Files that are not among the `names` of all that is needed: of those that hold what is named `among`, or of all that came
    more than an hour ago. Of what is named, those count that came just now, unless a job is at work that may be bringing
    them in."""
    rows = StoredFile.objects.all()
    if not whatever_its_age(among):
        rows = rows.filter(came__lt=timezone.now() - YOUNG)
    found = []
    for stored in rows.only("sha256", "suffix", "size", "content").iterator(AT_ONCE):
        held = {stored.sha256, stored.content} - {""}
        if not held & names and (among is None or held & among):
            found.append(stored)
    return found


BRING_IN = ("open_kit_file", "bring_in_folder")


def whatever_its_age(among: set[str] | None) -> bool:
    """Whether what came just now may go: it is asked for by name, and no job is at work that may be bringing it in again."""
    return among is not None and not Job.objects.filter(kind__in=BRING_IN, state__in=("waiting", "running")).exists()


def held_by(leaving: Leaving) -> set[str]:
    """What somebody is about to remove names."""
    return of_versions(leaving.kits) | of_kept(leaving.kept) | of_sessions(leaving.sessions)


def recordings_among(names: set[str]) -> int:
    """How many files there are of what is named."""
    hashes = StoredFile.objects.values_list("sha256", "content").iterator(AT_ONCE)
    return sum(1 for sha256, content in hashes if sha256 in names or content in names)


@dataclass(frozen=True)
class Cleared:
    files: int
    size: int


def clear(files: list[StoredFile], *, young_too: bool = False) -> Cleared:
    """Remove files that nothing needs. To be called in the transaction that found them, so that whoever would name one of them
    waits; the bytes go once that stands."""
    gone = [stored for stored in files if young_too or not _is_young(place_of(stored))]
    for some in _batches([stored.sha256 for stored in gone]):
        StoredFile.objects.filter(sha256__in=some).delete()
    transaction.on_commit(lambda: _unlink(gone))
    return Cleared(len(gone), sum(stored.size for stored in gone))


def _unlink(gone: list[StoredFile]) -> None:
    """Remove the bytes, but of what came again meanwhile: it has its record, or finds in its own transaction that its bytes are
    gone (`library.sessions.keep_names`)."""
    with transaction.atomic():
        known: set[str] = set()
        for some in _batches([stored.sha256 for stored in gone]):
            known |= set(StoredFile.objects.filter(sha256__in=some).values_list("sha256", flat=True))
        for stored in gone:
            if stored.sha256 not in known:
                place_of(stored).unlink(missing_ok=True)


def _is_young(place: Path) -> bool:
    try:
        return time.time() - place.stat().st_mtime < YOUNG.total_seconds()
    except FileNotFoundError:
        return False


def clear_unneeded() -> Cleared:
    """Remove everything that nothing needs: recordings, takes of versions that are gone, and what an interrupted upload left."""
    with transaction.atomic():
        names = needed()
        clear_parts(names)
        cleared = clear(unneeded(names))
    for path in list(_strays()):
        size = path.stat().st_size
        path.unlink(missing_ok=True)
        cleared = Cleared(cleared.files + 1, cleared.size + size)
    return cleared


def unneeded_now() -> Cleared:
    """What `clear_unneeded` would remove."""
    files, strays = unneeded(needed()), list(_strays())
    size = sum(stored.size for stored in files) + sum(path.stat().st_size for path in strays)
    return Cleared(len(files) + len(strays), size)


def _strays() -> Iterator[Path]:
    """Files that no record names and that are an hour old."""
    known = set(StoredFile.objects.values_list("sha256", flat=True))
    for path in recordings_folder().rglob("*"):
        if path.is_file() and path.name.split(".")[0] not in known and not _is_young(path):
            yield path


def clear_parts(names: set[str]) -> None:
    """Remove the takes that no version of any kit names."""
    unused = [name for name in Part.objects.values_list("hash", flat=True) if name not in names]
    for some in _batches(unused):
        Part.objects.filter(hash__in=some).delete()


def _batches(names: list[str]) -> Iterator[list[str]]:
    for first in range(0, len(names), AT_ONCE):
        yield names[first : first + AT_ONCE]


@dataclass(frozen=True)
class Room:
    """Bytes: recordings, what was made ready to play, what jobs and previews made, the records themselves, and what is free."""

    recordings: int
    prepared: int
    made: int
    records: int
    free: int


def room() -> Room:
    data = Path(settings.DATA)
    return Room(
        recordings=StoredFile.objects.aggregate(all=Sum("size"))["all"] or 0,
        prepared=_size(data / "prepared"),
        made=_size(data / "jobs") + _size(data / "previews"),
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
