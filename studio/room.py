"""What the system says when there is no room left to write, or it may not be written to."""

import errno
import shutil
from pathlib import Path

FULL = {errno.ENOSPC, errno.EDQUOT, errno.EFBIG, errno.EROFS, errno.EACCES, errno.EPERM}
NO_ROOM = (
    "There is no room left where the studio keeps its data, or it may not be written to. What was kept before is safe; "
    "make room and try again."
)
BUSY = "The studio is busy with something large; nothing was changed. Try again in a moment."


def says_full(error: Exception) -> bool:
    """Whether a database error is about room on the disk. SQLite says by words alone why it could not write."""
    return any(words in str(error) for words in ("full", "readonly", "disk I/O"))


HARDLY_ANY = 1 << 20


def is_full(folder: Path) -> bool:
    """Whether less than a megabyte is free where a folder lies."""
    return shutil.disk_usage(folder).free < HARDLY_ANY
