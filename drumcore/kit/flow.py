"""Which way sound flows from channel to channel: along outputs and sends, into buses and main, never round in circles."""

from collections.abc import Iterable, Iterator, Sequence
from graphlib import CycleError, TopologicalSorter

from drumcore.kit.memoization import remembered
from drumcore.kit.values import Channel, Routing


@remembered(limit=64)
def channels_and_buses(routing: Routing) -> tuple[Channel, ...]:
    """Channels, then buses: as a player has them, one behind another."""
    return (*routing.channels, *routing.buses)


def next_of(channel: Channel) -> Iterator[str]:
    """The buses a channel flows into, by identifier; neither the main mix nor an output of the host is one."""
    yield from (send.bus for send in channel.sends)
    if channel.bus:
        yield channel.bus


def circle(channels: Sequence[Channel]) -> tuple[Channel, ...]:
    """Channels along a way that comes back to where it began, that one first and last; none where there is no such way."""
    try:
        behind(_nexts(channels))
    except CycleError as error:
        return tuple(channels[place] for place in error.args[1])
    return ()


@remembered(limit=64)
def in_order(channels: tuple[Channel, ...]) -> tuple[int, ...]:
    """The places of channels so that each stands behind all that flow into it."""
    return behind(_nexts(channels))


def behind(nexts: Sequence[Iterable[int]]) -> tuple[int, ...]:
    """Places so that each stands behind all that lead to it; `nexts` are those that each leads to. Raises CycleError where
    they lead round."""
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
    """By channel or bus, the buses it could go into without going round in circles: none that leads to it."""
    channels = channels_and_buses(routing)
    by_id = {channel.id: channel for channel in channels}
    reached: dict[str, set[str]] = {}
    for place in reversed(in_order(channels)):
        channel = channels[place]
        nexts = [name for name in next_of(channel) if name in by_id]
        reached[channel.id] = {channel.id, *(each for name in nexts for each in reached[name])}
    return {c.id: tuple(bus.id for bus in routing.buses if c.id not in reached[bus.id]) for c in channels}
