"""Previews, which can all be made again."""

from django.db import models


class PreviewMade(models.Model):
    """The preview of one item, made when it had `mark`; of a kit at one `version`, or its newest state (0). `key` names
    the file and depends on everything it sounds like; `data` is the core's Preview, empty if there is none (`why` says
    why).
    """

    kind = models.CharField(max_length=40)
    item = models.CharField(max_length=80)
    version = models.IntegerField(default=0)
    mark = models.CharField(max_length=200)
    key = models.CharField(max_length=64, blank=True, db_index=True)
    data = models.JSONField(default=dict)
    why = models.CharField(max_length=400, blank=True)
    made = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["kind", "item", "version"], name="one_preview_a_thing")]
