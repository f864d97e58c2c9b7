"""What is kept beside the library itself: previews, which can all be made again."""

from django.db import models


class PreviewMade(models.Model):
    """The preview of one thing as it stood when it had `mark`; of a kit at one `version`, or as it stands (0). `key` names
    the file and all it sounds of; `data` is the core's Preview, empty where `why` says why there is none."""

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
