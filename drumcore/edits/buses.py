"""Edits of buses and sends."""

from typing import Annotated, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.flow import channels_and_buses, next_of
from drumcore.kit.lookup import channel_of, free_id, with_channel, with_channels
from drumcore.kit.values import MAIN, Channel, Identifier, Kit, Level, Name, Send, slug
from drumcore.refusals import Refusal
from drumcore.spaces.kinds import SpaceOfAKind
from drumcore.value import Value

FIRST_SEND_DB = -12.0
"""What a send begins with: heard, and not loud."""


class MakeBus(Value):
    """Adds a bus after the others; nothing enters it yet. It goes where the channel `like` goes, without one to main."""

    kind: Literal["make_bus"] = "make_bus"
    name: Name
    like: Identifier = ""


class RemoveBus(Value):
    """Removes a bus and all sends into it; channels routed to it go to main."""

    kind: Literal["remove_bus"] = "remove_bus"
    bus: str


class MoveBus(Value):
    """Moves a bus to a position among the buses, from 0."""

    kind: Literal["move_bus"] = "move_bus"
    bus: str
    to: Annotated[int, Field(ge=0, le=1000)]


class NameBus(Value):
    kind: Literal["name_bus"] = "name_bus"
    bus: str
    name: Name


class SetSend(Value):
    """Sends a copy of a channel or bus into a bus at a level; None removes the send. The kit's invariants refuse a
    loop. `pre_fader` takes the copy before the channel's level and pan; None leaves that as it is (a new send is
    post-fader).
    """

    kind: Literal["set_send"] = "set_send"
    channel: str
    bus: str
    level_db: Level | None
    pre_fader: bool | None = None


class GoIntoBus(Value):
    """Routes channels to a bus, and nowhere else."""

    kind: Literal["go_into_bus"] = "go_into_bus"
    channels: Annotated[tuple[str, ...], Field(min_length=1, max_length=1000)]
    bus: str


class SetSpace(Value):
    """Gives a bus a reverb or echo after its treatments; None removes it."""

    kind: Literal["set_space"] = "set_space"
    bus: str
    space: SpaceOfAKind | None


def _bus_of(kit: Kit, bus: str) -> Channel:
    found = next((each for each in kit.routing.buses if each.id == bus), None)
    if found is None:
        raise Refusal(f"This kit has no bus “{bus}”; it may have been deleted.")
    return found


def _free_name(kit: Kit, wanted: str, but: str = "") -> str:
    name = wanted.strip()
    if not name:
        raise Refusal("A bus needs a name.")
    if any(bus.name == name and bus.id != but for bus in kit.routing.buses):
        raise Refusal(f"There is a bus called {name} already; give this one another name.")
    return name


def _make_bus(kit: Kit, edit: MakeBus) -> Kit:
    name = _free_name(kit, edit.name)
    made = Channel(id=free_id(f"{slug(name)}-bus", {c.id for c in channels_and_buses(kit.routing)} | {MAIN}), name=name)
    like = next((channel for channel in channels_and_buses(kit.routing) if channel.id == edit.like), made)
    made = made.but(output=like.output, side=like.side, bus=like.bus)
    return kit.but(routing=kit.routing.but(buses=(*kit.routing.buses, made)))


def _remove_bus(kit: Kit, edit: RemoveBus) -> Kit:
    gone = _bus_of(kit, edit.bus).id

    def without(channel: Channel) -> Channel:
        sends = tuple(send for send in channel.sends if send.bus != gone)
        return channel.but(sends=sends, bus="" if channel.bus == gone else channel.bus)

    entering = {c.id for c in channels_and_buses(kit.routing) if gone in next_of(c)}
    left = with_channels(kit, entering, without)
    return left.but(routing=left.routing.but(buses=tuple(b for b in left.routing.buses if b.id != gone)))


def _move_bus(kit: Kit, edit: MoveBus) -> Kit:
    moved = _bus_of(kit, edit.bus)
    others = [bus for bus in kit.routing.buses if bus.id != moved.id]
    others.insert(edit.to, moved)
    return kit.but(routing=kit.routing.but(buses=tuple(others)))


def _name_bus(kit: Kit, edit: NameBus) -> Kit:
    bus = _bus_of(kit, edit.bus)
    return with_channel(kit, bus.id, lambda c: c.but(name=_free_name(kit, edit.name, bus.id)))


def _set_send(kit: Kit, edit: SetSend) -> Kit:
    bus = _bus_of(kit, edit.bus)
    if edit.channel == MAIN:
        raise Refusal("The main mix cannot be sent; send the channels that feed it.")
    channel = channel_of(kit, edit.channel)
    before = next((send for send in channel.sends if send.bus == bus.id), None)
    if edit.level_db is None:
        return with_channel(kit, channel.id, lambda c: c.but(sends=tuple(s for s in c.sends if s.bus != bus.id)))
    pre_fader = edit.pre_fader if edit.pre_fader is not None else before is not None and before.pre_fader
    send = Send(bus=bus.id, level_db=edit.level_db, pre_fader=pre_fader)
    sends = tuple(send if s.bus == bus.id else s for s in channel.sends) if before else (*channel.sends, send)
    return with_channel(kit, channel.id, lambda c: c.but(sends=sends))


def _go_into_bus(kit: Kit, edit: GoIntoBus) -> Kit:
    bus = _bus_of(kit, edit.bus)
    for channel in edit.channels:
        channel_of(kit, channel)
    if MAIN in edit.channels:
        raise Refusal("The main mix goes to output 1; only channels go to buses.")
    return with_channels(kit, edit.channels, lambda c: c.but(bus=bus.id, output=None))


def _set_space(kit: Kit, edit: SetSpace) -> Kit:
    bus = _bus_of(kit, edit.bus)
    return with_channel(kit, bus.id, lambda c: c.but(space=edit.space))


MEANINGS = Meanings()
MEANINGS.add(MakeBus, _make_bus)
MEANINGS.add(RemoveBus, _remove_bus)
MEANINGS.add(MoveBus, _move_bus)
MEANINGS.add(NameBus, _name_bus)
MEANINGS.add(SetSend, _set_send)
MEANINGS.add(GoIntoBus, _go_into_bus)
MEANINGS.add(SetSpace, _set_space)
