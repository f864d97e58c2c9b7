"""Kits with all their versions. A version's takes are shared parts, so that a thousand edits stay small."""

from django.db import models

from studio.people.models import Owned
from studio.sessions.models import Session


class KitRecord(Owned):
    """A kit. `current` is its version, `redo` the undone versions, the next to redo last. `sessions` are the sessions
    it was built from. `summary` is the core's KitSummary of its current state, None if an older program saved it. A kit
    that `ships` is never changed: an edit goes to a copy, which has `copied_from`.
    """

    id = models.CharField(max_length=80, primary_key=True)
    name = models.CharField(max_length=120)
    current = models.IntegerField(default=0)
    redo = models.JSONField(default=list)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)
    put_away = models.BooleanField(default=False)
    ships = models.BooleanField(default=False)
    sessions = models.ManyToManyField(Session, related_name="kits", db_table="library_session_kits")
    copied_from = models.CharField(max_length=80, blank=True)
    told = models.JSONField(default=list)
    summary = models.JSONField(null=True)


class KitVersion(models.Model):
    """`head` is the kit without takes, compressed; `edit` the edit that made it, as compressed JSON, and `said` its
    sentence. Versions of older programs, and restored ones, have no edit. `tab` is the browser tab that made it, empty
    if unknown; `undoes` the number of an earlier version whose edit this one takes back, leaving later ones.
    """

    kit = models.ForeignKey(KitRecord, on_delete=models.CASCADE, related_name="versions")
    number = models.IntegerField()
    parent = models.IntegerField(null=True)
    said = models.CharField(max_length=200)
    gesture = models.CharField(max_length=40, blank=True)
    mark = models.CharField(max_length=40, blank=True)
    head = models.BinaryField()
    edit = models.BinaryField(null=True)
    tab = models.CharField(max_length=40, blank=True, default="")
    undoes = models.IntegerField(null=True)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kit", "number"], name="one_version_a_number")]


class Moment(models.Model):
    """A version the user named, to compare with later."""

    kit = models.ForeignKey(KitRecord, on_delete=models.CASCADE, related_name="moments")
    number = models.IntegerField()
    name = models.CharField(max_length=120)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kit", "number"], name="one_name_a_moment")]


class Part(models.Model):
    """The takes of an articulation, compressed, under the hash of their JSON. `recordings` is the set of recordings
    they name (RecordingInSet), empty for none.
    """

    hash = models.CharField(max_length=64, primary_key=True)
    data = models.BinaryField()
    recordings = models.CharField(max_length=64, blank=True, db_index=True)


class RecordingInSet(models.Model):
    """One recording of a set. Parts share sets, so that trimming a thousand takes adds no rows. `key` is the hash of
    the sorted names; a `name` is a content hash of 40 digits or a file hash of 64.
    """

    key = models.CharField(max_length=64)
    name = models.CharField(max_length=64, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["key", "name"], name="one_recording_a_set")]


class KitReference(models.Model):
    """A hash that some version's head refers to: a part, or a recording outside any part (an impulse response)."""

    kit = models.ForeignKey(KitRecord, on_delete=models.CASCADE, related_name="references")
    name = models.CharField(max_length=64, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kit", "name"], name="one_reference_a_kit")]


class MeasuredFigure(models.Model):
    """A measured figure, under a key of everything it depends on (`listening.figures`)."""

    key = models.CharField(max_length=64, primary_key=True)
    data = models.JSONField()
    created = models.DateTimeField(auto_now_add=True, db_index=True)
