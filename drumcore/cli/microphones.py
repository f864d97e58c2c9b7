"""`zesty microphones`: measure how often polarity and delay between two microphones are detected."""

import argparse
import json
from itertools import groupby

from drumcore.cli.output import DONE
from drumcore.demo.mic_trials import DIRECT_DB, WITHIN_MS, mic_trials


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--each", type=int, default=60, metavar="N", help="strikes of each kind and distance (60)")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    figures = mic_trials(max(1, options.each), options.seed)
    if options.json:
        print(json.dumps([f.model_dump() for f in figures], indent=2))
        return DONE
    print("direct over reverberant   " + "".join(f"{db:+9} dB" for db in DIRECT_DB))
    for kind, row in groupby(figures, key=lambda f: f.kind):
        cells = list(row)
        answered = "".join(f"{100 * f.answered / f.tried:10.0f} %" for f in cells)
        wrong = "".join(f"{100 * f.wrong / max(1, f.answered):10.1f} %" for f in cells)
        print(f"{kind:14} answered    {answered}\n{'':14} wrong sign  {wrong}")
    said = sum(f.answered for f in figures)
    signs, delays = sum(f.wrong for f in figures), sum(f.wrong_delay for f in figures)
    print(
        f"of {said} answers {signs} signs were wrong ({100 * signs / max(1, said):.2f} %), "
        f"{delays} delays were off by over {WITHIN_MS:g} ms ({100 * delays / max(1, said):.2f} %)"
    )
    return DONE
