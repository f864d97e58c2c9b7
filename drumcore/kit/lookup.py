"""Looking things up in a kit, and replacing one part of it while sharing the rest."""

from collections.abc import Callable, Iterator

from drumcore.kit.values import Articulation, Channel, Kit, Piece, Take
from drumcore.refusals import Refusal


def piece_of(kit: Kit, piece_id: str) -> Piece:
    for piece in kit.pieces:
        if piece.id == piece_id:
            return piece
    raise Refusal(f"This kit has no piece “{piece_id}”; it may have been taken out since.")


def articulations(kit: Kit) -> Iterator[tuple[Piece, Articulation]]:
    for piece in kit.pieces:
        for articulation in piece.articulations:
            yield piece, articulation


def articulation_of(kit: Kit, articulation_id: str) -> tuple[Piece, Articulation]:
    for piece, articulation in articulations(kit):
        if articulation.id == articulation_id:
            return piece, articulation
    raise Refusal(f"This kit has no articulation “{articulation_id}”; it may have been taken out since.")


def channel_of(kit: Kit, channel_id: str) -> Channel:
    for channel in kit.routing.channels:
        if channel.id == channel_id:
            return channel
    raise Refusal(f"This kit has no channel “{channel_id}”; it may have been taken out since.")


def take_of(articulation: Articulation, take_id: str) -> Take:
    for take in articulation.takes:
        if take.id == take_id:
            return take
    raise Refusal(f"{articulation.name} has no take “{take_id}”.")


def full_name(piece: Piece, articulation: Articulation) -> str:
    return f"{piece.name} · {articulation.name}"


def with_piece(kit: Kit, piece_id: str, change: Callable[[Piece], Piece]) -> Kit:
    piece_of(kit, piece_id)
    return kit.but(pieces=tuple(change(p) if p.id == piece_id else p for p in kit.pieces))


def with_articulation(kit: Kit, articulation_id: str, change: Callable[[Articulation], Articulation]) -> Kit:
    piece, _ = articulation_of(kit, articulation_id)
    changed = tuple(change(a) if a.id == articulation_id else a for a in piece.articulations)
    return with_piece(kit, piece.id, lambda p: p.but(articulations=changed))


def with_take(kit: Kit, articulation_id: str, take_id: str, change: Callable[[Take], Take]) -> Kit:
    take_of(articulation_of(kit, articulation_id)[1], take_id)
    return with_articulation(
        kit, articulation_id, lambda a: a.but(takes=tuple(change(t) if t.id == take_id else t for t in a.takes))
    )


def with_channel(kit: Kit, channel_id: str, change: Callable[[Channel], Channel]) -> Kit:
    channel_of(kit, channel_id)
    channels = tuple(change(c) if c.id == channel_id else c for c in kit.routing.channels)
    return kit.but(routing=kit.routing.but(channels=channels))
