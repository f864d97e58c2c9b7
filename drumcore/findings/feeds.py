"""Findings about which of a piece's microphones feed which channel."""

from collections.abc import Iterator

from drumcore.edits.channels import SetFeed
from drumcore.findings.finding import Finding, FindingLevel, Where, fix
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Channel, Feed, Kit, Piece
from drumcore.routing.default_routing import heard_feeds
from drumcore.routing.reachability import is_heard


def own_feeds_off(kit: Kit) -> Iterator[Finding]:
    """A piece whose own close microphones are fed into a channel but all switched off, while others hear it."""
    heard = {(feed.piece, feed.mic) for feed in heard_feeds(kit)}
    for piece in pieces_of(kit):
        own = [feed for feed in kit.routing.feeds if feed.piece == piece.id and feed.mic in piece.own_mics]
        if not own or any((feed.piece, feed.mic) in heard for feed in own) or not is_heard(kit, piece.id):
            continue
        if all(feed.on for feed in own):
            continue  # its microphones are muted, which the routing shows by itself
        names = {mic.id: mic.name for mic in kit.mics}
        several = len(own) > 1
        yield Finding(
            rule="own_feeds_off",
            level=FindingLevel.WRONG,
            title=f"{'The close microphones' if several else 'The close microphone'} of {piece.name} {'are' if several else 'is'} off",
            sentence=f"{', '.join(names[feed.mic] for feed in own)} of {piece.name} {'are' if several else 'is'} switched off, so it is "
            "heard only as bleed in other microphones.",
            place=piece.name,
            where=Where(step="routing", piece=piece.id, mic=own[0].mic),
            fixes=(fix("Turn them on" if several else "Turn it on", *(_on(feed) for feed in own if not feed.on)),),
        )


def _on(feed: Feed) -> SetFeed:
    return SetFeed(piece=feed.piece, mic=feed.mic, channel=feed.channel, level_db=feed.level_db)


def fed_into_another(kit: Kit) -> Iterator[Finding]:
    """A piece's own microphone that feeds the channel called after another piece, and not the one called after it."""
    pieces = {piece.name.casefold(): piece for piece in pieces_of(kit)}
    channels = {channel.id: channel for channel in kit.routing.channels if channel.gathers is None}
    for piece in pieces.values():
        mine = [
            f for f in kit.routing.feeds if f.piece == piece.id and f.mic in piece.own_mics and f.channel in channels
        ]
        named_so = next((c for c in channels.values() if c.name.casefold() == piece.name.casefold()), None)
        if named_so is None or not mine or any(feed.channel == named_so.id and feed.on for feed in mine):
            continue
        for feed in mine:
            there = channels[feed.channel]
            other = pieces.get(there.name.casefold())
            if feed.on and other is not None and other.id != piece.id:
                yield _into_another(kit, piece, other, feed, named_so)


def _into_another(kit: Kit, piece: Piece, other: Piece, feed: Feed, channel: Channel) -> Finding:
    mic = next(mic.name for mic in kit.mics if mic.id == feed.mic)
    back = [
        SetFeed(piece=feed.piece, mic=feed.mic, channel=feed.channel, level_db=None),
        SetFeed(piece=feed.piece, mic=feed.mic, channel=channel.id, level_db=feed.level_db),
    ]
    swapped = [
        f for f in kit.routing.feeds if f.piece == other.id and f.mic in other.own_mics and f.channel == channel.id
    ]
    for theirs in swapped:
        back += [
            SetFeed(piece=theirs.piece, mic=theirs.mic, channel=channel.id, level_db=None),
            SetFeed(piece=theirs.piece, mic=theirs.mic, channel=feed.channel, level_db=theirs.level_db),
        ]
    return Finding(
        rule="fed_into_another",
        level=FindingLevel.WRONG,
        title=f"{mic} of {piece.name} feeds the channel of {other.name}",
        sentence=f"{mic}, the close microphone of {piece.name}, enters the channel {other.name}, so what is called "
        f"{channel.name} holds no {piece.name}.",
        place=f"{piece.name} · {mic}",
        where=Where(step="routing", piece=piece.id, mic=feed.mic, channel=feed.channel),
        fixes=(fix("Put both back" if swapped else f"Feed {channel.name}", *back),),
    )


RULES = (own_feeds_off, fed_into_another)
