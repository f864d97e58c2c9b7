"""Kits in the library."""

from collections.abc import Iterator

from django.db import transaction
from django.db.models import Max, QuerySet

from drumcore.edits.pieces import DescribeKit, RenameKit
from drumcore.formats.suffix import SUFFIX
from drumcore.kit.summary import KitSummary
from drumcore.refusals import Refusal
from drumcore.shelf.entries import Entry, counted
from studio.catalogue.listed import ListedRows
from studio.jobs.models import Job
from studio.jobs.runner import forget_jobs_of
from studio.kits.models import KitRecord
from studio.kits.versions import copy_of, make_edit, summary_of


class OfKits(ListedRows[KitRecord]):
    kind, noun, file, model = "kits", "kit", SUFFIX, KitRecord

    def __init__(self) -> None:
        self._known: dict[str, tuple[object, Entry]] = {}

    def entries(self, put_away: bool = False) -> Iterator[Entry]:
        yield from self._said_of(KitRecord.objects.filter(put_away=put_away))

    def entry(self, identifier: str) -> Entry:
        """Looked up alone: there may be a thousand other kits."""
        found = next(self._said_of(KitRecord.objects.filter(id=identifier)), None)
        if found is None:
            raise self.not_there()
        return found

    def _said_of(self, records: QuerySet[KitRecord]) -> Iterator[Entry]:
        for record in records.annotate(last=Max("versions__created")):
            # An unchanged kit keeps its entry, whose search words are cached.
            mark = (record.current, record.last, record.put_away, record.name, record.summary is None)
            known = self._known.get(record.id)
            if known is None or known[0] != mark:
                known = self._known[record.id] = (mark, self._entry(record))
            yield known[1]

    def _entry(self, record: KitRecord) -> Entry:
        found, trouble = KitSummary(), ""
        try:
            found = summary_of(record)
        except Refusal as refusal:
            trouble = str(refusal)
        words = (piece.name for piece in found.pieces), (piece.family.value for piece in found.pieces), found.mics
        return Entry(
            kind=self.kind,
            id=record.id,
            name=record.name,
            description=found.description,
            tags=found.tags,
            words=tuple(dict.fromkeys(word for some in words for word in some)),
            figures=", ".join(
                (
                    counted(len(found.pieces), "piece"),
                    counted(found.takes, "take"),
                    counted(len(found.mics), "microphone"),
                )
            ),
            pieces=found.pieces,
            ships=record.ships,
            put_away=record.put_away,
            changed=record.last,  # type: ignore[attr-defined]  # annotated
            trouble=trouble,
        )

    def row(self, identifier: str) -> KitRecord:
        """Kits are named in URLs by a text id, not by their row number."""
        record = KitRecord.objects.filter(id=identifier).first()
        if record is None:
            raise self.not_there()
        return record

    def is_shipped(self, row: KitRecord) -> bool:
        return row.ships

    def say(self, identifier: str, name: str | None, description: str | None, tags: tuple[str, ...] | None) -> None:
        record = self.ours(identifier)
        if record.put_away:
            raise Refusal(f"{record.name} is in the bin; restore it to change it.")
        if name is not None and name.strip() and name.strip() != record.name:
            record = make_edit(identifier, record.current, RenameKit(name=name.strip()))[2]
        if description is not None or tags is not None:
            edit = DescribeKit(description=description, tags=tags)
            make_edit(identifier, record.current, edit)

    def duplicate(self, identifier: str, name: str | None) -> str:
        return copy_of(self.row(identifier), name).id

    def remove(self, identifier: str) -> None:
        record = self.ours(identifier)
        if Job.objects.filter(kit=record.id, state__in=("waiting", "running")).exists():
            raise Refusal(f"A job is still running on {record.name}; wait for it to finish or cancel it.")
        self._known.pop(identifier, None)
        record.delete()
        transaction.on_commit(lambda: forget_jobs_of(identifier))

    def related(self, identifier: str) -> list[str]:
        record = self.row(identifier)
        said = []
        origin = KitRecord.objects.filter(id=record.copied_from).values_list("name", flat=True).first()
        if origin:
            said.append(f"Copied from {origin}. Each keeps its own from there on.")
        sessions = list(record.sessions.order_by("created").values_list("name", flat=True))
        if sessions:
            said.append(f"Its recordings came with {', '.join(sessions)}.")
        copies = list(KitRecord.objects.filter(copied_from=identifier).order_by("name").values_list("name", flat=True))
        if copies:
            said.append(f"Copied as {', '.join(copies)}.")
        return said
