"""`zesty names`: measure how many takes are placed right by their names, over conventions written for it."""

import argparse
import json

from drumcore.cli.output import DONE
from drumcore.demo.naming_conventions import FIRST, LATER
from drumcore.demo.naming_trials import ConventionFigures, try_convention


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--first", action="store_true", help="only the first forty")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    figures = [try_convention(convention, options.seed) for convention in (FIRST if options.first else FIRST + LATER)]
    if options.json:
        print(json.dumps([each.model_dump() for each in figures], indent=2))
        return DONE
    for each in figures:
        asked = f", {each.answers} of {each.questions} questions answered" if each.questions else ""
        print(f"{each.right_after:4} of {each.takes:3} takes  {each.path}{asked}")
        if each.right_after < each.takes:
            print(f"      {each.said}")
    print(summary(figures))
    return DONE


def summary(figures: list[ConventionFigures]) -> str:
    """The shares over all takes, in a sentence."""
    takes = sum(each.takes for each in figures)
    at_once, after = (100.0 * sum(getattr(e, of) for e in figures) / takes for of in ("right", "right_after"))
    wrong = sum(each.wrong_unasked for each in figures)
    return (
        f"{at_once:.1f} % of {takes:,} takes in {len(figures)} conventions are placed right at once, {after:.1f} % after at "
        f"most two answers; {wrong} are placed wrong without a question."
    )
