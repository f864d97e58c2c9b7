"""Kits: list, open, edit, undo, findings."""

from datetime import datetime

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Schema, Status

from drumcore.edits.apply import apply
from drumcore.edits.values import Edit
from drumcore.findings.finding import Finding
from drumcore.findings.side_effects import Foreseen
from drumcore.kit.lookup import articulation_of, pieces_of, take_of
from drumcore.kit.summary import KitSummary, PieceSummary
from drumcore.kit.values import MidiNote
from drumcore.layers.breaks import fits
from drumcore.layers.from_takes import played_level_db
from drumcore.listening.similarity import sameness
from drumcore.playing.compiler import as_recorded
from drumcore.playing.play_table import PlayTake
from drumcore.playing.sounds import FileSounds
from drumcore.refusals import Refusal
from drumcore.simulated.electronic_kits import ELECTRONIC_KITS, ElectronicKit
from drumcore.touch.shapes import SHAPES, CurveShape
from studio.http.kit_state_response import kit_state
from studio.kits.models import KitRecord
from studio.kits.noticed import findings_of_kit, foreseen_of, sent_by
from studio.kits.state import KitState, PieceShown, RecordingShown, piece_shown, recordings_of, state_after, state_of
from studio.kits.versions import (
    create_kit,
    current_kit,
    kit_at,
    kit_record,
    make_edit,
    step_back,
    step_forward,
    summaries,
    tell,
)
from studio.storage.files import locate

router = Router()


class KitCard(Schema):
    id: str
    name: str
    takes: int
    pieces: list[PieceSummary]
    changed: datetime
    trouble: str = ""


class NewKit(Schema):
    name: str


class EditAsked(Schema):
    """`gesture` names a drag: its edits are undone together. `mark` identifies this edit, so that a repeated request
    makes it only once.
    """

    base_version: int
    edit: Edit
    gesture: str = ""
    mark: str = ""


class StepAsked(Schema):
    base_version: int


class SimulatedKits(Schema):
    """The simulated electronic kits and curve presets that ship."""

    electronic_kits: list[ElectronicKit]
    shapes: list[CurveShape]


@router.get("/simulated-kits", response=SimulatedKits, by_alias=True)
def simulated_kits(request: HttpRequest) -> SimulatedKits:
    return SimulatedKits(electronic_kits=list(ELECTRONIC_KITS), shapes=list(SHAPES))


@router.get("/kits", response=list[KitCard])
def list_kits(request: HttpRequest) -> list[KitCard]:
    return [_card(record, found) for record, found in summaries()]


def _card(record: KitRecord, found: KitSummary | Refusal) -> KitCard:
    trouble = str(found) if isinstance(found, Refusal) else ""
    known = KitSummary() if isinstance(found, Refusal) else found
    return KitCard(
        id=record.id,
        name=record.name,
        takes=known.takes,
        pieces=list(known.pieces),
        changed=record.changed,
        trouble=trouble,
    )


@router.post("/kits", response=KitCard)
def new_kit(request: HttpRequest, asked: NewKit) -> KitCard:
    return _card(create_kit(asked.name), KitSummary())


@router.delete("/kits/{kit_id}", response={204: None})
def remove_kit(request: HttpRequest, kit_id: str) -> Status[None]:
    """Moves a kit to the bin. Its versions and recordings are kept."""
    record = kit_record(kit_id)
    record.put_away = True
    record.save()
    return Status(204, None)


@router.get("/kits/{kit_id}", response=KitState)
def open_kit(request: HttpRequest, kit_id: str) -> HttpResponse:
    record = kit_record(kit_id)
    return kit_state(state_of(record, kit_at(kit_id, record.current)))


class KitVersionShown(Schema):
    version: int


@router.get("/kits/{kit_id}/version", response=KitVersionShown)
def where_it_stands(request: HttpRequest, kit_id: str) -> HttpResponse:
    """The kit's current version. Pages poll this; the response is 304 while it has not changed."""
    stands = kit_record(kit_id).current
    tag = f'"{stands}"'
    if request.headers.get("If-None-Match") == tag:
        return HttpResponse(status=304, headers={"ETag": tag})
    return HttpResponse(
        KitVersionShown(version=stands).model_dump_json(), content_type="application/json", headers={"ETag": tag}
    )


@router.post("/kits/{kit_id}/edits", response=KitState)
def edit_kit(request: HttpRequest, kit_id: str, asked: EditAsked) -> HttpResponse:
    before, after, record = make_edit(kit_id, asked.base_version, asked.edit, asked.gesture[:40], asked.mark[:40])
    return kit_state(state_after(kit_id, record, after, before))


@router.post("/kits/{kit_id}/told", response={204: None})
def told(request: HttpRequest, kit_id: str) -> Status[None]:
    """Marks a kit's notices as read."""
    tell(kit_record(kit_id))
    return Status(204, None)


@router.post("/kits/{kit_id}/undo", response=KitState)
def undo(request: HttpRequest, kit_id: str, asked: StepAsked) -> HttpResponse:
    before, after, record = step_back(kit_id, asked.base_version)
    return kit_state(state_of(record, after, before))


@router.post("/kits/{kit_id}/redo", response=KitState)
def redo(request: HttpRequest, kit_id: str, asked: StepAsked) -> HttpResponse:
    before, after, record = step_forward(kit_id, asked.base_version)
    return kit_state(state_of(record, after, before))


@router.post("/kits/{kit_id}/preview", response=list[PieceShown])
def preview(request: HttpRequest, kit_id: str, asked: EditAsked) -> HttpResponse:
    """The pieces as an edit would leave them; nothing is saved."""
    kit = current_kit(kit_id)
    known = {piece.id: piece for piece in pieces_of(kit)}
    changed = [p for p in pieces_of(apply(kit, asked.edit)) if known.get(p.id) is not p]
    body = "[" + ",".join(piece_shown(piece).model_dump_json() for piece in changed) + "]"
    return HttpResponse(body, content_type="application/json")


class Fits(Schema):
    """Goodness of fit (0 to 1) of an articulation's takes in 1, 2, 3… layers by natural breaks."""

    fits: list[float]


@router.get("/kits/{kit_id}/fits", response=Fits)
def layer_fits(request: HttpRequest, kit_id: str, articulation: str) -> Fits:
    _, found = articulation_of(current_kit(kit_id), articulation)
    return Fits(fits=[round(fit, 4) for fit in fits([played_level_db(t) for t in found.takes if t.enabled])])


class Alike(Schema):
    """The similarity of consecutive strikes in each layer, 0 to 1; None where nothing plays."""

    version: int
    layers: list[float | None]


@router.get("/kits/{kit_id}/sameness", response=Alike)
def layer_sameness(request: HttpRequest, kit_id: str, articulation: str) -> Alike:
    record = kit_record(kit_id)
    found = sameness(kit_at(kit_id, record.current), articulation, FileSounds(locate))
    return Alike(version=record.current, layers=[None if s is None else round(s, 4) for s in found])


@router.get("/kits/{kit_id}/findings", response=list[Finding])
def findings(
    request: HttpRequest,
    kit_id: str,
    input: str = "",
    sent: list[MidiNote] = Query([], max_length=128),  # type: ignore[type-arg]
) -> list[Finding]:
    """A kit's findings, at most 200 of each kind, so that a session with one frequent mistake stays readable. `input` is
    the connected input, `sent` the notes it has sent; of a simulated kit all its notes are known.
    """
    return findings_of_kit(kit_id, sent_by(input, sent))


@router.get("/kits/{kit_id}/foreseen", response=list[Foreseen])
def foreseen_of_fixes(
    request: HttpRequest,
    kit_id: str,
    finding: str,
    input: str = "",
    sent: list[MidiNote] = Query([], max_length=128),  # type: ignore[type-arg]
) -> list[Foreseen]:
    """The side effects of each fix of a finding (by its key), shown before it is applied."""
    return list(foreseen_of(kit_id, finding, sent_by(input, sent)))


@router.get("/kits/{kit_id}/recordings", response=list[RecordingShown])
def take_recordings(request: HttpRequest, kit_id: str, articulation: str, take: str) -> list[RecordingShown]:
    return recordings_of(take_of(articulation_of(current_kit(kit_id), articulation)[1], take))


@router.get("/kits/{kit_id}/as-recorded", response=PlayTake)
def take_as_recorded(request: HttpRequest, kit_id: str, articulation: str, take: str) -> PlayTake:
    """A take as it would play without trims, for comparison."""
    kit = current_kit(kit_id)
    piece, found = articulation_of(kit, articulation)
    return as_recorded(piece, take_of(found, take), kit)
