"""`zesty render`: render a MIDI file to one WAV file per output."""

import argparse
from pathlib import Path

from drumcore.cli.kit_files import opened_kit, played
from drumcore.cli.numbers import whole
from drumcore.cli.output import DONE, print_json, say
from drumcore.formats.kit_file import OpenedKit
from drumcore.formats.midi import read_midi
from drumcore.kit.rates import RATES, USUAL_RATE
from drumcore.playing.stems import write_stems
from drumcore.refusals import Refusal


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kit", type=Path, metavar="KIT")
    parser.add_argument("groove", type=Path, metavar="GROOVE.mid")
    parser.add_argument("-o", "--output", type=Path, required=True, metavar="DIR")
    parser.add_argument("--rate", type=int, choices=RATES, default=USUAL_RATE)
    parser.add_argument("--bits", type=int, choices=(16, 24, 32), default=24)
    parser.add_argument("--channel", type=whole(1, 16), metavar="1..16", help="play one MIDI channel only")
    parser.add_argument("--pattern", type=whole(1, 65535), metavar="N", help="of a file that holds several")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    if not options.groove.is_file():
        raise Refusal(f"{options.groove} is not a file; give a MIDI file.")
    groove = read_midi(options.groove, options.channel, pattern=options.pattern)
    with opened_kit(options.kit) as opened:
        kit = opened.kit.but(rate_hz=options.rate)
        table, sounds = played(OpenedKit(kit, opened.recordings, opened.responses))
        listed = write_stems(table, groove.events, sounds, options.output, bits=options.bits)
    for stem in listed["stems"]:
        if stem["clipped_samples"] and options.bits != 32:
            say(f"{stem['file']} goes over full scale in {stem['clipped_samples']} samples; lower its channels.")
    if options.json:
        print_json(listed)
    else:
        for stem in listed["stems"]:
            print(f"{options.output / stem['file']}  peak {stem['peak_dbfs']:.1f} dBFS")
    return DONE
