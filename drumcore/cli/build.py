"""`zesty build`: make a kit file from a folder of recordings."""

import argparse
from pathlib import Path

from drumcore.cli.output import DONE, say
from drumcore.edits.apply import apply
from drumcore.edits.pieces import BuildPieces
from drumcore.formats.kit_file import write_kit_file
from drumcore.formats.suffix import SUFFIX
from drumcore.kit.values import Kit, slug
from drumcore.recordings.files import files_under, measure_files
from drumcore.recordings.own_mics import Stored
from drumcore.recordings.session import read_session
from drumcore.refusals import Refusal


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("folder", type=Path, metavar="DIR")
    parser.add_argument("-o", "--output", type=Path, required=True, metavar=f"KIT{SUFFIX}")
    parser.add_argument("--name", help="the kit's name (the folder's otherwise)")


def run(options: argparse.Namespace) -> int:
    root: Path = options.folder
    names = files_under(root)
    measured, unread = measure_files((root / name, name) for name in names)
    places = {file.content: root / file.path for file in measured}

    def locate(recording: Stored) -> Path:
        return root / recording.path

    reading = read_session(measured, unread, locate)
    for entry in reading.unread:
        say(entry.why)
    if not reading.pieces:
        raise Refusal(f"{root} holds no recording whose name says which piece was struck; no kit was made.")
    name = options.name or root.resolve().name or "Kit"
    kit = apply(Kit(id=slug(name), name=name), BuildPieces(mics=reading.mics, pieces=reading.pieces))
    write_kit_file(kit, lambda content: places[content], options.output)
    print(
        f"{options.output}: {len(reading.pieces)} pieces, {reading.takes} takes, {len(reading.unread)} files left out"
    )
    return DONE
