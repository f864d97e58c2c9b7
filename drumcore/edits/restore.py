"""A kit with the routing it had in an earlier version, to listen to or to go back to."""

from drumcore.kit.repairs import fixed
from drumcore.kit.values import Kit


def with_routing_of(kit: Kit, then: Kit) -> Kit:
    """The kit with the earlier mix: channels, buses, feeds, outputs, levels of pieces, and microphone settings. Newer
    pieces keep their feeds into channels that exist; items that no longer exist are left out.
    """
    pieces_then = {piece.id: piece for piece in then.pieces}
    mics_then = {mic.id: mic for mic in then.mics}
    channels = {channel.id for channel in then.routing.channels}
    since = [
        f for f in kit.routing.feeds if f.channel in channels and not (f.piece in pieces_then and f.mic in mics_then)
    ]
    pieces = tuple(p.but(level_db=pieces_then[p.id].level_db) if p.id in pieces_then else p for p in kit.pieces)
    mics = tuple(
        mic.but(inverted=m.inverted, gain_db=m.gain_db, muted=m.muted) if (m := mics_then.get(mic.id)) else mic
        for mic in kit.mics
    )
    routing = then.routing.but(feeds=(*then.routing.feeds, *since))
    return fixed(kit.but(pieces=pieces, mics=mics, routing=routing))[0]
