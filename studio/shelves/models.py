"""Whatever is kept under a name, to be copied into any kit: one table for all kinds but grooves, which are rehearsed with."""

from django.db import models

from studio.people.models import Owned


class Described(models.Model):
    """What is said of anything in the library; one that is `put_away` is in the bin."""

    description = models.TextField(blank=True)
    tags = models.JSONField(default=list)
    put_away = models.BooleanField(default=False)

    class Meta:
        abstract = True


class Kept(Owned, Described):
    """A value of the core's under a name; `kind` says which value `data` is (see `shelves.kinds`). `summary` is what a list
    shows of one that is large."""

    kind = models.CharField(max_length=40)
    name = models.CharField(max_length=120)
    data = models.JSONField()
    summary = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workspace", "kind", "name"], name="one_of_a_kind_a_name")]


class KeptReference(models.Model):
    """A hash that a kept value names: a recording of a piece, a response of a space."""

    kept = models.ForeignKey(Kept, on_delete=models.CASCADE, related_name="references")
    name = models.CharField(max_length=64, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kept", "name"], name="one_reference_a_kept_value")]


class GrooveRecord(Owned, Described):
    """A groove to rehearse with; `data` is the core's Groove. One that `ships` is never changed."""

    name = models.CharField(max_length=120)
    data = models.JSONField()
    ships = models.BooleanField(default=False)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        app_label = "library"
