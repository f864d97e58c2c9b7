"""Commands of `zesty` that ask the studio's folder, running or not. What they need is loaded once they run."""

import argparse
import json
import os
from pathlib import Path
from typing import Any


def add_to(commands: Any) -> None:
    """Add them to the commands of `zesty`."""
    library = commands.add_parser("library", help="list what is kept in the studio's folder (ZESTY_DATA)")
    library.add_argument(
        "--kind", metavar="KIND", help="one kind: kits, pieces, treatments, grooves and so on, or put_away"
    )
    library.add_argument("--json", action="store_true")
    library.set_defaults(run=_library)


def _library(options: argparse.Namespace) -> int:
    from drumcore.shelf.entries import Entry

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


def _entries(kind: str | None) -> list[Any]:
    """Everything that is kept, or one kind of it, by name. Raises Refusal where there is no studio, or an older one's."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    import django
    from django.db import OperationalError, connection

    from drumcore.refusals import Refusal

    django.setup()
    database = Path(connection.settings_dict["NAME"])
    if not database.exists():
        raise Refusal(f"There is no studio in {database.parent}; start one there, or say where it is with ZESTY_DATA.")
    from drumcore.shelf.finding import Sort, find
    from studio.catalogue.kinds import LISTED, listed_of

    put_away = kind == "put_away"
    chosen = LISTED.values() if kind is None or put_away else [listed_of(kind)]
    try:
        return [entry for each in chosen for entry in find(each.entries(put_away), sort=Sort.NAME).entries]
    except OperationalError:
        raise Refusal("This folder was kept by another version; start the studio on it once.") from None
