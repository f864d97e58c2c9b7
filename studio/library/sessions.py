"""Bringing sessions in: files and archives stored under their names, measured once, read into pieces."""

import contextlib
import os
import uuid
import zlib
from collections import OrderedDict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import asdict, dataclass
from itertools import islice
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TypeVar
from zipfile import ZipFile, ZipInfo

from django.conf import settings
from django.db import transaction
from django.db.models import Q
from django.forms.models import model_to_dict
from pydantic import TypeAdapter, ValidationError

from drumcore.formats.archives import ARCHIVE_SUFFIX, check_archive, copy_entry, entries_of, open_archive, safe_name
from drumcore.kit.values import Against
from drumcore.recordings.audio_files import AUDIO_SUFFIXES
from drumcore.recordings.channels import split_channels
from drumcore.recordings.corrections import what_changed
from drumcore.recordings.files import JUNK, Measured, Progress, Unread, Unsplit, measure_each, measured_from
from drumcore.recordings.guidance import Guidance
from drumcore.recordings.lexicon import LearnedWord
from drumcore.recordings.measurement import MEASURING
from drumcore.recordings.session import SessionReading, read_session
from drumcore.refusals import Refusal
from studio.library.damage import is_whole
from studio.library.models import Session, SessionArchive, SessionFile, StoredFile, WordRecord
from studio.library.store import (
    LARGEST_FILE,
    Put,
    copy_durably,
    is_there,
    locate,
    place_of,
    put_file,
    remember,
    sha256_of,
    store_file,
    uploads_folder,
)
from studio.locks import may_remove

LONGEST_PATH = 1024
LONGEST_NAME = 255
NAMES_AT_ONCE = 200
Item = TypeVar("Item")


def batched(items: Iterable[Item], size: int) -> Iterator[list[Item]]:
    left = iter(items)
    while batch := list(islice(left, size)):
        yield batch


_KNOWN = TypeAdapter(dict[str, tuple[Against, ...]])
BATCH = 64
"""Files measured before what was found is kept: dying loses at most this much work, cancelling none."""


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
        raise Refusal(f"“{path[:200]}” would lie outside its folder; it was not brought in.")
    if len(safe) > LONGEST_PATH:
        raise Refusal(f"“{safe[:80]}…” is longer than {LONGEST_PATH:,} characters; shorten its folders' names.")
    if is_junk(safe):
        return None
    if Path(safe).suffix.lower() not in AUDIO_SUFFIXES:
        return safe, f"{safe} is not a WAV, AIFF or FLAC file; it was not brought in."[:400]
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
    """Keep files that were put away under their names; how many there are. Many short writes, so that an edit never waits
    for a session. A path that came twice is the later file's."""
    latest = list({file.path: file for file in files}.values())
    for some in batched(latest, NAMES_AT_ONCE):
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
    return file.put is None or place_of(stored[file.put.sha256]).is_file()


def _cleared_meanwhile(file: Incoming) -> Incoming:
    """Somebody removed the last kit that needed these bytes between their coming and their getting a name."""
    return Incoming(file.path, None, f"{file.path} was cleared while it came in; bring it in again."[:400])


def add_file(session: Session, path: str, source: Path) -> int:
    """Keep one file of a session: 1, or 0 for system leftovers. Raises Refusal as `incoming` does."""
    file = incoming(path, source)
    return keep_names(session, [file]) if file else 0


def keep_archive(session: Session, name: str, source: Path) -> None:
    """Keep a zip of a session until it is unpacked (`unpack_archives`); when this returns it survives a crash. One of the same
    name takes the place of the one before. Raises Refusal for no usable zip."""
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
    """Unpack the zips that a session was sent; what was refused of them. Cancelled or stopped, it goes on the next time."""
    refused: list[Unread] = []
    for kept in session.archives.order_by("id"):
        place = uploads_folder() / kept.file
        try:
            refused += add_archive(session, kept.name, place, progress)
        except Refusal as refusal:
            refused.append(Unread(path=kept.name, why=str(refusal)))
        except FileNotFoundError:
            refused.append(Unread(path=kept.name, why=f"{kept.name} is not here any more; bring it in again."))
        kept.delete()
        _remove_upload(kept.file)
    return refused


def _remove_upload(file: str) -> None:
    """Remove an upload, unless a backup is being written whose records still name it; then it is cleared as a leftover."""
    with may_remove(Path(settings.DATA)) as allowed:
        if allowed:
            (uploads_folder() / file).unlink(missing_ok=True)


def add_archive(session: Session, name: str, source: Path, progress: Progress) -> list[Unread]:
    """Keep the files of a zip, some at a time; what was refused. Those that a session has already are passed over, so that
    one that was stopped goes on. Raises Refusal for no usable zip, and what `progress` raises to end it.

    Entries are judged by their names before any is unpacked. What is damaged costs itself alone. Where the disk is full
    (OSError), what was unpacked before is kept.
    """
    refused: list[Unread] = []
    with open_archive(source, name) as archive:
        check_archive(archive, name)
        root = _root_folder(archive, name)
        known = set(session.files.filter(stored__isnull=False).values_list("path", flat=True))
        entries = [(info, within.removeprefix(root) if within else None) for info, within in entries_of(archive)]
        done = 0
        for some in batched(entries, NAMES_AT_ONCE):
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
                    os.sync()  # once for all of them: one by one, a large archive would wait for the disk all day
                keep_names(session, came)
    progress(1, 1)
    return refused


def _entry(archive: ZipFile, info: ZipInfo, safe: str | None, name: str, refused: list[Unread]) -> Incoming | None:
    """One entry of a zip under its safe path; one that is damaged is listed there with why. What has no such path is added to
    `refused`."""
    try:
        if safe is None:
            raise Refusal(f"“{info.filename[:200]}” in {name} would lie outside its folder; it was not brought in.")
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
    """The folder that everything lies in and that only repeats the archive's name, with its "/"; it says nothing of a
    recording. Any other may be a microphone's."""
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


def read_kept_session(session: Session, progress: Progress) -> SessionReading:
    """Measure what is not measured yet, hold microphones against one another, read the names, keep the reading. Archives are
    unpacked before (`unpack_archives`)."""
    if not session.files.exists():
        raise Refusal("No files came in; choose a folder with WAV, AIFF or FLAC recordings.")
    told = (1, 1)

    def measured(done: int, total: int) -> None:
        nonlocal told
        told = (done, total)
        progress(done, total)

    _measure_new(session, measured)
    if _split_channels(session, measured):
        _measure_new(session, measured)
    known = _compared_before(session)
    reading = read_session(
        *_measured_of(session),
        lambda recording: locate(recording.content),
        guidance_of(session),
        known,
        # What is told stays: all files are measured by now. Comparing them only has to hear when to end.
        lambda _done, _total: progress(*told),
    )
    before = reading_of(session)
    if before is not None:
        reading = reading.but(changed=what_changed(before, reading))
    session.reading = zlib.compress(reading.model_dump_json().encode(), 6)
    session.compared = zlib.compress(_KNOWN.dump_json(known), 6)
    session.save(update_fields=["reading", "compared"])
    return reading


def _compared_before(session: Session) -> dict[str, tuple[Against, ...]]:
    """What is known of how its microphones stand against one another: to read names again, no file is."""
    return _KNOWN.validate_json(zlib.decompress(session.compared)) if session.compared else {}


def kit_of(session: Session) -> str | None:
    """The kit that a session is read for: the newest it was brought into, before any that ships or is put away."""
    return session.kits.order_by("put_away", "ships", "-created").values_list("id", flat=True).first()


def guidance_of(session: Session) -> Guidance:
    """What was said about a session, with the words learned for all of them."""
    return Guidance.model_validate(session.guidance).but(words=tuple(learned_words()))


def learned_words() -> list[LearnedWord]:
    """The words learned for all sessions. One that is none any more, kept by an older version, hides no session."""
    found = []
    for record in WordRecord.objects.order_by("word"):
        try:
            found.append(LearnedWord.model_validate(model_to_dict(record, ["word", "meaning", "value"])))
        except ValidationError:
            continue
    return found


def _measure_new(session: Session, progress: Progress) -> None:
    """Measure every stored file that never was, keeping results as they come: nothing is measured twice."""
    new = {
        f.stored.sha256: f
        for f in session.files.select_related("stored")
        .filter(stored__isnull=False)
        .filter(
            Q(stored__measured__isnull=True)
            | Q(stored__measured__has_key="file") & ~Q(stored__measured__rules=MEASURING)
        )
        .order_by("path")
        if f.stored is not None
    }
    waiting = [(place_of(f.stored), f.path) for f in new.values() if f.stored is not None]
    by_path = {f.path: f.stored for f in new.values()}
    found: list[Measured | Unread | Unsplit] = []
    with contextlib.closing(measure_each(waiting)) as results:
        try:
            for done, result in enumerate(results, start=1):
                found.append(result)
                if len(found) == BATCH:
                    _keep(found, by_path)
                    found.clear()
                progress(done, len(waiting))
        finally:
            _keep(found, by_path)


def _keep(found: list[Measured | Unread | Unsplit], by_path: dict[str, StoredFile | None]) -> None:
    with transaction.atomic():
        for result in found:
            if isinstance(result, Measured):
                _keep_measured(
                    by_path[result.path], {"file": {**asdict(result), "path": ""}, "rules": MEASURING}, result.content
                )
            elif isinstance(result, Unsplit):
                _keep_measured(by_path[result.path], {"channels": result.channels}, "")
            else:
                stored = by_path[result.path]
                assert stored is not None
                if is_whole(stored):
                    _keep_measured(stored, {"why": result.why.replace(result.path, "{path}")}, "")
                else:
                    StoredFile.objects.filter(sha256=stored.sha256).update(damaged=True)


def many_channel_files(session: Session) -> list[SessionFile]:
    files = session.files.filter(split_of=None, stored__measured__has_key="channels")
    return list(files.select_related("stored").order_by("path"))


def _split_channels(session: Session, progress: Progress) -> bool:
    """Split every many-channel file that is not split yet into microphones; whether any was."""
    waiting = [file for file in many_channel_files(session) if not file.parts.exists()]
    for done, file in enumerate(waiting):
        progress(done, len(waiting))
        assert file.stored is not None
        with TemporaryDirectory() as folder, transaction.atomic():
            try:
                made = split_channels(place_of(file.stored), file.path, session.channels, Path(folder))
            except Refusal as refusal:
                _keep_measured(file.stored, {"why": str(refusal).replace(file.path, "{path}")}, "")
                continue
            for mic, place in made:
                SessionFile.objects.update_or_create(
                    session=session,
                    path=f"{mic}/{file.path}"[:1024],
                    defaults={"stored": store_file(place, place.name), "why": "", "split_of": file},
                )
    return bool(waiting)


def name_channels(session: Session, names: list[str]) -> None:
    """Name the microphones of many-channel files: what was split under other names is split anew at the next reading."""
    with transaction.atomic():
        session.channels = [name.strip()[:60].replace("/", " ") for name in names]
        session.save(update_fields=["channels"])
        session.files.exclude(split_of=None).delete()


def _keep_measured(stored: StoredFile | None, measured: dict[str, object], content: str) -> None:
    assert stored is not None
    stored.measured, stored.content = measured, content
    stored.save(update_fields=["measured", "content"])


def _measured_of(session: Session) -> tuple[list[Measured], list[Unread]]:
    measured, unread = [], []
    for file in session.files.select_related("stored").order_by("path"):
        known = file.stored.measured if file.stored else None
        if known and "channels" in known:
            continue
        if known and "file" in known:
            raw = {**known["file"], "path": file.path}
            measured.append(measured_from(raw))
        else:
            damaged = f"{file.path} is missing or damaged on the disk; bring it in again to repair it."
            why = known["why"].replace("{path}", file.path) if known else damaged if file.stored else file.why
            unread.append(Unread(path=file.path, why=why))
    return measured, unread


_readings: OrderedDict[tuple[int, int], SessionReading] = OrderedDict()


def reading_of(session: Session) -> SessionReading | None:
    """What a session was read as; the last few are remembered, because a large one takes a second to load."""
    if session.reading is None:
        return None
    packed = bytes(session.reading)
    key = (session.id, zlib.crc32(packed))
    known = _readings.get(key)
    if known is None:
        known = _readings[key] = SessionReading.model_validate_json(zlib.decompress(packed))
        while len(_readings) > 3:
            _readings.popitem(last=False)
    return known


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
