"""Saved pieces and their files: a job writes one, and importing one saves the piece."""

from typing import Any

from drumcore.exports.export import file_name
from drumcore.formats.piece_file import write_piece_file
from drumcore.formats.suffix import PIECE_SUFFIX
from drumcore.shelf.kept_piece import KeptPiece
from studio.jobs.models import Job
from studio.jobs.runner import Progress, folder_of, start, work_of_kind
from studio.shelves.kinds import PIECES
from studio.shelves.models import Kept
from studio.shelves.shelf import describe, free_name, keep, ours, value_of
from studio.storage.files import locate

WRITE = "piece_file"


def begin_writing(piece_id: str) -> Job:
    """Starts writing a saved piece to a file. Raises Refusal if there is none."""
    found = ours(PIECES, piece_id)
    return start(WRITE, {"piece": piece_id, "title": f"Writing {found.name}"})


@work_of_kind(WRITE)
def piece_file(job: Job, progress: Progress) -> dict[str, Any]:
    """Writes a saved piece to a file, with its recordings."""
    found = ours(PIECES, job.arguments["piece"])
    folder = folder_of(job)
    folder.mkdir(parents=True, exist_ok=True)
    name = file_name(found.name, PIECE_SUFFIX)
    described = value_of(PIECES, found)
    kept = described.but(kit=described.kit.but(description=found.description, tags=tuple(found.tags)))
    write_piece_file(kept, locate, folder / name, progress)
    return {"download": name}


def keep_piece(name: str, kept: KeptPiece) -> Kept:
    """Saves the piece of a file under its name or that with a number, with its description and tags."""
    found = keep(PIECES, free_name(PIECES, name), kept)
    describe(PIECES, str(found.id), kept.kit.description, kept.kit.tags)
    return ours(PIECES, str(found.id))
