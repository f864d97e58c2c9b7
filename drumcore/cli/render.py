"""`zesty render`: render a MIDI file or a pattern to one WAV file per output."""

import argparse
from pathlib import Path

from drumcore.cli.kit_files import opened_kit, played
from drumcore.cli.numbers import whole
from drumcore.cli.output import DONE, print_json, say
from drumcore.formats.kit_file import OpenedKit
from drumcore.formats.midi import read_midi
from drumcore.formats.pattern_file import read_pattern_file
from drumcore.grooves.compiling import events_of
from drumcore.grooves.targets import found_in
from drumcore.grooves.values import PlayedEvent
from drumcore.kit.rates import RATES, USUAL_RATE
from drumcore.kit.values import Kit
from drumcore.playing.stems import write_stems
from drumcore.refusals import Refusal
from drumcore.shelf.entries import counted


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kit", type=Path, metavar="KIT")
    parser.add_argument("groove", type=Path, metavar="GROOVE.mid|GROOVE.json")
    parser.add_argument("-o", "--output", type=Path, required=True, metavar="DIR")
    parser.add_argument("--rate", type=int, choices=RATES, default=USUAL_RATE)
    parser.add_argument("--bits", type=int, choices=(16, 24, 32), default=24)
    parser.add_argument("--channel", type=whole(1, 16), metavar="1..16", help="play one MIDI channel only")
    parser.add_argument("--pattern", type=whole(1, 65535), metavar="N", help="of a file that holds several")
    parser.add_argument(
        "--pass",
        dest="first_pass",
        type=whole(1, 100_000),
        default=1,
        metavar="N",
        help="of a pattern: which pass comes first",
    )
    parser.add_argument("--passes", type=whole(1, 1000), default=1, metavar="N", help="of a pattern: how many")
    parser.add_argument("--bars", type=_bars, metavar="1-8", help="of a pattern: only these bars")
    parser.add_argument("--seed", type=whole(0, 2**32 - 1), metavar="N", help="of a pattern: how its feel wanders")
    parser.add_argument("--json", action="store_true")


def _bars(text: str) -> tuple[int, int]:
    first, _, last = text.partition("-")
    if not (first.isdigit() and (last or first).isdigit() and 1 <= int(first) <= int(last or first)):
        raise argparse.ArgumentTypeError(f"“{text}” names no bars; write 1-8, or 3")
    return int(first), int(last or first)


def run(options: argparse.Namespace) -> int:
    if not options.groove.is_file():
        raise Refusal(f"{options.groove} is not a file; give a MIDI file or a pattern.")
    with opened_kit(options.kit) as opened:
        kit = opened.kit.but(rate_hz=options.rate)
        table, sounds = played(OpenedKit(kit, opened.recordings, opened.responses))
        listed = write_stems(table, _events(options, kit), sounds, options.output, bits=options.bits)
    for stem in listed["stems"]:
        if stem["clipped_samples"] and options.bits != 32:
            say(f"{stem['file']} goes over full scale in {stem['clipped_samples']} samples; lower its channels.")
    if options.json:
        print_json(listed)
    else:
        for stem in listed["stems"]:
            print(f"{options.output / stem['file']}  peak {stem['peak_dbfs']:.1f} dBFS")
    return DONE


def _events(options: argparse.Namespace, kit: Kit) -> tuple[PlayedEvent, ...]:
    if options.groove.suffix.lower() != ".json":
        return read_midi(options.groove, options.channel, pattern=options.pattern).events
    pattern = read_pattern_file(options.groove)
    if options.seed is not None:
        pattern = pattern.but(feel=pattern.feel.but(seed=options.seed))
    if options.bars is not None and options.bars[1] > pattern.bars:
        raise Refusal(f"{pattern.name} has {counted(pattern.bars, 'bar')}; there is no bar {options.bars[1]}.")
    here = found_in(kit, [row.target for row in pattern.rows])
    for row in pattern.rows:
        if row.target not in here:
            say(
                f"{row.target.piece or row.target.family.value} · {row.target.articulation} is not in {kit.name}; it is silent."
            )
    first = options.first_pass - 1
    return events_of(pattern, range(first, first + options.passes), here, kit.rate_hz, options.bars)
