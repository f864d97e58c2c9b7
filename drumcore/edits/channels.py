"""Edits of channels: their settings, feeds, treatments and outputs."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.flow import channels_and_buses
from drumcore.kit.lookup import channel_of, free_id, piece_of, with_channel, with_channels
from drumcore.kit.values import LEAST_DB, MAIN, Channel, Feed, Kit, Level, Side
from drumcore.refusals import Refusal
from drumcore.routing.level_groups import moved, with_their_groups
from drumcore.treatments.kinds import Treatment, TreatmentOfAKind, in_order
from drumcore.value import Value


class SetChannel(Value):
    """Changes some of a channel's settings; None leaves one as it is. `output` 0 routes it to main. The main mix is a
    channel as well; it always leaves by output 1.
    """

    kind: Literal["set_channel"] = "set_channel"
    channel: str
    level_db: Level | None = None
    pan: Annotated[float, Field(ge=-1.0, le=1.0)] | None = None
    muted: bool | None = None
    treated: bool | None = None
    side: Side | None = None
    output: Annotated[int, Field(ge=0, le=64)] | None = None


class SetChannels(Value):
    """Changes several channels at once. The first goes to `level_db` and the others keep their distance to it; other
    settings become equal in all. None leaves a setting as it is. Channels grouped with one of these move along.
    """

    kind: Literal["set_channels"] = "set_channels"
    channels: Annotated[tuple[str, ...], Field(min_length=1, max_length=1000)]
    level_db: Level | None = None
    pan: Annotated[float, Field(ge=-1.0, le=1.0)] | None = None
    muted: bool | None = None
    output: Annotated[int, Field(ge=0, le=64)] | None = None


class GroupChannels(Value):
    """Groups channels: their levels keep their distances from now on. They leave the groups they were in."""

    kind: Literal["group_channels"] = "group_channels"
    channels: Annotated[tuple[str, ...], Field(min_length=2, max_length=1000)]


class Ungroup(Value):
    """Dissolves the group of a channel."""

    kind: Literal["ungroup"] = "ungroup"
    channel: str


class SetTreatment(Value):
    """Adds a treatment to a channel, in place of one of the same kind."""

    kind: Literal["set_treatment"] = "set_treatment"
    channel: str
    treatment: TreatmentOfAKind


class RemoveTreatment(Value):
    """Removes a channel's treatment of one kind."""

    kind: Literal["remove_treatment"] = "remove_treatment"
    channel: str
    treatment: Annotated[str, Field(max_length=40)]


class SetTreatments(Value):
    """Gives a channel exactly these treatments."""

    kind: Literal["set_treatments"] = "set_treatments"
    channel: str
    treatments: Annotated[tuple[TreatmentOfAKind, ...], Field(max_length=16)]


class BypassTreatment(Value):
    """Bypasses all treatments of the kit, or enables them again."""

    kind: Literal["bypass_treatment"] = "bypass_treatment"
    bypassed: bool


class SetFeed(Value):
    """Feeds a piece's microphone into a channel at a level; None removes the feed. With `on` false it keeps its level
    but is silent.
    """

    kind: Literal["set_feed"] = "set_feed"
    piece: str
    mic: str
    channel: str
    level_db: Level | None
    on: bool = True


class RemoveChannel(Value):
    """Removes a channel without feeds."""

    kind: Literal["remove_channel"] = "remove_channel"
    channel: str


def _set_channel(kit: Kit, edit: SetChannel) -> Kit:
    channel = channel_of(kit, edit.channel)
    changes: dict[str, Any] = {
        name: value
        for name, value in edit.model_dump(exclude={"kind", "channel", "output"}).items()
        if value is not None
    }
    if edit.channel == MAIN and (edit.output is not None or edit.side is not None):
        raise Refusal("The main mix always goes to output 1; channels can go to others.")
    if edit.output is not None:
        if edit.output and all(o.number != edit.output for o in kit.routing.outputs):
            raise Refusal(f"{kit.routing.host} has no output {edit.output}; choose one it has for {channel.name}.")
        changes |= {"output": edit.output or None, "bus": ""}
        # A left or right side belongs to the old output, so it does not move along to a new one.
        if edit.side is None and (edit.output or None) != channel.output:
            changes["side"] = Side.BOTH
    if edit.level_db is not None and LEAST_DB not in (edit.level_db, channel.level_db):
        together = with_their_groups(kit, [edit.channel])
        if len(together) > 1:
            kit = _moved(kit, together, edit.level_db - channel.level_db)
            del changes["level_db"]
    return with_channel(kit, edit.channel, lambda c: c.but(**changes))


def _moved(kit: Kit, channels: Sequence[str], by_db: float) -> Kit:
    levels = moved({c.id: c.level_db for c in channels_and_buses(kit.routing) if c.id in channels}, by_db)
    return with_channels(kit, levels, lambda c: c.but(level_db=levels[c.id]))


def _own_channels(kit: Kit, channels: Sequence[str]) -> None:
    """Raises Refusal if a channel does not exist or is the main mix."""
    for channel in channels:
        channel_of(kit, channel)
    if MAIN in channels:
        raise Refusal("The main mix moves on its own; leave it out of the selection.")


def _set_channels(kit: Kit, edit: SetChannels) -> Kit:
    _own_channels(kit, edit.channels)
    for channel in dict.fromkeys(edit.channels):
        same = SetChannel(channel=channel, pan=edit.pan, muted=edit.muted, output=edit.output)
        kit = _set_channel(kit, same)
    first = channel_of(kit, edit.channels[0])
    if edit.level_db is None:
        return kit
    if LEAST_DB in (edit.level_db, first.level_db):
        return _set_channel(kit, SetChannel(channel=first.id, level_db=edit.level_db))
    return _moved(kit, with_their_groups(kit, edit.channels), edit.level_db - first.level_db)


def _group_channels(kit: Kit, edit: GroupChannels) -> Kit:
    _own_channels(kit, edit.channels)
    if len(set(edit.channels)) < 2:
        raise Refusal("A group needs two channels at least; choose another beside it.")
    group = free_id("group", {c.group for c in channels_and_buses(kit.routing)})
    return with_channels(kit, edit.channels, lambda c: c.but(group=group))


def _take_group_apart(kit: Kit, edit: Ungroup) -> Kit:
    channel = channel_of(kit, edit.channel)
    if not channel.group:
        raise Refusal(f"{channel.name} is in no group.")
    return with_channels(kit, with_their_groups(kit, [channel.id]), lambda c: c.but(group=""))


def _without(channel: Channel, kind: str) -> tuple[Treatment, ...]:
    return tuple(t for t in channel.treatments if t.kind != kind)


def _set_treatment(kit: Kit, edit: SetTreatment) -> Kit:
    def treated(channel: Channel) -> Channel:
        others = _without(channel, edit.treatment.kind)
        return channel.but(treatments=in_order((*others, edit.treatment)))

    return with_channel(kit, edit.channel, treated)


def _take_treatment(kit: Kit, edit: RemoveTreatment) -> Kit:
    channel = channel_of(kit, edit.channel)
    left = _without(channel, edit.treatment)
    if left == channel.treatments:
        raise Refusal(f"{channel.name} has no treatment of the kind “{edit.treatment}”.")
    return with_channel(kit, edit.channel, lambda c: c.but(treatments=left))


def _set_treatments(kit: Kit, edit: SetTreatments) -> Kit:
    kinds = [t.kind for t in edit.treatments]
    if len(kinds) != len(set(kinds)):
        raise Refusal(f"{channel_of(kit, edit.channel).name} takes one treatment of each kind.")
    return with_channel(kit, edit.channel, lambda c: c.but(treatments=in_order(edit.treatments)))


def _bypass_treatment(kit: Kit, edit: BypassTreatment) -> Kit:
    return kit.but(routing=kit.routing.but(treated=not edit.bypassed))


def _set_feed(kit: Kit, edit: SetFeed) -> Kit:
    piece_of(kit, edit.piece)
    channel = channel_of(kit, edit.channel)
    if channel not in kit.routing.channels:
        raise Refusal(f"A microphone feeds a channel; {channel.name} is fed by channels.")
    if all(mic.id != edit.mic for mic in kit.mics):
        raise Refusal(f"This kit has no microphone “{edit.mic}”.")
    feeds = {(f.piece, f.mic, f.channel): f for f in kit.routing.feeds}
    key = (edit.piece, edit.mic, edit.channel)
    if edit.level_db is None:
        feeds.pop(key, None)
    else:
        feeds[key] = Feed(piece=edit.piece, mic=edit.mic, channel=edit.channel, level_db=edit.level_db, on=edit.on)
    return kit.but(routing=kit.routing.but(feeds=tuple(feeds.values())))


def _remove_channel(kit: Kit, edit: RemoveChannel) -> Kit:
    channel = channel_of(kit, edit.channel)
    if channel not in kit.routing.channels:
        raise Refusal(f"{channel.name} is not a channel fed by microphones; it stays.")
    if any(feed.channel == channel.id for feed in kit.routing.feeds):
        raise Refusal(f"Microphones feed {channel.name}; move them to another channel first.")
    return kit.but(routing=kit.routing.but(channels=tuple(c for c in kit.routing.channels if c.id != channel.id)))


MEANINGS = Meanings()
MEANINGS.add(SetChannel, _set_channel)
MEANINGS.add(SetChannels, _set_channels)
MEANINGS.add(GroupChannels, _group_channels)
MEANINGS.add(Ungroup, _take_group_apart)
MEANINGS.add(SetTreatment, _set_treatment)
MEANINGS.add(RemoveTreatment, _take_treatment)
MEANINGS.add(SetTreatments, _set_treatments)
MEANINGS.add(BypassTreatment, _bypass_treatment)
MEANINGS.add(SetFeed, _set_feed)
MEANINGS.add(RemoveChannel, _remove_channel)
