"""Puts the demo kits into the studio, once."""

import os
import shutil
import tempfile
from pathlib import Path

from django.conf import settings

from drumcore.demo.buses import shared
from drumcore.demo.files import DEMO_VERSION, write_demo
from drumcore.demo.recordist import BOATHOUSE, SAYS
from drumcore.edits.build_pieces import free_name
from drumcore.edits.pieces import BuildPieces, DescribeKit
from drumcore.edits.values import Several
from drumcore.formats.midi import read_midi
from drumcore.recordings.files import files_under
from studio.catalogue.previews import Item, make_now
from studio.kits.models import KitRecord
from studio.kits.versions import create_kit, make_edit
from studio.people.workspace import LOCAL, acting_in
from studio.sessions.incoming import incoming, keep_names
from studio.sessions.models import Session
from studio.sessions.reading import read_kept_session
from studio.shelves.models import GrooveRecord


@acting_in(LOCAL)
def make_demo() -> list[KitRecord]:
    """Writes the demo sessions, imports them as a user would, and builds their kits. It does nothing the second time.
    If an older demo exists, the new one is added beside it, so that changes people made are kept.
    """
    done = Path(settings.DATA) / "demo-made"
    if done.exists() and _version_in(done) >= DEMO_VERSION:
        return []
    made = []
    with tempfile.TemporaryDirectory(prefix="zesty-demo-", dir=settings.DATA) as folder:
        sessions, grooves = write_demo(Path(folder))
        _keep_grooves(grooves)
        for root in reversed(sessions):
            made.append(_keep_kit(root))
            shutil.rmtree(root)
    for record in made:
        make_now(Item(kind="kits", id=record.id))
    done.write_text(f"{DEMO_VERSION}\n")
    return made


def _version_in(path: Path) -> int:
    """The version of the demo that was made; an unreadable one counts as the newest, so that nothing is made twice."""
    text = path.read_bytes().strip() or b"1"
    return int(text) if text.isdigit() else DEMO_VERSION


def _free_name(name: str) -> str:
    """The kit's name, or a name that says it was recorded again if the first is in use."""
    taken = set(KitRecord.objects.filter(put_away=False).values_list("name", flat=True))
    again = name if name not in taken else f"{name}, recorded again"
    return again if again not in taken else free_name(again, taken)


def _keep_grooves(paths: list[Path]) -> None:
    known = set(GrooveRecord.objects.values_list("name", flat=True))
    for path in paths:
        if path.stem not in known:
            GrooveRecord.objects.create(name=path.stem, data=read_midi(path).model_dump(mode="json"), ships=True)


def _keep_kit(root: Path) -> KitRecord:
    record = create_kit(_free_name(root.name))
    session = Session.objects.create(name=f"{root.name} session")
    record.sessions.add(session)
    came = [incoming(path, root / path, durable=False) for path in files_under(root)]
    os.sync()
    keep_names(session, [file for file in came if file])
    reading = read_kept_session(session, lambda done, total: None)
    build = BuildPieces(mics=reading.mics, pieces=reading.pieces)
    description, tags = SAYS[root.name]
    edits = (
        build,
        *(shared() if root.name == BOATHOUSE else ()),
        DescribeKit(description=description, tags=tags),
    )
    record = make_edit(record.id, record.current, Several(said=f"{root.name} made", edits=edits))[2]
    record.ships = True
    record.save()
    return record
