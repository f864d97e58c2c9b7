"""The signal flow between channels: along outputs and sends, into buses and main, never in a loop."""

from collections.abc import Iterable, Iterator, Sequence
from graphlib import CycleError, TopologicalSorter

from drumcore.kit.memoization import remembered
from drumcore.kit.values import Channel, Routing


@remembered(limit=64)
def channels_and_buses(routing: Routing) -> tuple[Channel, ...]:
    """Channels, then buses: the order in which the players index them."""
    return (*routing.channels, *routing.buses)


def next_of(channel: Channel) -> Iterator[str]:
    """The ids of the buses a channel flows into. Main and host outputs are not buses."""
    yield from (send.bus for send in channel.sends)
    if channel.bus:
        yield channel.bus


def circle(channels: Sequence[Channel]) -> tuple[Channel, ...]:
    """A loop: the channels along it, the first repeated at the end; empty if there is none."""
    try:
        behind(_nexts(channels))
    except CycleError as error:
        return tuple(channels[place] for place in error.args[1])
    return ()


@remembered(limit=64)
def in_order(channels: tuple[Channel, ...]) -> tuple[int, ...]:
    """The indices of the channels ordered so that each comes after everything that flows into it."""
    return behind(_nexts(channels))


def behind(nexts: Sequence[Iterable[int]]) -> tuple[int, ...]:
    """Indices ordered so that each comes after everything that leads to it; `nexts` lists where each leads. Raises
    CycleError on a loop.
    """
    sorter: TopologicalSorter[int] = TopologicalSorter(dict.fromkeys(range(len(nexts)), ()))
    for place, leads_to in enumerate(nexts):
        for to in leads_to:
            sorter.add(to, place)
    return tuple(sorter.static_order())


def _nexts(channels: Sequence[Channel]) -> list[list[int]]:
    places = {channel.id: place for place, channel in enumerate(channels)}
    return [[places[name] for name in next_of(channel) if name in places] for channel in channels]


@remembered(limit=64)
def may_enter(routing: Routing) -> dict[str, tuple[str, ...]]:
    """For each channel or bus, the buses it could be routed to without a loop."""
    channels = channels_and_buses(routing)
    by_id = {channel.id: channel for channel in channels}
    reached: dict[str, set[str]] = {}
    for place in reversed(in_order(channels)):
        channel = channels[place]
        nexts = [name for name in next_of(channel) if name in by_id]
        reached[channel.id] = {channel.id, *(each for name in nexts for each in reached[name])}
    return {c.id: tuple(bus.id for bus in routing.buses if c.id not in reached[bus.id]) for c in channels}
