"""Long work: what it is, how far it is, how it ended."""

import uuid

from django.db import models

from studio.people.models import Owned


class Job(Owned):
    """`state`: waiting, running, done, failed, cancelled, or stopped (its worker died; it can be run again). `worker`
    is the process that runs it; `kit` the id of its kit.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    kind = models.CharField(max_length=40)
    kit = models.CharField(max_length=80, null=True, db_index=True, db_column="kit_id")
    arguments = models.JSONField(default=dict)
    state = models.CharField(max_length=12, default="waiting")
    done = models.IntegerField(default=0)
    total = models.IntegerField(default=0)
    message = models.CharField(max_length=600, blank=True)
    result = models.JSONField(default=dict)
    cancel_asked = models.BooleanField(default=False)
    worker = models.CharField(max_length=32, blank=True)
    created = models.DateTimeField(auto_now_add=True)
