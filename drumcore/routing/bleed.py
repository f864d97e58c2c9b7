"""Bleed: the feeds of a piece in a microphone, and the channel that a missing feed would enter."""

from collections import Counter

from drumcore.kit.values import Feed, Kit, Piece, Routing
from drumcore.refusals import Refusal
from drumcore.routing.default_routing import own_channel


def feeds_of_pair(routing: Routing, piece: str, mic: str) -> tuple[Feed, ...]:
    return tuple(feed for feed in routing.feeds if feed.piece == piece and feed.mic == mic)


def entrance(kit: Kit, piece: Piece, mic: str) -> str:
    """The channel that most of a microphone's feeds enter, else the piece's own. Raises Refusal if there is neither."""
    entered = Counter(feed.channel for feed in kit.routing.feeds if feed.mic == mic)
    if entered:
        return entered.most_common(1)[0][0]
    own = own_channel(kit, piece)
    if own is None:
        raise Refusal(f"There is no channel for {piece.name}; make its pieces again under Recordings.")
    return own.id
