"""Recording sessions and their files."""

from django.db import models

from studio.people.models import Owned
from studio.shelves.models import Described
from studio.storage.models import StoredFile


class Session(Owned, Described):
    """A recording session; `kits` are the kits it belongs to, and their copies.

    `reading` is its SessionReading as compressed JSON. `guidance` is the core's Guidance, without the words learned for
    all sessions; `guidance_before` are its earlier values, the latest last, for undo. `adds_to` is the piece its takes are for, if it was dropped on one. `channels` names the microphones
    of multi-channel files, in order. `compared` are the comparisons of its microphones (the core's Known), as
    compressed JSON.
    """

    name = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)
    reading = models.BinaryField(null=True)
    guidance = models.JSONField(default=dict)
    guidance_before = models.JSONField(default=list)
    adds_to = models.CharField(max_length=120, blank=True)
    channels = models.JSONField(default=list)
    compared = models.BinaryField(null=True)

    class Meta:
        app_label = "library"


class SessionFile(models.Model):
    """One path of a session. A file that could not be stored has no `stored` and says `why`. `split_of` is the
    multi-channel file it was split from.
    """

    session = models.ForeignKey(Session, on_delete=models.CASCADE, related_name="files")
    path = models.CharField(max_length=1024)
    stored = models.ForeignKey(StoredFile, null=True, on_delete=models.PROTECT)
    why = models.CharField(max_length=400, blank=True)
    split_of = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="parts")

    class Meta:
        app_label = "library"
        constraints = [models.UniqueConstraint(fields=["session", "path"], name="one_file_a_path")]


class SessionArchive(models.Model):
    """A zip of a session that is not completely unpacked; `file` is its upload, with its hash."""

    session = models.ForeignKey(Session, on_delete=models.CASCADE, related_name="archives")
    name = models.CharField(max_length=255)
    file = models.CharField(max_length=80)
    sha256 = models.CharField(max_length=64)
    came = models.DateTimeField(auto_now_add=True)

    class Meta:
        app_label = "library"


class WordRecord(Owned):
    """A word the user explained, for all later sessions; see the core's LearnedWord."""

    word = models.CharField(max_length=60)
    meaning = models.CharField(max_length=20)
    value = models.CharField(max_length=60, blank=True)

    class Meta:
        app_label = "library"
        constraints = [models.UniqueConstraint(fields=["workspace", "word"], name="one_meaning_a_word")]
