"""Uploads as files."""

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from ninja.files import UploadedFile


@contextmanager
def on_disk(upload: UploadedFile) -> Iterator[Path]:
    """An upload as a temporary file."""
    with tempfile.TemporaryDirectory(prefix="zesty-") as folder:
        path = Path(folder) / f"upload{Path(upload.name or '').suffix.lower()[:8]}"
        with path.open("wb") as file:
            for chunk in upload.chunks():
                file.write(chunk)
        yield path
