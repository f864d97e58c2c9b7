"""Checks the files: recordings by their hash, uploads, and what can be made again."""

import contextlib
import functools
import json
import shutil
import zipfile
import zlib
from pathlib import Path

import soundfile

from studio.jobs.models import Job
from studio.jobs.runner import folder_of
from studio.kits.models import Part, RecordingInSet
from studio.maintenance.backup import damage_of_database
from studio.maintenance.records import lost_contents, rows_of_backup
from studio.maintenance.report import Check
from studio.sessions.damage import name_of
from studio.sessions.models import SessionArchive
from studio.storage.files import file_name, is_whole, place_of
from studio.storage.locks import holder
from studio.storage.models import StoredFile
from studio.storage.recordings import copy_durably, recordings, sha256_of

QUEUE = "queue.sqlite3"


def check_files(check: Check) -> None:
    check.sections(
        {
            "the recordings": _recordings,
            "what kits need": _lost,
            "the uploads": _uploads,
            "what was made": _made,
            "the queue": _queue,
            "the copies of the records": _copies,
        }
    )


def _recordings(check: Check) -> None:
    total = StoredFile.objects.count()
    for done, stored in enumerate(StoredFile.objects.defer("measured").order_by("sha256").iterator(500)):
        check.report.counts("recordings")
        check.progress(done, total)
        whole = is_whole(stored)
        if whole and stored.damaged:
            StoredFile.objects.filter(sha256=stored.sha256).update(damaged=False)
        if whole:
            continue
        StoredFile.objects.filter(sha256=stored.sha256).update(damaged=True)
        name = name_of(stored) or f"A recording that no session names ({stored.sha256[:12]}…)"
        there = place_of(stored).exists()

        def put_back(stored: StoredFile = stored) -> bool:
            return _from_backup(check, stored)

        check.found(
            "damaged" if there else "lost",
            f"{name} is {'damaged' if there else 'gone'}; add it again, or repair it from a backup.",
            put_back,
        )


def _from_backup(check: Check, stored: StoredFile) -> bool:
    """Copies a recording back from the backup, if it is intact there."""
    place = place_of(stored)
    source = check.source / "recordings" / place.parent.name / place.name if check.source else None
    try:
        if source is None or sha256_of(source) != stored.sha256:
            return False
    except OSError:
        return False
    half = check.data / "temporary" / place.name
    copy_durably(source, half)
    recordings().put(half, file_name(stored))
    StoredFile.objects.filter(sha256=stored.sha256).update(damaged=False)
    return True


def _lost(check: Check) -> None:
    """Recordings that something refers to but no record of a file exists for."""
    for content, who in lost_contents():

        def put_back(content: str = content) -> bool:
            query = "SELECT sha256, suffix, size FROM library_storedfile WHERE content = ?"
            for sha256, suffix, size in rows_of_backup(check, query, content):
                stored = StoredFile(sha256=sha256, suffix=suffix, size=size, content=content, damaged=True)
                if not StoredFile.objects.filter(sha256=sha256).exists():
                    stored.save()
                if _from_backup(check, stored):
                    return True
            return False

        check.found("lost", f"{_called(content)}, which {who} needs, is gone; add it again.", put_back)


def _called(content: str) -> str:
    """A recording's name in the takes that refer to it."""
    for key in RecordingInSet.objects.filter(name=content).values_list("key", flat=True)[:1]:
        for data in Part.objects.filter(recordings=key).values_list("data", flat=True)[:1]:
            with contextlib.suppress(ValueError, zlib.error, KeyError, TypeError):
                for take in json.loads(zlib.decompress(bytes(data))):
                    for recording in take["recordings"]:
                        if recording["content"] == content:
                            return str(recording["path"])
    return f"A recording ({content[:12]}…)"


def _uploads(check: Check) -> None:
    for archive in SessionArchive.objects.select_related("session"):
        check.report.counts("uploads")
        if not _holds(check.data / "uploads" / archive.file, archive.sha256):
            check.found("damaged", f"{archive.name} of {archive.session.name} came in and is damaged; add it again.")


def _holds(path: Path, sha256: str) -> bool:
    try:
        return sha256_of(path) == sha256
    except OSError:
        return False


def _is_sound_archive(path: Path) -> bool:
    try:
        with zipfile.ZipFile(path) as archive:
            return archive.testzip() is None
    except (OSError, ValueError, zipfile.BadZipFile, NotImplementedError, RuntimeError, zlib.error, EOFError):
        return False


def _is_sound_audio(path: Path) -> bool:
    try:
        with soundfile.SoundFile(path) as file:
            frames = 0
            while len(block := file.read(1 << 16, dtype="int32", always_2d=True)):
                frames += len(block)
            return frames == int(file.frames)
    except (soundfile.LibsndfileError, RuntimeError, OSError, ValueError):
        return False


def _made(check: Check) -> None:
    """Deletes what can be made again where it is damaged."""

    def removed(path: Path) -> bool:
        path.unlink(missing_ok=True)
        return True

    for folder, what in (("prepared", "sounds ready to play"), ("previews", "previews")):
        for path in check.each(what, sorted((check.data / folder).rglob("*.flac"))):
            if not _is_sound_audio(path):
                check.found(
                    "damaged",
                    f"One of the {what} ({folder}/{path.name[:12]}…) is damaged; removed, it is made again.",
                    functools.partial(removed, path),
                )
    for job in Job.everywhere.filter(state="done"):
        made = folder_of(job)
        name = job.result.get("download", "")
        if not name or not made.is_dir():
            continue
        check.report.counts("exports")
        if not _export_is_sound(made, name, job.result.get("within", "")):

            def gone(made: Path = made) -> bool:
                shutil.rmtree(made, ignore_errors=True)
                return True

            check.found("damaged", f"The export {name} is damaged; removed, it can be made again.", gone)


def _export_is_sound(folder: Path, name: str, within: str) -> bool:
    """Whether an export is as it was made; separate files are compared with the checksums in their zip."""
    if not (folder / name).is_file() or not zipfile.is_zipfile(folder / name):
        return not name.endswith((".zip", ".zestykit", ".zestypiece"))
    if not _is_sound_archive(folder / name):
        return False
    if not within:
        return True
    with zipfile.ZipFile(folder / name) as archive:
        sums = {info.filename: info.CRC for info in archive.infolist()}
    return all(
        path.name not in sums or zlib.crc32(path.read_bytes()) == sums[path.name]
        for path in (folder / within).iterdir()
        if path.is_file()
    )


def _queue(check: Check) -> None:
    queue = check.data / QUEUE
    if not queue.exists():
        return
    check.report.counts("queue")
    why = damage_of_database(queue)
    if why:
        check.found(
            "damaged",
            f"The queue of jobs is damaged ({why}); a studio makes a new one when it starts, and no job is lost.",
            lambda: holder(check.data / "studio.lock") is None and set_queue_aside(check.data),
        )


def set_queue_aside(data: Path) -> bool:
    """Moves the queue aside so that a new one is made; the worker queues waiting jobs again."""
    for path in data.glob(f"{QUEUE}*"):
        path.replace(path.with_name(f"damaged-{path.name}"))
    return True


def _copies(check: Check) -> None:
    for path in check.each("copies of the records", sorted((check.data / "before-upgrade").glob("studio-*.sqlite3"))):
        if damage_of_database(path):
            check.found("untidy", f"The copy of the records in before-upgrade/{path.name} is damaged.")
