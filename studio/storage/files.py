"""Files stored once by content: written to a temporary name, synced, moved to the recordings, then recorded in the
database.
"""

import hashlib
import os
import tempfile
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from drumcore.refusals import DamagedRecording, Refusal
from studio.storage.models import StoredFile
from studio.storage.recordings import is_as_named, recordings

LARGEST_FILE = 512 << 20


def file_name(stored: StoredFile) -> str:
    """A stored file's name among the recordings."""
    return f"{stored.sha256}{stored.suffix}"


def place_of(stored: StoredFile) -> Path:
    return recordings().local(file_name(stored))


@dataclass(frozen=True)
class Put:
    """A file that is in place but not yet in the database. `repaired`: a damaged one was replaced."""

    sha256: str
    suffix: str
    size: int
    repaired: bool = False


def put_file(source: Path, name: str, *, durable: bool = True) -> Put:
    """Copies a file to its place; when this returns it survives a crash.

    It does not touch the database, so nobody waits while a large archive is unpacked. Raises Refusal for a file over
    the limit. With `durable` false the caller syncs many files at once before confirming them.
    """
    suffix = Path(name).suffix.lower()[:8]
    digest, size = hashlib.sha256(), 0
    handle, temporary = tempfile.mkstemp(suffix=".part")
    store = recordings()
    try:
        with os.fdopen(handle, "wb") as file, source.open("rb") as read:
            while chunk := read.read(1 << 20):
                size += len(chunk)
                if size > LARGEST_FILE:
                    raise Refusal(f"{name} is over {LARGEST_FILE >> 20} MB; cut it into single strikes.")
                digest.update(chunk)
                file.write(chunk)
            file.flush()
            if durable:
                os.fsync(file.fileno())
        sha256 = digest.hexdigest()
        kept = f"{sha256}{suffix}"
        was_there = store.keep_young(kept)
        whole = was_there and store.size(kept) == size and is_as_named(kept, sha256)
        if not whole:
            store.put(Path(temporary), kept, durable=durable)
    finally:
        Path(temporary).unlink(missing_ok=True)
    return Put(sha256, suffix, size, repaired=was_there and not whole)


def remember(put: Iterable[Put]) -> dict[str, StoredFile]:
    """Records stored files in the database, by hash. A file known under another suffix keeps that; a damaged one is
    marked as repaired.
    """
    wanted = {each.sha256: each for each in put}
    new = [StoredFile(sha256=p.sha256, suffix=p.suffix, size=p.size) for p in wanted.values()]
    StoredFile.objects.bulk_create(
        new, update_conflicts=True, unique_fields=["sha256"], update_fields=["came", "damaged"]
    )
    repaired = [each.sha256 for each in wanted.values() if each.repaired]
    StoredFile.objects.filter(sha256__in=repaired, measured__has_key="why").update(measured=None)
    known = {stored.sha256: stored for stored in StoredFile.objects.filter(sha256__in=wanted)}
    for sha256, stored in known.items():
        if not recordings().exists(file_name(stored)):
            # Known under another suffix, but that file is gone: this one replaces it.
            stored.suffix = wanted[sha256].suffix
            stored.save(update_fields=["suffix"])
    return known


def store_file(path: Path, name: str) -> StoredFile:
    put = put_file(path, name)
    return remember([put])[put.sha256]


def name_content(stored: StoredFile, content: str) -> None:
    """Records which sound a file holds, so that kits find it."""
    if stored.content != content:
        stored.content = content
        stored.save(update_fields=["content"])


def is_there(stored: StoredFile) -> bool:
    """Whether a stored file exists with its original size and is not known to be damaged."""
    return not stored.damaged and recordings().size(file_name(stored)) == stored.size


def is_whole(stored: StoredFile) -> bool:
    """Whether a stored file exists with exactly its original bytes."""
    name = file_name(stored)
    return recordings().size(name) == stored.size and is_as_named(name, stored.sha256)


def locate(content: str) -> Path:
    """The file that holds a content. Raises DamagedRecording if the studio has no intact one."""
    for stored in StoredFile.objects.filter(content=content).defer("measured"):
        if is_there(stored):
            return place_of(stored)
    raise DamagedRecording(content)


def damaged_contents() -> frozenset[str]:
    """The content hashes of all recordings known to be damaged."""
    return frozenset(StoredFile.objects.filter(damaged=True).exclude(content="").values_list("content", flat=True))
