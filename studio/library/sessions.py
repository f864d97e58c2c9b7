"""Bringing sessions in: files and archives stored under their names, measured once, read into pieces."""

import zlib
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from tempfile import TemporaryDirectory

from django.db import transaction

from drumcore.formats.archives import check_archive, copy_entry, entries_of, open_archive, safe_name
from drumcore.recordings.gathering import JUNK, Measured, Progress, Unread, measure_files
from drumcore.recordings.measuring import Measurements
from drumcore.recordings.reading import AUDIO_SUFFIXES
from drumcore.recordings.session import SessionReading, read_session
from drumcore.refusals import Refusal
from studio.library.models import Session, SessionFile, StoredFile
from studio.library.store import LARGEST_FILE, locate, place_of, store_file

BATCH = 8000
"""Files measured before what was found is kept: cancelling or dying loses at most this much work."""


def add_file(session: Session, path: str, source: Path, *, durable: bool = True) -> SessionFile | None:
    """Keep one file of a session under its relative path; None for system leftovers.

    A file that is not audio by name is listed and not stored. Raises Refusal for a path that leaves the session.
    """
    safe = safe_name(path)
    if safe is None:
        raise Refusal(f"“{path}” would lie outside its folder; it was left out.")
    parts = safe.split("/")
    if any(part.startswith(".") or part.lower() in JUNK for part in parts):
        return None
    stored, why = None, ""
    if Path(safe).suffix.lower() not in AUDIO_SUFFIXES:
        why = f"{safe} is not a WAV, AIFF or FLAC file; it was left out."
    elif source.stat().st_size == 0:
        why = f"{safe} is empty; copy it again."
    else:
        stored = store_file(source, parts[-1], durable=durable)
    return SessionFile.objects.update_or_create(
        session=session, path=safe[:1024], defaults={"stored": stored, "why": why}
    )[0]


def add_archive(session: Session, name: str, source: Path) -> tuple[int, list[Unread]]:
    """Keep the files of a zip. Returns how many were kept and what was refused. Raises Refusal for no usable zip."""
    kept, refused = 0, []
    with open_archive(source) as archive, TemporaryDirectory() as folder:
        check_archive(archive, name)
        for info, safe in entries_of(archive):
            if safe is None:
                why = f"“{info.filename}” in {name} would lie outside its folder; it was left out."
                refused.append(Unread(path=info.filename, why=why))
                continue
            if info.file_size > LARGEST_FILE:
                why = f"{safe} in {name} is over {LARGEST_FILE >> 20} MB; cut it into single strikes."
                refused.append(Unread(path=safe, why=why))
                continue
            unpacked = Path(folder) / "entry"
            try:
                with unpacked.open("wb") as target:
                    copy_entry(archive, info, target)
                kept += add_file(session, safe, unpacked) is not None
            except Refusal as refusal:
                refused.append(Unread(path=safe, why=str(refusal)))
    return kept, refused


def read_kept_session(session: Session, progress: Progress) -> SessionReading:
    """Measure what is not measured yet, read the names, keep the reading."""
    files = list(session.files.select_related("stored").order_by("path"))
    if not files:
        raise Refusal("No files came in; choose a folder with WAV, AIFF or FLAC recordings.")
    unmeasured = {f.stored.sha256: f for f in files if f.stored is not None and f.stored.measured is None}
    waiting = [(place_of(f.stored), f.path) for f in unmeasured.values() if f.stored is not None]
    by_path = {f.path: f.stored for f in unmeasured.values()}
    for batch in _batches(waiting, BATCH):
        offset = waiting.index(batch[0])
        measured, unread = measure_files(batch, lambda done, _, offset=offset: progress(offset + done, len(waiting)))
        with transaction.atomic():
            for file in measured:
                _keep_measured(by_path[file.path], {"file": {**asdict(file), "path": ""}}, file.content)
            for entry in unread:
                _keep_measured(by_path[entry.path], {"why": entry.why.replace(entry.path, "{path}")}, "")
    reading = read_session(*_measured_of(session), lambda recording: locate(recording.content))
    session.reading = zlib.compress(reading.model_dump_json().encode(), 6)
    session.save(update_fields=["reading"])
    return reading


def _batches(items: list[tuple[Path, str]], size: int) -> Iterator[list[tuple[Path, str]]]:
    for first in range(0, len(items), size):
        yield items[first : first + size]


def _keep_measured(stored: StoredFile | None, measured: dict[str, object], content: str) -> None:
    assert stored is not None
    stored.measured, stored.content = measured, content
    stored.save(update_fields=["measured", "content"])


def _measured_of(session: Session) -> tuple[list[Measured], list[Unread]]:
    measured, unread = [], []
    for file in session.files.select_related("stored").order_by("path"):
        known = file.stored.measured if file.stored else None
        if known and "file" in known:
            raw = {**known["file"], "path": file.path}
            measured.append(Measured(**{**raw, "measurements": Measurements(**raw["measurements"])}))
        else:
            why = known["why"].replace("{path}", file.path) if known else file.why
            unread.append(Unread(path=file.path, why=why))
    return measured, unread


def reading_of(session: Session) -> SessionReading | None:
    if session.reading is None:
        return None
    return SessionReading.model_validate_json(zlib.decompress(bytes(session.reading)))
