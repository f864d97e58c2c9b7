"""The commands that print how often something is found, over strikes made up with the truth known."""

import argparse
import json
from itertools import groupby
from pathlib import Path
from typing import Any


def add_to(commands: Any) -> None:
    """Add them to the commands of `zesty`."""
    starts = commands.add_parser("starts", help="how often the start of a strike is found, over strikes made up for it")
    starts.add_argument("--each", type=int, default=200, metavar="N", help="strikes of each kind (200)")
    starts.set_defaults(run=_starts)
    microphones = commands.add_parser(
        "microphones",
        help="how often polarity and delay between two microphones are found, over strikes made up for it",
    )
    microphones.add_argument("--each", type=int, default=60, metavar="N", help="strikes of each kind and distance (60)")
    microphones.set_defaults(run=_microphones)
    treatments = commands.add_parser(
        "treatments", help="what the treatments that come with it do to the demo's recordings"
    )
    treatments.add_argument("session", type=Path, metavar="DIR", help="the demo's session, as “zesty demo” writes it")
    treatments.add_argument("--json", action="store_true")
    treatments.set_defaults(run=_treatments)
    spaces = commands.add_parser("spaces", help="how long the spaces that come with it take to die away, band by band")
    spaces.add_argument("--json", action="store_true")
    spaces.set_defaults(run=_spaces)
    for command in (starts, microphones):
        command.add_argument("--seed", type=int, default=1)
        command.add_argument("--json", action="store_true")


def _treatments(options: argparse.Namespace) -> int:
    from drumcore.demo.treatment_figures import treatment_figures

    figures = treatment_figures(options.session)
    if options.json:
        print(json.dumps([f.model_dump() for f in figures], indent=2))
        return 0
    print(f"{'':32} level   crest   20–200  200–2k  2k–18k Hz, dB")
    for f in figures:
        cells = "".join(f"{value:+8.1f}" for value in (f.level_db, f.crest_db, *f.bands_db))
        print(f"{f.name:31}{cells}   on {f.heard_on}")
    return 0


def _spaces(options: argparse.Namespace) -> int:
    from drumcore.demo.space_figures import space_figures

    figures = space_figures()
    if options.json:
        print(json.dumps([f.model_dump() for f in figures], indent=2))
        return 0
    print(f"{'':16}lasts  " + "".join(f"{band.hz:>7g}" for band in figures[0].decay) + " Hz, seconds to −60 dB")
    for f in figures:
        cells = "".join("      –" if band.seconds is None else f"{band.seconds:7.2f}" for band in f.decay)
        off = f"   at most {100 * f.off:.0f} % off" if f.off is not None else ""
        print(f"{f.name:15}{f.seconds:5.2f} s {cells}{off}")
    return 0


def _starts(options: argparse.Namespace) -> int:
    # Only here: what makes up strikes takes a while to load, and no other command needs it.
    from drumcore.demo.start_trials import WITHIN_MS, start_trials

    figures = start_trials(max(1, options.each), options.seed)
    if options.json:
        print(json.dumps([f.model_dump() | {"share": round(f.share, 4)} for f in figures], indent=2))
        return 0
    print(f"{'':20} within {WITHIN_MS:g} ms   the worst of {max(1, options.each)}")
    for f in figures:
        print(f"{f.kind:20} {100 * f.share:9.1f} %   {f.worst_ms:+.2f} ms: {f.worst}")
    return 0


def _microphones(options: argparse.Namespace) -> int:
    from drumcore.demo.mic_trials import DIRECT_DB, WITHIN_MS, mic_trials

    figures = mic_trials(max(1, options.each), options.seed)
    if options.json:
        print(json.dumps([f.model_dump() for f in figures], indent=2))
        return 0
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
    return 0
