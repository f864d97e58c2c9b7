"""`zesty route`: route a kit by a routing plan."""

import argparse
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from drumcore.cli.kit_files import opened_kit
from drumcore.cli.output import DONE
from drumcore.edits.apply import apply
from drumcore.edits.outputs import ApplyPlan, SetHost
from drumcore.formats.kept_file import HOST_FILE, PLAN_FILE, read_kept
from drumcore.formats.kit_file import write_kit_file
from drumcore.refusals import Refusal
from drumcore.routing.hosts import HOSTS
from drumcore.routing.plan_routing import route
from drumcore.routing.shipped import PLANS


def add_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("kit", type=Path, metavar="KIT")
    parser.add_argument("--plan", required=True, metavar="NAME_OR_FILE", help="one that ships, or a plan's JSON file")
    parser.add_argument(
        "--host", metavar="NAME_OR_FILE", help="one that ships, or a host's JSON file (the kit's otherwise)"
    )
    parser.add_argument("-o", "--output", type=Path, required=True, metavar="KIT")


def run(options: argparse.Namespace) -> int:
    hosts = {host.name: host for host in HOSTS.values()}
    host = _named(HOST_FILE, options.host, hosts, HOSTS) if options.host is not None else None
    plans, by_id = {one.name: one.plan for one in PLANS}, {one.id: one.plan for one in PLANS}
    plan = _named(PLAN_FILE, options.plan, plans, by_id)
    with opened_kit(options.kit) as opened:
        kit = apply(opened.kit, SetHost(host=host)) if host else opened.kit
        routed = route(kit, plan)
        places = opened.recordings | opened.responses
        # Made through the edit, because an edit's result is checked against the kit's invariants.
        write_kit_file(apply(kit, ApplyPlan(plan=plan)), lambda content: places[content], options.output)
    for move in routed.moves:
        print(f"{move.name}: {move.before} → {move.after}")
    for sentence in routed.misfits:
        print(sentence)
    return DONE


def _named(kind: Any, wanted: str, by_name: Mapping[str, Any], by_id: Mapping[str, Any]) -> Any:
    """The shipped item with this name or id; otherwise the argument is a file to read."""
    names = {name.casefold(): value for name, value in (*by_name.items(), *by_id.items())}
    if wanted.casefold() in names:
        return names[wanted.casefold()]
    path = Path(wanted)
    if not path.is_file():
        raise Refusal(f"{wanted} is neither a file nor a {kind.noun} that ships; those are {', '.join(by_name)}.")
    return read_kept(kind, path.read_bytes(), path.name).value
