"""Zips sent to sessions: stored until they are unpacked, which can be resumed."""

import os
import uuid
from pathlib import Path
from tempfile import TemporaryDirectory
from zipfile import ZipFile, ZipInfo

from django.conf import settings
from django.db import transaction

from drumcore.formats.archives import ARCHIVE_SUFFIX, check_archive, copy_entry, entries_of, open_archive
from drumcore.recordings.files import Progress, Unread
from drumcore.refusals import Refusal
from studio.sessions.incoming import NAMES_AT_ONCE, Incoming, incoming, judged_by_name, keep_names
from studio.sessions.models import Session, SessionArchive
from studio.storage.batches import batches
from studio.storage.files import LARGEST_FILE
from studio.storage.locks import may_remove
from studio.storage.recordings import copy_durably, sha256_of, uploads_folder

LONGEST_NAME = 255


def keep_archive(session: Session, name: str, source: Path) -> None:
    """Stores a zip of a session until it is unpacked (`unpack_archives`); when this returns it survives a crash. It
    replaces one of the same name. Raises Refusal if it is not a usable zip.
    """
    with open_archive(source, name) as archive:
        check_archive(archive, name)
    kept = uploads_folder() / f"{uuid.uuid4().hex}{ARCHIVE_SUFFIX}"
    copy_durably(source, kept)
    before = list(session.archives.filter(name=name[:LONGEST_NAME]))
    with transaction.atomic():
        session.archives.filter(id__in=[each.id for each in before]).delete()
        SessionArchive.objects.create(session=session, name=name[:LONGEST_NAME], file=kept.name, sha256=sha256_of(kept))
    for each in before:
        _remove_upload(each.file)


def unpack_archives(session: Session, progress: Progress) -> list[Unread]:
    """Unpacks the zips of a session; returns what was refused. If cancelled or stopped, it resumes the next time."""
    refused: list[Unread] = []
    for kept in session.archives.order_by("id"):
        place = uploads_folder() / kept.file
        try:
            refused += add_archive(session, kept.name, place, progress)
        except Refusal as refusal:
            refused.append(Unread(path=kept.name, why=str(refusal)))
        except FileNotFoundError:
            refused.append(Unread(path=kept.name, why=f"{kept.name} is not here any more; add it again."))
        kept.delete()
        _remove_upload(kept.file)
    return refused


def _remove_upload(file: str) -> None:
    """Deletes an upload, unless a backup in progress still refers to it; then it is cleared later."""
    with may_remove(Path(settings.DATA)) as allowed:
        if allowed:
            (uploads_folder() / file).unlink(missing_ok=True)


def add_archive(session: Session, name: str, source: Path, progress: Progress) -> list[Unread]:
    """Stores the files of a zip in batches; returns what was refused.

    Files that the session already has are skipped, so it can be resumed. Names are checked before anything is unpacked.
    A damaged entry is refused alone. On a full disk (OSError), files unpacked before are kept. Raises Refusal if it is
    not a usable zip, and whatever `progress` raises to cancel.
    """
    refused: list[Unread] = []
    with open_archive(source, name) as archive:
        check_archive(archive, name)
        root = _root_folder(archive, name)
        known = set(session.files.filter(stored__isnull=False).values_list("path", flat=True))
        entries = [(info, within.removeprefix(root) if within else None) for info, within in entries_of(archive)]
        done = 0
        for some in batches(entries, NAMES_AT_ONCE):
            came: list[Incoming] = []
            try:
                for info, safe in some:
                    progress(done, len(entries))
                    done += 1
                    if safe in known:
                        continue
                    file = _entry(archive, info, safe, name, refused)
                    came += [file] if file else []
            finally:
                if any(file.put for file in came):
                    os.sync()  # once for all of them: syncing each file would make a large archive wait for the disk all day
                keep_names(session, came)
    progress(1, 1)
    return refused


def _entry(archive: ZipFile, info: ZipInfo, safe: str | None, name: str, refused: list[Unread]) -> Incoming | None:
    """One entry of a zip under its safe path; a damaged one is returned with its reason. Entries without a safe path
    are added to `refused`.
    """
    try:
        if safe is None:
            raise Refusal(f"“{info.filename[:200]}” in {name} would lie outside its folder; it was not added.")
        judged = judged_by_name(safe)
    except Refusal as refusal:
        refused.append(Unread(path=info.filename, why=str(refusal)))
        return None
    if judged is None:
        return None
    path, why = judged
    if not why:
        try:
            return _unpacked(archive, info, path, name)
        except Refusal as refusal:
            why = str(refusal)[:400]
    return Incoming(path, None, why)


def _root_folder(archive: ZipFile, name: str) -> str:
    """The folder, with its "/", that contains everything and only repeats the archive's name; it says nothing about a
    recording. Any other folder might be a microphone.
    """
    root = f"{Path(name).stem}/"
    return root if all((safe or "").startswith(root) for _, safe in entries_of(archive)) else ""


def _unpacked(archive: ZipFile, info: ZipInfo, safe: str, name: str) -> Incoming | None:
    if info.file_size > LARGEST_FILE:
        raise Refusal(f"{safe} in {name} is over {LARGEST_FILE >> 20} MB; cut it into single strikes.")
    with TemporaryDirectory() as folder:
        unpacked = Path(folder) / "entry"
        with unpacked.open("wb") as target:
            copy_entry(archive, info, target)
        return incoming(safe, unpacked, durable=False)
