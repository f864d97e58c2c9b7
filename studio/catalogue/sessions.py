"""Recording sessions in the library, with the kits made from them."""

from collections.abc import Iterator

from django.db import transaction
from django.db.models import Count, Q, Sum

from drumcore.edits.build_pieces import free_name
from drumcore.kit.tags import plain_tags
from drumcore.natural_order import natural_key
from drumcore.refusals import Refusal
from drumcore.shelf.entries import Entry, counted, sized
from studio.catalogue.listed import ListedRows
from studio.jobs.models import Job
from studio.kits.models import KitRecord
from studio.sessions.models import Session, SessionFile


class OfSessions(ListedRows[Session]):
    kind, noun, model = "sessions", "session", Session

    def entries(self, put_away: bool = False) -> Iterator[Entry]:
        counts = {"all": Count("files", filter=Q(files__split_of=None)), "bytes": Sum("files__stored__size")}
        made: dict[int, list[str]] = {}
        for number, name in Session.objects.filter(kits__put_away=False).values_list("id", "kits__name"):
            made.setdefault(number, []).append(name)
        shipped = set(Session.objects.filter(kits__ships=True).values_list("id", flat=True))
        for session in Session.objects.filter(put_away=put_away).annotate(**counts).defer("reading", "compared"):
            kits = sorted(made.get(session.id, []), key=natural_key)
            number, size = session.all, session.bytes or 0  # type: ignore[attr-defined]  # annotated
            where = ", ".join(kits) or "no kit now"
            yield Entry(
                kind=self.kind,
                id=str(session.id),
                name=session.name,
                description=session.description,
                tags=tuple(session.tags),
                words=tuple(kits),
                figures=f"{counted(number, 'file')}, {sized(size)}, in {where}",
                ships=session.id in shipped,
                put_away=session.put_away,
                changed=session.created,
            )

    def is_shipped(self, row: Session) -> bool:
        return KitRecord.objects.filter(sessions=row, ships=True).exists()

    def say(self, identifier: str, name: str | None, description: str | None, tags: tuple[str, ...] | None) -> None:
        session = self.ours(identifier)
        if name is not None:
            session.name = self.plain_name(name)
        if description is not None:
            session.description = description.strip()
        if tags is not None:
            session.tags = list(plain_tags(tags))
        session.save(update_fields=["name", "description", "tags"])

    def duplicate(self, identifier: str, name: str | None) -> str:
        """A session of the same files, to be read differently; no kit uses it yet."""
        session = self.row(identifier)
        taken = set(Session.objects.values_list("name", flat=True))
        with transaction.atomic():
            copy = Session.objects.create(
                name=name or free_name(session.name[:110], taken),
                reading=session.reading,
                compared=session.compared,
                guidance=session.guidance,
                channels=session.channels,
                description=session.description,
                tags=session.tags,
            )
            rows = list(session.files.order_by("id"))
            copied = {
                row.id: SessionFile(session=copy, path=row.path, stored_id=row.stored_id, why=row.why) for row in rows
            }
            SessionFile.objects.bulk_create([copied[row.id] for row in rows if row.split_of_id is None])
            parts = [row for row in rows if row.split_of_id is not None]
            for row in parts:
                copied[row.id].split_of = copied[row.split_of_id or 0]
            SessionFile.objects.bulk_create([copied[row.id] for row in parts])
        return str(copy.id)

    def remove(self, identifier: str) -> None:
        session = self.ours(identifier)
        going = Job.objects.filter(state__in=("waiting", "running"), arguments__session=session.id)
        if going.exists():
            raise Refusal(f"{session.name} is still being read; wait for it to finish or cancel it.")
        session.delete()

    def related(self, identifier: str) -> list[str]:
        kits = (
            KitRecord.objects.filter(sessions=self.row(identifier), put_away=False)
            .order_by("name")
            .values_list("name", flat=True)
        )
        return [f"Used by: {', '.join(kits)}."] if kits else ["No kit uses it now."]
