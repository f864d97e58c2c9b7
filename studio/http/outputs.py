"""Outputs: previewing routing plans, making one from a kit, the track sheet."""

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from drumcore.edits.apply import apply
from drumcore.edits.outputs import SetHost, plan_of
from drumcore.formats.track_sheet_file import SHEET_FORMS
from drumcore.refusals import Refusal
from drumcore.routing.hosts import Host
from drumcore.routing.plan_from_kit import plan_of_kit
from drumcore.routing.plan_routing import PlanMove, route
from drumcore.routing.plans import RoutingPlan, remembering
from drumcore.routing.track_sheet import track_sheet
from studio.http.downloads import as_file
from studio.kits.versions import current_kit

router = Router()


class PlanAsked(Schema):
    """A plan, or the id of a shipped one; on another host if `host` is given."""

    plan: RoutingPlan | str
    host: Host | None = None


class PlanPreview(Schema):
    """What would move and what does not fit; `plan` includes the output numbers it uses on this host, `learned` says
    that some of them are new.
    """

    moves: list[PlanMove]
    misfits: list[str]
    plan: RoutingPlan
    learned: bool


@router.post("/kits/{kit_id}/plan-preview", response=PlanPreview)
def preview_plan(request: HttpRequest, kit_id: str, asked: PlanAsked) -> PlanPreview:
    """Tries a plan on a kit; nothing is saved."""
    kit = current_kit(kit_id)
    if asked.host is not None:
        kit = apply(kit, SetHost(host=asked.host))
    plan = plan_of(asked.plan)
    routed = route(kit, plan)
    known = remembering(plan, kit.routing.host, kit.routing.outputs)
    return PlanPreview(
        moves=list(routed.moves),
        misfits=list(routed.misfits),
        plan=known,
        learned=set(known.given) != set(plan.given),
    )


@router.get("/kits/{kit_id}/plan", response=RoutingPlan)
def plan_of_the_kit(request: HttpRequest, kit_id: str) -> RoutingPlan:
    """A routing plan made from the kit's routing."""
    return plan_of_kit(current_kit(kit_id))


@router.get("/kits/{kit_id}/track-sheet/{form}", include_in_schema=False)
def kit_track_sheet(request: HttpRequest, kit_id: str, form: str) -> HttpResponse:
    """The track sheet as a page or a file."""
    if form not in SHEET_FORMS:
        raise Refusal(f"There is no track sheet as “{form}”; it is a page (html), csv or json.")
    kit = current_kit(kit_id)
    text = SHEET_FORMS[form](track_sheet(kit))
    return HttpResponse(text) if form == "html" else as_file(text, f"{kit.name} tracks", form)
