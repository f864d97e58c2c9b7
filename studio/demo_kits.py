"""The demo kits, put into the studio once."""

import os
import shutil
import tempfile
from pathlib import Path

from django.conf import settings
from django.db import transaction

from drumcore.demo.files import write_demo
from drumcore.edits.of_pieces import BuildPieces
from drumcore.formats.midi import read_midi
from drumcore.recordings.gathering import files_under
from studio.kits.models import KitRecord
from studio.kits.versions import create_kit, make_edit
from studio.library.models import GrooveRecord, Session
from studio.library.sessions import add_file, read_kept_session


def make_demo() -> list[KitRecord]:
    """Write the demo sessions, bring them in as a user would, and make their kits. Does nothing the second time."""
    done = Path(settings.DATA) / "demo-made"
    if done.exists():
        return []
    made = []
    with tempfile.TemporaryDirectory(prefix="zesty-demo-", dir=settings.DATA) as folder:
        sessions, grooves = write_demo(Path(folder))
        _keep_grooves(grooves)
        for root in reversed(sessions):
            made.append(_keep_kit(root))
            shutil.rmtree(root)
    done.touch()
    return made


def _keep_grooves(paths: list[Path]) -> None:
    known = set(GrooveRecord.objects.values_list("name", flat=True))
    for path in paths:
        if path.stem not in known:
            GrooveRecord.objects.create(name=path.stem, data=read_midi(path).model_dump(mode="json"))


def _keep_kit(root: Path) -> KitRecord:
    record = create_kit(root.name)
    session = Session.objects.create(kit=record, name=f"{root.name} session")
    with transaction.atomic():
        for path in files_under(root):
            add_file(session, path, root / path, durable=False)
        os.sync()
    reading = read_kept_session(session, lambda done, total: None)
    edit = BuildPieces(mics=reading.mics, pieces=reading.pieces)
    return make_edit(record.id, record.current, edit)[2]
