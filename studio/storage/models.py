"""Files stored once by content."""

from django.db import models
from django.utils import timezone


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
