"""`zesty sheet`: print the track sheet."""

import argparse
from pathlib import Path

from drumcore.cli.kit_files import opened_kit
from drumcore.cli.output import DONE
from drumcore.formats.track_sheet_file import SHEET_FORMS
from drumcore.routing.track_sheet import track_sheet


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kit", type=Path, metavar="KIT")
    parser.add_argument("--as", dest="form", choices=("csv", "json", "html"), default="csv")
    parser.add_argument("-o", "--output", type=Path, metavar="FILE", help="standard output otherwise")


def run(options: argparse.Namespace) -> int:
    with opened_kit(options.kit) as opened:
        text = SHEET_FORMS[options.form](track_sheet(opened.kit))
    if options.output is None:
        print(text, end="")
    else:
        options.output.write_text(text, encoding="utf-8")
    return DONE
