"""Plans: saved policies that route any kit."""

from collections import defaultdict

from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Channel, Family, Kit, MicKind, Routing
from drumcore.value import Value


class PlanPlace(Value):
    """An output of a plan: its number, its name, and the families or kinds of shared channels it takes."""

    output: int
    name: str
    families: tuple[Family, ...] = ()
    gathers: tuple[MicKind, ...] = ()


class RoutingPlan(Value):
    id: str
    name: str
    places: tuple[PlanPlace, ...]


_CYMBALS = (Family.CRASH, Family.RIDE, Family.SPLASH, Family.CHINA)

ONE_OUTPUT_A_PIECE = RoutingPlan(
    id="one-output-a-piece",
    name="One output a piece",
    places=(
        PlanPlace(output=2, name="Kick", families=(Family.KICK,)),
        PlanPlace(output=3, name="Snare", families=(Family.SNARE,)),
        PlanPlace(output=4, name="Hats", families=(Family.HATS,)),
        PlanPlace(output=5, name="Toms", families=(Family.TOM,)),
        PlanPlace(output=6, name="Cymbals", families=_CYMBALS),
        PlanPlace(output=7, name="Percussion", families=(Family.PERCUSSION, Family.OTHER)),
        PlanPlace(output=8, name="Overheads", gathers=(MicKind.OVERHEAD,)),
        PlanPlace(output=9, name="Room", gathers=(MicKind.ROOM,)),
    ),
)
EVERYTHING_TO_MAIN = RoutingPlan(id="everything-to-main", name="Everything to main", places=())
PLANS = {plan.id: plan for plan in (ONE_OUTPUT_A_PIECE, EVERYTHING_TO_MAIN)}


def apply_plan(kit: Kit, plan: RoutingPlan) -> Routing:
    """The kit's routing with every channel sent where the plan says, to main where it says nothing.

    Numbers are the plan's own whatever the kit holds, so that the host's tracks keep their meaning from kit to kit.
    """
    families = {piece.id: piece.family for piece in pieces_of(kit)}
    fed: dict[str, list[Family]] = defaultdict(list)
    for feed in kit.routing.feeds:
        fed[feed.channel].append(families[feed.piece])
    channels = tuple(c.but(output=_output_for(c, fed[c.id], plan), bus="") for c in kit.routing.channels)
    names = {place.output: place.name for place in plan.places}
    outputs = tuple(
        output.but(name=names.get(output.number, "Main" if output.number == 1 else f"Output {output.number}"))
        for output in kit.routing.outputs
    )
    return kit.routing.but(channels=channels, outputs=outputs)


def _output_for(channel: Channel, fed_by: list[Family], plan: RoutingPlan) -> int | None:
    """A shared channel goes by what it gathers, any other by the family of the pieces that feed it, the first of them
    where they differ."""
    for place in plan.places:
        if channel.gathers in place.gathers or (channel.gathers is None and fed_by and fed_by[0] in place.families):
            return place.output
    return None
