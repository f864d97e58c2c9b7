"""Makes a routing plan from a kit's routing, described so that it fits other kits."""

from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Channel, Family, Kit, Output, Piece, Side, Width
from drumcore.refusals import Refusal
from drumcore.routing.plan_routing import numbers_in_family, owners_by_channel
from drumcore.routing.plans import AssignedPlace, PlanRule, RoutingPlan


def plan_of_kit(kit: Kit) -> RoutingPlan:
    """One rule for every place in use except main, in the order of outputs; numbers are remembered for the kit's host.
    Raises Refusal if everything goes to main.
    """
    outputs = {output.number: output for output in kit.routing.outputs}
    placed: dict[tuple[int, Side], list[Channel]] = {}
    for channel in (*kit.routing.channels, *kit.routing.buses):
        if channel.output in outputs:
            placed.setdefault((channel.output, channel.side), []).append(channel)
    rules: list[PlanRule] = []
    given: list[AssignedPlace] = []
    for (number, side), here in sorted(placed.items(), key=lambda item: (item[0][0], item[0][1].value)):
        track = _free_track(_track(outputs[number], side, here), {rule.track for rule in rules})
        rule = _rule(kit, track, outputs[number], side, here)
        if rule is not None:
            rules.append(rule)
            given.append(AssignedPlace(host=kit.routing.host, track=track, output=number, side=side))
    if not rules:
        raise Refusal(
            "Everything of this kit goes to main; send something to an output first, then save that as a plan."
        )
    return RoutingPlan(
        rules=tuple(rules),
        keeps_main=all(place.output != 1 for place in given),
        pairs=any(place.side is not Side.BOTH for place in given),
        given=tuple(given),
    )


def _track(output: Output, side: Side, here: list[Channel]) -> str:
    plain = side is not Side.BOTH or not output.name.strip() or output.name == f"Output {output.number}"
    return (here[0].name if plain else output.name)[:110].strip() or f"Output {output.number}"


def _free_track(wanted: str, taken: set[str]) -> str:
    number, found = 2, wanted
    while found in taken:
        found, number = f"{wanted} {number}", number + 1
    return found


def _rule(kit: Kit, track: str, output: Output, side: Side, here: list[Channel]) -> PlanRule | None:
    """A rule that matches everything sent to a place; None if a channel there belongs to no piece."""
    owners = owners_by_channel(kit)
    pieces = [piece for channel in here if channel.gathers is None for piece in owners.get(channel.id, ())]
    families = _whole_families(kit, pieces)
    alone = pieces[0] if len(pieces) == 1 and not families else None
    named = [piece.name for piece in pieces if piece.family not in families]
    gathers = dict.fromkeys(channel.gathers for channel in here if channel.gathers is not None)
    buses = [bus.name for bus in kit.routing.buses if bus in here]
    if not (pieces or gathers or buses):
        return None
    return PlanRule(
        track=track,
        width=Width.MONO if output.width is Width.MONO or side is not Side.BOTH else Width.STEREO,
        families=(alone.family,) if alone else families,
        number=numbers_in_family(kit)[alone.id] if alone else None,
        pieces=tuple(dict.fromkeys(named)),
        gathers=tuple(gathers),
        buses=tuple(buses),
    )


def _whole_families(kit: Kit, pieces: list[Piece]) -> tuple[Family, ...]:
    """The families whose pieces are all among these."""
    there = {piece.id for piece in pieces}
    missing = {piece.family for piece in pieces_of(kit) if piece.id not in there}
    return tuple(dict.fromkeys(piece.family for piece in pieces if piece.family not in missing))
