"""When the studio was last backed up and checked, and the results."""

from django.db import models


class MaintenanceRun(models.Model):
    """One finished backup or check; `data` is its report."""

    kind = models.CharField(max_length=10)
    ended = models.DateTimeField(auto_now_add=True)
    sound = models.BooleanField()
    data = models.JSONField()
