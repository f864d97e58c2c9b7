"""`zesty starts`: measure how often the start of a strike is detected."""

import argparse
import json

from drumcore.cli.output import DONE
from drumcore.demo.start_trials import WITHIN_MS, start_trials


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--each", type=int, default=200, metavar="N", help="strikes of each kind (200)")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:

    figures = start_trials(max(1, options.each), options.seed)
    if options.json:
        print(json.dumps([f.model_dump() | {"share": round(f.share, 4)} for f in figures], indent=2))
        return DONE
    print(f"{'':20} within {WITHIN_MS:g} ms   the worst of {max(1, options.each)}")
    for f in figures:
        print(f"{f.kind:20} {100 * f.share:9.1f} %   {f.worst_ms:+.2f} ms: {f.worst}")
    return DONE
