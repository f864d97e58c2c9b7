"""Zip archives from anywhere: opened within limits, and never unpacked outside their folder."""

import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path, PurePosixPath
from typing import IO

from drumcore.refusals import Refusal

ARCHIVE_SUFFIX = ".zip"
MOST_ENTRIES = 60_000
MOST_BYTES = 32 << 30
MOST_RATIO = 200
FREE_RATIO_BYTES = 64 << 20
CHUNK = 1 << 20
_UNREADABLE = (zipfile.BadZipFile, EOFError, NotImplementedError, RuntimeError, OSError, ValueError, zlib.error)


@contextmanager
def open_archive(path: Path, name: str = "") -> Iterator[zipfile.ZipFile]:
    """Opens a zip; `name` is the user's name for it. Raises Refusal if it is not a zip. Other errors while it is open
    (a full disk) pass through.
    """
    try:
        archive = zipfile.ZipFile(path)
    except FileNotFoundError:
        raise
    except _UNREADABLE:
        raise Refusal(f"{name or path.name} is not a zip archive that can be read; copy or save it again.") from None
    with archive:
        yield archive


def read_entry(archive: zipfile.ZipFile, name: str) -> bytes:
    """One entry whole. Raises Refusal if it is damaged or encrypted."""
    try:
        return archive.read(name)
    except _UNREADABLE:
        raise Refusal(f"{name} is damaged or locked in its archive; save it again.") from None


UTF8_NAME = 0x800
LOCAL_HEADER = 30
"""Bytes of an entry's own header before its name (APPNOTE.TXT 4.3.7 of the zip format)."""


def check_archive(archive: zipfile.ZipFile, name: str) -> None:
    """Refuses archives beyond any real session: too many entries, too large, too highly compressed, or entries that
    share their bytes, with which a small file could unpack to any size.
    """
    entries = archive.infolist()
    if len(entries) > MOST_ENTRIES:
        raise Refusal(f"{name} holds {len(entries):,} entries; split it into archives of at most {MOST_ENTRIES:,}.")
    total = sum(info.file_size for info in entries)
    packed = sum(info.compress_size for info in entries)
    if total > MOST_BYTES:
        raise Refusal(
            f"{name} would unpack to {total >> 30} GB; split it into archives of at most {MOST_BYTES >> 30} GB."
        )
    if total > FREE_RATIO_BYTES and total > MOST_RATIO * max(packed, 1):
        raise Refusal(
            f"{name} unpacks to {total // max(packed, 1)} times its size, which no recording does; it was skipped."
        )

    end = 0
    for info in sorted(entries, key=lambda info: info.header_offset):
        if info.header_offset < end:
            raise Refusal(f"{name} has entries that lie over one another, so it may be malicious; zip it again.")
        written = info.orig_filename.encode("utf-8" if info.flag_bits & UTF8_NAME else "cp437", "replace")
        end = info.header_offset + LOCAL_HEADER + len(written) + info.compress_size


def safe_name(name: str) -> str | None:
    """An entry's path if it stays inside the target folder, else None."""
    path = PurePosixPath(name.replace("\\", "/"))
    if path.is_absolute() or ".." in path.parts or not path.parts or ":" in path.parts[0] or "\0" in name:
        return None
    return str(path)


def entries_of(archive: zipfile.ZipFile) -> Iterator[tuple[zipfile.ZipInfo, str | None]]:
    """The files of an archive with their safe paths; None where a path leaves the folder."""
    for info in archive.infolist():
        if not info.is_dir():
            yield info, safe_name(info.filename)


def copy_entry(archive: zipfile.ZipFile, info: zipfile.ZipInfo, target: IO[bytes]) -> None:
    """Copies one entry, at most as many bytes as its header says. Raises Refusal if it holds more or is damaged; errors
    of the target (a full disk) pass through.
    """
    left = info.file_size
    try:
        source = archive.open(info)
    except _UNREADABLE:
        raise _damaged(info) from None
    with source:
        while chunk := _chunk(source, info):
            left -= len(chunk)
            if left < 0:
                raise Refusal(f"{info.filename} is larger than its archive says; it was not added.")
            target.write(chunk)


def _chunk(source: IO[bytes], info: zipfile.ZipInfo) -> bytes:
    try:
        return source.read(CHUNK)
    except _UNREADABLE:
        raise _damaged(info) from None


def _damaged(info: zipfile.ZipInfo) -> Refusal:
    return Refusal(f"{info.filename} is damaged or locked in its archive; zip it again.")
