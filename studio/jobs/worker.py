"""Which worker there is, and whether it gives signs of life."""

import uuid
from pathlib import Path

from django.conf import settings
from huey.contrib.djhuey import HUEY

from studio.storage.locks import holder, is_silent

TOKEN = uuid.uuid4().hex
"""This process, as jobs remember who took them up."""
LOCK_NAME = "worker.lock"


def _lock() -> Path:
    return Path(settings.DATA) / LOCK_NAME


def working() -> str | None:
    """The token of the worker that is there, paused or not; None where there is none."""
    return holder(_lock())


def is_away() -> bool:
    """Whether jobs have to wait: no worker is there, or it gives no sign of life. Where jobs are done inside the request
    that starts them, none is needed."""
    return not HUEY.immediate and (working() is None or is_silent(_lock()))
