"""Recordings whose files are gone or hold other bytes: found where reading fails, repaired by bringing them in again."""

from drumcore.refusals import DamagedRecording
from studio.jobs.runner import says_of
from studio.sessions.models import SessionFile
from studio.storage.files import is_whole
from studio.storage.models import StoredFile


def name_of(stored: StoredFile) -> str:
    """What a stored file was called when it came in; blank where no session has it any more."""
    return SessionFile.objects.filter(stored=stored).order_by("id").values_list("path", flat=True).first() or ""


@says_of(DamagedRecording)
def note_damage(error: DamagedRecording) -> str:
    """Mark the files of a recording that could not be read, where they are damaged; what to say of it."""
    names = []
    for stored in StoredFile.objects.filter(content=error.content).defer("measured"):
        if not is_whole(stored):
            StoredFile.objects.filter(sha256=stored.sha256).update(damaged=True)
            names.append(name_of(stored))
    named = next((name for name in names if name), "")
    return f"{named} is missing or damaged on the disk; add it again to repair it." if named else str(error)
