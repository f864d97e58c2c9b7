"""Opening kit files and piece files: a job that ends with the kit, or with the piece in the library."""

import shutil
from pathlib import Path
from typing import Any

from drumcore.formats.kit_file import read_kit_file
from drumcore.formats.piece_file import kept_from, piece_of_file
from drumcore.recordings.files import Measured, measure_file
from drumcore.refusals import Refusal
from studio.jobs.models import Job
from studio.jobs.runner import Progress, folder_of, start, work_of_kind
from studio.kits.versions import create_kit
from studio.shelves.piece_files import keep_piece
from studio.storage.files import name_content, place_of, store_file
from studio.storage.models import StoredFile

OPEN = "open_kit_file"


def begin_opening(uploaded: Path, name: str) -> Job:
    """Opens an uploaded file; `name` is the user's name for it. It is deleted once it is read."""
    return start(OPEN, {"path": str(uploaded), "name": name, "title": f"Opening {name}"})


@work_of_kind(OPEN)
def open_kit_file(job: Job, progress: Progress) -> dict[str, Any]:
    uploaded = Path(job.arguments["path"])
    if not uploaded.is_file():
        raise Refusal("The uploaded kit file no longer exists; upload it again.")
    folder = folder_of(job) / "unpacked"
    try:
        try:
            shown = str(job.arguments.get("name") or uploaded.name)
            of = kept_from(uploaded, shown)
            opened = read_kit_file(uploaded, folder, progress, shown)
        except Refusal:
            uploaded.unlink()  # reading it again would end the same way
            raise
        for place in opened.recordings.values():
            stored = store_file(place, place.name)
            _measure_once(stored, place.name)
        for content, place in opened.responses.items():
            name_content(store_file(place, place.name), content)
        if of is None:
            record = create_kit(opened.kit.name, opened.kit, "Opened from a kit file")
            made = {"kit": record.id}
        else:
            kept = keep_piece(opened.kit.name, piece_of_file(opened.kit, of, shown))
            made = {"piece": str(kept.id)}
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    uploaded.unlink(missing_ok=True)
    return {**made, "problems": [*opened.problems, *opened.notes]}


def _measure_once(stored: StoredFile, name: str) -> None:
    """Gives a stored recording its content hash, so that kits find it."""
    if stored.content:
        return
    measured = measure_file(place_of(stored), name)
    if isinstance(measured, Measured):
        name_content(stored, measured.content)
