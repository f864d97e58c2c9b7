"""Recordings with missing or changed files: detected when reading fails, repaired by importing them again."""

from drumcore.refusals import DamagedRecording
from studio.jobs.runner import says_of
from studio.sessions.models import SessionFile
from studio.storage.files import is_whole
from studio.storage.models import StoredFile


def name_of(stored: StoredFile) -> str:
    """The name a file had when it arrived; empty if no session has it any more."""
    return SessionFile.objects.filter(stored=stored).order_by("id").values_list("path", flat=True).first() or ""


@says_of(DamagedRecording)
def note_damage(error: DamagedRecording) -> str:
    """Marks the files of an unreadable recording as damaged; returns the sentence about it."""
    names = []
    for stored in StoredFile.objects.filter(content=error.content).defer("measured"):
        if not is_whole(stored):
            StoredFile.objects.filter(sha256=stored.sha256).update(damaged=True)
            names.append(name_of(stored))
    named = next((name for name in names if name), "")
    return f"{named} is missing or damaged on the disk; add it again to repair it." if named else str(error)
