"""Changes the host of a routing, or removes all outputs from it."""

from collections.abc import Callable

from drumcore.kit.flow import channels_and_buses
from drumcore.kit.values import Channel, Output, Routing, Side, Width
from drumcore.routing.hosts import Host, host_outputs, plain_name


def moved_to(routing: Routing, host: Host) -> Routing:
    """The routing for another host.

    Channels keep their output numbers, and outputs keep names that somebody gave them. A channel on a number that the
    host lacks keeps it, is silent, and is a finding. Mono outputs have no sides.
    """
    before = {output.number: output for output in routing.outputs}
    outputs = tuple(_as_before(output, before.get(output.number)) for output in host_outputs(host))
    widths = {output.number: output.width for output in outputs}

    def fitted(channel: Channel) -> Channel:
        return channel.but(side=Side.BOTH) if widths.get(channel.output or 1) is Width.MONO else channel

    return _with_channels(routing, fitted).but(host=host.name, outputs=outputs)


def _as_before(output: Output, before: Output | None) -> Output:
    return output if before is None else output.but(name=before.name, track=before.track)


def cleared(routing: Routing) -> Routing:
    """The routing with everything sent to main and default output names."""

    def to_main(channel: Channel) -> Channel:
        return channel if channel.output is None else channel.but(output=None, side=Side.BOTH)

    outputs = tuple(output.but(name=plain_name(output.number)) for output in routing.outputs)
    return _with_channels(routing, to_main).but(outputs=outputs)


def _with_channels(routing: Routing, change: Callable[[Channel], Channel]) -> Routing:
    return routing.but(
        channels=tuple(change(channel) for channel in routing.channels),
        buses=tuple(change(bus) for bus in routing.buses),
    )


def outputs_used(routing: Routing) -> dict[int, tuple[Channel, ...]]:
    """The channels and buses sent directly to each output, by number; for output 1, also everything that goes to main."""
    found: dict[int, tuple[Channel, ...]] = {}
    for channel in channels_and_buses(routing):
        if not channel.bus:
            number = channel.output or 1
            found[number] = (*found.get(number, ()), channel)
    return found


def free_output(routing: Routing, width: Width) -> Output | None:
    """The first unused output of a width; output 1 belongs to main."""
    used = outputs_used(routing)
    free = (o for o in routing.outputs if o.number > 1 and o.number not in used and o.width is width)
    return next(free, None)
