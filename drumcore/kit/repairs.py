"""Repairs a stored kit that breaks invariants: broken references are dropped and listed, duplicates get ids of their
own.
"""

from collections.abc import Iterable, Sequence
from typing import TypeVar

from drumcore.kit import invariants
from drumcore.kit.flow import circle
from drumcore.kit.lookup import free_id, stopping_only
from drumcore.kit.values import MAIN, Articulation, Channel, Kit, Layer, Piece, Take

ItemT = TypeVar("ItemT")


def fixed(kit: Kit) -> tuple[Kit, tuple[str, ...]]:
    """The repaired kit, and a sentence for every fault it had. A kit without faults is returned as it is."""
    found = tuple(invariants.faults(kit))
    if not found:
        return kit, ()
    mics = _firsts(kit.mics, [mic.id for mic in kit.mics], invariants.MOST_MICS)
    known = {mic.id for mic in mics}
    pieces = [_piece(piece, known) for piece in kit.pieces[: invariants.MOST_PIECES]]
    pieces = _named_apart(pieces)
    articulations = {articulation.id for piece in pieces for articulation in piece.articulations}
    pieces = [stopping_only(piece, articulations) for piece in pieces]
    there = {piece.id for piece in pieces}
    channels_named = [channel for channel in kit.routing.channels if channel.id != MAIN]
    channels = _firsts(channels_named, [c.id for c in channels_named], invariants.MOST_CHANNELS)
    channels = tuple(_treated_once(channel).but(space=None) for channel in channels)
    buses = [bus for bus in kit.routing.buses if bus.id != MAIN and bus.id not in {c.id for c in channels}]
    buses = [_treated_once(bus) for bus in _firsts(buses, [bus.id for bus in buses], invariants.MOST_BUSES)]
    flowing = _without_circles(_into_buses((*channels, *buses), {bus.id for bus in buses}))
    channels, buses = flowing[: len(channels)], list(flowing[len(channels) :])
    entered = {channel.id for channel in channels}
    feeds = [f for f in kit.routing.feeds if f.piece in there and f.mic in known and f.channel in entered]
    placed = [p for p in kit.notes.placed if p.articulation in articulations and p.open_from <= p.open_to]
    routing = kit.routing.but(
        main=_treated_once(kit.routing.main.but(id=MAIN, bus="", sends=(), space=None)),
        channels=channels,
        buses=tuple(buses),
        feeds=_firsts(feeds, [(f.piece, f.mic, f.channel) for f in feeds], invariants.MOST_FEEDS),
        outputs=_firsts(kit.routing.outputs, [o.number for o in kit.routing.outputs], 64),
    )
    whole = kit.but(
        mics=mics,
        pieces=tuple(pieces),
        notes=kit.notes.but(placed=tuple(placed[: invariants.MOST_PLACED])),
        routing=routing,
        inputs=_firsts(kit.inputs, [each.id for each in kit.inputs], 64),
        ignored=kit.ignored[: invariants.MOST_IGNORED],
    )
    return whole, found


def _treated_once(channel: Channel) -> Channel:
    """The channel with only the first treatment of each kind."""
    kinds = [treatment.kind for treatment in channel.treatments]
    return channel.but(treatments=_firsts(channel.treatments, kinds, len(kinds)))


def _into_buses(channels: Sequence[Channel], buses: set[str]) -> tuple[Channel, ...]:
    """Channels whose buses all exist, with at most one send to each."""

    def flowing(channel: Channel) -> Channel:
        sends = [send for send in channel.sends if send.bus in buses]
        bus = channel.bus if channel.bus in buses else ""
        return channel.but(
            sends=_firsts(sends, [send.bus for send in sends], len(sends)),
            bus=bus,
            output=None if bus else channel.output,
        )

    return tuple(flowing(channel) for channel in channels)


def _without_circles(channels: tuple[Channel, ...]) -> tuple[Channel, ...]:
    """The channels without loops: in each loop, the output of the last channel is removed."""
    while way := circle(channels):
        last, bus = way[-2].id, way[-1].id
        channels = tuple(_not_into(channel, bus) if channel.id == last else channel for channel in channels)
    return channels


def _not_into(channel: Channel, bus: str) -> Channel:
    sends = tuple(send for send in channel.sends if send.bus != bus)
    return channel.but(sends=sends, bus="" if channel.bus == bus else channel.bus)


def _firsts(items: Sequence[ItemT], keys: Iterable[object], most: int) -> tuple[ItemT, ...]:
    """The first item of each key, at most `most` items."""
    found: dict[object, ItemT] = {}
    for item, key in zip(items, keys, strict=True):
        found.setdefault(key, item)
    return tuple(found.values())[:most]


def _piece(piece: Piece, mics: set[str]) -> Piece:
    return piece.but(
        own_mics=tuple(mic for mic in piece.own_mics if mic in mics),
        articulations=tuple(
            _articulation(articulation, mics) for articulation in piece.articulations[: invariants.MOST_ARTICULATIONS]
        ),
    )


def _articulation(articulation: Articulation, mics: set[str]) -> Articulation:
    heard = [_take(take, mics) for take in articulation.takes]
    heard = [take for take in heard if take.recordings]
    takes = _firsts(heard, [take.id for take in heard], invariants.MOST_TAKES)
    left = {take.id for take in takes}
    layers: list[Layer] = []
    for layer in articulation.layers[: invariants.MOST_LAYERS]:
        kept = tuple(i for i in dict.fromkeys(layer.takes) if i in left)
        left -= set(kept)
        layers.append(layer.but(takes=kept))
    return articulation.but(takes=takes, layers=tuple(layers))


def _take(take: Take, mics: set[str]) -> Take:
    heard = [r for r in take.recordings if r.mic in mics]
    return take.but(recordings=_firsts(heard, [r.mic for r in heard], len(heard)))


def _named_apart(pieces: Sequence[Piece]) -> list[Piece]:
    """Pieces and articulations with unique ids; an identical duplicate is kept once."""
    ids = {piece.id for piece in pieces}
    articulations = {articulation.id for piece in pieces for articulation in piece.articulations}
    seen: set[str] = set()
    heard: set[str] = set()
    found: list[Piece] = []
    for number, each in enumerate(pieces):
        piece = each
        if each.id in seen:
            if each in pieces[:number]:
                continue
            piece = each.but(id=free_id(each.id, ids))
            ids.add(piece.id)
        seen.add(piece.id)
        own: list[Articulation] = []
        for articulation in piece.articulations:
            apart = articulation
            if articulation.id in heard:
                apart = articulation.but(id=free_id(articulation.id, articulations))
                articulations.add(apart.id)
            heard.add(apart.id)
            own.append(apart)
        found.append(piece.but(articulations=tuple(own)))
    return found
