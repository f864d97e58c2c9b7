"""`zesty read`: list what a folder of recordings holds."""

import argparse
from pathlib import Path
from typing import Any

from drumcore.cli.output import DONE, finding_document, print_findings, print_json
from drumcore.findings.rules import notice_session
from drumcore.recordings.session import SessionReading, read_folder
from drumcore.shelf.entries import counted


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("folder", type=Path, metavar="DIR")
    parser.add_argument("--json", action="store_true")


def reading_document(reading: SessionReading) -> dict[str, Any]:
    """What `zesty read --json` prints; layers run from softest to hardest."""
    names = {mic.id: mic.name for mic in reading.mics}
    pieces = []
    for piece in reading.pieces:
        articulations = []
        for articulation in piece.articulations:
            takes = {
                take.id: {
                    "level_db": take.level_db,
                    "start_ms": take.start_ms,
                    "hand": take.hand,
                    "recordings": {names[r.mic]: r.path for r in take.recordings},
                }
                for take in articulation.takes
            }
            layers = [{"takes": [takes[i] for i in layer.takes]} for layer in articulation.layers]
            articulations.append({"name": articulation.name, "layers": layers})
        pieces.append({"name": piece.name, "family": piece.family.value, "articulations": articulations})
    return {
        "microphones": [{"name": m.name, "kind": m.kind.value, "width": m.width.value} for m in reading.mics],
        "pieces": pieces,
        "unread": [{"path": u.path, "why": u.why} for u in reading.unread],
        "findings": [finding_document(f) for f in notice_session(reading)],
    }


def run(options: argparse.Namespace) -> int:
    reading = read_folder(options.folder)
    if options.json:
        print_json(reading_document(reading))
    else:
        counts = ((reading.files, "file"), (reading.takes, "take"), (len(reading.mics), "microphone"))
        print(", ".join(counted(number, noun) for number, noun in counts))
        for piece in reading.pieces:
            for articulation in piece.articulations:
                sizes = " ".join(str(len(layer.takes)) for layer in articulation.layers)
                layers = counted(len(articulation.layers), "layer")
                print(f"  {piece.name} · {articulation.name}: {layers} of {sizes} take{'' if sizes == '1' else 's'}")
        for reason in reading.reasons:
            print(reason)
        print_findings(notice_session(reading))
    return DONE
