"""`zesty hit`: strike a note; print which takes sound and on which outputs they arrive."""

import argparse
from pathlib import Path
from typing import Any

from drumcore.cli.kit_files import opened_kit, played
from drumcore.cli.numbers import whole
from drumcore.cli.output import DONE, print_json, say
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit
from drumcore.listening.audition import hit
from drumcore.notes.names import note_name


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kit", type=Path, metavar="KIT")
    parser.add_argument("note", type=whole(0, 127), metavar="NOTE")
    parser.add_argument("velocity", type=whole(1, 127), metavar="VELOCITY")
    parser.add_argument("--strikes", type=whole(1, 1000), default=1, metavar="N")
    parser.add_argument("--openness", type=whole(0, 127), default=127, metavar="CC4", help="hats' pedal, 127 is open")
    parser.add_argument("--json", action="store_true")


def run(options: argparse.Namespace) -> int:
    with opened_kit(options.kit) as opened:
        table, sounds = played(opened)
        names = {o.number: o.name for o in table.head.outputs}
        strikes = []
        heard_any = False
        for heard in hit(
            table, sounds, options.note, options.velocity, strikes=options.strikes, openness=options.openness
        ):
            heard_any = heard_any or bool(heard.sounding)
            strikes.append(
                {
                    "note": options.note,
                    "velocity_in": options.velocity,
                    "velocity": heard.sounding[0].velocity if heard.sounding else 0,
                    "piece": heard.sounding[0].piece.name if heard.sounding else None,
                    "articulation": heard.sounding[0].articulation.name if heard.sounding else None,
                    "layer": heard.sounding[0].layer if heard.sounding else None,
                    "take": _take_index(opened.kit, heard.sounding[0]) if heard.sounding else None,
                    "sounding": [
                        {
                            "velocity": s.velocity,
                            "piece": s.piece.name,
                            "articulation": s.articulation.name,
                            "layer": s.layer,
                            "take": _take_index(opened.kit, s),
                            "take_label": s.take.label,
                        }
                        for s in heard.sounding
                    ],
                    "outputs": [
                        {"number": n, "name": names[n], "peak_dbfs": peak} for n, peak in heard.peaks_dbfs.items()
                    ],
                }
            )
        if not heard_any:
            say(f"Note {options.note} ({note_name(options.note)}) sounds nothing at velocity {options.velocity}.")
        if options.json:
            print_json({"strikes": strikes})
        else:
            for strike in strikes:
                reached = ", ".join(f"{o['number']} {o['name']} {o['peak_dbfs']:.1f} dBFS" for o in strike["outputs"])
                what = " + ".join(
                    f"{s['piece']} · {s['articulation']}, layer {s['layer'] + 1}, take {s['take_label']}"
                    for s in strike["sounding"]
                )
                print(f"{strike['velocity_in']} → {strike['velocity']}: {what or 'nothing'} → {reached or 'nowhere'}")
    return DONE


def _take_index(kit: Kit, sounding: Any) -> int:
    """The take's place in its layer, from 0."""
    for piece in pieces_of(kit):
        for articulation in piece.articulations:
            if articulation.id == sounding.articulation.id:
                return int(articulation.layers[sounding.layer].takes.index(sounding.take.id))
    raise KeyError(sounding.articulation.id)
