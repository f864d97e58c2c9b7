"""Play tables for measuring. What is compared leaves by two outputs of one table, so that one render gives both with
the same strikes and takes. Also a piece alone, before its channels.
"""

from collections.abc import Iterator, Mapping, Sequence

from drumcore.kit.flow import behind
from drumcore.kit.lookup import with_channel
from drumcore.kit.values import MAIN, Kit, Width
from drumcore.playing.compiler import compile_kit
from drumcore.playing.mixer import leads_to
from drumcore.playing.play_table import (
    PlayChannel,
    PlayFeed,
    PlayHead,
    PlayOutput,
    PlayPieceFeeds,
    PlaySend,
    PlayTable,
)
from drumcore.routing.pan import Matrix

TREATED, PLAIN = 1, 2
"""The outputs of a table that compares."""
NOWHERE = 99
"""No output of such a table."""


def channel_compared(kit: Kit, channel: str) -> PlayTable:
    """A table in which a channel, bus or the main mix leaves treated by one output and untreated by another, both
    before its level, pan and mute.

    Its treatments count even if they are bypassed. No other output is used. Raises Refusal if there is no such channel.
    """
    kit = with_channel(kit.but(routing=kit.routing.but(treated=True)), channel, lambda c: c.but(treated=True))
    table = compile_kit(kit)
    head = table.head
    if channel == MAIN:
        past = len(head.channels)
        channels = [
            _sent(c, past, c.matrix) if c.into is None and c.output == 0 else _unheard(c) for c in head.channels
        ]
        main = head.main.but(output=TREATED, matrix=_unity(Width.STEREO))
        plain = _alone(head.main.but(id="", into=None), PLAIN)
        return table.but(head=_compared(head, [*channels, plain], head.feeds, Width.STEREO, main))
    place = next(n for n, c in enumerate(head.channels) if c.id == channel)
    found = head.channels[place]
    past = len(head.channels)
    channels = [_entering_too(_unheard(c), place, past) for c in head.channels]
    channels[place] = _alone(found, TREATED).but(treatments=found.treatments)
    feeds = tuple(f.but(mics=tuple(tuple(_doubled(mic, {place: past})) for mic in f.mics)) for f in head.feeds)
    silent = head.main.but(treatments=(), output=0)
    return table.but(head=_compared(head, [*channels, _alone(found, PLAIN)], feeds, found.width, silent))


def kit_compared(kit: Kit) -> PlayTable:
    """A table of the whole kit, all outputs folded to stereo, once with all treatments and once with none."""
    table = compile_kit(kit.but(routing=kit.routing.but(treated=True)))
    head = table.head
    count = len(head.channels)
    main = _folded(head.main)
    heard = [_folded(c) if c.into is None and c.output else c for c in head.channels]
    plain = [
        c.but(
            treatments=(),
            into=None if c.into is None else c.into + count,
            sends=tuple(send.but(into=send.into + count) for send in c.sends),
            output=PLAIN if c.into is None else 0,
            matrix=_product(main.matrix, c.matrix) if c.into is None and not c.output else c.matrix,
        )
        for c in heard
    ]
    both = {place: place + count for place in range(count)}
    feeds = tuple(f.but(mics=tuple(tuple(_doubled(mic, both)) for mic in f.mics)) for f in head.feeds)
    return table.but(head=_compared(head, [*heard, *plain], feeds, Width.STEREO, main))


def _alone(channel: PlayChannel, output: int) -> PlayChannel:
    """A channel reduced to its input, leaving by one output only."""
    return channel.but(output=output, into=None, sends=(), matrix=_unity(channel.width), treatments=())


def _unheard(channel: PlayChannel) -> PlayChannel:
    """A channel that keeps its routes into buses but reaches no output itself."""
    return channel if channel.into is not None else channel.but(output=NOWHERE)


def _sent(channel: PlayChannel, into: int, matrix: Matrix) -> PlayChannel:
    return channel.but(sends=(*channel.sends, PlaySend(into=into, matrix=matrix)))


def _entering_too(channel: PlayChannel, place: int, other: int) -> PlayChannel:
    """A channel that, wherever it enters the channel at `place`, also enters another."""
    also = [send.but(into=other) for send in channel.sends if send.into == place]
    if channel.into == place:
        also.append(PlaySend(into=other, matrix=channel.matrix))
    return channel.but(sends=(*channel.sends, *also)) if also else channel


def _doubled(feeds: Sequence[PlayFeed], places: Mapping[int, int]) -> Iterator[PlayFeed]:
    """The feeds, each also entering the copy of its channel."""
    for feed in feeds:
        yield feed
        if feed.channel in places:
            yield feed.but(channel=places[feed.channel])


def _folded(channel: PlayChannel) -> PlayChannel:
    """A channel that goes to an output, folded to stereo: a mono output is heard on both sides."""
    matrix = channel.matrix if len(channel.matrix) == 2 else (channel.matrix[0], channel.matrix[0])
    return channel.but(output=TREATED, matrix=matrix)


def _compared(
    head: PlayHead,
    channels: Sequence[PlayChannel],
    feeds: tuple[PlayPieceFeeds, ...],
    width: Width,
    main: PlayChannel,
) -> PlayHead:
    """A head with the two compared outputs and the channels that reach them."""
    by_main = main.output == TREATED
    kept = [n for n, c in enumerate(channels) if _arrives(c, by_main)]
    for n in kept:
        kept += [m for m, c in enumerate(channels) if m not in kept and n in leads_to(c)]
    order = [n for n in behind([leads_to(c) for c in channels]) if n in kept]
    places = {n: place for place, n in enumerate(order)}
    return head.but(
        channels=tuple(_moved(channels[n], places) for n in order),
        order=tuple(range(len(order))),
        feeds=tuple(f.but(mics=tuple(tuple(_kept(mic, places)) for mic in f.mics)) for f in feeds),
        outputs=tuple(PlayOutput(number=n, name=str(n), width=width) for n in (TREATED, PLAIN)),
        main=main,
    )


def _arrives(channel: PlayChannel, by_main: bool) -> bool:
    return channel.into is None and (channel.output in (TREATED, PLAIN) or (by_main and channel.output == 0))


def _moved(channel: PlayChannel, places: Mapping[int, int]) -> PlayChannel:
    """A channel with its destinations renumbered; destinations that were dropped are removed."""
    sends = tuple(send.but(into=places[send.into]) for send in channel.sends if send.into in places)
    if channel.into is None:
        return channel.but(sends=sends)
    into = places.get(channel.into)
    return channel.but(sends=sends, into=into, output=NOWHERE if into is None else 0)


def _kept(feeds: Sequence[PlayFeed], places: Mapping[int, int]) -> Iterator[PlayFeed]:
    return (feed.but(channel=places[feed.channel]) for feed in feeds if feed.channel in places)


def _unity(width: Width) -> Matrix:
    return ((1.0, 0.0), (0.0, 1.0)) if width is Width.STEREO else ((1.0,),)


def _product(left: Matrix, right: Matrix) -> Matrix:
    return tuple(
        tuple(sum(a * b for a, b in zip(row, c, strict=True)) for c in zip(*right, strict=True)) for row in left
    )


def before_channels(table: PlayTable, piece: str) -> PlayTable:
    """A table with one piece only, each channel untreated on an output of its own."""
    head = table.head
    channels = tuple(
        c.but(output=n, into=None, sends=(), matrix=_unity(c.width), treatments=())
        for n, c in enumerate(head.channels, start=1)
    )
    alone = head.but(
        channels=channels,
        outputs=tuple(PlayOutput(number=c.output, name=c.name, width=c.width) for c in channels),
        feeds=tuple(feeds for feeds in head.feeds if feeds.piece == piece),
        # The piece is struck directly, so notes and the pedal do not matter.
        notes=((),) * len(head.notes),
        closing=(),
        inputs=(),
        main=head.main.but(treatments=(), output=0),
    )
    return PlayTable(head=alone, pieces=tuple(p for p in table.pieces if p.id == piece))
