"""`zesty schema`: print the JSON Schema of this program's JSON formats, for programs that write or check them."""

import argparse
import json
from typing import Any

from pydantic import TypeAdapter

from drumcore.cli.output import DONE
from drumcore.edits.values import Edit
from drumcore.grooves.pattern import Pattern
from drumcore.kit.values import Kit
from drumcore.playing.play_table import PlayTable

KIT, EDITS, TABLE, PATTERN = "kit", "edits", "table", "pattern"
FORMS = {KIT: "kit.json", EDITS: "an edit", TABLE: "a play table", PATTERN: "a pattern"}


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("form", choices=FORMS, metavar="|".join(FORMS))


def run(options: argparse.Namespace) -> int:
    print(json.dumps(schema_of(options.form), indent=1, ensure_ascii=False))
    return DONE


def schema_of(form: str) -> dict[str, Any]:
    """The JSON Schema (draft 2020-12) of one of FORMS, with each field's range and default."""
    wanted: Any = {KIT: Kit, EDITS: Edit, TABLE: PlayTable, PATTERN: Pattern}[form]
    return TypeAdapter(wanted).json_schema()
