"""Bringing files in: each stored under its bytes and kept under its path in a session."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from django.db import transaction

from drumcore.formats.archives import safe_name
from drumcore.recordings.audio_files import AUDIO_SUFFIXES
from drumcore.recordings.files import JUNK
from drumcore.refusals import Refusal
from studio.sessions.models import Session, SessionFile
from studio.storage.batches import batches
from studio.storage.files import Put, file_name, is_there, put_file, remember
from studio.storage.models import StoredFile
from studio.storage.recordings import recordings

LONGEST_PATH = 1024
NAMES_AT_ONCE = 200


@dataclass(frozen=True)
class Incoming:
    """A file of a session under its safe path: where its bytes were put, or why they were not."""

    path: str
    put: Put | None
    why: str = ""


def judged_by_name(path: str) -> tuple[str, str] | None:
    """A file's safe path, and why it is not brought in, blank where it may be; None for system leftovers.

    Raises Refusal for a path that leaves the session or is longer than a name can be.
    """
    safe = safe_name(path)
    if safe is None:
        raise Refusal(f"“{path[:200]}” would lie outside its folder; it was not added.")
    if len(safe) > LONGEST_PATH:
        raise Refusal(f"“{safe[:80]}…” is longer than {LONGEST_PATH:,} characters; shorten its folders' names.")
    if is_junk(safe):
        return None
    if Path(safe).suffix.lower() not in AUDIO_SUFFIXES:
        return safe, f"{safe} is not a WAV, AIFF or FLAC file; it was not added."[:400]
    return safe, ""


def incoming(path: str, source: Path, *, durable: bool = True) -> Incoming | None:
    """Put one file of a session away under its relative path; None for system leftovers.

    A file that is not audio by name is listed and not stored. Raises Refusal as `judged_by_name` does.
    """
    judged = judged_by_name(path)
    if judged is None:
        return None
    safe, why = judged
    if why:
        return Incoming(safe, None, why)
    if source.stat().st_size == 0:
        return Incoming(safe, None, f"{safe} is empty; copy it again."[:400])
    return Incoming(safe, put_file(source, safe.rsplit("/", 1)[-1], durable=durable))


def keep_names(session: Session, files: Sequence[Incoming]) -> int:
    """Record stored files under their names; how many there are. Many short writes, so that an edit never waits
    for a session. A path that came twice is the later file's."""
    latest = list({file.path: file for file in files}.values())
    for some in batches(latest, NAMES_AT_ONCE):
        with transaction.atomic():
            stored = remember(file.put for file in some if file.put)
            batch = [file if _is_there(file, stored) else _cleared_meanwhile(file) for file in some]
            SessionFile.objects.bulk_create(
                [
                    SessionFile(
                        session=session,
                        path=file.path,
                        stored=stored[file.put.sha256] if file.put else None,
                        why=file.why,
                    )
                    for file in batch
                ],
                update_conflicts=True,
                unique_fields=["session", "path"],
                update_fields=["stored", "why"],
            )
    return len(latest)


def _is_there(file: Incoming, stored: dict[str, StoredFile]) -> bool:
    return file.put is None or recordings().exists(file_name(stored[file.put.sha256]))


def _cleared_meanwhile(file: Incoming) -> Incoming:
    """Somebody removed the last kit that needed these bytes between their coming and their getting a name."""
    return Incoming(file.path, None, f"{file.path} was cleared while it came in; add it again."[:400])


def add_file(session: Session, path: str, source: Path) -> int:
    """Keep one file of a session: 1, or 0 for system leftovers. Raises Refusal as `incoming` does."""
    file = incoming(path, source)
    return keep_names(session, [file]) if file else 0


def known_files(session: Session, offered: list[tuple[str, str]]) -> list[str]:
    """Take in the files of (path, SHA-256) pairs that the studio has stored already; returns the paths still wanted."""
    hashes = {digest for _, digest in offered}
    wanted = []
    with transaction.atomic():
        # Looked at inside: nothing that is there is cleared before it has its name.
        stored = {s.sha256: s for s in StoredFile.objects.filter(sha256__in=hashes).defer("measured") if is_there(s)}
        for path, digest in offered:
            safe = safe_name(path)
            if digest not in stored or safe is None or is_junk(safe) or Path(safe).suffix.lower() not in AUDIO_SUFFIXES:
                wanted.append(path)
                continue
            SessionFile.objects.update_or_create(
                session=session, path=safe[:1024], defaults={"stored": stored[digest], "why": ""}
            )
    return wanted


def is_junk(path: str) -> bool:
    """Hidden files and system leftovers."""
    return any(part.startswith(".") or part.lower() in JUNK for part in path.split("/"))
