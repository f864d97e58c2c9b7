"""The command `zesty`: the core for scripts and for checks.

With `--json` one JSON document goes to standard output; messages go to standard error. Exit status: 0 done, 1 findings
of level "wrong" (for `check`), 2 unusable input with one sentence.
"""

import argparse
import sys
from collections.abc import Sequence
from importlib import import_module
from importlib.metadata import entry_points

from drumcore.refusals import Refusal

UNUSABLE = 2
OTHERS = "zesty.commands"
"""Under this name a package that stands on the core offers verbs of its own: a function that adds them."""
VERBS = {
    "demo": "write the demo recording sessions and grooves as plain files",
    "read": "say what a folder of recordings holds",
    "build": "make a kit file of a folder of recordings",
    "check": "list what is worth knowing about a kit; exit 1 where something is wrong",
    "hit": "strike a note and say what sounds and where it arrives",
    "climb": "strike every articulation from soft to hard; exit 1 where a harder strike plays softer",
    "groove": "turn a pattern into a MIDI file, or a MIDI file into a pattern",
    "render": "play a MIDI file or a pattern and write one WAV file an output",
    "route": "send every channel where a plan says, and print what did not fit",
    "sheet": "print the track sheet: articulations, notes, outputs and tracks",
    "pieces": "list a kit's pieces, their articulations and microphones",
    "bring": "bring in a piece of another kit, or a kept one, and say what that does",
    "names": "how many takes are placed right by their names, over conventions written for it",
    "starts": "how often the start of a strike is found, over strikes made up for it",
    "microphones": "how often polarity and delay between two microphones are found, over strikes made up for it",
    "treatments": "what the treatments that come with it do to the demo's recordings",
    "spaces": "how long the spaces that come with it take to die away, band by band",
    "schema": "print the form of kit.json, of edits or of play tables as JSON Schema",
}
"""Each is a module beside this one with `add_arguments(parser)` and `run(options)`."""


def main(arguments: Sequence[str] | None = None) -> int:
    arguments = sys.argv[1:] if arguments is None else arguments
    options = _parser(next((each for each in arguments if not each.startswith("-")), "")).parse_args(arguments)
    try:
        return int(options.run(options))
    except Refusal as refusal:
        print(refusal, file=sys.stderr)
    except OSError as error:
        print(f"{error.filename or 'A file'} could not be used: {error.strerror or error}.", file=sys.stderr)
    return UNUSABLE


def _parser(wanted: str) -> argparse.ArgumentParser:
    """Loads only the module of the verb that was asked for, so that `--help` does not import the whole core."""
    parser = argparse.ArgumentParser(prog="zesty", description="Turn drum recordings into a kit that plays.")
    verbs = parser.add_subparsers(required=True, metavar="COMMAND")
    for name, says in VERBS.items():
        verb = verbs.add_parser(name, help=says)
        if name == wanted:
            module = import_module(f"drumcore.cli.{name}")
            module.add_arguments(verb)
            verb.set_defaults(run=module.run)
    for others in entry_points(group=OTHERS):
        others.load()(verbs)
    return parser
