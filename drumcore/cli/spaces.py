"""`zesty spaces`: measure the decay times of the shipped reverbs."""

import argparse
import json

from drumcore.cli.output import DONE
from drumcore.demo.space_figures import space_figures


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    figures = space_figures()
    if options.json:
        print(json.dumps([f.model_dump() for f in figures], indent=2))
        return DONE
    print(f"{'':16}lasts  " + "".join(f"{band.hz:>7g}" for band in figures[0].decay) + " Hz, seconds to −60 dB")
    for f in figures:
        cells = "".join("      –" if band.seconds is None else f"{band.seconds:7.2f}" for band in f.decay)
        off = f"   at most {100 * f.off:.0f} % off" if f.off is not None else ""
        print(f"{f.name:15}{f.seconds:5.2f} s {cells}{off}")
    return DONE
