"""Verbs of `zesty` that read the studio's folder, whether the studio is running or not. What they need is imported when
they run.
"""

import argparse
import json
import os
from pathlib import Path
from typing import Any


def add_to(commands: Any) -> None:
    """Adds the verbs to `zesty`."""
    library = commands.add_parser("library", help="list what is kept in the studio's folder (ZESTY_DATA)")
    library.add_argument(
        "--kind", metavar="KIND", help="one kind: kits, pieces, treatments, grooves and so on, or put_away"
    )
    library.add_argument("--json", action="store_true")
    library.set_defaults(run=_library)
    backup = commands.add_parser("backup", help="back up the studio's folder (ZESTY_DATA), running or not")
    backup.add_argument("folder", metavar="FOLDER", type=Path)
    backup.add_argument("--json", action="store_true")
    backup.set_defaults(run=_backup)
    restore = commands.add_parser("restore", help="restore a backup into an empty folder (ZESTY_DATA)")
    restore.add_argument("folder", metavar="FOLDER", type=Path)
    restore.add_argument("--json", action="store_true")
    restore.set_defaults(run=_restore)
    doctor = commands.add_parser("doctor", help="check every file, version and job of the studio's folder (ZESTY_DATA)")
    doctor.add_argument("--repair", action="store_true", help="repair what can be repaired")
    doctor.add_argument("--from", dest="source", metavar="BACKUP", type=Path, help="a backup to repair from")
    doctor.add_argument("--json", action="store_true")
    doctor.set_defaults(run=_doctor)


def _library(options: argparse.Namespace) -> int:
    from drumcore.shelf.entries import Entry

    _of_a_studio()
    from studio.people.workspace import LOCAL, acting_in

    with acting_in(LOCAL):
        entries: list[Entry] = _entries(options.kind)
    if options.json:
        kept = {"kind", "id", "name", "description", "tags", "figures", "ships", "put_away", "changed"}
        document = {"entries": [entry.model_dump(mode="json", include=kept) for entry in entries]}
        print(json.dumps(document, ensure_ascii=False, indent=1))
        return 0
    kind = ""
    for entry in entries:
        if entry.kind != kind:
            kind = entry.kind
            print(f"{kind.capitalize()}:")
        said = ", ".join(part for part in (entry.figures, *entry.tags) if part)
        print(f"  {entry.name}{f' ({said})' if said else ''}{', ships with Zesty Skin' if entry.ships else ''}")
    return 0


WRONG = 1


def _set_up() -> Path:
    """Sets Django up and returns the data folder."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    import django
    from django.conf import settings

    django.setup()
    return Path(settings.DATA)


def _of_a_studio() -> Path:
    """The data folder. Raises Refusal if it holds no studio, or another version's."""
    data = _set_up()
    from django.db import connection
    from django.db.migrations.executor import MigrationExecutor

    from drumcore.refusals import Refusal

    if not Path(connection.settings_dict["NAME"]).exists():
        raise Refusal(f"There is no studio in {data}; start one there, or say where it is with ZESTY_DATA.")
    executor = MigrationExecutor(connection)
    if executor.migration_plan(executor.loader.graph.leaf_nodes()):
        raise Refusal("This folder was saved by another version; start the studio on it once.")
    return data


def _no_progress(done: int, total: int) -> None:
    pass


def _backup(options: argparse.Namespace) -> int:
    data = _of_a_studio()
    from studio.maintenance.backup import write_backup
    from studio.maintenance.runs import remember_backup

    report = write_backup(data, options.folder.absolute(), _no_progress)
    remember_backup(report)
    if options.json:
        print(json.dumps(vars(report), ensure_ascii=False, indent=1))
    else:
        print(f"Backed up to {report.folder}: {report.recordings:,} recordings, {report.copied:,} of them new.")
        print(*report.problems, sep="\n", end="\n" if report.problems else "")
    return 0 if report.sound else WRONG


def _restore(options: argparse.Namespace) -> int:
    data = _set_up()
    from studio.maintenance.backup import restore_backup

    report = restore_backup(options.folder.absolute(), data, _no_progress)
    if options.json:
        print(json.dumps(vars(report), ensure_ascii=False, indent=1))
    else:
        print(f"Restored into {data}: {report.recordings:,} recordings.")
        print(*report.problems, sep="\n", end="\n" if report.problems else "")
    return 0 if report.sound else WRONG


def _doctor(options: argparse.Namespace) -> int:
    data = _of_a_studio()
    from studio.maintenance.doctor import check_studio
    from studio.maintenance.runs import remember_check

    source = options.source.absolute() if options.source else None
    report = check_studio(data, _no_progress, repair=options.repair, source=source)
    remember_check(report)
    if options.json:
        print(json.dumps({**report.as_json(), "sound": report.sound}, ensure_ascii=False, indent=1))
        return 0 if report.sound else WRONG
    print("Looked at " + ", ".join(f"{count:,} {what}" for what, count in report.looked_at.items()) + ".")
    for trouble in report.troubles:
        print(f"{'repaired' if trouble.repaired else trouble.kind}: {trouble.said}")
    print("Everything is intact." if report.sound else "Something is wrong; what is said above was found.")
    return 0 if report.sound else WRONG


def _entries(kind: str | None) -> list[Any]:
    """All library items, or those of one kind, by name. Raises Refusal if there is no studio, or an older one's."""
    from django.db import OperationalError

    from drumcore.refusals import Refusal
    from drumcore.shelf.search import Sort, find
    from studio.catalogue.kinds import LISTED, listed_of

    put_away = kind == "put_away"
    chosen = LISTED.values() if kind is None or put_away else [listed_of(kind)]
    try:
        return [entry for each in chosen for entry in find(each.entries(put_away), sort=Sort.NAME).entries]
    except OperationalError:
        raise Refusal("This folder was saved by another version; start the studio on it once.") from None
