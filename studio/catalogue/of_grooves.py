"""Grooves in the library."""

from collections.abc import Iterator

from drumcore.edits.building import free_name
from drumcore.grooves.values import Groove
from drumcore.kit.tags import plain_tags
from drumcore.refusals import Refusal
from drumcore.shelf.entries import Entry, counted
from studio.catalogue.listed import Listed
from studio.library.models import GrooveRecord


class OfGrooves(Listed):
    kind, noun, file = "grooves", "groove", ".mid"

    def entries(self, put_away: bool = False) -> Iterator[Entry]:
        for record in GrooveRecord.objects.filter(put_away=put_away).order_by("name"):
            groove = Groove.model_validate(record.data)
            bars = round(groove.length_s * groove.bpm / 60.0 / groove.beats_a_bar)
            yield Entry(
                kind=self.kind,
                id=str(record.id),
                name=record.name,
                description=record.description,
                tags=tuple(record.tags),
                figures=f"{groove.bpm:g} bpm, {counted(bars, 'bar')}, {counted(groove.strikes, 'strike')}",
                carried=True,
                ships=record.ships,
                put_away=record.put_away,
                changed=record.created,
            )

    def count(self, put_away: bool = False) -> int:
        return GrooveRecord.objects.filter(put_away=put_away).count()

    def _one(self, identifier: str) -> GrooveRecord:
        number = int(identifier) if identifier.isdecimal() and len(identifier) < 19 else None
        record = GrooveRecord.objects.filter(id=number).first() if number is not None else None
        if record is None:
            raise self.not_there()
        return record

    def _ours(self, identifier: str) -> GrooveRecord:
        record = self._one(identifier)
        if record.ships:
            raise self.ships(record.name)
        return record

    def say(self, identifier: str, name: str | None, description: str | None, tags: tuple[str, ...] | None) -> None:
        record = self._ours(identifier)
        if name is not None:
            plain = " ".join(name.split())[:120]
            if not plain:
                raise Refusal("A groove needs a name.")
            record.name, record.data = plain, {**record.data, "name": plain}
        if description is not None:
            record.description = description.strip()
        if tags is not None:
            record.tags = list(plain_tags(tags))
        record.save()

    def duplicate(self, identifier: str, name: str | None) -> str:
        record = self._one(identifier)
        taken = set(GrooveRecord.objects.values_list("name", flat=True))
        name = name or free_name(record.name[:110], taken)
        copy = GrooveRecord.objects.create(
            name=name, data={**record.data, "name": name}, description=record.description, tags=record.tags
        )
        return str(copy.id)

    def put_away(self, identifier: str, put_away: bool) -> None:
        record = self._one(identifier)
        record.put_away = put_away
        record.save(update_fields=["put_away"])

    def remove(self, identifier: str) -> None:
        self._ours(identifier).delete()

    def holds(self, identifier: str) -> set[str]:
        return set()
