"""Whatever is kept under a name, to be copied into any kit: one table for all kinds."""

from django.db import models

from studio.library.models import Described


class Kept(Described):
    """A value of the core's under a name; `kind` says which value `data` is (see `shelves.kinds`). `summary` is what a list
    shows of one that is large."""

    kind = models.CharField(max_length=40)
    name = models.CharField(max_length=120)
    data = models.JSONField()
    summary = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)
    changed = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kind", "name"], name="one_of_a_kind_a_name")]


class KeptReference(models.Model):
    """A hash that a kept value names: a recording of a piece, a response of a space."""

    kept = models.ForeignKey(Kept, on_delete=models.CASCADE, related_name="references")
    name = models.CharField(max_length=64, db_index=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kept", "name"], name="one_reference_a_kept_value")]
