"""Edits of routing, and what they mean: channels, what enters them, what treats them, and where they go."""

from typing import Annotated, Any, Literal

from pydantic import Field

from drumcore.edits.meaning import Meanings
from drumcore.kit.lookup import channel_of, piece_of, with_channel
from drumcore.kit.values import Channel, Feed, Kit, Level, Side
from drumcore.refusals import Refusal
from drumcore.routing.plans import PLANS, apply_plan
from drumcore.treatments.kinds import Treatment, in_order
from drumcore.value import Value


class SetChannel(Value):
    """Change some of a channel's settings; None leaves one as it is. `output` 0 sends it to main."""

    kind: Literal["set_channel"] = "set_channel"
    channel: str
    level_db: Level | None = None
    pan: Annotated[float, Field(ge=-1.0, le=1.0)] | None = None
    muted: bool | None = None
    side: Side | None = None
    output: Annotated[int, Field(ge=0, le=64)] | None = None


class SetTreatment(Value):
    """Treat a channel; a treatment of the same kind gives way."""

    kind: Literal["set_treatment"] = "set_treatment"
    channel: str
    treatment: Treatment


class TakeTreatment(Value):
    """Take a channel's treatment of one kind away."""

    kind: Literal["take_treatment"] = "take_treatment"
    channel: str
    treatment: Annotated[str, Field(max_length=40)]


class SetMainLevel(Value):
    kind: Literal["set_main_level"] = "set_main_level"
    level_db: Level


class SetFeed(Value):
    """Let a piece's microphone enter a channel at a level; None takes the feed away. Not `on`, it keeps its level only."""

    kind: Literal["set_feed"] = "set_feed"
    piece: str
    mic: str
    channel: str
    level_db: Level | None
    on: bool = True


class ApplyPlan(Value):
    kind: Literal["apply_plan"] = "apply_plan"
    plan: str


def _set_channel(kit: Kit, edit: SetChannel) -> Kit:
    channel = channel_of(kit, edit.channel)
    changes: dict[str, Any] = {
        name: value
        for name, value in edit.model_dump(exclude={"kind", "channel", "output"}).items()
        if value is not None
    }
    if edit.output is not None:
        if edit.output and all(o.number != edit.output for o in kit.routing.outputs):
            raise Refusal(f"{kit.routing.host} has no output {edit.output}; choose one it has for {channel.name}.")
        changes["output"] = edit.output or None
    return with_channel(kit, edit.channel, lambda c: c.but(**changes))


def _without(channel: Channel, kind: str) -> tuple[Treatment, ...]:
    return tuple(t for t in channel.treatments if t.kind != kind)


def _set_treatment(kit: Kit, edit: SetTreatment) -> Kit:
    def treated(channel: Channel) -> Channel:
        others = _without(channel, edit.treatment.kind)
        return channel.but(treatments=in_order((*others, edit.treatment)))

    return with_channel(kit, edit.channel, treated)


def _take_treatment(kit: Kit, edit: TakeTreatment) -> Kit:
    channel = channel_of(kit, edit.channel)
    left = _without(channel, edit.treatment)
    if left == channel.treatments:
        raise Refusal(f"{channel.name} has no treatment of the kind “{edit.treatment}”.")
    return with_channel(kit, edit.channel, lambda c: c.but(treatments=left))


def _set_main_level(kit: Kit, edit: SetMainLevel) -> Kit:
    return kit.but(routing=kit.routing.but(main_level_db=edit.level_db))


def _set_feed(kit: Kit, edit: SetFeed) -> Kit:
    piece_of(kit, edit.piece)
    channel_of(kit, edit.channel)
    if all(mic.id != edit.mic for mic in kit.mics):
        raise Refusal(f"This kit has no microphone “{edit.mic}”.")
    key = (edit.piece, edit.mic, edit.channel)
    feeds = [f for f in kit.routing.feeds if (f.piece, f.mic, f.channel) != key]
    if edit.level_db is not None:
        feeds.append(Feed(piece=edit.piece, mic=edit.mic, channel=edit.channel, level_db=edit.level_db, on=edit.on))
    return kit.but(routing=kit.routing.but(feeds=tuple(feeds)))


def _apply_plan(kit: Kit, edit: ApplyPlan) -> Kit:
    if edit.plan not in PLANS:
        raise Refusal(f"There is no plan “{edit.plan}”.")
    return kit.but(routing=apply_plan(kit, PLANS[edit.plan]))


MEANINGS = Meanings()
MEANINGS.add(SetChannel, _set_channel)
MEANINGS.add(SetTreatment, _set_treatment)
MEANINGS.add(TakeTreatment, _take_treatment)
MEANINGS.add(SetMainLevel, _set_main_level)
MEANINGS.add(SetFeed, _set_feed)
MEANINGS.add(ApplyPlan, _apply_plan)
