"""A piece of another kit over HTTP: where it may come from, what taking it would do, heard before, and the edit."""

from collections.abc import Iterator
from typing import Annotated, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from drumcore.edits.applying import apply
from drumcore.edits.of_pieces import BuildPieces
from drumcore.edits.of_taking import Entering, OnNote, TakePiece
from drumcore.edits.taking_said import (
    Consequence,
    MicComing,
    Stands,
    consequences,
    free_notes,
    mics_coming,
    strokes_coming,
    taken_piece,
)
from drumcore.kit.lookup import piece_of, pieces_of
from drumcore.kit.summary import PieceSummary, summary
from drumcore.kit.values import LEAST_DB, MOST_DB, Identifier, Kit, Origin
from drumcore.playing.compiling import compile_kit
from drumcore.playing.figures import Figure, OfPiece, depends_on
from drumcore.playing.play_table import PlayHead, PlayPiece
from drumcore.playing.sounds import FileSounds
from drumcore.refusals import Refusal
from drumcore.routing.lanes import own_channel
from drumcore.shelf.finding import unaccented
from drumcore.shelf.kept_piece import KeptPiece, kept_piece
from studio.kits.addresses import answer
from studio.kits.models import KitRecord, MeasuredFigure
from studio.kits.shown import KitState, state_after
from studio.kits.versions import current_kit, kit_at, kit_record, make_edit, summary_of
from studio.library.models import Session
from studio.library.sessions import reading_of
from studio.library.store import locate
from studio.shelves.keeping import ours, value_of
from studio.shelves.kinds import PIECES
from studio.shelves.models import Kept

router = Router()
MOST_OFFERED = 400


class SourceOf(Schema):
    """A piece somewhere: of a kit or a session that was read, by its identifier or its place there (`#3`), or kept in the
    library, when `piece` is empty."""

    kind: Literal["kits", "sessions", "pieces"]
    id: Annotated[str, Field(max_length=80)]
    piece: Identifier = ""


class OfferedPiece(Schema):
    source: SourceOf
    name: str
    summary: PieceSummary


class OfferedGroup(Schema):
    """Pieces that stand in one place: a kit, a session, or the library's own shelf."""

    name: str
    kind: str
    pieces: list[OfferedPiece]


class TakingAsked(Schema):
    """What is taken and how; see the core's TakePiece. `as_loud` brings it to what it replaces, or what it sounds with."""

    source: SourceOf
    strokes: tuple[Identifier, ...] | None = None
    mics: Annotated[tuple[Entering, ...], Field(max_length=200)] = ()
    instead_of: Identifier = ""
    together_with: Identifier = ""
    notes: Annotated[tuple[OnNote, ...], Field(max_length=1000)] = ()
    treatment: bool = True
    touch: bool = True
    balance: bool = False
    rest_to_main: bool = False
    as_loud: bool = True


class TakingShown(Schema):
    """What would come and what it would do. `theirs_db` and `its_db` are the figures of what is here and of the newcomer, None
    where nothing is compared or nothing sounds; `gain_db` is what makes it as loud. `head` and `pieces` are what would be
    played: all pieces that play something else than now. `piece` is the newcomer there."""

    name: str
    of: str
    treated: list[str]
    strokes: list[Stands]
    mics: list[MicComing]
    free_notes: dict[str, int]
    consequences: list[Consequence]
    theirs_db: float | None
    its_db: float | None
    gain_db: float
    piece: str
    head: PlayHead
    pieces: list[PlayPiece]


@router.get("/kits/{kit_id}/taking", response=list[OfferedGroup])
def offered(request: HttpRequest, kit_id: str, find: Annotated[str, Field(max_length=100)] = "") -> list[OfferedGroup]:
    """The pieces there are to take: of other kits, of sessions that are in no kit yet, and kept in the library."""
    kit_record(kit_id)
    groups, count = [], 0
    for group in _groups(kit_id):
        found = [each for each in group.pieces if _says(each, group.name, find)]
        if found and count < MOST_OFFERED:
            groups.append(OfferedGroup(name=group.name, kind=group.kind, pieces=found[: MOST_OFFERED - count]))
            count += len(found)
    return groups


def _says(offered: OfferedPiece, where: str, find: str) -> bool:
    text = unaccented(f"{offered.name} {offered.summary.family.value} {where}")
    return all(word in text for word in unaccented(find).split())


def _groups(kit_id: str) -> Iterator[OfferedGroup]:
    kept = [
        OfferedPiece(source=SourceOf(kind="pieces", id=str(row.id)), name=row.name, summary=found)
        for row in Kept.objects.filter(kind=PIECES.plural, put_away=False).order_by("name")
        for found in [PieceSummary.model_validate(each) for each in row.summary["kit"]["pieces"][:1]]
    ]
    yield OfferedGroup(name="Kept in the library", kind="pieces", pieces=kept)
    for record in KitRecord.objects.filter(put_away=False).exclude(id=kit_id).order_by("-changed")[:100]:
        try:
            pieces = summary_of(record).pieces
        except Refusal:
            continue
        yield OfferedGroup(
            name=record.name,
            kind="kits",
            pieces=[
                # By its place: a summary knows no identifiers, and a kit is not opened for its names.
                OfferedPiece(
                    source=SourceOf(kind="kits", id=record.id, piece=f"#{place}"), name=each.name, summary=each
                )
                for place, each in enumerate(pieces)
            ],
        )
    for session in Session.objects.filter(put_away=False, kits=None, reading__isnull=False)[:20]:
        built = _of_session(session)
        yield OfferedGroup(
            name=session.name,
            kind="sessions",
            pieces=[
                OfferedPiece(
                    source=SourceOf(kind="sessions", id=str(session.id), piece=piece.id), name=piece.name, summary=each
                )
                for piece, each in zip(pieces_of(built), summary(built).pieces, strict=True)
            ],
        )


def _of_session(session: Session) -> Kit:
    reading = reading_of(session)
    if reading is None:
        raise Refusal("This session has not been read yet; wait until its recordings are measured.")
    return apply(Kit(id="session", name=session.name), BuildPieces(mics=reading.mics, pieces=reading.pieces))


def _taken(source: SourceOf) -> tuple[KeptPiece, Origin]:
    """The piece somewhere, alone, and what is remembered of where it is from. Raises Refusal where there is none."""
    if source.kind == "pieces":
        found = ours(PIECES, source.id)
        kept: KeptPiece = value_of(PIECES, found)
        (piece,) = kept.kit.pieces
        alone = kept.kit.but(pieces=(piece.but(name=found.name),))
        return KeptPiece(kit=alone, of=kept.of), Origin(kind="pieces", id=source.id, name=kept.of or found.name)
    if source.kind == "sessions":
        session = Session.objects.filter(id=int(source.id)).first() if source.id.isdecimal() else None
        if session is None:
            raise Refusal("There is no such session; it may have been removed.")
        kit, version = _of_session(session), 0
    else:
        record = KitRecord.objects.filter(id=source.id).first()
        if record is None:
            raise Refusal("There is no such kit; it may have been removed.")
        kit, version = kit_at(record.id, record.current), record.current
    wanted = source.piece
    if wanted.startswith("#") and wanted[1:].isdecimal():
        place = int(wanted[1:])
        if place >= len(pieces_of(kit)):
            raise Refusal(f"{kit.name} has fewer pieces than when it was listed; look at the list again.")
        wanted = pieces_of(kit)[place].id
    origin = Origin(kind=source.kind, id=source.id, name=kit.name, piece=wanted, version=version)
    return kept_piece(kit, wanted), origin


def _edit_of(kit: Kit, asked: TakingAsked) -> tuple[TakePiece, float | None, float | None]:
    """The edit, and the figures of what it is compared with and of itself, where both are there."""
    kept, origin = _taken(asked.source)
    edit = TakePiece(
        alone=kept.kit,
        of=kept.of,
        origin=origin,
        **asked.dict(exclude={"source", "as_loud", "mics", "notes"}),
        mics=asked.mics,
        notes=asked.notes,
    )
    beside = asked.instead_of or asked.together_with
    if not beside:
        return edit, None, None
    theirs = _figure(kit, piece_of(kit, beside).id)
    tried = apply(kit, edit)
    its = _figure(tried, taken_piece(tried, edit).id)
    if theirs is None or its is None:
        return edit, theirs, its
    apart = round(theirs - its, 1)
    gain = min(MOST_DB, max(LEAST_DB, apart)) if asked.as_loud else 0.0
    return edit.but(gain_db=gain, apart_db=apart if asked.instead_of else None), theirs, its


def _figure(kit: Kit, piece: str) -> float | None:
    """The level of a piece as it is compared; remembered by all it depends on, measured at once where it is not known."""
    asked = OfPiece(piece=piece)
    key = depends_on(kit, asked, None)
    known = MeasuredFigure.objects.filter(key=key).first()
    if known is not None:
        return Figure.model_validate(known.data).db
    figure = asked.measure(kit, None, FileSounds(locate), lambda done, total: None)
    MeasuredFigure.objects.update_or_create(key=key, defaults={"data": figure.model_dump(mode="json")})
    return figure.db


@router.post("/kits/{kit_id}/taking", response=TakingShown)
def would_take(request: HttpRequest, kit_id: str, asked: TakingAsked) -> TakingShown:
    """What taking a piece would do, in sentences and as a play table; nothing is changed."""
    kit = current_kit(kit_id)
    edit, theirs, its = _edit_of(kit, asked)
    after = apply(kit, edit)
    now, then = compile_kit(kit), compile_kit(after)
    same = {piece.id: piece for piece in now.pieces}
    source = own_channel(edit.alone, edit.alone.pieces[0])
    return TakingShown(
        name=edit.alone.pieces[0].name,
        of=edit.of,
        treated=[treatment.kind for treatment in (source.treatments if source else ())],
        strokes=list(strokes_coming(kit, edit)),
        mics=list(mics_coming(kit, edit)),
        free_notes=free_notes(kit, edit),
        consequences=list(consequences(kit, edit)),
        theirs_db=theirs,
        its_db=its,
        gain_db=edit.gain_db,
        piece=taken_piece(after, edit).id,
        head=then.head,
        pieces=[piece for piece in then.pieces if same.get(piece.id) != piece],
    )


class TakeAsked(Schema):
    base_version: int
    asked: TakingAsked


@router.post("/kits/{kit_id}/take", response=KitState)
def take(request: HttpRequest, kit_id: str, asked: TakeAsked) -> HttpResponse:
    """Take a piece: one edit, in a copy where the kit ships."""
    edit, _, _ = _edit_of(current_kit(kit_id), asked.asked)
    before, after, record = make_edit(kit_id, asked.base_version, edit)
    return answer(state_after(kit_id, record, after, before))
