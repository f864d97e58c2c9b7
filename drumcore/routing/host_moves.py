"""A routing moved to another host, or taken back from all outputs."""

from collections.abc import Callable

from drumcore.kit.flow import channels_and_buses
from drumcore.kit.values import Channel, Output, Routing, Side, Width
from drumcore.routing.hosts import Host, host_outputs, plain_name


def moved_to(routing: Routing, host: Host) -> Routing:
    """The routing on a host's outputs. Channels keep their numbers, and outputs the names that somebody gave them; what goes
    to a number the host does not have keeps it, is silent, and is a finding. At a mono output there are no sides."""
    before = {output.number: output for output in routing.outputs}
    outputs = tuple(_as_before(output, before.get(output.number)) for output in host_outputs(host))
    widths = {output.number: output.width for output in outputs}

    def fitted(channel: Channel) -> Channel:
        return channel.but(side=Side.BOTH) if widths.get(channel.output or 1) is Width.MONO else channel

    return _with_channels(routing, fitted).but(host=host.name, outputs=outputs)


def _as_before(output: Output, before: Output | None) -> Output:
    return output if before is None else output.but(name=before.name, track=before.track)


def cleared(routing: Routing) -> Routing:
    """The routing with all that has an output of its own sent to main, and outputs called plainly."""

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
    """What is sent straight to each output, by number; to the first, all that goes to main too."""
    found: dict[int, tuple[Channel, ...]] = {}
    for channel in channels_and_buses(routing):
        if not channel.bus:
            number = channel.output or 1
            found[number] = (*found.get(number, ()), channel)
    return found


def free_output(routing: Routing, width: Width) -> Output | None:
    """The first output of a width that nothing is sent to; output 1 is main's."""
    used = outputs_used(routing)
    free = (o for o in routing.outputs if o.number > 1 and o.number not in used and o.width is width)
    return next(free, None)
