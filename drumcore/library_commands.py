"""The commands that say what a kit holds. What they need is loaded once they run."""

import argparse
import json
from pathlib import Path
from typing import Any


def add_to(commands: Any) -> None:
    """Add them to the commands of `zesty`."""
    pieces = commands.add_parser("pieces", help="list a kit's pieces, their strokes and microphones")
    pieces.add_argument("kit", type=Path, metavar="KIT")
    pieces.add_argument("--json", action="store_true")
    pieces.set_defaults(run=_pieces)


def _pieces(options: argparse.Namespace) -> int:
    from drumcore.commands import opened_kit
    from drumcore.kit.lookup import pieces_of
    from drumcore.routing.lanes import mics_heard

    with opened_kit(options.kit) as opened:
        names = {mic.id: mic.name for mic in opened.kit.mics}
        listed: list[dict[str, Any]] = [
            {
                "name": piece.name,
                "family": piece.family.value,
                "articulations": [
                    {"name": stroke.name, "layers": len(stroke.layers), "takes": len(stroke.takes)}
                    for stroke in piece.articulations
                ],
                "microphones": [names[mic] for mic in mics_heard(piece)],
            }
            for piece in pieces_of(opened.kit)
        ]
    if options.json:
        print(json.dumps({"pieces": listed}, ensure_ascii=False, indent=1))
        return 0
    for piece in listed:
        print(f"{piece['name']} ({piece['family']}), heard by {', '.join(piece['microphones']) or 'no microphone'}")
        for stroke in piece["articulations"]:
            print(f"  {stroke['name']}: {stroke['layers']} layers, {stroke['takes']} takes")
    return 0
