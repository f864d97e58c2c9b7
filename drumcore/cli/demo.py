"""`zesty demo`: write the demo's sessions and grooves as plain files."""

import argparse
from pathlib import Path

from drumcore.cli.output import DONE, FOUND_WRONG
from drumcore.demo.figures import compare_with_real_drums, table
from drumcore.demo.files import write_demo


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("folder", type=Path, metavar="DIR")
    parser.add_argument("--figures", action="store_true", help="print its bands beside those of real drums")


def run(options: argparse.Namespace) -> int:
    sessions, grooves = write_demo(options.folder)
    for path in (*sessions, *grooves):
        print(path)
    if not options.figures:
        return DONE
    found = compare_with_real_drums(sessions[0].parent)
    print(table(found))
    return FOUND_WRONG if any(heard.off() for heard in found) else DONE
