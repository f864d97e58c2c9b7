"""Bleed: one cell moves all feeds of its pair, off keeps its level, and what nobody let in yet enters where its microphone does."""

import pytest

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.kit.values import Kit
from drumcore.refusals import Refusal
from drumcore.routing.bleed import feeds_of_pair
from drumcore.routing.default_routing import heard_feeds, mics_heard
from drumcore.routing.reachability import is_heard

SNARE_IN_ROOM = {"piece": "snare", "mic": "room"}


def unfed(kit: Kit) -> Kit:
    """The small kit with a recording that nobody lets in."""
    return apply(kit, e.SetFeed(**SNARE_IN_ROOM, channel="room-channel", level_db=None))


def cell(kit: Kit, piece: str = "snare", mic: str = "overheads") -> list[tuple[str, float, bool]]:
    return [(f.channel, f.level_db, f.on) for f in feeds_of_pair(kit.routing, piece, mic)]


def test_a_cell_moves_every_feed_of_its_pair_and_keeps_its_level_while_it_is_off(small_kit: Kit):
    kit = apply(small_kit, e.SetFeed(piece="snare", mic="overheads", channel="kick-channel", level_db=-9.0))
    assert cell(kit) == [("overheads-channel", 0.0, True), ("kick-channel", -9.0, True)]
    kit = apply(kit, e.LetIn(piece="snare", mic="overheads", level_db=-4.5))
    assert cell(kit) == [("overheads-channel", -4.5, True), ("kick-channel", -13.5, True)]
    off = apply(kit, e.LetIn(piece="snare", mic="overheads", on=False))
    assert cell(off) == [("overheads-channel", -4.5, False), ("kick-channel", -13.5, False)]
    assert all(f.piece != "snare" or f.mic != "overheads" for f in heard_feeds(off))
    assert apply(off, e.LetIn(piece="snare", mic="overheads", on=True)) == kit
    # Nothing else moved.
    others = [f for f in kit.routing.feeds if (f.piece, f.mic) != ("snare", "overheads")]
    assert others == [f for f in small_kit.routing.feeds if (f.piece, f.mic) != ("snare", "overheads")]
    # As far as a level goes, and no further.
    least = apply(kit, e.LetIn(piece="snare", mic="overheads", level_db=-120.0))
    assert [level for _, level, _ in cell(least)] == [-120.0, -120.0]


def test_what_was_never_let_in_enters_where_its_microphone_does_and_can_be_sent_elsewhere(small_kit: Kit):
    assert cell(unfed(small_kit), **SNARE_IN_ROOM) == []
    kit = apply(unfed(small_kit), e.LetIn(**SNARE_IN_ROOM, level_db=-11.0, on=True))
    assert cell(kit, **SNARE_IN_ROOM) == [("room-channel", -11.0, True)]
    moved = apply(kit, e.LetInto(**SNARE_IN_ROOM, channel="kick-channel"))
    assert cell(moved, **SNARE_IN_ROOM) == [("kick-channel", -11.0, True)]
    with pytest.raises(Refusal, match="was not recorded by"):
        apply(kit, e.LetIn(piece="snare", mic="hat-mic", level_db=0.0))
    for channel in ("main", "air-bus"):
        with pytest.raises(Refusal, match=r"fed by channels|no channel"):
            apply(kit, e.LetInto(**SNARE_IN_ROOM, channel=channel))


def test_close_microphones_only_silences_nothing_and_all_as_recorded_lets_everything_in(small_kit: Kit):
    kit = apply(unfed(small_kit), e.LetIn(piece="kick", mic="room", level_db=-11.0))
    close = apply(kit, e.CloseOnly())
    for piece in close.pieces:
        mine = {f.mic for f in heard_feeds(close) if f.piece == piece.id}
        before = {f.mic for f in heard_feeds(kit) if f.piece == piece.id}
        own = set(piece.own_mics) & before
        # One that no close microphone recorded stays as it is heard.
        assert mine == (own or before), piece.name
        assert is_heard(close, piece.id)
    assert cell(close, "kick", "room") == [("room-channel", -11.0, False)]
    every = apply(close, e.AllAsRecorded())
    heard = {(f.piece, f.mic) for f in heard_feeds(every)}
    assert heard == {(p.id, mic) for p in every.pieces for mic in mics_heard(p)}
    assert {f.level_db for f in every.routing.feeds} == {0.0}
