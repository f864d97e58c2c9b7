"""Pieces built from a session, as it was read or from single sounds: the edits, and the kits they go to."""

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel

from drumcore.edits.pieces import AddToPiece, BuildPieces
from drumcore.edits.placement_by_sound import made_and_placed
from drumcore.edits.single_sounds import AddSounds, held_to_the_notes
from drumcore.edits.values import Edit
from drumcore.notes.by_sound import Proposed
from drumcore.recordings.guidance import Guidance, PlacedFile
from drumcore.recordings.manual_placement import named_by_files
from drumcore.recordings.session import SessionReading
from drumcore.refusals import Refusal
from studio.kits.models import KitRecord
from studio.kits.versions import current_kit
from studio.sessions.models import Session


def newest_kit_of(session: Session) -> str | None:
    """The kit that a session is read for: the newest it belongs to, before any that ships or is in the bin."""
    kits = KitRecord.objects.filter(sessions=session).order_by("put_away", "ships", "-created")
    return kits.values_list("id", flat=True).first()


def kit_for(session: Session, wanted: str) -> str:
    """The kit for pieces of a session: the one asked for, else the newest. Raises Refusal if there is none left."""
    found = wanted or newest_kit_of(session)
    if found is None:
        raise Refusal("The kits of this session were deleted; make a new one from it.")
    return found


def pieces_as_read(session: Session, reading: SessionReading, kit_id: str, *, by_sound: bool) -> Edit:
    """The edit that builds the pieces a session was read as; a session dropped on a piece is added to that piece.
    `by_sound` places pieces without a drum's name by how they sound.
    """
    build = BuildPieces(mics=reading.mics, pieces=reading.pieces)
    if session.adds_to:
        articulations = tuple(a for piece in reading.pieces for a in piece.articulations)
        return AddToPiece(piece=session.adds_to, mics=reading.mics, articulations=articulations)
    return made_and_placed(current_kit(kit_id), build)[0] if by_sound else build


def sounds_on_notes(
    reading: SessionReading,
    paths: Sequence[str],
    note: int,
    when_occupied: Literal["stack", "take_over"] | None,
) -> Edit:
    """The edit that puts sounds on a note and the free notes beside it, each as a piece of its own: those with the
    given paths, else all.
    """
    by_path = {r.path: p for p in reading.pieces for a in p.articulations for t in a.takes for r in t.recordings}
    wanted = paths or list(by_path)
    pieces = tuple(dict.fromkeys(by_path[path] for path in wanted if path in by_path))
    if not pieces:
        asked_for = [entry.why for entry in reading.unread if not paths or entry.path in paths]
        why = next(iter(asked_for), "Choose WAV, AIFF or FLAC files.")
        raise Refusal(f"Nothing was put on the note: {why}")
    several = next((piece for piece in pieces if len(piece.articulations) > 1), None)
    if several is not None:
        raise Refusal(
            f"{several.name} has {len(several.articulations)} articulations here, and a sound dropped on a note has one;"
            " make pieces of the session instead."
        )
    held_to_the_notes(len(pieces))
    return AddSounds(mics=reading.mics, pieces=pieces, note=note, when_occupied=when_occupied)


class AsSingleHits(BaseModel):
    """A session as single sounds. `by_itself`: an empty kit builds its pieces without asking. `nameless` files have
    sound but an unreadable name; `proposed` are places for pieces without a drum's name.
    """

    by_itself: bool
    nameless: int
    proposed: list[Proposed]


def as_single_hits(session: Session, reading: SessionReading, kit_id: str) -> AsSingleHits:
    here = current_kit(kit_id)
    build = BuildPieces(mics=reading.mics, pieces=reading.pieces)
    proposed = made_and_placed(here, build)[1] if reading.pieces else ()
    return AsSingleHits(
        by_itself=not here.pieces and reading.single_hits and not session.adds_to,
        nameless=len(reading.nameless),
        proposed=list(proposed),
    )


def take_each_alone(session: Session, reading: SessionReading) -> None:
    """Makes every file with an unreadable name a piece of its own, named after it, from the next reading on. Raises
    Refusal if there is none.
    """
    said = Guidance.model_validate(session.guidance)
    named = named_by_files((entry.path for entry in reading.nameless), [piece.name for piece in reading.pieces])
    placed = tuple(PlacedFile(path=path, piece=name) for path, name in named)
    if not placed:
        raise Refusal("Every name of this session says what it is; there is nothing to make pieces of.")
    session.guidance = said.but(placed=(*said.placed, *placed)).model_dump(mode="json")
    session.save(update_fields=["guidance"])
