"""`zesty bring`: bring a piece of another kit, or a saved piece, into a kit."""

import argparse
import contextlib
from pathlib import Path
from typing import Any

from drumcore.cli.kit_files import opened_kit
from drumcore.cli.output import DONE
from drumcore.describing.bringing import compared, consequences, tried
from drumcore.edits.bring_piece_values import BringPiece, Entering, OnNote
from drumcore.formats.kit_file import write_kit_file
from drumcore.kit.lookup import pieces_of
from drumcore.listening.loudness import piece_level_db
from drumcore.playing.sounds import FileSounds
from drumcore.refusals import Refusal
from drumcore.shelf.kept_piece import kept_piece


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kit", type=Path, metavar="KIT")
    parser.add_argument("--piece", required=True, metavar="NAME")
    parser.add_argument("--from", dest="source", type=Path, required=True, metavar="KIT_OR_PIECE")
    parser.add_argument(
        "--articulations", type=_listed, metavar="A,B", help="the articulations that come along (all otherwise)"
    )
    parser.add_argument("--mics", type=_listed, metavar="A,B", help="the microphones that come along (all otherwise)")
    parser.add_argument("--into", type=_listed, metavar="MIC=CHANNEL,...", help="microphones that enter other channels")
    how = parser.add_mutually_exclusive_group(required=True)
    how.add_argument("--place", metavar="NAME", help="in the place of a piece")
    how.add_argument("--with", dest="beside", metavar="NAME", help="on every note of a piece, sounding together")
    how.add_argument("--notes", type=_notes, metavar="N,N", help="a piece of its own, an articulation a note")
    parser.add_argument("--with-treatment", action="store_true", help="its channel's treatment comes along")
    parser.add_argument("--with-touch", action="store_true", help="its curves and what harder does come along")
    parser.add_argument("--as-loud", action="store_true", help="as loud as what it replaces or sounds with")
    parser.add_argument("-o", "--output", type=Path, required=True, metavar="KIT")


def run(options: argparse.Namespace) -> int:
    with contextlib.ExitStack() as stack:
        here, there = (stack.enter_context(opened_kit(path)) for path in (options.kit, options.source))
        kit = here.kit
        places = {**there.recordings, **there.responses, **here.recordings, **here.responses}
        kept = kept_piece(there.kit, _called("piece", options.piece, pieces_of(there.kit)))
        (piece,) = kept.kit.pieces
        articulations = tuple(
            _called("articulation", name, piece.articulations) for name in options.articulations or ()
        )
        instead = _called("piece", options.place, pieces_of(kit)) if options.place else ""
        beside = _called("piece", options.beside, pieces_of(kit)) if options.beside else ""
        chosen = articulations or tuple(articulation.id for articulation in piece.articulations)
        edit = BringPiece(
            alone=kept.kit,
            of=kept.of,
            articulations=articulations or None,
            mics=_entering(options, kept.kit, kit),
            instead_of=instead,
            together_with=beside,
            notes=tuple(OnNote(articulation=s, note=n) for s, n in zip(chosen, options.notes or (), strict=False)),
            treatment=options.with_treatment,
            touch=options.with_touch,
        )
        sounds = FileSounds(lambda content: places[content])
        if options.as_loud and (instead or beside):
            found = compared(
                kit, edit, lambda of, at, by: piece_level_db(of, at, sounds, articulations=by), as_loud=True
            )
            if found.theirs_db is None or found.its_db is None:
                raise Refusal(
                    "One of the two makes no sound at velocity 100, so they cannot be brought to one loudness."
                )
            edit = found.edit
        trial = tried(kit, edit)
        for consequence in consequences(trial):
            print(f"! {consequence.said}" if consequence.warns else consequence.said)
        write_kit_file(trial.after, lambda content: places[content], options.output)
    return DONE


def _entering(options: argparse.Namespace, alone: Any, kit: Any) -> Any:
    """Says which microphones come along (`--mics`) and which channel of the kit each one feeds (`--into`)."""
    into: dict[str, str] = {}
    for pair in options.into or ():
        mic, separator, channel = pair.partition("=")
        if not separator:
            raise Refusal(f"--into {pair}: say a microphone and a channel, as Room=Room.")
        into[_called("microphone", mic, alone.mics)] = _called("channel", channel, kit.routing.channels)
    taken = {_called("microphone", name, alone.mics) for name in options.mics} if options.mics else None
    return tuple(
        Entering(mic=mic.id, taken=taken is None or mic.id in taken, channel=into.get(mic.id, "")) for mic in alone.mics
    )


def _called(what: str, name: str, those: Any) -> str:
    """The id of the item with this name (case is ignored). Raises Refusal listing the known names."""
    for one in those:
        if name.strip().casefold() in (one.name.casefold(), one.id.casefold()):
            return str(one.id)
    names = ", ".join(one.name for one in those) or "none"
    raise Refusal(f"There is no {what} “{name.strip()}”; there is {names}.")


def _listed(text: str) -> list[str]:
    return [part.strip() for part in text.split(",") if part.strip()]


def _notes(text: str) -> list[int]:
    parts = _listed(text)
    if not parts or not all(part.isdecimal() and int(part) <= 127 for part in parts):
        raise argparse.ArgumentTypeError(f"{text} is not a list of notes from 0 to 127")
    return [int(part) for part in parts]
