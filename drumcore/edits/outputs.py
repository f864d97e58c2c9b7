"""Edits of outputs: the host, names of outputs and tracks, and routing plans."""

from typing import Annotated, Any, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.flow import channels_and_buses
from drumcore.kit.lookup import channel_of
from drumcore.kit.values import Identifier, Kit, PlanUsed
from drumcore.refusals import Refusal
from drumcore.routing.host_moves import cleared, moved_to, outputs_used
from drumcore.routing.hosts import Host, plain_name
from drumcore.routing.plan_reference import place_now
from drumcore.routing.plan_routing import route
from drumcore.routing.plans import RoutingPlan
from drumcore.routing.shipped import PLANS
from drumcore.value import Value


class ApplyPlan(Value):
    """Routes every channel and bus by a plan; a shipped plan is named by its id, one's own is `called` by its name."""

    kind: Literal["apply_plan"] = "apply_plan"
    plan: RoutingPlan | Annotated[str, Field(max_length=120)]
    called: Annotated[str, Field(max_length=120)] = ""


class SetHost(Value):
    """Sets the host; its outputs replace the former ones. Channels and names stay with output numbers that still exist."""

    kind: Literal["set_host"] = "set_host"
    host: Host


class ClearOutputs(Value):
    """Routes all channels and buses to main and resets the output names."""

    kind: Literal["clear_outputs"] = "clear_outputs"


class NameOutput(Value):
    """Names an output, or its track at the host; None leaves one as it is. An empty name resets it to the default."""

    kind: Literal["name_output"] = "name_output"
    output: int
    name: Annotated[str, Field(max_length=120)] | None = None
    track: Annotated[str, Field(max_length=120)] | None = None


class CopyOutputNames(Value):
    """Gives the host's tracks the names of the outputs they record, and no name where nothing arrives."""

    kind: Literal["copy_output_names"] = "copy_output_names"


class KeepPlace(Value):
    """Accepts where a channel goes now as where the plan has it."""

    kind: Literal["keep_place"] = "keep_place"
    channel: Identifier


def _apply_plan(kit: Kit, edit: ApplyPlan) -> Kit:
    routing = route(kit, plan_of(edit.plan)).routing
    name = next((shipped.name for shipped in PLANS if shipped.id == edit.plan), edit.called.strip())
    places = tuple(place_now(channel) for channel in channels_and_buses(routing) if not channel.bus)
    return kit.but(routing=routing.but(plan=PlanUsed(name=name, places=places)))


def _keep_place(kit: Kit, edit: KeepPlace) -> Kit:
    channel, plan = channel_of(kit, edit.channel), kit.routing.plan
    if plan is None:
        raise Refusal("This kit was not routed by a plan; there is nothing to keep to.")
    others = [place for place in plan.places if place.channel != channel.id]
    # A channel in a bus goes where the bus goes, so the plan has no place for it.
    places = (*others, *(() if channel.bus else (place_now(channel),)))
    return kit.but(routing=kit.routing.but(plan=plan.but(places=places)))


def plan_of(asked: RoutingPlan | str) -> RoutingPlan:
    """The plan, or the shipped one with this id. Raises Refusal if there is none."""
    if isinstance(asked, RoutingPlan):
        return asked
    for shipped in PLANS:
        if asked == shipped.id:
            return shipped.plan
    raise Refusal(f"There is no plan “{asked}”; those that ship are {', '.join(plan.id for plan in PLANS)}.")


def _set_host(kit: Kit, edit: SetHost) -> Kit:
    return kit.but(routing=moved_to(kit.routing, edit.host).but(plan=None))


def _clear_outputs(kit: Kit, edit: ClearOutputs) -> Kit:
    return kit.but(routing=cleared(kit.routing).but(plan=None))


def _name_output(kit: Kit, edit: NameOutput) -> Kit:
    if all(output.number != edit.output for output in kit.routing.outputs):
        raise Refusal(f"{kit.routing.host} has no output {edit.output}; choose one it has.")
    changes: dict[str, Any] = {}
    if edit.name is not None:
        changes["name"] = " ".join(edit.name.split()) or plain_name(edit.output)
    if edit.track is not None:
        changes["track"] = " ".join(edit.track.split())
    outputs = tuple(o.but(**changes) if o.number == edit.output else o for o in kit.routing.outputs)
    return kit.but(routing=kit.routing.but(outputs=outputs))


def _name_tracks_alike(kit: Kit, edit: CopyOutputNames) -> Kit:
    used = outputs_used(kit.routing)
    outputs = tuple(o.but(track=o.name if o.number in used else "") for o in kit.routing.outputs)
    return kit.but(routing=kit.routing.but(outputs=outputs))


MEANINGS = Meanings()
MEANINGS.add(ApplyPlan, _apply_plan)
MEANINGS.add(KeepPlace, _keep_place)
MEANINGS.add(SetHost, _set_host)
MEANINGS.add(ClearOutputs, _clear_outputs)
MEANINGS.add(NameOutput, _name_output)
MEANINGS.add(CopyOutputNames, _name_tracks_alike)
