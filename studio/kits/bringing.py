"""Bringing in a piece: where it may come from, what it would change, and the edit."""

from collections.abc import Iterator
from typing import Annotated, Literal

from django.db.models import Sum
from pydantic import BaseModel, Field

from drumcore.describing.bringing import (
    Compared,
    Consequence,
    IncomingArticulation,
    MicComing,
    articulations_coming,
    articulations_lost,
    climb,
    compared,
    consequences,
    mics_coming,
    places_for,
    treatments_coming,
    tried,
    tried_one_by_one,
    undone,
)
from drumcore.edits.apply import apply
from drumcore.edits.bring_piece_steps import free_notes
from drumcore.edits.bring_piece_values import BringPiece, BringPieces, Entering, OnNote
from drumcore.edits.pieces import BuildPieces
from drumcore.formats.kit_file import contents_of
from drumcore.kit.lookup import piece_of
from drumcore.kit.summary import PieceSummary, summary
from drumcore.kit.values import Identifier, Kit, Origin
from drumcore.listening.figures import Figure, OfPiece, depends_on
from drumcore.playing.play_table import PlayHead, PlayPiece
from drumcore.playing.sounds import FileSounds
from drumcore.refusals import Refusal
from drumcore.shelf.kept_piece import KeptPiece, kept_piece
from drumcore.shelf.search import says
from studio.kits.models import KitRecord, MeasuredFigure
from studio.kits.moments import played_otherwise
from studio.kits.versions import kit_at, kit_record, summary_of
from studio.people.rows import row_of
from studio.sessions.models import Session
from studio.sessions.reading import reading_of
from studio.shelves.kinds import PIECES
from studio.shelves.models import Kept
from studio.shelves.shelf import ours, value_of
from studio.storage.files import locate
from studio.storage.models import StoredFile

MOST_OFFERED = 400


class SourceOf(BaseModel):
    """A piece in a kit, in a session that was read, or saved in the library (then `piece` is empty)."""

    kind: Literal["kits", "sessions", "pieces"]
    id: Annotated[str, Field(max_length=80)]
    piece: Identifier = ""


class OfferedPiece(BaseModel):
    source: SourceOf
    name: str
    summary: PieceSummary


class OfferedGroup(BaseModel):
    """Pieces from one place: a kit, a session, or the library."""

    name: str
    kind: str
    pieces: list[OfferedPiece]


class BringAsked(BaseModel):
    """What is brought in and how; see the core's BringPiece. `as_loud` matches its loudness to the piece it replaces or
    joins.
    """

    source: SourceOf
    articulations: tuple[Identifier, ...] | None = None
    mics: Annotated[tuple[Entering, ...], Field(max_length=200)] = ()
    instead_of: Identifier = ""
    together_with: Identifier = ""
    notes: Annotated[tuple[OnNote, ...], Field(max_length=1000)] | None = None
    treatment: bool = True
    touch: bool = True
    balance: bool = False
    rest_to_main: bool = False
    as_loud: bool = True


class BringShown(BaseModel):
    """What would come in and what it would change.

    `theirs_db` and `its_db` are the levels of the present and the incoming piece, None if nothing is compared or one is
    silent; `theirs_climb` and `its_climb` are their levels by velocity; `lost` are the articulations on notes that the
    incoming piece lacks; `gain_db` matches loudness. `head` and `pieces` are the play table to preview: all pieces that
    would play differently. `piece` is the incoming piece there.
    """

    name: str
    of: str
    treated: list[str]
    articulations: list[IncomingArticulation]
    mics: list[MicComing]
    free_notes: dict[str, int]
    lost: list[str]
    consequences: list[Consequence]
    theirs_db: float | None
    its_db: float | None
    theirs_climb: list[tuple[int, float]]
    its_climb: list[tuple[int, float]]
    gain_db: float
    piece: str
    head: PlayHead
    pieces: list[PlayPiece]


def offered(kit_id: str, find: str) -> list[OfferedGroup]:
    """The pieces on offer: of other kits, of sessions not yet in a kit, and saved in the library."""
    kit_record(kit_id)
    groups, count = [], 0
    for group in _groups(kit_id):
        found = [each for each in group.pieces if says(find, each.name, each.summary.family.value, group.name)]
        if found and count < MOST_OFFERED:
            groups.append(OfferedGroup(name=group.name, kind=group.kind, pieces=found[: MOST_OFFERED - count]))
            count += len(found)
    return groups


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
                OfferedPiece(source=SourceOf(kind="kits", id=record.id, piece=each.id), name=each.name, summary=each)
                for each in pieces
            ],
        )
    for session in Session.objects.filter(put_away=False, kits=None, reading__isnull=False)[:20]:
        built = _of_session(session)
        yield OfferedGroup(
            name=session.name,
            kind="sessions",
            pieces=[
                OfferedPiece(
                    source=SourceOf(kind="sessions", id=str(session.id), piece=each.id), name=each.name, summary=each
                )
                for each in summary(built).pieces
            ],
        )


def _of_session(session: Session) -> Kit:
    reading = reading_of(session)
    if reading is None:
        raise Refusal("This session has not been read yet; wait until its recordings are measured.")
    return apply(Kit(id="session", name=session.name), BuildPieces(mics=reading.mics, pieces=reading.pieces))


def _taken(source: SourceOf) -> tuple[KeptPiece, Origin]:
    """The piece at a source, alone, and its origin. Raises Refusal if there is none."""
    if source.kind == "pieces":
        found = ours(PIECES, source.id)
        kept: KeptPiece = value_of(PIECES, found)
        (piece,) = kept.kit.pieces
        alone = kept.kit.but(pieces=(piece.but(name=found.name),))
        return KeptPiece(kit=alone, of=kept.of), Origin(kind="pieces", id=source.id, name=kept.of or found.name)
    if source.kind == "sessions":
        session = row_of(Session, source.id)
        if session is None:
            raise Refusal("There is no such session; it may have been deleted.")
        kit, version = _of_session(session), 0
    else:
        record = KitRecord.objects.filter(id=source.id).first()
        if record is None:
            raise Refusal("There is no such kit; it may have been deleted.")
        kit, version = kit_at(record.id, record.current), record.current
    origin = Origin(kind=source.kind, id=source.id, name=kit.name, piece=source.piece, version=version)
    return kept_piece(kit, source.piece), origin


def asked_for(kit: Kit, asked: BringAsked) -> Compared:
    """The edit for a request, with its gain matched if that is asked for."""
    kept, origin = _taken(asked.source)
    how = {field: getattr(asked, field) for field in BringAsked.model_fields if field not in ("source", "as_loud")}
    edit = BringPiece(alone=kept.kit, of=kept.of, origin=origin, **how)
    return compared(kit, edit, _figure, as_loud=asked.as_loud)


def _figure(kit: Kit, piece: str, articulations: tuple[str, ...]) -> float | None:
    """A piece's level for comparison; cached by everything it depends on, otherwise measured now."""
    asked = OfPiece(piece=piece, articulations=articulations)
    key = depends_on(kit, asked, None)
    known = MeasuredFigure.objects.filter(key=key).first()
    if known is not None:
        return Figure.model_validate(known.data).db
    figure = asked.measure(kit, None, FileSounds(locate), lambda done, total: None)
    MeasuredFigure.objects.update_or_create(key=key, defaults={"data": figure.model_dump(mode="json")})
    return figure.db


def previewed(kit: Kit, asked: BringAsked) -> BringShown:
    """What bringing in a piece would do, in sentences and as a play table; nothing is changed."""
    found = asked_for(kit, asked)
    trial = tried(kit, found.edit)
    beside = asked.instead_of or asked.together_with
    return BringShown(
        name=found.edit.alone.pieces[0].name,
        of=found.edit.of,
        treated=list(treatments_coming(found.edit)),
        articulations=list(articulations_coming(trial)),
        mics=list(mics_coming(trial)),
        free_notes=free_notes(kit, found.edit),
        lost=[articulation.name for articulation in articulations_lost(trial)],
        consequences=[*consequences(trial), *_room(kit, trial.after)],
        theirs_db=found.theirs_db,
        its_db=found.its_db,
        theirs_climb=list(climb(kit, beside, found.theirs_db)) if beside else [],
        its_climb=list(climb(trial.after, trial.piece.id, found.its_db)),
        gain_db=found.edit.gain_db,
        piece=trial.piece.id,
        **vars(played_otherwise(kit, trial.after)),
    )


def _room(before: Kit, after: Kit) -> Iterator[Consequence]:
    """The size of the incoming recordings, which the studio already stores."""
    new = contents_of(after).keys() - contents_of(before).keys()
    size = StoredFile.objects.filter(content__in=new).aggregate(size=Sum("size"))["size"] or 0
    if new:
        said = f"{size / 1e6:.1f} MB of recordings are in the studio already and take no more room; a file of this kit grows by them."
        yield Consequence(said=said)


class SeveralAsked(BaseModel):
    """Several pieces with default settings: on free notes, or with `in_places` in place of the kit's pieces of their
    families, and with `as_loud` at those pieces' loudness.
    """

    sources: Annotated[tuple[SourceOf, ...], Field(min_length=1, max_length=64)]
    in_places: bool = False
    treatment: bool = True
    touch: bool = True
    balance: bool = False
    as_loud: bool = True


class OneOfSeveral(BaseModel):
    """One of several pieces: `instead_of` is the name of the piece it replaces."""

    name: str
    of: str
    piece: str
    instead_of: str
    gain_db: float
    consequences: list[Consequence]


class SeveralShown(BaseModel):
    """`consequences` are those of all pieces together."""

    taken: list[OneOfSeveral]
    consequences: list[Consequence]
    head: PlayHead
    pieces: list[PlayPiece]


def several(kit: Kit, asked: SeveralAsked) -> BringPieces:
    """The edit for a request: each piece is matched with the one it replaces, after those before it were brought in."""
    kept = [_taken(source) for source in asked.sources]
    places = places_for(kit, (alone.kit.pieces[0] for alone, _ in kept))
    how = {"treatment": asked.treatment, "touch": asked.touch, "balance": asked.balance}
    edits: list[BringPiece] = []
    for (alone, origin), place in zip(kept, places, strict=True):
        edit = BringPiece(
            alone=alone.kit, of=alone.of, origin=origin, instead_of=place if asked.in_places else "", **how
        )
        found = compared(kit, edit, _figure, as_loud=asked.as_loud).edit
        kit = apply(kit, found)
        edits.append(found)
    return BringPieces(taken=tuple(edits))


def several_previewed(kit: Kit, asked: SeveralAsked) -> SeveralShown:
    """What bringing in several pieces would do, piece by piece; nothing is changed."""
    trials = tried_one_by_one(kit, several(kit, asked))
    after = trials[-1].after
    return SeveralShown(
        taken=[
            OneOfSeveral(
                name=trial.edit.alone.pieces[0].name,
                of=trial.edit.of,
                piece=trial.piece.id,
                instead_of=piece_of(trial.kit, trial.edit.instead_of).name if trial.edit.instead_of else "",
                gain_db=trial.edit.gain_db,
                consequences=list(consequences(trial, by_itself=False)),
            )
            for trial in trials
        ],
        consequences=[*_room(kit, after), undone(trials)],
        **vars(played_otherwise(kit, after)),
    )
