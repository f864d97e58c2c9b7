"""Checks the database: kits with versions and takes, saved items, sessions, jobs."""

import functools
import hashlib
import json
import sqlite3
import zlib
from collections.abc import Callable, Iterator
from contextlib import closing
from typing import Any

from django.db import DatabaseError, connection, transaction
from django.db.models import Model

from drumcore.grooves.values import Groove
from drumcore.kit.json_form import part_hashes
from drumcore.recordings.session import SessionReading
from drumcore.refusals import Refusal
from studio.kits.models import KitRecord, KitReference, KitVersion, Part, RecordingInSet
from studio.kits.references import keep_set, named_in
from studio.kits.versions import kit_at, notes_at
from studio.maintenance.backup import DATABASE, damage_of_database
from studio.maintenance.report import Check
from studio.maintenance.salvage import salvage
from studio.maintenance.schema_copy import DAMAGED
from studio.sessions.models import Session
from studio.shelves.kinds import KINDS
from studio.shelves.models import GrooveRecord, Kept, KeptReference
from studio.shelves.references import named_within
from studio.shelves.references import refer as refer_kept
from studio.storage.batches import batches
from studio.storage.locks import ProcessLock
from studio.storage.models import StoredFile

AT_ONCE = 100


def check_records(check: Check) -> None:
    check.sections(
        {
            "the database": _database,
            "the takes": _parts,
            "the kits": _kits,
            "the library": _kept,
            "the sessions": _sessions,
            "the grooves": _grooves,
        }
    )


def _database(check: Check) -> None:
    check.report.counts("database")
    why = damage_of_database(check.data / DATABASE)
    if why:
        check.found(
            "damaged",
            f"The records are damaged ({why}); stop the studio and run “zesty doctor --repair”.",
            _salvaged(check),
        )
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA foreign_key_check")
        for table, row, other, _ in cursor.fetchall()[:20]:
            check.found("damaged", f"Row {row} of {table} refers to a row of {other} that is not there.")


def _salvaged(check: Check) -> Callable[[], bool]:
    def salvaged() -> bool:
        lock = ProcessLock(check.data / "studio.lock", "doctor")
        if not lock.take():
            return False
        try:
            connection.close()
            salvage(check.data / DATABASE)
        finally:
            lock.release()
        return not damage_of_database(check.data / DATABASE)

    return salvaged


def rows_of_backup(check: Check, query: str, *arguments: object) -> list[Any]:
    """Rows from the backup's database; none if there is no backup or it is damaged itself."""
    if check.source is None:
        return []
    try:
        with closing(sqlite3.connect(f"file:{check.source / DATABASE}?mode=ro", uri=True)) as opened:
            return opened.execute(query, arguments).fetchall()
    except DAMAGED:
        return []


def _of_backup(check: Check, query: str, *arguments: object) -> Any | None:
    """One value from the backup's database; None if there is none."""
    return next((row[0] for row in rows_of_backup(check, query, *arguments)), None)


def _unpacked(data: Any) -> bytes | None:
    try:
        return zlib.decompress(bytes(data))
    except (zlib.error, TypeError):
        return None


def _rows(model: type[Model], by: str) -> Iterator[Any]:
    """Every row; an unreadable one does not stop the rest, and its key is returned instead."""
    for key in list(model._base_manager.values_list(by, flat=True)):
        try:
            yield model._base_manager.get(**{by: key})
        except (DatabaseError, ValueError, TypeError):
            yield key


def _parts(check: Check) -> None:
    for part in _rows(Part, "hash"):
        check.report.counts("takes of articulations")
        key = part.hash if isinstance(part, Part) else str(part)
        data = _unpacked(part.data) if isinstance(part, Part) else None
        if data is None or hashlib.sha256(data).hexdigest() != key:
            kits = ", ".join(
                KitRecord.everywhere.filter(references__name=key).order_by("name").values_list("name", flat=True)[:3]
            )

            def put_back(key: str = key) -> bool:
                packed = _of_backup(check, "SELECT data FROM kits_part WHERE hash = ?", key)
                data = _unpacked(packed) if packed else None
                if data is None or hashlib.sha256(data).hexdigest() != key:
                    return False
                with transaction.atomic():
                    Part.objects.filter(hash=key).update(data=packed, recordings=keep_set(named_in(data)))
                return True

            check.found(
                "damaged",
                f"The takes of an articulation of {kits or 'no kit'} are damaged; they are left out where it opens.",
                put_back,
            )
            continue
        _recordings_of(check, part, named_in(data))


def _recordings_of(check: Check, part: Part, names: set[str]) -> None:
    known = set(RecordingInSet.objects.filter(key=part.recordings).values_list("name", flat=True))
    if names - known:

        def noted() -> bool:
            with transaction.atomic():
                # A key that lacks some of its names is written again.
                RecordingInSet.objects.filter(key=part.recordings).delete()
                Part.objects.filter(hash=part.hash).update(recordings=keep_set(names))
            return True

        check.found("damaged", f"{len(names - known)} recordings of an articulation were not noted as needed.", noted)


def _kits(check: Check) -> None:
    parts = set(Part.objects.values_list("hash", flat=True))
    for record in _rows(KitRecord, "id"):
        check.report.counts("kits")
        if not isinstance(record, KitRecord):
            check.found("damaged", f"The kit {record} cannot be read; restore the records from a backup.")
            continue
        named: set[str] = set()
        for number in list(record.versions.order_by("number").values_list("number", flat=True)):
            check.report.counts("versions")
            check.progress(0, 0)
            named |= _version(check, record, number, parts)
        known = set(record.references.values_list("name", flat=True))
        if named - known:

            def noted(record: KitRecord = record, missing: set[str] = named - known) -> bool:
                KitReference.objects.bulk_create([KitReference(kit=record, name=name) for name in sorted(missing)])
                return True

            check.found("damaged", f"What the versions of {record.name} need was not noted in full.", noted)
        try:
            kit_at(record.id, record.current)
            for note in notes_at(record.id, record.current):
                check.found("untidy", f"{record.name}: {note}")
        except Refusal as refusal:
            check.found("damaged", f"{record.name}: {refusal}")


def _version(check: Check, record: KitRecord, number: int, parts: set[str]) -> set[str]:
    """What a version refers to; anything wrong with it is reported."""
    head = _head_of(record.versions.filter(number=number).values_list("head", flat=True).first())
    if head is None:

        def put_back() -> bool:
            query = "SELECT head FROM kits_kitversion WHERE kit_id = ? AND number = ?"
            packed = _of_backup(check, query, record.id, number)
            head = _head_of(packed)
            if head is None:
                return False
            KitVersion.objects.filter(kit=record, number=number).update(head=packed)
            return True

        check.found("damaged", f"Version {number} of {record.name} is damaged and cannot be opened.", put_back)
        head = _head_of(record.versions.filter(number=number).values_list("head", flat=True).first())
    if head is None:
        return set()
    for name in sorted(set(part_hashes(head)) - parts):

        def brought_back(name: str = name) -> bool:
            packed = _of_backup(check, "SELECT data FROM kits_part WHERE hash = ?", name)
            data = _unpacked(packed) if packed else None
            if data is None or hashlib.sha256(data).hexdigest() != name:
                return False
            with transaction.atomic():
                Part.objects.create(hash=name, data=packed, recordings=keep_set(named_in(data)))
            parts.add(name)
            return True

        check.found("lost", f"Takes of version {number} of {record.name} are gone.", brought_back)
    return named_in(head)


def _head_of(packed: Any) -> bytes | None:
    """A version's head, None if it is damaged."""
    head = _unpacked(packed)
    if head is None:
        return None
    try:
        part_hashes(head)
    except (ValueError, LookupError, TypeError):
        return None
    return head


def _kept(check: Check) -> None:
    values = {kind.plural: kind for kind in KINDS}
    for kept in _rows(Kept, "id"):
        check.report.counts("saved items")
        if not isinstance(kept, Kept) or kept.kind not in values:
            check.found("damaged", f"Something saved in the library (row {getattr(kept, 'id', kept)}) cannot be read.")
            continue
        kind = values[kept.kind]
        _readable(check, f"The {kind.noun} {kept.name}", functools.partial(kind.value.model_validate, kept.data))
        if set(named_within(kept.data)) - set(kept.references.values_list("name", flat=True)):

            def noted(kept: Kept = kept) -> bool:
                with transaction.atomic():
                    refer_kept(kept)
                return True

            check.found("damaged", f"What {kept.name} in the library needs was not noted in full.", noted)


def _sessions(check: Check) -> None:
    for session in _rows(Session, "id"):
        check.report.counts("sessions")
        if not isinstance(session, Session):
            check.found("damaged", f"Session {session} cannot be read; restore the records from a backup.")
        elif session.reading is not None:

            def read(session: Session = session) -> object:
                return SessionReading.model_validate_json(zlib.decompress(bytes(session.reading or b"")))

            def forgotten(session: Session = session) -> bool:
                Session.everywhere.filter(id=session.id).update(reading=None, compared=None)
                return True

            _readable(check, f"How the session {session.name} was read", read, forgotten)


def _grooves(check: Check) -> None:
    for groove in _rows(GrooveRecord, "id"):
        check.report.counts("grooves")
        if not isinstance(groove, GrooveRecord):
            check.found("damaged", f"Groove {groove} cannot be read; restore the records from a backup.")
            continue
        _readable(check, f"The groove {groove.name}", functools.partial(Groove.model_validate, groove.data))


def _readable(check: Check, what: str, read: Callable[[], object], repair: Callable[[], bool] | None = None) -> None:
    try:
        read()
    except (ValueError, TypeError, KeyError, zlib.error, json.JSONDecodeError):
        check.found("damaged", f"{what} cannot be read.", repair)


def lost_contents() -> Iterator[tuple[str, str]]:
    """Recordings that kits or saved items refer to and that no file holds, each with who refers to it."""
    named: dict[str, str] = {}
    for model, said in ((KitReference, "a kit"), (RecordingInSet, "a kit"), (KeptReference, "the library")):
        for name in model._base_manager.values_list("name", flat=True).distinct().iterator():
            if len(name) == 40:
                named.setdefault(name, said)
    for some in batches(named):
        there = set(StoredFile.objects.filter(content__in=some).values_list("content", flat=True))
        yield from ((name, named[name]) for name in some if name not in there)
