"""The routing of a new kit, and what its channels carry."""

from collections.abc import Iterable, Iterator, Sequence

from drumcore.kit.flow import channels_and_buses, in_order
from drumcore.kit.lookup import free_id, pieces_of
from drumcore.kit.memoization import remembered
from drumcore.kit.values import Channel, Feed, Kit, Mic, MicKind, Piece, Routing, Take, Width, slug
from drumcore.routing.hosts import FERRY, host_outputs

GATHERING = {MicKind.OTHER: "Other microphones", MicKind.OVERHEAD: "Overheads", MicKind.ROOM: "Room"}
"""The kinds of microphones that all pieces share, in the order of their channels, and what those are called."""


def channel_width(kit: Kit, channel_id: str) -> Width:
    """Stereo if any stereo microphone, or a piece with panned takes, feeds the channel."""
    widths = {mic.id: mic.width for mic in kit.mics}
    feeds = [feed for feed in kit.routing.feeds if feed.channel == channel_id]
    if any(widths.get(feed.mic) is Width.STEREO for feed in feeds):
        return Width.STEREO
    by_id = {piece.id: piece for piece in pieces_of(kit)}
    panned = any(feed.piece in by_id and has_panned_takes(by_id[feed.piece]) for feed in feeds)
    return Width.STEREO if panned else Width.MONO


def heard_feeds(kit: Kit) -> Iterator[Feed]:
    """The feeds that are on, of microphones that are not muted."""
    return feeds_let_in(kit.routing, kit.mics)


def feeds_let_in(routing: Routing, mics: Sequence[Mic]) -> Iterator[Feed]:
    """As `heard_feeds`, from the two parts of a kit that decide it."""
    muted = {mic.id for mic in mics if mic.muted}
    return (feed for feed in routing.feeds if feed.on and feed.mic not in muted)


def has_panned_takes(piece: Piece) -> bool:
    return any(_panned(a.takes) for a in piece.articulations)


@remembered(limit=2000)
def _panned(takes: tuple[Take, ...]) -> bool:
    return any(take.pan for take in takes)


def mics_heard(piece: Piece) -> list[str]:
    """The microphones that recorded a piece, in order of appearance."""
    return list(dict.fromkeys(mic for a in piece.articulations for mic in _mics_of(a.takes)))


@remembered(limit=2000)
def _mics_of(takes: tuple[Take, ...]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(r.mic for t in takes for r in t.recordings))


def route_pieces(pieces: Iterable[Piece], kit: Kit) -> Routing:
    """The kit's routing with channels and feeds for pieces that have none.

    Each piece gets a channel, fed by its own close microphones; overheads and rooms get channels of their own. A piece
    without a close microphone is heard in its overheads, which then feed its own channel and not the shared one, so
    that it can be balanced and routed alone. Bleed (a piece in another's close microphone) is not fed.
    """
    mics = {mic.id: mic for mic in kit.mics}
    channels = list(kit.routing.channels)
    feeds = list(kit.routing.feeds)
    fed = {(feed.piece, feed.mic) for feed in feeds}
    for piece in pieces:
        heard = [mics[m] for m in dict.fromkeys([*piece.own_mics, *mics_heard(piece)])]
        own = [mic for mic in heard if mic.id in piece.own_mics]
        there = own_channel(kit, piece)
        for mic in heard:
            gathered = _gathered(mic, piece, bool(own))
            if (piece.id, mic.id) in fed or (gathered is None and mic.kind is MicKind.CLOSE and mic not in own):
                continue
            if gathered is not None:
                into = next((c for c in channels if c.gathers is gathered), None)
                into = into or _new_channel(GATHERING[gathered], channels, gathered)
            else:
                there = there or _new_channel(piece.name, channels)
                into = there
            feeds.append(Feed(piece=piece.id, mic=mic.id, channel=into.id))
    order = [None, *GATHERING]
    channels.sort(key=lambda c: order.index(c.gathers))
    made = kit.routing.but(channels=tuple(channels), feeds=tuple(feeds))
    # A kit without any routing gets the first shipped host.
    return (
        made
        if len(made.outputs) > 1 or made.outputs[0].called
        else made.but(host=FERRY.name, outputs=host_outputs(FERRY))
    )


def _gathered(mic: Mic, piece: Piece, has_own: bool) -> MicKind | None:
    """The kind of shared channel for a piece's microphone; None if it feeds the piece's own channel."""
    if mic.id in piece.own_mics or mic.kind not in GATHERING or (mic.kind is MicKind.OVERHEAD and not has_own):
        return None
    return mic.kind


def _new_channel(name: str, channels: list[Channel], gathers: MicKind | None = None) -> Channel:
    """Adds a channel with an unused id at the end."""
    made = Channel(id=free_id(f"{slug(name)}-channel", {c.id for c in channels}), name=name, gathers=gathers)
    channels.append(made)
    return made


def own_channel(kit: Kit, piece: Piece) -> Channel | None:
    """A piece's own channel: the first that gathers nothing and is fed by its own microphones, or else by any of its
    microphones. A copy of a piece shares it.
    """
    apart = {channel.id: channel for channel in kit.routing.channels if channel.gathers is None}
    mine = [feed for feed in kit.routing.feeds if feed.piece == piece.id and feed.channel in apart]
    by_own = [feed for feed in mine if feed.mic in piece.own_mics]
    return apart[(by_own or mine)[0].channel] if mine else None


@remembered(limit=64)
def outputs_by_channel(routing: Routing) -> dict[str, tuple[int, ...]]:
    """The outputs of every channel and bus, directly and through buses, its own first; 1 for main."""
    all_channels = channels_and_buses(routing)
    found: dict[str, tuple[int, ...]] = {}
    for place in reversed(in_order(all_channels)):
        channel = all_channels[place]
        own = found[channel.bus] if channel.bus else (channel.output or 1,)
        found[channel.id] = tuple(dict.fromkeys([*own, *(n for send in channel.sends for n in found[send.bus])]))
    return found
