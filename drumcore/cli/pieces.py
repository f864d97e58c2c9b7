"""`zesty pieces`: list a kit's pieces with their articulations and microphones."""

import argparse
import json
from pathlib import Path
from typing import Any

from drumcore.cli.kit_files import opened_kit
from drumcore.cli.output import DONE
from drumcore.kit.lookup import pieces_of
from drumcore.routing.default_routing import mics_heard
from drumcore.shelf.entries import counted


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kit", type=Path, metavar="KIT")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    with opened_kit(options.kit) as opened:
        names = {mic.id: mic.name for mic in opened.kit.mics}
        listed: list[dict[str, Any]] = [
            {
                "name": piece.name,
                "family": piece.family.value,
                "articulations": [
                    {"name": articulation.name, "layers": len(articulation.layers), "takes": len(articulation.takes)}
                    for articulation in piece.articulations
                ],
                "microphones": [names[mic] for mic in mics_heard(piece)],
            }
            for piece in pieces_of(opened.kit)
        ]
    if options.json:
        print(json.dumps({"pieces": listed}, ensure_ascii=False, indent=1))
        return DONE
    for piece in listed:
        print(f"{piece['name']} ({piece['family']}), heard by {', '.join(piece['microphones']) or 'no microphone'}")
        for articulation in piece["articulations"]:
            layers, takes = counted(articulation["layers"], "layer"), counted(articulation["takes"], "take")
            print(f"  {articulation['name']}: {layers}, {takes}")
    return DONE
