"""The commands that say what a kit holds, and take a piece of another into it. What they need is loaded once they run."""

import argparse
import json
from pathlib import Path
from typing import Any


def add_to(commands: Any) -> None:
    """Add them to the commands of `zesty`."""
    pieces = commands.add_parser("pieces", help="list a kit's pieces, their strokes and microphones")
    pieces.add_argument("kit", type=Path, metavar="KIT")
    pieces.add_argument("--json", action="store_true")
    pieces.set_defaults(run=_pieces)
    take = commands.add_parser("take", help="take a piece of another kit, or a kept one, and say what that does")
    take.add_argument("kit", type=Path, metavar="KIT")
    take.add_argument("--piece", required=True, metavar="NAME")
    take.add_argument("--from", dest="source", type=Path, required=True, metavar="KIT_OR_PIECE")
    take.add_argument(
        "--articulations", type=_listed, metavar="A,B", help="the strokes that come along (all otherwise)"
    )
    take.add_argument("--mics", type=_listed, metavar="A,B", help="the microphones that come along (all otherwise)")
    take.add_argument("--into", type=_listed, metavar="MIC=CHANNEL,...", help="microphones that enter other channels")
    how = take.add_mutually_exclusive_group(required=True)
    how.add_argument("--place", metavar="NAME", help="in the place of a piece")
    how.add_argument("--with", dest="beside", metavar="NAME", help="on every note of a piece, sounding together")
    how.add_argument("--notes", type=_notes, metavar="N,N", help="a piece of its own, a stroke a note")
    take.add_argument("--with-treatment", action="store_true", help="its channel's treatment comes along")
    take.add_argument("--with-touch", action="store_true", help="its curves and what harder does come along")
    take.add_argument("--as-loud", action="store_true", help="as loud as what it replaces or sounds with")
    take.add_argument("-o", "--output", type=Path, required=True, metavar="KIT")
    take.set_defaults(run=_take)


def _pieces(options: argparse.Namespace) -> int:
    from drumcore.commands import opened_kit
    from drumcore.kit.lookup import pieces_of
    from drumcore.routing.default_routing import mics_heard
    from drumcore.shelf.entries import counted

    with opened_kit(options.kit) as opened:
        names = {mic.id: mic.name for mic in opened.kit.mics}
        listed: list[dict[str, Any]] = [
            {
                "name": piece.name,
                "family": piece.family.value,
                "articulations": [
                    {"name": stroke.name, "layers": len(stroke.layers), "takes": len(stroke.takes)}
                    for stroke in piece.articulations
                ],
                "microphones": [names[mic] for mic in mics_heard(piece)],
            }
            for piece in pieces_of(opened.kit)
        ]
    if options.json:
        print(json.dumps({"pieces": listed}, ensure_ascii=False, indent=1))
        return 0
    for piece in listed:
        print(f"{piece['name']} ({piece['family']}), heard by {', '.join(piece['microphones']) or 'no microphone'}")
        for stroke in piece["articulations"]:
            layers, takes = counted(stroke["layers"], "layer"), counted(stroke["takes"], "take")
            print(f"  {stroke['name']}: {layers}, {takes}")
    return 0


def _take(options: argparse.Namespace) -> int:
    import contextlib

    from drumcore.commands import opened_kit
    from drumcore.describing.taking import compared, consequences, tried
    from drumcore.edits.take_piece_values import OnNote, TakePiece
    from drumcore.formats.kit_file import write_kit_file
    from drumcore.kit.lookup import pieces_of
    from drumcore.listening.loudness import piece_level_db
    from drumcore.playing.sounds import FileSounds
    from drumcore.refusals import Refusal
    from drumcore.shelf.kept_piece import kept_piece

    with contextlib.ExitStack() as stack:
        here, there = (stack.enter_context(opened_kit(path)) for path in (options.kit, options.source))
        kit = here.kit
        places = {**there.recordings, **there.responses, **here.recordings, **here.responses}
        kept = kept_piece(there.kit, _called("piece", options.piece, pieces_of(there.kit)))
        (piece,) = kept.kit.pieces
        strokes = tuple(_called("stroke", name, piece.articulations) for name in options.articulations or ())
        instead = _called("piece", options.place, pieces_of(kit)) if options.place else ""
        beside = _called("piece", options.beside, pieces_of(kit)) if options.beside else ""
        chosen = strokes or tuple(stroke.id for stroke in piece.articulations)
        edit = TakePiece(
            alone=kept.kit,
            of=kept.of,
            strokes=strokes or None,
            mics=_entering(options, kept.kit, kit),
            instead_of=instead,
            together_with=beside,
            notes=tuple(OnNote(stroke=s, note=n) for s, n in zip(chosen, options.notes or (), strict=False)),
            treatment=options.with_treatment,
            touch=options.with_touch,
        )
        sounds = FileSounds(lambda content: places[content])
        if options.as_loud and (instead or beside):
            found = compared(kit, edit, lambda of, piece: piece_level_db(of, piece, sounds), as_loud=True)
            if found.theirs_db is None or found.its_db is None:
                raise Refusal(
                    "One of the two makes no sound at velocity 100, so they cannot be brought to one loudness."
                )
            edit = found.edit
        trial = tried(kit, edit)
        for consequence in consequences(trial):
            print(f"! {consequence.said}" if consequence.warns else consequence.said)
        write_kit_file(trial.after, lambda content: places[content], options.output)
    return 0


def _entering(options: argparse.Namespace, alone: Any, kit: Any) -> Any:
    """Where each microphone enters: what is not among `--mics` stays behind, `--into` leads to channels of the kit."""
    from drumcore.edits.take_piece_values import Entering
    from drumcore.refusals import Refusal

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
    """The identifier of the one of a name, case aside. Raises Refusal that lists what there is."""
    from drumcore.refusals import Refusal

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
