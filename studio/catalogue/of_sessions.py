"""Recording sessions in the library: each stands on its own, with the kits made from it named."""

from collections.abc import Iterator

from django.db import transaction
from django.db.models import Count, Q, Sum

from drumcore.edits.building import free_name
from drumcore.kit.tags import plain_tags
from drumcore.refusals import Refusal
from drumcore.shelf.entries import Entry, counted
from studio.catalogue.listed import Listed
from studio.catalogue.needed import of_sessions
from studio.jobs.models import Job
from studio.library.models import Session, SessionFile


class OfSessions(Listed):
    kind, noun = "sessions", "session"

    def entries(self, put_away: bool = False) -> Iterator[Entry]:
        counts = {"all": Count("files", filter=Q(files__split_of=None)), "bytes": Sum("files__stored__size")}
        made: dict[int, list[str]] = {}
        for number, name in Session.objects.filter(kits__put_away=False).values_list("id", "kits__name"):
            made.setdefault(number, []).append(name)
        for session in Session.objects.filter(put_away=put_away).annotate(**counts).defer("reading", "compared"):
            kits = sorted(made.get(session.id, []))
            megabytes = (session.bytes or 0) / 1e6  # type: ignore[attr-defined]  # annotated
            number = session.all  # type: ignore[attr-defined]
            yield Entry(
                kind=self.kind,
                id=str(session.id),
                name=session.name,
                description=session.description or (f"In {', '.join(kits)}." if kits else "In no kit any more."),
                tags=tuple(session.tags),
                words=tuple(kits),
                figures=f"{counted(number, 'file')}, {megabytes:,.1f} MB",
                put_away=session.put_away,
                changed=session.created,
            )

    def count(self, put_away: bool = False) -> int:
        return Session.objects.filter(put_away=put_away).count()

    def _one(self, identifier: str) -> Session:
        number = int(identifier) if identifier.isdecimal() and len(identifier) < 19 else None
        session = Session.objects.filter(id=number).first() if number is not None else None
        if session is None:
            raise self.not_there()
        return session

    def _ours(self, identifier: str) -> Session:
        session = self._one(identifier)
        if session.kits.filter(ships=True).exists():
            raise self.ships(session.name)
        return session

    def say(self, identifier: str, name: str | None, description: str | None, tags: tuple[str, ...] | None) -> None:
        session = self._ours(identifier)
        if name is not None:
            session.name = " ".join(name.split())[:120]
            if not session.name:
                raise Refusal("A session needs a name.")
        if description is not None:
            session.description = description.strip()
        if tags is not None:
            session.tags = list(plain_tags(tags))
        session.save(update_fields=["name", "description", "tags"])

    def duplicate(self, identifier: str, name: str | None) -> str:
        """A session of the same files, to be read in another way; in no kit yet."""
        session = self._one(identifier)
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

    def put_away(self, identifier: str, put_away: bool) -> None:
        session = self._one(identifier)
        session.put_away = put_away
        session.save(update_fields=["put_away"])

    def remove(self, identifier: str) -> None:
        session = self._ours(identifier)
        going = Job.objects.filter(state__in=("waiting", "running"), arguments__session=session.id)
        if going.exists():
            raise Refusal(f"{session.name} is still being read; wait for its end or cancel it.")
        session.delete()

    def holds(self, identifier: str) -> set[str]:
        return of_sessions([self._one(identifier).id])

    def related(self, identifier: str) -> list[str]:
        kits = self._one(identifier).kits.filter(put_away=False).order_by("name").values_list("name", flat=True)
        return [f"Kits of it: {', '.join(kits)}."] if kits else ["No kit is made of it any more."]
