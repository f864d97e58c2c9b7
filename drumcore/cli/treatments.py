"""`zesty treatments`: measure the shipped treatments on the demo's recordings."""

import argparse
import json
from pathlib import Path

from drumcore.cli.output import DONE
from drumcore.demo.treatment_figures import treatment_figures


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("session", type=Path, metavar="DIR", help="the demo's session, as “zesty demo” writes it")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    figures = treatment_figures(options.session)
    if options.json:
        print(json.dumps([f.model_dump() for f in figures], indent=2))
        return DONE
    print(f"{'':32} level   crest   20–200  200–2k  2k–18k Hz, dB")
    for f in figures:
        cells = "".join(f"{value:+8.1f}" for value in (f.level_db, f.crest_db, *f.bands_db))
        print(f"{f.name:31}{cells}   on {f.heard_on}")
    return DONE
