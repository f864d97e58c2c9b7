"""Routes a kit by a plan: where every channel and bus goes, what moves, and what did not fit."""

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence

from drumcore.kit.flow import channels_and_buses, in_order, next_of
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Channel, Family, Kit, MicKind, Output, Piece, Routing, Side, Width
from drumcore.routing.default_routing import channel_width, own_channel
from drumcore.routing.hosts import plain_name
from drumcore.routing.plans import OutputPlace, PlanRule, RoutingPlan, places
from drumcore.value import Value


class PlanMove(Value):
    """A channel or bus that a plan moves: from where to where, in words."""

    channel: str
    name: str
    before: str
    after: str


class Routed(Value):
    """`misfits` are sentences about channels that share an output for lack of room, go to main, or lose a side."""

    routing: Routing
    moves: tuple[PlanMove, ...]
    misfits: tuple[str, ...]


def route(kit: Kit, plan: RoutingPlan) -> Routed:
    """The kit with every channel routed as the plan says, and to main if the plan does not mention it.

    A bus without a rule and without a reverb follows its inputs if they all go to one place; otherwise it goes to main.
    Channels routed into a bus that has a rule stay in it.
    """
    given = places(plan, kit.routing.host, kit.routing.outputs)
    rules = rules_by_channel(kit, plan)
    all_channels = channels_and_buses(kit.routing)
    buses = {bus.id for bus in kit.routing.buses}
    gone: dict[str, Channel] = {}
    # In this order each bus comes after everything that flows into it.
    for channel in (all_channels[place] for place in in_order(all_channels)):
        rule = rules[channel.id]
        place = given.get(rule.track) if rule else _beside(channel, gone.values()) if channel.id in buses else None
        named_bus = channel.bus and rules[channel.bus]
        stays = named_bus and (channel.id not in buses or (rule is None and place is None))
        gone[channel.id] = channel if stays else _sent(channel, place)
    outputs = tuple(_named(output, plan, given) for output in kit.routing.outputs)
    routing = kit.routing.but(
        channels=tuple(gone[c.id] for c in kit.routing.channels),
        buses=tuple(gone[b.id] for b in kit.routing.buses),
        outputs=outputs,
    )
    misfits = (*_shared(kit, given, rules, outputs), *_too_narrow(kit.but(routing=routing)))
    return Routed(routing=routing, moves=tuple(moved(kit.routing, routing)), misfits=misfits)


def moved(before: Routing, after: Routing) -> Iterator[PlanMove]:
    """The channels and buses whose destination differs."""
    was = {channel.id: channel for channel in channels_and_buses(before)}
    for channel in channels_and_buses(after):
        then = was.get(channel.id)
        if then is not None and (then.output, then.side, then.bus) != (channel.output, channel.side, channel.bus):
            yield PlanMove(
                channel=channel.id, name=channel.name, before=where_to(before, then), after=where_to(after, channel)
            )


def where_to(routing: Routing, channel: Channel) -> str:
    """A channel's destination, in words."""
    if channel.bus:
        return next((bus.name for bus in routing.buses if bus.id == channel.bus), "a bus")
    if channel.output is None:
        return "main"
    output = next((o for o in routing.outputs if o.number == channel.output), None)
    if output is None:
        return f"output {channel.output}, which does not exist"
    side = "" if channel.side is Side.BOTH else f", {channel.side.value}"
    return f"{output.number} {output.name}{side}"


def _sent(channel: Channel, place: OutputPlace | None) -> Channel:
    if place is None or (place.output == 1 and place.side is Side.BOTH):
        return channel.but(output=None, bus="", side=Side.BOTH)
    return channel.but(output=place.output, bus="", side=place.side)


def rules_by_channel(kit: Kit, plan: RoutingPlan) -> dict[str, PlanRule | None]:
    """For each channel and bus, the first rule that matches it."""
    owners, numbers = owners_by_channel(kit), numbers_in_family(kit)
    found: dict[str, PlanRule | None] = {
        bus.id: next((rule for rule in plan.rules if bus.name in rule.buses), None) for bus in kit.routing.buses
    }
    for channel in kit.routing.channels:
        mine = owners[channel.id]
        kinds = kinds_entering(kit, channel, mine)
        takers = (rule for rule in plan.rules if _takes(rule, channel, mine, kinds, numbers))
        found[channel.id] = next(takers, None)
    return found


def _takes(
    rule: PlanRule, channel: Channel, owners: Sequence[Piece], kinds: set[MicKind], numbers: Mapping[str, int]
) -> bool:
    if rule.mics and (not kinds or not kinds <= set(rule.mics)):
        return False
    if channel.gathers is not None:
        # A rule with microphone kinds only matches every channel they feed.
        only_mics = not (rule.families or rule.pieces or rule.gathers or rule.buses)
        return channel.gathers in rule.gathers or (only_mics and bool(rule.mics))
    if not (rule.families or rule.pieces):
        return bool(rule.mics) and not rule.gathers and not rule.buses
    if any(piece.name in rule.pieces for piece in owners):
        return True
    family = _family(owners)
    return family in rule.families and (
        rule.number is None or any(numbers[piece.id] == rule.number for piece in owners if piece.family is family)
    )


def _family(owners: Sequence[Piece]) -> Family | None:
    """The most frequent family of a channel's pieces; the first one in a tie."""
    return Counter(piece.family for piece in owners).most_common(1)[0][0] if owners else None


def numbers_in_family(kit: Kit) -> dict[str, int]:
    """Each piece's number among the kit's pieces of its family, from 1."""
    counted: Counter[Family] = Counter()
    found = {}
    for piece in pieces_of(kit):
        counted[piece.family] += 1
        found[piece.id] = counted[piece.family]
    return found


def owners_by_channel(kit: Kit) -> dict[str, tuple[Piece, ...]]:
    """For each channel, the pieces whose own channel it is; if none, all pieces that feed it."""
    mine: dict[str, list[Piece]] = {channel.id: [] for channel in kit.routing.channels}
    for piece in pieces_of(kit):
        own = own_channel(kit, piece)
        if own is not None:
            mine[own.id].append(piece)
    feeding: dict[str, set[str]] = {}
    for feed in kit.routing.feeds:
        feeding.setdefault(feed.channel, set()).add(feed.piece)
    return {
        channel: tuple(owners or (p for p in pieces_of(kit) if p.id in feeding.get(channel, ())))
        for channel, owners in mine.items()
    }


def kinds_entering(kit: Kit, channel: Channel, owners: Sequence[Piece]) -> set[MicKind]:
    """The kinds of microphones a channel is for: its pieces' own ones, if they feed it; otherwise all that feed it."""
    kinds = {mic.id: mic.kind for mic in kit.mics}
    fed = [feed for feed in kit.routing.feeds if feed.channel == channel.id]
    own = {(piece.id, mic) for piece in owners for mic in piece.own_mics}
    by_own = [feed for feed in fed if (feed.piece, feed.mic) in own]
    return {kinds[feed.mic] for feed in by_own or fed}


def _beside(bus: Channel, gone: Iterable[Channel]) -> OutputPlace | None:
    """The common destination of everything sent into a bus, if there is one and the bus has no reverb."""
    if bus.space is not None and bus.space.on:
        return None
    senders = [
        channel for channel in gone if channel.bus == bus.id or any(send.bus == bus.id for send in channel.sends)
    ]
    ends = {(channel.output, channel.side) for channel in senders if not channel.bus}
    if len(ends) != 1 or any(channel.bus for channel in senders):
        return None
    output, side = ends.pop()
    return OutputPlace(output, side) if output is not None else None


def _named(output: Output, plan: RoutingPlan, given: Mapping[str, OutputPlace]) -> Output:
    """An output named by the plan: by its track, by two tracks on its sides, or by the group if several share it."""
    here = [rule for rule in plan.rules if rule.track in given and given[rule.track].output == output.number]
    if not here:
        return output.but(name=plain_name(output.number))
    if output.number == 1:
        return output
    if len(here) == 1:
        return output.but(name=here[0].track)
    if any(given[rule.track].side is not Side.BOTH for rule in here):
        sides = dict.fromkeys(rule.track for rule in here if not given[rule.track].joined)
        return output.but(name=", ".join(sides))
    return output.but(name=here[0].group)


def _shared(
    kit: Kit, given: Mapping[str, OutputPlace], rules: Mapping[str, PlanRule | None], outputs: tuple[Output, ...]
) -> Iterator[str]:
    """Sentences about channels for which the plan had no place of their own."""
    names = {output.number: output.name for output in outputs}
    host = kit.routing.host
    for channel in channels_and_buses(kit.routing):
        rule = rules[channel.id]
        if rule is None:
            if channel in kit.routing.channels:
                yield f"No rule of the plan matches {channel.name}; it goes to main."
            continue
        place = given.get(rule.track)
        none_left = f"{host} has no {rule.width.value} output left for {rule.track}"
        if place is None:
            yield f"{none_left}; {channel.name} goes to main."
        elif place.joined:
            yield f"{none_left}; {channel.name} joins {place.joined} on {place.output} {names[place.output]}."


def _too_narrow(kit: Kit) -> Iterator[str]:
    for channel in into_one_side(kit):
        yield f"{channel.name} is stereo but goes to one side, {where_to(kit.routing, channel)}: the average of both."


def into_one_side(kit: Kit) -> Iterator[Channel]:
    """The stereo channels and buses that leave by a mono output or by one side of a stereo one."""
    widths = {output.number: output.width for output in kit.routing.outputs}
    narrow = [
        channel
        for channel in channels_and_buses(kit.routing)
        if channel.output in widths and (widths[channel.output] is Width.MONO or channel.side is not Side.BOTH)
    ]
    sides = _with_sides(kit) if narrow else frozenset()
    yield from (channel for channel in narrow if channel.id in sides)


def _with_sides(kit: Kit) -> frozenset[str]:
    """The channels and buses whose two sides can differ; a bus takes this from its inputs and its reverb."""
    found = {channel.id for channel in kit.routing.channels if channel_width(kit, channel.id) is Width.STEREO}
    found |= {bus.id for bus in kit.routing.buses if bus.space is not None and bus.space.on}
    all_channels = channels_and_buses(kit.routing)
    for channel in (all_channels[place] for place in in_order(all_channels)):
        if channel.id in found or channel.pan:
            found |= {*next_of(channel)}
    return frozenset(found)
