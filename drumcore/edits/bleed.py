"""Edits of bleed: how much of each piece is heard in each microphone."""

from collections.abc import Callable, Iterable
from typing import Literal

from drumcore.edits.registry import Meanings
from drumcore.kit.lookup import channel_of, piece_of, pieces_of
from drumcore.kit.values import LEAST_DB, MAIN, MOST_DB, Feed, Identifier, Kit, Level, Piece
from drumcore.refusals import Refusal
from drumcore.routing.bleed import entrance, feeds_of_pair
from drumcore.routing.default_routing import mics_heard
from drumcore.value import Value


class LetIn(Value):
    """Sets a piece's level in one of its microphones: the first of its feeds goes to `level_db` and the others keep
    their distance to it. With `on` false the feeds keep their levels but are silent. None leaves a setting as it is. A
    microphone without feeds gets one into the channel where that microphone usually goes.
    """

    kind: Literal["let_in"] = "let_in"
    piece: Identifier
    mic: Identifier
    level_db: Level | None = None
    on: bool | None = None


class LetInto(Value):
    """Feeds a piece's microphone into one channel only; its level stays."""

    kind: Literal["let_into"] = "let_into"
    piece: Identifier
    mic: Identifier
    channel: Identifier


class CloseOnly(Value):
    """Silences all bleed: every piece is heard in its own microphones only, and the other feeds are off but keep their
    levels. A piece without a microphone of its own is left as it is.
    """

    kind: Literal["close_only"] = "close_only"


class AllAsRecorded(Value):
    """Turns all feeds on at the level they were recorded at."""

    kind: Literal["all_as_recorded"] = "all_as_recorded"


def _recorded(kit: Kit, piece: str, mic: str) -> Piece:
    found = piece_of(kit, piece)
    if mic not in mics_heard(found):
        raise Refusal(f"{found.name} was not recorded by “{mic}”; only recorded microphones can be added.")
    return found


def _with_feeds(kit: Kit, feeds: Iterable[Feed]) -> Kit:
    return kit.but(routing=kit.routing.but(feeds=tuple(feeds)))


def _let_in(kit: Kit, edit: LetIn) -> Kit:
    piece = _recorded(kit, edit.piece, edit.mic)
    mine = feeds_of_pair(kit.routing, piece.id, edit.mic)
    if not mine:
        made = Feed(piece=piece.id, mic=edit.mic, channel=entrance(kit, piece, edit.mic))
        kit, mine = _with_feeds(kit, (*kit.routing.feeds, made)), (made,)
    by_db = 0.0 if edit.level_db is None else edit.level_db - mine[0].level_db

    def moved(feed: Feed) -> Feed:
        # The first feed gets exactly the level asked for. At −∞ dB there is no distance to keep.
        level = edit.level_db if feed is mine[0] and edit.level_db is not None else feed.level_db + by_db
        on = feed.on if edit.on is None else edit.on
        return feed.but(level_db=min(MOST_DB, max(LEAST_DB, level)), on=on)

    return _with_feeds(kit, (moved(f) if f in mine else f for f in kit.routing.feeds))


def _let_into(kit: Kit, edit: LetInto) -> Kit:
    piece = _recorded(kit, edit.piece, edit.mic)
    channel = channel_of(kit, edit.channel)
    if channel.id == MAIN or channel.id not in {c.id for c in kit.routing.channels}:
        raise Refusal(f"A microphone feeds a channel; {channel.name} is fed by channels.")
    mine = feeds_of_pair(kit.routing, piece.id, edit.mic)
    first = mine[0] if mine else Feed(piece=piece.id, mic=edit.mic, channel=channel.id)
    others = (f for f in kit.routing.feeds if f not in mine)
    return _with_feeds(kit, (*others, first.but(channel=channel.id)))


def _close_only(kit: Kit, edit: CloseOnly) -> Kit:
    own = {piece.id: frozenset(piece.own_mics) & frozenset(mics_heard(piece)) for piece in pieces_of(kit)}
    with_own = {feed.piece for feed in kit.routing.feeds if feed.mic in own[feed.piece]}
    return _each_feed(kit, lambda f: f.but(on=f.mic in own[f.piece]) if f.piece in with_own else f)


def _all_as_recorded(kit: Kit, edit: AllAsRecorded) -> Kit:
    fed = {(feed.piece, feed.mic) for feed in kit.routing.feeds}
    made = [
        Feed(piece=piece.id, mic=mic, channel=entrance(kit, piece, mic))
        for piece in pieces_of(kit)
        for mic in mics_heard(piece)
        if (piece.id, mic) not in fed
    ]
    return _each_feed(_with_feeds(kit, (*kit.routing.feeds, *made)), lambda f: f.but(level_db=0.0, on=True))


def _each_feed(kit: Kit, change: Callable[[Feed], Feed]) -> Kit:
    return _with_feeds(kit, (change(feed) for feed in kit.routing.feeds))


MEANINGS = Meanings()
MEANINGS.add(LetIn, _let_in)
MEANINGS.add(LetInto, _let_into)
MEANINGS.add(CloseOnly, _close_only)
MEANINGS.add(AllAsRecorded, _all_as_recorded)
