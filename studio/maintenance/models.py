"""When the studio was last backed up and last checked, and what was found."""

from django.db import models


class MaintenanceRun(models.Model):
    """One backup or check that came to its end; `data` is its report."""

    kind = models.CharField(max_length=10)
    ended = models.DateTimeField(auto_now_add=True)
    sound = models.BooleanField()
    data = models.JSONField()
