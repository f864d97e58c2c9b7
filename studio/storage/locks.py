"""Locks that end with their process, however it ends: one studio and one worker per folder."""

import fcntl
import os
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from drumcore.refusals import Refusal

SILENT_FOR_S = 6.0
BEAT_S = 1.0


class ProcessLock:
    """A file locked while this process lives. `word` is stored in it for others to read."""

    def __init__(self, path: Path, word: str) -> None:
        self.path, self.word = path, word
        self._file: IO[str] | None = None

    def take(self) -> bool:
        """Takes the lock; False if another process holds it."""
        file = self.path.open("a+")
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            file.close()
            return False
        file.truncate(0)
        file.write(self.word)
        file.flush()
        self._file = file
        return True

    def release(self) -> None:
        """Releases the lock."""
        if self._file is not None:
            self._file.close()
            self._file = None

    def beat(self) -> None:
        """A sign of life: a paused process keeps the lock but stops sending these."""
        os.utime(self.path)


def holder(path: Path) -> str | None:
    """The word of the process that holds a lock, or None if none does."""
    try:
        with path.open("r") as file:
            try:
                fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
            except OSError:
                return file.read()
            fcntl.flock(file, fcntl.LOCK_UN)
    except OSError:
        return None
    return None


def is_silent(path: Path) -> bool:
    """Whether the last sign of life is long ago; a time in the future, after a clock change, counts as well."""
    try:
        return abs(time.time() - path.stat().st_mtime) > SILENT_FOR_S
    except OSError:
        return True


BACKUP_LOCK = "backup.lock"
LONGEST_STEP_S = 60.0
"""How long a step of clearing may take before a backup gives up waiting for its end."""


@contextmanager
def keep_everything(data: Path) -> Iterator[None]:
    """While this context lasts, no recording or upload of a data folder is deleted. Raises Refusal if another backup is
    running.
    """
    with (data / BACKUP_LOCK).open("a") as file:
        until = time.monotonic() + LONGEST_STEP_S
        while True:
            try:
                fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                break
            except OSError:
                if time.monotonic() > until:
                    raise Refusal("Another backup of this studio is being written; wait for it to finish.") from None
                time.sleep(0.05)
        yield


@contextmanager
def may_remove(data: Path) -> Iterator[bool]:
    """Whether files may be deleted in this context: not while a backup copies what its database refers to."""
    data.mkdir(parents=True, exist_ok=True)
    with (data / BACKUP_LOCK).open("a") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except OSError:
            yield False
        else:
            yield True
