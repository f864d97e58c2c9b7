"""Grooves: listing, opening, and MIDI files in and out."""

import tempfile
from pathlib import Path

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile

from drumcore.formats.midi import read_patterns, write_midi
from drumcore.grooves.values import Groove
from drumcore.refusals import Refusal
from studio.http.downloads import as_file
from studio.http.uploads import on_disk
from studio.shelves.grooves import groove_of, read_groove
from studio.shelves.models import GrooveRecord

router = Router()


class GrooveCard(Schema):
    id: int
    name: str
    bpm: float
    strikes: int
    length_s: float


class GrooveShown(Groove):
    id: int


@router.get("/grooves", response=list[GrooveCard])
def list_grooves(request: HttpRequest) -> list[GrooveCard]:
    cards = []
    for record in GrooveRecord.objects.filter(put_away=False).order_by("id"):
        try:
            groove = read_groove(record)
        except Refusal:
            # A damaged groove must not hide the others.
            continue
        cards.append(
            GrooveCard(id=record.id, name=groove.name, bpm=groove.bpm, strikes=groove.strikes, length_s=groove.length_s)
        )
    return cards


@router.get("/grooves/{groove_id}", response=GrooveShown)
def open_groove(request: HttpRequest, groove_id: int) -> GrooveShown:
    return GrooveShown.model_validate({**groove_of(groove_id).model_dump(), "id": groove_id})


@router.get("/grooves/{groove_id}/file", include_in_schema=False)
def groove_file(request: HttpRequest, groove_id: int) -> HttpResponse:
    """A groove as a MIDI file."""
    groove = groove_of(groove_id)
    with tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        place = Path(folder) / "groove.mid"
        write_midi(groove, place)
        return as_file(place.read_bytes(), groove.name, "mid")


@router.post("/grooves", response=list[GrooveCard])
def add_groove(request: HttpRequest, file: File[UploadedFile]) -> list[GrooveCard]:
    """Imports a MIDI file as a groove, or as several if it holds several patterns."""
    with on_disk(file) as place:
        grooves = read_patterns(place, name=file.name or "The file")
    with transaction.atomic():
        return [_keep_groove(groove) for groove in grooves]


def _keep_groove(groove: Groove) -> GrooveCard:
    record = GrooveRecord.objects.create(name=groove.name[:120], data=groove.model_dump(mode="json"))
    return GrooveCard(id=record.id, name=groove.name, bpm=groove.bpm, strikes=groove.strikes, length_s=groove.length_s)
