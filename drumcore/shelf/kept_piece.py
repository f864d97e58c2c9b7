"""A piece saved in the library with everything that belongs to it: a kit of that piece alone, playable by itself."""

from collections.abc import Iterator, Mapping
from typing import Any

from pydantic import field_validator

from drumcore.kit.flow import next_of
from drumcore.kit.lookup import piece_of
from drumcore.kit.repairs import fixed
from drumcore.kit.upgrades import upgraded
from drumcore.kit.values import KIT_FORMAT, Channel, Kit, Name, Routing, Side, slug
from drumcore.routing.default_routing import mics_heard
from drumcore.value import Value


class KeptPiece(Value):
    """`kit` holds the piece, its microphones and notes, and its path through channels, buses and reverbs; its name,
    description and tags are those of the saved piece. `of` is the kit it came from.
    """

    kit: Kit
    of: Name = ""

    @field_validator("kit", mode="before")
    @classmethod
    def _of_an_older_version(cls, raw: Any) -> Any:
        if not isinstance(raw, Mapping) or not isinstance(raw.get("format"), int):
            return raw
        return {**upgraded(dict(raw))[0], "format": KIT_FORMAT}


def kept_piece(kit: Kit, piece_id: str) -> KeptPiece:
    """Extracts a piece of a kit with everything that belongs to it.

    Routing inside the kit (buses, main) comes along; host outputs do not. References to other pieces are dropped.
    Raises Refusal if the kit has no such piece.
    """
    piece = piece_of(kit, piece_id)
    heard = {*piece.own_mics, *mics_heard(piece)}
    articulations = {articulation.id for articulation in piece.articulations}
    routing = kit.routing
    feeds = tuple(feed for feed in routing.feeds if feed.piece == piece.id)
    into = {feed.channel for feed in feeds}
    channels = tuple(_in_a_kit(channel) for channel in routing.channels if channel.id in into)
    reached = set(_reached(channels, {bus.id: bus for bus in routing.buses}))
    alone = Kit(
        id=slug(piece.name),
        name=piece.name[:120],
        rate_hz=kit.rate_hz,
        mics=tuple(mic for mic in kit.mics if mic.id in heard),
        pieces=(piece,),
        notes=kit.notes.but(placed=tuple(p for p in kit.notes.placed if p.articulation in articulations), base=None),
        routing=Routing(
            channels=channels,
            buses=tuple(_in_a_kit(bus) for bus in routing.buses if bus.id in reached),
            feeds=feeds,
            treated=routing.treated,
        ),
    )
    return KeptPiece(kit=fixed(alone)[0], of=kit.name)


def _in_a_kit(channel: Channel) -> Channel:
    return channel.but(output=None, side=Side.BOTH, group="")


def _reached(channels: tuple[Channel, ...], buses: dict[str, Channel]) -> Iterator[str]:
    """The buses that channels flow into, directly or through other buses."""
    waiting, seen = list(channels), set()
    while waiting:
        for name in next_of(waiting.pop()):
            if name in buses and name not in seen:
                seen.add(name)
                yield name
                waiting.append(buses[name])
