"""The command that prints the form of what this program writes as JSON Schema, for programs that write or check it."""

import argparse
import json
from typing import Any

KIT, EDITS, TABLE = "kit", "edits", "table"
FORMS = {KIT: "kit.json", EDITS: "an edit", TABLE: "a play table"}


def add_to(commands: Any) -> None:
    """Add it to the commands of `zesty`."""
    schema = commands.add_parser("schema", help="print the form of kit.json, of edits or of play tables as JSON Schema")
    schema.add_argument("form", choices=FORMS, metavar="|".join(FORMS))
    schema.set_defaults(run=_schema)


def _schema(options: argparse.Namespace) -> int:
    print(json.dumps(schema_of(options.form), indent=1, ensure_ascii=False))
    return 0


def schema_of(form: str) -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of one of FORMS: every field with its range and what it is where it is left out."""
    from pydantic import TypeAdapter

    from drumcore.edits.values import Edit
    from drumcore.kit.values import Kit
    from drumcore.playing.play_table import PlayTable

    wanted: Any = {KIT: Kit, EDITS: Edit, TABLE: PlayTable}[form]
    return TypeAdapter(wanted).json_schema()
