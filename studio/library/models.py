"""What was brought in: files stored once, and the sessions that name them."""

from django.db import models
from django.utils import timezone


class Described(models.Model):
    """What is said of anything in the library; one that is `put_away` is put away."""

    description = models.TextField(blank=True)
    tags = models.JSONField(default=list)
    put_away = models.BooleanField(default=False)

    class Meta:
        abstract = True


class StoredFile(models.Model):
    """A file kept under the hash of its bytes. `measured` is what the core measured, or why it could not; `came` when it came
    in last. One that is `damaged` was found missing or with other bytes; it is repaired by bringing it in again."""

    sha256 = models.CharField(max_length=64, primary_key=True)
    suffix = models.CharField(max_length=8)
    size = models.BigIntegerField()
    content = models.CharField(max_length=40, blank=True, db_index=True)
    came = models.DateTimeField(default=timezone.now)
    measured = models.JSONField(null=True)
    damaged = models.BooleanField(default=False, db_index=True)


class Session(Described):
    """A recording session, which stands on its own; `kits` are those it was brought into, and their copies. `reading` is its SessionReading as compressed JSON.

    `guidance` is the core's Guidance, without the words learned for all sessions. `adds_to` is the piece its takes
    are meant for, where it was dropped on one. `channels` names the microphones of many-channel files, in order. `compared` is what was found
    of its microphones, as compressed JSON: the core's Known.
    """

    kits = models.ManyToManyField("kits.KitRecord", related_name="sessions")
    name = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)
    reading = models.BinaryField(null=True)
    guidance = models.JSONField(default=dict)
    adds_to = models.CharField(max_length=120, blank=True)
    channels = models.JSONField(default=list)
    compared = models.BinaryField(null=True)


class SessionFile(models.Model):
    """One name of a session. A file that could not be stored has no `stored` and says `why`.

    `split_of` is the many-channel file it was split from.
    """

    session = models.ForeignKey(Session, on_delete=models.CASCADE, related_name="files")
    path = models.CharField(max_length=1024)
    stored = models.ForeignKey(StoredFile, null=True, on_delete=models.PROTECT)
    why = models.CharField(max_length=400, blank=True)
    split_of = models.ForeignKey("self", null=True, on_delete=models.CASCADE, related_name="parts")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["session", "path"], name="one_file_a_path")]


class SessionArchive(models.Model):
    """A zip that came in for a session and is not unpacked, or not wholly; `file` lies among the uploads, with its hash."""

    session = models.ForeignKey(Session, on_delete=models.CASCADE, related_name="archives")
    name = models.CharField(max_length=255)
    file = models.CharField(max_length=80)
    sha256 = models.CharField(max_length=64)
    came = models.DateTimeField(auto_now_add=True)


class WordRecord(models.Model):
    """A word somebody explained, kept for every session to come; see the core's LearnedWord."""

    word = models.CharField(max_length=60, unique=True)
    meaning = models.CharField(max_length=20)
    value = models.CharField(max_length=60, blank=True)


class GrooveRecord(Described):
    """A groove to rehearse with; `data` is the core's Groove. One that `ships` is never changed."""

    name = models.CharField(max_length=120)
    data = models.JSONField()
    ships = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)
