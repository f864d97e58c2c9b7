"""What each edit means: `apply(kit, edit)` is pure, and refuses with a sentence."""

from collections.abc import Callable
from typing import Any

from drumcore.edits import of_layers, of_pieces, of_takes
from drumcore.edits import values as e
from drumcore.kit.lookup import (
    articulation_of,
    channel_of,
    full_name,
    piece_of,
    pieces_of,
    with_articulation,
    with_channel,
    with_piece,
)
from drumcore.kit.values import Feed, Kit, Placed, Silence, Tracking
from drumcore.notes.names import note_name
from drumcore.refusals import OccupiedNote, Refusal
from drumcore.routing.plans import PLANS, apply_plan


def apply(kit: Kit, edit: e.Edit) -> Kit:
    """The kit with the edit made. Raises Refusal with a sentence where it cannot be; the kit is never half changed."""
    return _MEANINGS[type(edit)](kit, edit)


def _put_on_note(kit: Kit, edit: e.PutOnNote) -> Kit:
    piece, articulation = articulation_of(kit, edit.articulation)
    if edit.from_note == edit.note:
        return kit
    there = [p for p in kit.notes.placed if p.note == edit.note]
    if any(p.articulation == edit.articulation for p in there):
        raise Refusal(f"{full_name(piece, articulation)} is on {note_name(edit.note, kit.notes.middle_c)} already.")
    if there and edit.when_occupied is None:
        names = " and ".join(full_name(*articulation_of(kit, i)) for i in dict.fromkeys(p.articulation for p in there))
        raise OccupiedNote(
            f"{note_name(edit.note, kit.notes.middle_c)} plays {names}; say whether to stack or to take over."
        )
    placed = [
        p
        for p in kit.notes.placed
        if not (p.note == edit.from_note and p.articulation == edit.articulation)
        and not (p.note == edit.note and edit.when_occupied == "take_over")
    ]
    placed.append(Placed(note=edit.note, articulation=edit.articulation))
    return kit.but(notes=kit.notes.but(placed=tuple(sorted(placed, key=lambda p: (p.note, p.open_from)))))


def _take_off_note(kit: Kit, edit: e.TakeOffNote) -> Kit:
    placed = tuple(p for p in kit.notes.placed if not (p.note == edit.note and p.articulation == edit.articulation))
    if len(placed) == len(kit.notes.placed):
        raise Refusal(f"{note_name(edit.note, kit.notes.middle_c)} does not play that articulation.")
    return kit.but(notes=kit.notes.but(placed=placed))


def _set_middle_c(kit: Kit, edit: e.SetMiddleC) -> Kit:
    return kit.but(notes=kit.notes.but(middle_c=edit.octave))


def _set_curve(kit: Kit, edit: e.SetCurve) -> Kit:
    if edit.target is None:
        if edit.curve is None:
            raise Refusal("Everything coming in always has a curve; choose a straight one.")
        return kit.but(curve=edit.curve)
    if any(piece.id == edit.target for piece in pieces_of(kit)):
        return with_piece(kit, edit.target, lambda p: p.but(curve=edit.curve))
    return with_articulation(kit, edit.target, lambda a: a.but(curve=edit.curve))


def _set_tracking(kit: Kit, edit: e.SetTracking) -> Kit:
    return with_piece(kit, edit.piece, lambda p: p.but(tracking=Tracking(level=edit.level)))


def _set_silence(kit: Kit, edit: e.SetSilence) -> Kit:
    articulation_of(kit, edit.stopped)
    rule = () if edit.fade_ms is None else (Silence(articulation=edit.stopped, fade_ms=edit.fade_ms),)
    return with_articulation(
        kit,
        edit.articulation,
        lambda a: a.but(silences=(*(s for s in a.silences if s.articulation != edit.stopped), *rule)),
    )


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
        kit = apply(kit, one)
    return kit


_MEANINGS: dict[type[Any], Callable[[Kit, Any], Kit]] = {
    **of_pieces.MEANINGS,
    **of_layers.MEANINGS,
    **of_takes.MEANINGS,
    e.PutOnNote: _put_on_note,
    e.TakeOffNote: _take_off_note,
    e.SetMiddleC: _set_middle_c,
    e.SetCurve: _set_curve,
    e.SetTracking: _set_tracking,
    e.SetSilence: _set_silence,
    e.SetChannel: _set_channel,
    e.SetMainLevel: _set_main_level,
    e.SetFeed: _set_feed,
    e.ApplyPlan: _apply_plan,
    e.SettleFinding: _settle_finding,
    e.Several: _several,
}
