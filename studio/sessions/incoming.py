"""Importing files: each is stored by its bytes and recorded under its path in a session."""

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
    """A file of a session under its safe path: where its bytes were stored, or why not."""

    path: str
    put: Put | None
    why: str = ""


def judged_by_name(path: str) -> tuple[str, str] | None:
    """A file's safe path and the reason it is not imported, empty if it is; None for system files. Raises Refusal for a
    path that leaves the session or is too long.
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
    """Stores one file of a session under its relative path; None for system files. A file that is not audio by its name
    is listed but not stored. Raises Refusal as `judged_by_name` does.
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
    """Records stored files under their paths; returns how many. It uses many short writes, so that an edit never waits
    for a session. If a path arrives twice, the later file counts.
    """
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
    """The last kit that needed these bytes was deleted between their arrival and this record."""
    return Incoming(file.path, None, f"{file.path} was cleared while it came in; add it again."[:400])


def add_file(session: Session, path: str, source: Path) -> int:
    """Stores one file of a session: 1, or 0 for system files. Raises Refusal as `incoming` does."""
    file = incoming(path, source)
    return keep_names(session, [file]) if file else 0


def known_files(session: Session, offered: list[tuple[str, str]]) -> list[str]:
    """Assigns files that the studio has already, by (path, SHA-256); returns the paths still needed."""
    hashes = {digest for _, digest in offered}
    wanted = []
    with transaction.atomic():
        # Checked inside the transaction, so that nothing is cleared before it has its record.
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
    """Hidden and system files."""
    return any(part.startswith(".") or part.lower() in JUNK for part in path.split("/"))
