"""`zesty groove`: turn a pattern into a MIDI file, or a MIDI file into a pattern."""

import argparse
from pathlib import Path

from drumcore.cli.kit_files import opened_kit
from drumcore.cli.output import DONE, print_json, say
from drumcore.formats.pattern_file import read_pattern_file, write_pattern_file
from drumcore.formats.pattern_midi import pattern_from_midi, pattern_to_midi
from drumcore.grooves.pattern import DIVISIONS, Target
from drumcore.grooves.targets import notes_of, standard_targets, targets_of
from drumcore.kit.values import Kit
from drumcore.refusals import Refusal

MIDI, JSON = (".mid", ".midi"), ".json"


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("groove", type=Path, metavar="FILE.json|FILE.mid")
    parser.add_argument("-o", "--output", type=Path, required=True, metavar="OUT.mid|OUT.json")
    parser.add_argument(
        "--kit", type=Path, metavar="KIT", help="use the notes of this kit instead of the standard ones"
    )
    parser.add_argument(
        "--steps",
        type=int,
        choices=DIVISIONS,
        metavar="N",
        help="steps to a beat in every row (the fewest that fit otherwise)",
    )
    parser.add_argument("--json", action="store_true", help="print what could not be held as JSON")


def run(options: argparse.Namespace) -> int:
    if not options.groove.is_file():
        raise Refusal(f"{options.groove} is not a file; give a pattern or a MIDI file.")
    kit = None
    if options.kit is not None:
        with opened_kit(options.kit) as opened:
            kit = opened.kit
    kinds = options.groove.suffix.lower(), options.output.suffix.lower()
    if kinds[0] in MIDI and kinds[1] == JSON:
        said = _to_pattern(options, kit)
    elif kinds[0] == JSON and kinds[1] in MIDI:
        pattern = read_pattern_file(options.groove)
        data, said = pattern_to_midi(pattern, notes_of(kit, [row.target for row in pattern.rows]))
        options.output.write_bytes(data)
    else:
        raise Refusal("Give a pattern (.json) and a MIDI file (.mid), in either order.")
    if options.json:
        print_json({"output": str(options.output), "not_held": list(said)})
    else:
        print(options.output)
        for sentence in said:
            say(sentence)
    return DONE


def _to_pattern(options: argparse.Namespace, kit: Kit | None) -> tuple[str, ...]:
    targets = _targets(kit)
    divisions = dict.fromkeys(targets, options.steps) if options.steps else None
    read = pattern_from_midi(options.groove.read_bytes(), options.groove.name, targets, divisions)
    write_pattern_file(read.pattern, options.output)
    return read.not_held


def _targets(kit: Kit | None) -> dict[int, Target]:
    """What each note plays: the first articulation on it in the kit, or the standard one."""
    if kit is None:
        return standard_targets()
    named = targets_of(kit)
    found: dict[int, Target] = {}
    for placed in kit.notes.placed:
        found.setdefault(placed.note, named[placed.articulation])
    return found
