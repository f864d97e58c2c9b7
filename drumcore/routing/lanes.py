"""The routing a new kit starts with, and what its channels carry."""

from collections.abc import Iterable, Iterator

from drumcore.kit.lookup import pieces_of
from drumcore.kit.remembering import remembered
from drumcore.kit.values import Channel, Feed, Kit, Mic, MicKind, Output, Piece, Routing, Take, Width
from drumcore.refusals import Refusal
from drumcore.routing.hosts import HOSTS

OVERHEADS, ROOM, OTHER_MICS = "overheads", "room", "other-microphones"


def channel_width(kit: Kit, channel_id: str) -> Width:
    """Stereo as soon as one stereo microphone feeds it, or a piece with panned takes."""
    widths = {mic.id: mic.width for mic in kit.mics}
    feeds = [feed for feed in kit.routing.feeds if feed.channel == channel_id]
    if any(widths.get(feed.mic) is Width.STEREO for feed in feeds):
        return Width.STEREO
    by_id = {piece.id: piece for piece in pieces_of(kit)}
    panned = any(feed.piece in by_id and has_panned_takes(by_id[feed.piece]) for feed in feeds)
    return Width.STEREO if panned else Width.MONO


def heard_feeds(kit: Kit) -> Iterator[Feed]:
    """The feeds that let something in: switched on, of microphones that are not muted."""
    muted = {mic.id for mic in kit.mics if mic.muted}
    return (feed for feed in kit.routing.feeds if feed.on and feed.mic not in muted)


def has_panned_takes(piece: Piece) -> bool:
    return any(_panned(a.takes) for a in piece.articulations)


@remembered(limit=2000)
def _panned(takes: tuple[Take, ...]) -> bool:
    return any(take.pan for take in takes)


def mics_heard(piece: Piece) -> list[str]:
    """The microphones that recorded a piece, in the order they turn up."""
    return list(dict.fromkeys(mic for a in piece.articulations for mic in _mics_of(a.takes)))


@remembered(limit=2000)
def _mics_of(takes: tuple[Take, ...]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(r.mic for t in takes for r in t.recordings))


def route_pieces(pieces: Iterable[Piece], kit: Kit) -> Routing:
    """The kit's routing with channels and feeds added for pieces that have none.

    One channel a piece, fed by its own close microphones; overheads and room on channels of their own. A piece
    without a close microphone is heard through its overheads, which then feed its own channel and not the shared one,
    so that it too can be balanced and sent out alone. Bleed (a piece in another's close microphone) is not fed.
    """
    mics = {mic.id: mic for mic in kit.mics}
    channels = {channel.id: channel for channel in kit.routing.channels}
    feeds = list(kit.routing.feeds)
    fed = {(feed.piece, feed.mic) for feed in feeds}
    shared: dict[str, Channel] = {}
    for piece in pieces:
        heard = [mics[m] for m in dict.fromkeys([*piece.own_mics, *mics_heard(piece)])]
        own = [mic for mic in heard if mic.id in piece.own_mics]
        for mic in heard:
            into = _channel_for(mic, piece, bool(own))
            if into is None or (piece.id, mic.id) in fed:
                continue
            target = channels if into.id == piece.id else shared
            if into.id not in channels:
                target.setdefault(into.id, into)
            feeds.append(Feed(piece=piece.id, mic=mic.id, channel=into.id))
    order = [OTHER_MICS, OVERHEADS, ROOM]
    ordered = [c for c in channels.values() if c.id not in order]
    ordered += [c for key in order for c in (channels.get(key), shared.get(key)) if c is not None]
    outputs = kit.routing.outputs if len(kit.routing.outputs) > 1 else host_outputs(kit.routing.host)
    return kit.routing.but(channels=tuple(ordered), feeds=tuple(feeds), outputs=outputs)


def _channel_for(mic: Mic, piece: Piece, has_own: bool) -> Channel | None:
    if mic.id in piece.own_mics:
        return Channel(id=piece.id, name=piece.name)
    if mic.kind is MicKind.OVERHEAD:
        return Channel(id=OVERHEADS, name="Overheads") if has_own else Channel(id=piece.id, name=piece.name)
    if mic.kind is MicKind.ROOM:
        return Channel(id=ROOM, name="Room")
    if mic.kind is MicKind.OTHER:
        return Channel(id=OTHER_MICS, name="Other microphones")
    return None


def host_outputs(host: str) -> tuple[Output, ...]:
    """The outputs of a stand-in host as it numbers them, named plainly; output 1 carries the main mix.

    Raises Refusal for a host that is not known.
    """
    if host not in HOSTS:
        raise Refusal(f"There is no host “{host}” here; it is one of {', '.join(HOSTS)}.")
    widths = HOSTS[host]
    return tuple(
        Output(number=n, name="Main" if n == 1 else f"Output {n}", width=width)
        for n, width in enumerate(widths, start=1)
    )


def outputs_of(kit: Kit, piece_id: str) -> tuple[int, ...]:
    """The outputs a piece leaves by, in order: 1 for the main mix."""
    into = {feed.channel for feed in kit.routing.feeds if feed.piece == piece_id}
    return tuple(sorted({channel.output or 1 for channel in kit.routing.channels if channel.id in into}))
