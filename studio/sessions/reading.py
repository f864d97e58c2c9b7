"""Reading sessions: files are measured once, microphones compared, names read; the results are stored with the session."""

import contextlib
import zlib
from collections import OrderedDict
from dataclasses import asdict
from pathlib import Path
from tempfile import TemporaryDirectory

from django.db import transaction
from django.db.models import Q
from django.forms.models import model_to_dict
from pydantic import TypeAdapter, ValidationError

from drumcore.kit.values import ReferenceComparison
from drumcore.recordings.channels import split_channels
from drumcore.recordings.correction_preview import GroupChange, preview_correction
from drumcore.recordings.corrections import what_changed
from drumcore.recordings.files import Measured, Progress, Unread, Unsplit, measure_each, measured_from
from drumcore.recordings.guidance import Guidance
from drumcore.recordings.lexicon import LearnedWord
from drumcore.recordings.measurement import MEASURING
from drumcore.recordings.session import SessionReading, read_session
from drumcore.refusals import Refusal
from studio.sessions.models import Session, SessionFile, WordRecord
from studio.storage.files import is_whole, locate, place_of, store_file
from studio.storage.models import StoredFile

_KNOWN = TypeAdapter(dict[str, tuple[ReferenceComparison, ...]])
MOST_UNDOS = 50
BATCH = 64
"""Files measured before what was found is kept: dying loses at most this much work, cancelling none."""


def session_of(session_id: int) -> Session:
    """The session. Raises Refusal if there is none."""
    session = Session.objects.filter(id=session_id).first()
    if session is None:
        raise Refusal("There is no such session; add its recordings again.")
    return session


def read_already(session_id: int) -> tuple[Session, SessionReading]:
    """A session and its reading. Raises Refusal if it has not been read."""
    session = session_of(session_id)
    reading = reading_of(session)
    if reading is None:
        raise Refusal("This session has not been read yet; wait until its recordings are measured.")
    return session, reading


def read_kept_session(session: Session, progress: Progress) -> SessionReading:
    """Measures new files, compares microphones, reads the names and stores the reading. Archives must be unpacked
    before (`unpack_archives`).
    """
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
        # The progress shown stays: all files are measured by now. The comparison only needs to notice a cancel.
        lambda _done, _total: progress(*told),
    )
    before = reading_of(session)
    if before is not None:
        reading = reading.but(changed=what_changed(before, reading))
    session.reading = zlib.compress(reading.model_dump_json().encode(), 6)
    session.compared = zlib.compress(_KNOWN.dump_json(known), 6)
    session.save(update_fields=["reading", "compared"])
    return reading


def _compared_before(session: Session) -> dict[str, tuple[ReferenceComparison, ...]]:
    """The stored comparisons of its microphones, so that reading names again opens no file."""
    return _KNOWN.validate_json(zlib.decompress(session.compared)) if session.compared else {}


def guidance_of(session: Session) -> Guidance:
    """The user's corrections of a session, with the words learned for all sessions."""
    return Guidance.model_validate(session.guidance).but(words=tuple(learned_words()))


def correct(session: Session, guidance: Guidance) -> None:
    """Stores new corrections of a session; those before can be restored."""
    said = guidance.but(words=()).model_dump(mode="json")
    if said == Guidance.model_validate(session.guidance).model_dump(mode="json"):
        return
    session.guidance_before = [*session.guidance_before, session.guidance][-MOST_UNDOS:]
    session.guidance = said
    session.save(update_fields=["guidance", "guidance_before"])


def undo_correction(session: Session) -> None:
    """Restores a session's corrections from before the latest one. Raises Refusal if there is none."""
    if not session.guidance_before:
        raise Refusal("Nothing was changed in how these names read; there is nothing to undo.")
    *earlier, latest = session.guidance_before
    session.guidance, session.guidance_before = latest, earlier
    session.save(update_fields=["guidance", "guidance_before"])


def preview(session: Session, guidance: Guidance) -> tuple[GroupChange, ...]:
    """What names would say otherwise with new corrections. Nothing is stored."""
    measured, _ = _measured_of(session)
    before = guidance_of(session)
    return preview_correction(
        measured,
        before,
        guidance.but(words=before.words),
        lambda recording: locate(recording.content),
        _compared_before(session),
    )


def learned_words() -> list[LearnedWord]:
    """The words learned for all sessions. An invalid one from an older version is skipped."""
    found = []
    for record in WordRecord.objects.order_by("word"):
        try:
            found.append(LearnedWord.model_validate(model_to_dict(record, ["word", "meaning", "value"])))
        except ValidationError:
            continue
    return found


def _measure_new(session: Session, progress: Progress) -> None:
    """Measures every stored file that has not been measured, saving results as they arrive."""
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
    """Splits every new multi-channel file into microphones; returns whether there was one."""
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
    """Names the microphones of multi-channel files; the next reading splits files again whose names changed."""
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
            damaged = f"{file.path} is missing or damaged on the disk; add it again to repair it."
            why = known["why"].replace("{path}", file.path) if known else damaged if file.stored else file.why
            unread.append(Unread(path=file.path, why=why))
    return measured, unread


_readings: OrderedDict[tuple[int, int], SessionReading] = OrderedDict()


def reading_of(session: Session) -> SessionReading | None:
    """A session's reading; the last few are cached, because a large one takes a second to load."""
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
