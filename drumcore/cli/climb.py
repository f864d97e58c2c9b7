"""`zesty climb`: play every articulation from soft to hard and print its level at each velocity."""

import argparse
from dataclasses import asdict
from pathlib import Path

from drumcore.cli.kit_files import opened_kit, played
from drumcore.cli.output import DONE, FOUND_WRONG, print_json
from drumcore.listening.velocity_sweep import climbs


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kit", type=Path, metavar="KIT")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    with opened_kit(options.kit) as opened:
        found = list(climbs(*played(opened)))
    if options.json:
        print_json({"articulations": [{**asdict(climb), "climbs": climb.climbs} for climb in found]})
    else:
        for climb in found:
            soft, hard = climb.levels_db[1], climb.levels_db[127]
            verdict = "climbs" if climb.climbs else "FALLS"
            print(
                f"{climb.piece + ' · ' + climb.articulation:34} {soft:7.1f} to {hard:6.1f} dB  greatest fall {climb.fall_db:5.2f} dB, "
                f"{climb.beyond_db:5.2f} beyond its takes’ spread  {verdict}"
            )
    return DONE if all(climb.climbs for climb in found) else FOUND_WRONG
