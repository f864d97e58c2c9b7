"""Grooves in the library."""

from collections.abc import Iterator

from drumcore.edits.build_pieces import free_name
from drumcore.kit.tags import plain_tags
from drumcore.refusals import Refusal
from drumcore.shelf.entries import Entry, counted
from studio.catalogue.listed import ListedRows
from studio.shelves.grooves import read_groove
from studio.shelves.models import GrooveRecord


class OfGrooves(ListedRows[GrooveRecord]):
    kind, noun, file, model = "grooves", "groove", ".mid", GrooveRecord

    def entries(self, put_away: bool = False) -> Iterator[Entry]:
        for record in GrooveRecord.objects.filter(put_away=put_away).order_by("name"):
            yield self._entry(record)

    def _entry(self, record: GrooveRecord) -> Entry:
        figures, trouble = "", ""
        try:
            groove = read_groove(record)
        except Refusal as refusal:
            trouble = str(refusal)
        else:
            bars = round(groove.length_s * groove.bpm / 60.0 / groove.beats_a_bar)
            figures = f"{groove.bpm:g} bpm, {counted(bars, 'bar')}, {counted(groove.strikes, 'strike')}"
        return Entry(
            kind=self.kind,
            id=str(record.id),
            name=record.name,
            description=record.description,
            tags=tuple(record.tags),
            figures=figures,
            carried=True,
            ships=record.ships,
            put_away=record.put_away,
            changed=record.created,
            trouble=trouble,
        )

    def is_shipped(self, row: GrooveRecord) -> bool:
        return row.ships

    def say(self, identifier: str, name: str | None, description: str | None, tags: tuple[str, ...] | None) -> None:
        record = self.ours(identifier)
        if name is not None:
            plain = self.plain_name(name)
            record.name, record.data = plain, {**record.data, "name": plain}
        if description is not None:
            record.description = description.strip()
        if tags is not None:
            record.tags = list(plain_tags(tags))
        record.save()

    def duplicate(self, identifier: str, name: str | None) -> str:
        record = self.row(identifier)
        taken = set(GrooveRecord.objects.values_list("name", flat=True))
        name = name or free_name(record.name[:110], taken)
        copy = GrooveRecord.objects.create(
            name=name, data={**record.data, "name": name}, description=record.description, tags=record.tags
        )
        return str(copy.id)

    def remove(self, identifier: str) -> None:
        self.ours(identifier).delete()
