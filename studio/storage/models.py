"""Files stored once by content."""

from django.db import models
from django.utils import timezone


class StoredFile(models.Model):
    """A file stored under the hash of its bytes. `measured` are the core's measurements, or the reason there are none;
    `came` when it last arrived. A `damaged` one is missing or has other bytes; importing it again repairs it.
    """

    sha256 = models.CharField(max_length=64, primary_key=True)
    suffix = models.CharField(max_length=8)
    size = models.BigIntegerField()
    content = models.CharField(max_length=40, blank=True, db_index=True)
    came = models.DateTimeField(default=timezone.now)
    measured = models.JSONField(null=True)
    damaged = models.BooleanField(default=False, db_index=True)
