"""Whether a worker exists and responds."""

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
    """The token of the worker, paused or not; None if there is none."""
    return holder(_lock())


def is_away() -> bool:
    """Whether jobs have to wait because no worker exists or responds. If jobs run inside requests, no worker is needed."""
    return not HUEY.immediate and (working() is None or is_silent(_lock()))
