"""The command `zesty`: the core for people who script, and for checking.

With `--json` one JSON document goes to standard output; messages go to standard error. Exit status: 0 done, 1 findings
of level "wrong" (for `check`), 2 unusable input with one sentence.
"""

import argparse
import sys
from collections.abc import Callable, Sequence
from importlib.metadata import entry_points
from pathlib import Path
from typing import Any

from drumcore import library_commands, routing_commands, schema_command, trial_commands
from drumcore.formats.suffix import SUFFIX
from drumcore.kit.rates import RATES, USUAL_RATE
from drumcore.refusals import Refusal

UNUSABLE = 2
OTHERS = "zesty.commands"
"""Under this name a package that stands on the core offers commands of its own: a function that adds them."""


def main(arguments: Sequence[str] | None = None) -> int:
    options = _parser().parse_args(arguments)
    try:
        return int(options.run(options))
    except Refusal as refusal:
        print(refusal, file=sys.stderr)
    except OSError as error:
        print(f"{error.filename or 'A file'} could not be used: {error.strerror or error}.", file=sys.stderr)
    return UNUSABLE


def _lazily(name: str) -> Callable[[argparse.Namespace], int]:
    """A command, by its name, whose module is loaded when it runs: `--help` should not take as long as the core."""

    def run(options: argparse.Namespace) -> int:
        from drumcore import commands

        return int(getattr(commands, f"{name}_command")(options))

    return run


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="zesty", description="Turn drum recordings into a kit that plays.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    trial_commands.add_to(commands)
    routing_commands.add_to(commands)
    library_commands.add_to(commands)
    schema_command.add_to(commands)
    for others in entry_points(group=OTHERS):
        others.load()(commands)
    demo = commands.add_parser("demo", help="write the demo recording sessions and grooves as plain files")
    demo.add_argument("folder", type=Path, metavar="DIR")
    demo.add_argument("--figures", action="store_true", help="print its bands beside those of real drums")
    demo.set_defaults(run=_lazily("demo"))

    read = commands.add_parser("read", help="say what a folder of recordings holds")
    read.add_argument("folder", type=Path, metavar="DIR")
    read.add_argument("--json", action="store_true")
    read.set_defaults(run=_lazily("read"))

    build = commands.add_parser("build", help="make a kit file of a folder of recordings")
    build.add_argument("folder", type=Path, metavar="DIR")
    build.add_argument("-o", "--output", type=Path, required=True, metavar=f"KIT{SUFFIX}")
    build.add_argument("--name", help="the kit's name (the folder's otherwise)")
    build.set_defaults(run=_lazily("build"))

    check = commands.add_parser("check", help="list what is worth knowing about a kit; exit 1 where something is wrong")
    check.add_argument("kit", type=Path, metavar="KIT")
    check.add_argument(
        "--lines",
        action="store_true",
        help="strike every stroke and say where it arrives; exit 1 where one is not as planned",
    )
    check.add_argument("--json", action="store_true")
    check.set_defaults(run=_lazily("check"))

    strike = commands.add_parser("hit", help="strike a note and say what sounds and where it arrives")
    strike.add_argument("kit", type=Path, metavar="KIT")
    strike.add_argument("note", type=_whole(0, 127), metavar="NOTE")
    strike.add_argument("velocity", type=_whole(1, 127), metavar="VELOCITY")
    strike.add_argument("--strikes", type=_whole(1, 1000), default=1, metavar="N")
    strike.add_argument("--openness", type=_whole(0, 127), default=127, metavar="CC4", help="hats' pedal, 127 is open")
    strike.add_argument("--json", action="store_true")
    strike.set_defaults(run=_lazily("hit"))

    climb = commands.add_parser(
        "climb", help="strike every stroke from soft to hard; exit 1 where a harder strike plays softer"
    )
    climb.add_argument("kit", type=Path, metavar="KIT")
    climb.add_argument("--json", action="store_true")
    climb.set_defaults(run=_lazily("climb"))

    render = commands.add_parser("render", help="play a MIDI file and write one WAV file an output")
    render.add_argument("kit", type=Path, metavar="KIT")
    render.add_argument("groove", type=Path, metavar="GROOVE.mid")
    render.add_argument("-o", "--output", type=Path, required=True, metavar="DIR")
    render.add_argument("--rate", type=int, choices=RATES, default=USUAL_RATE)
    render.add_argument("--bits", type=int, choices=(16, 24, 32), default=24)
    render.add_argument("--channel", type=_whole(1, 16), metavar="1..16", help="play one MIDI channel only")
    render.add_argument("--pattern", type=_whole(1, 65535), metavar="N", help="of a file that holds several")
    render.add_argument("--json", action="store_true")
    render.set_defaults(run=_lazily("render"))
    return parser


def _whole(low: int, high: int) -> Any:
    def whole(text: str) -> int:
        if not text.isdecimal() or not low <= int(text) <= high:
            raise argparse.ArgumentTypeError(f"{text} is not a whole number from {low} to {high}")
        return int(text)

    return whole


if __name__ == "__main__":
    sys.exit(main())
