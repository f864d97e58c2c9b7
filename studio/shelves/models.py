"""Items saved under a name, to be copied into any kit: one table for all kinds except grooves."""

from django.db import models

from studio.people.models import Owned


class Described(models.Model):
    """The description and tags of any library item; one that is `put_away` is in the bin."""

    description = models.TextField(blank=True)
    tags = models.JSONField(default=list)
    put_away = models.BooleanField(default=False)

    class Meta:
        abstract = True


class Kept(Owned, Described):
    """A value of the core's under a name; `kind` says which type `data` is (see `shelves.kinds`). `summary` is what
    lists show of a large one.
    """

    kind = models.CharField(max_length=40)
    name = models.CharField(max_length=120)
    data = models.JSONField()
    summary = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workspace", "kind", "name"], name="one_of_a_kind_a_name")]


class KeptReference(models.Model):
    """A hash that a saved value refers to: a piece's recording, or an impulse response."""

    kept = models.ForeignKey(Kept, on_delete=models.CASCADE, related_name="references")
    name = models.CharField(max_length=64, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kept", "name"], name="one_reference_a_kept_value")]


class GrooveRecord(Owned, Described):
    """A groove; `data` is the core's Groove. One that `ships` is never changed."""

    name = models.CharField(max_length=120)
    data = models.JSONField()
    ships = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        app_label = "library"
