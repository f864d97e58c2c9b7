"""The commands that route a kit and print where everything goes. What they need is loaded once they run."""

import argparse
from collections.abc import Mapping
from pathlib import Path
from typing import Any


def add_to(commands: Any) -> None:
    """Add them to the commands of `zesty`."""
    route = commands.add_parser("route", help="send every channel where a plan says, and print what did not fit")
    route.add_argument("kit", type=Path, metavar="KIT")
    route.add_argument("--plan", required=True, metavar="NAME_OR_FILE", help="one that ships, or a plan's JSON file")
    route.add_argument(
        "--host", metavar="NAME_OR_FILE", help="one that ships, or a host's JSON file (the kit's otherwise)"
    )
    route.add_argument("-o", "--output", type=Path, required=True, metavar="KIT")
    route.set_defaults(run=_route)
    sheet = commands.add_parser("sheet", help="print the track sheet: strokes, notes, outputs and tracks")
    sheet.add_argument("kit", type=Path, metavar="KIT")
    sheet.add_argument("--as", dest="form", choices=("csv", "json", "html"), default="csv")
    sheet.add_argument("-o", "--output", type=Path, metavar="FILE", help="standard output otherwise")
    sheet.set_defaults(run=_sheet)


def _route(options: argparse.Namespace) -> int:
    from drumcore.commands import opened_kit
    from drumcore.edits.apply import apply
    from drumcore.edits.outputs import ApplyPlan, SetHost
    from drumcore.formats.kept_file import HOST_FILE, PLAN_FILE
    from drumcore.formats.kit_file import write_kit_file
    from drumcore.routing.hosts import HOSTS
    from drumcore.routing.plan_routing import route
    from drumcore.routing.shipped import PLANS

    hosts = {host.name: host for host in HOSTS.values()}
    host = _named(HOST_FILE, options.host, hosts, HOSTS) if options.host is not None else None
    plans, by_id = {one.name: one.plan for one in PLANS}, {one.id: one.plan for one in PLANS}
    plan = _named(PLAN_FILE, options.plan, plans, by_id)
    with opened_kit(options.kit) as opened:
        kit = apply(opened.kit, SetHost(host=host)) if host else opened.kit
        routed = route(kit, plan)
        places = opened.recordings | opened.responses
        # By the edit: what comes out is held to what holds for every kit.
        write_kit_file(apply(kit, ApplyPlan(plan=plan)), lambda content: places[content], options.output)
    for move in routed.moves:
        print(f"{move.name}: {move.before} → {move.after}")
    for sentence in routed.misfits:
        print(sentence)
    return 0


def _named(kind: Any, wanted: str, by_name: Mapping[str, Any], by_id: Mapping[str, Any]) -> Any:
    """What ships under a name or an identifier, else what a file holds."""
    from drumcore.formats.kept_file import read_kept
    from drumcore.refusals import Refusal

    names = {name.casefold(): value for name, value in (*by_name.items(), *by_id.items())}
    if wanted.casefold() in names:
        return names[wanted.casefold()]
    path = Path(wanted)
    if not path.is_file():
        raise Refusal(f"{wanted} is neither a file nor a {kind.noun} that ships; those are {', '.join(by_name)}.")
    return read_kept(kind, path.read_bytes(), path.name).value


def _sheet(options: argparse.Namespace) -> int:
    from drumcore.commands import opened_kit
    from drumcore.formats.track_sheet_file import SHEET_FORMS
    from drumcore.routing.track_sheet import track_sheet

    with opened_kit(options.kit) as opened:
        text = SHEET_FORMS[options.form](track_sheet(opened.kit))
    if options.output is None:
        print(text, end="")
    else:
        options.output.write_text(text, encoding="utf-8")
    return 0
