"""Finding items in a kit by id, and replacing one while sharing the rest."""

from collections.abc import Callable, Collection, Iterator

from drumcore.kit.flow import channels_and_buses
from drumcore.kit.values import MAIN, Articulation, Channel, Input, Kit, Layer, Piece, Take
from drumcore.refusals import Refusal


def pieces_of(whole: Kit) -> tuple[Piece, ...]:
    return whole.pieces


def piece_of(kit: Kit, wanted: str) -> Piece:
    for piece in pieces_of(kit):
        if piece.id == wanted:
            return piece
    raise Refusal(f"This kit has no piece “{wanted}”; it may have been deleted.")


def all_articulations(kit: Kit) -> Iterator[tuple[Piece, Articulation]]:
    for piece in pieces_of(kit):
        for articulation in piece.articulations:
            yield piece, articulation


def articulation_of(kit: Kit, articulation_id: str) -> tuple[Piece, Articulation]:
    for piece, articulation in all_articulations(kit):
        if articulation.id == articulation_id:
            return piece, articulation
    raise Refusal(f"This kit has no articulation “{articulation_id}”; it may have been deleted.")


def channel_of(kit: Kit, channel_id: str) -> Channel:
    """A channel by id; buses and the main mix are included."""
    if channel_id == MAIN:
        return kit.routing.main
    for channel in channels_and_buses(kit.routing):
        if channel.id == channel_id:
            return channel
    raise Refusal(f"This kit has no channel “{channel_id}”; it may have been deleted.")


def input_of(kit: Kit, input_id: str) -> Input | None:
    """The kit's settings of an input; None if it has none."""
    return next((each for each in kit.inputs if each.id == input_id), None)


def take_of(articulation: Articulation, take_id: str) -> Take:
    for take in articulation.takes:
        if take.id == take_id:
            return take
    raise Refusal(f"{articulation.name} has no take “{take_id}”.")


def layer_of(articulation: Articulation, number: int) -> Layer:
    """A layer by number, from 0, softest first."""
    if not 0 <= number < len(articulation.layers):
        raise Refusal(f"{articulation.name} has {len(articulation.layers)} layers; there is no layer {number + 1}.")
    return articulation.layers[number]


def full_name(piece: Piece, articulation: Articulation) -> str:
    return f"{piece.name} · {articulation.name}"


def free_id(wanted: str, taken: Collection[str]) -> str:
    """An unused id: the wanted one, or that with a number."""
    number, found = 1, wanted
    while found in taken:
        number += 1
        found = f"{wanted}-{number}"
    return found


def stopping_only(piece: Piece, articulations: Collection[str]) -> Piece:
    """The piece without chokes of articulations other than these."""
    if all(s.articulation in articulations for a in piece.articulations for s in a.chokes):
        return piece
    return piece.but(
        articulations=tuple(
            a.but(chokes=tuple(s for s in a.chokes if s.articulation in articulations)) for a in piece.articulations
        )
    )


def with_piece(kit: Kit, wanted: str, change: Callable[[Piece], Piece]) -> Kit:
    piece_of(kit, wanted)
    return kit.but(pieces=tuple(change(p) if p.id == wanted else p for p in pieces_of(kit)))


def with_articulation(kit: Kit, articulation_id: str, change: Callable[[Articulation], Articulation]) -> Kit:
    piece, _ = articulation_of(kit, articulation_id)
    changed = tuple(change(a) if a.id == articulation_id else a for a in piece.articulations)
    owner = piece.id
    return with_piece(kit, owner, lambda p: p.but(articulations=changed))


def with_take(kit: Kit, articulation_id: str, take_id: str, change: Callable[[Take], Take]) -> Kit:
    take_of(articulation_of(kit, articulation_id)[1], take_id)
    return with_articulation(
        kit, articulation_id, lambda a: a.but(takes=tuple(change(t) if t.id == take_id else t for t in a.takes))
    )


def with_channel(kit: Kit, channel_id: str, change: Callable[[Channel], Channel]) -> Kit:
    channel = channel_of(kit, channel_id)
    if channel_id == MAIN:
        return kit.but(routing=kit.routing.but(main=change(channel)))
    return with_channels(kit, (channel_id,), change)


def with_channels(kit: Kit, channels: Collection[str], change: Callable[[Channel], Channel]) -> Kit:
    """The kit with some channels and buses changed; the main mix is not one of them."""
    routing = kit.routing
    changed, buses = (
        tuple(change(c) if c.id in channels else c for c in these) for these in (routing.channels, routing.buses)
    )
    return kit.but(routing=routing.but(channels=changed, buses=buses))
