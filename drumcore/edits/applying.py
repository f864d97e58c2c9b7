"""What each edit means: `apply(kit, edit)` is pure, and refuses with a sentence."""

from collections.abc import Callable
from typing import Any

from drumcore.edits import of_layers, of_notes, of_pieces, of_takes, of_touch
from drumcore.edits import values as e
from drumcore.kit.holding import hold
from drumcore.kit.lookup import channel_of, piece_of, with_channel
from drumcore.kit.values import Feed, Kit
from drumcore.refusals import Refusal
from drumcore.routing.plans import PLANS, apply_plan


def apply(kit: Kit, edit: e.Edit) -> Kit:
    """The kit with the edit made. Raises Refusal with a sentence where it cannot be; the kit is never half changed.

    What comes out is held to what holds for every kit (`kit.holding`); of several edits made as one, at their end.
    """
    changed = _meaning(kit, edit)
    if changed is not kit:
        hold(changed)
    return changed


def _meaning(kit: Kit, edit: e.Edit) -> Kit:
    return _MEANINGS[type(edit)](kit, edit)


def _set_channel(kit: Kit, edit: e.SetChannel) -> Kit:
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


def _set_main_level(kit: Kit, edit: e.SetMainLevel) -> Kit:
    return kit.but(routing=kit.routing.but(main_level_db=edit.level_db))


def _set_feed(kit: Kit, edit: e.SetFeed) -> Kit:
    piece_of(kit, edit.piece)
    channel_of(kit, edit.channel)
    if all(mic.id != edit.mic for mic in kit.mics):
        raise Refusal(f"This kit has no microphone “{edit.mic}”.")
    key = (edit.piece, edit.mic, edit.channel)
    feeds = [f for f in kit.routing.feeds if (f.piece, f.mic, f.channel) != key]
    if edit.level_db is not None:
        feeds.append(Feed(piece=edit.piece, mic=edit.mic, channel=edit.channel, level_db=edit.level_db))
    return kit.but(routing=kit.routing.but(feeds=tuple(feeds)))


def _apply_plan(kit: Kit, edit: e.ApplyPlan) -> Kit:
    if edit.plan not in PLANS:
        raise Refusal(f"There is no plan “{edit.plan}”.")
    return kit.but(routing=apply_plan(kit, PLANS[edit.plan]))


def _settle_finding(kit: Kit, edit: e.SettleFinding) -> Kit:
    left = tuple(key for key in kit.settled if key != edit.finding)
    return kit.but(settled=(*left, edit.finding) if edit.settled else left)


def _several(kit: Kit, edit: e.Several) -> Kit:
    for one in edit.edits:
        kit = _meaning(kit, one)
    return kit


_MEANINGS: dict[type[Any], Callable[[Kit, Any], Kit]] = {
    **of_pieces.MEANINGS,
    **of_layers.MEANINGS,
    **of_takes.MEANINGS,
    **of_notes.MEANINGS,
    **of_touch.MEANINGS,
    e.SetChannel: _set_channel,
    e.SetMainLevel: _set_main_level,
    e.SetFeed: _set_feed,
    e.ApplyPlan: _apply_plan,
    e.SettleFinding: _settle_finding,
    e.Several: _several,
}
