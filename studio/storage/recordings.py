"""The storage of recordings: an interface, and its one implementation by a folder."""

import errno
import hashlib
import os
import shutil
from collections.abc import Iterator
from io import BufferedIOBase
from pathlib import Path
from typing import Protocol

from django.conf import settings


class Recordings(Protocol):
    """Files named by the hash of their bytes and a suffix: stored once, never changed."""

    def open(self, name: str) -> BufferedIOBase:
        """Opens a file for reading. Raises FileNotFoundError."""

    def exists(self, name: str) -> bool: ...

    def size(self, name: str) -> int | None:
        """Its size in bytes, None if there is no such file."""

    def put(self, source: Path, name: str, *, durable: bool = True) -> None:
        """Moves a file in under a name, complete or not at all. When this returns it survives a crash, unless the
        caller syncs many at once.
        """

    def keep_young(self, name: str) -> bool:
        """Records that a file just arrived again, so that it is not cleared; returns whether it exists."""

    def came(self, name: str) -> float | None:
        """When a file last arrived, in seconds since 1970; None if there is none."""

    def delete(self, name: str) -> None:
        """Deletes a file, if it exists."""

    def local(self, name: str) -> Path:
        """A path on this machine for libraries that cannot read an open file. It need not exist."""

    def names(self) -> Iterator[str]:
        """The names of all files, partly written ones included."""


class FolderOfRecordings:
    """Recordings in a folder, in subfolders by the first two digits of their names."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def local(self, name: str) -> Path:
        return self.root / name[:2] / name

    def open(self, name: str) -> BufferedIOBase:
        return self.local(name).open("rb")

    def exists(self, name: str) -> bool:
        return self.local(name).is_file()

    def size(self, name: str) -> int | None:
        try:
            return self.local(name).stat().st_size
        except OSError:
            return None

    def put(self, source: Path, name: str, *, durable: bool = True) -> None:
        place = self.local(name)
        place.parent.mkdir(parents=True, exist_ok=True)
        try:
            source.replace(place)
        except OSError as error:
            if error.errno != errno.EXDEV:
                raise
            # Temporary files may be on another disk, and a rename is only atomic within one.
            half = place.with_name(f"{name}.part")
            copy_durably(source, half)
            half.replace(place)
            source.unlink()
        if durable:
            _make_durable(place.parent)

    def keep_young(self, name: str) -> bool:
        try:
            os.utime(self.local(name))
        except FileNotFoundError:
            return False
        return True

    def came(self, name: str) -> float | None:
        try:
            return self.local(name).stat().st_mtime
        except FileNotFoundError:
            return None

    def delete(self, name: str) -> None:
        self.local(name).unlink(missing_ok=True)

    def names(self) -> Iterator[str]:
        return (path.name for path in self.root.glob("??/*") if path.is_file())


def recordings() -> Recordings:
    """This studio's storage of recordings."""
    return FolderOfRecordings(folder("recordings"))


def folder(name: str) -> Path:
    """A folder for the studio's own data, created if needed."""
    path = Path(settings.DATA) / name
    path.mkdir(parents=True, exist_ok=True)
    return path


def uploads_folder() -> Path:
    return folder("uploads")


def copy_durably(source: Path, target: Path) -> None:
    """Copies a file; when this returns the copy survives a crash."""
    with source.open("rb") as read, target.open("wb") as file:
        shutil.copyfileobj(read, file, 1 << 20)
        file.flush()
        os.fsync(file.fileno())
    _make_durable(target.parent)


def _make_durable(folder: Path) -> None:
    descriptor = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def sha256_of(path: Path) -> str:
    """The hash of a file's bytes, in hexadecimal. Raises OSError if it cannot be read."""
    with path.open("rb") as file:
        return _sha256_within(file)


def is_as_named(name: str, sha256: str) -> bool:
    """Whether a recording exists with exactly its original bytes."""
    try:
        with recordings().open(name) as file:
            return _sha256_within(file) == sha256
    except OSError:
        return False


def _sha256_within(file: BufferedIOBase) -> str:
    return hashlib.file_digest(file, "sha256").hexdigest()
