"""Detecting a full or read-only disk."""

import errno
import shutil
import sqlite3
from pathlib import Path

FULL = {errno.ENOSPC, errno.EDQUOT, errno.EFBIG, errno.EROFS, errno.EACCES, errno.EPERM}
NO_ROOM = "The disk with the studio’s data is full or cannot be written to. Everything saved before is safe; free some space and try again."
BUSY = "The studio is busy with something large; nothing was changed. Try again in a moment."


_ABOUT_ROOM = {sqlite3.SQLITE_FULL, sqlite3.SQLITE_READONLY, sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN}
PRIMARY_CODE = 0xFF
"""SQLite's extended result codes hold the primary one in their lowest byte."""


def says_full(error: BaseException) -> bool:
    """Whether a database error means a full disk or missing write permission, by its result code."""
    cause = error.__cause__ or error
    return getattr(cause, "sqlite_errorcode", 0) & PRIMARY_CODE in _ABOUT_ROOM


HARDLY_ANY = 1 << 20


def is_full(folder: Path) -> bool:
    """Whether less than a megabyte is free on a folder's disk; false if that cannot be told."""
    try:
        return shutil.disk_usage(folder).free < HARDLY_ANY
    except OSError:
        return False
