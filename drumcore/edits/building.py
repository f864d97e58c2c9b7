"""Putting pieces into a kit, and taking one out, with everything that hangs on them."""

from drumcore.kit.lookup import piece_of, pieces_of
from drumcore.kit.values import Kit, Mic, NoteMap, Piece, Silence
from drumcore.notes.standard import hats_silencing, place_by_standard
from drumcore.refusals import Refusal
from drumcore.routing.lanes import route_pieces


def build_pieces(kit: Kit, mics: tuple[Mic, ...], pieces: tuple[Piece, ...]) -> Kit:
    """The kit with the pieces added: standard notes, hats and chokes that silence, channels and feeds."""
    if not pieces:
        raise Refusal("No pieces were read from these recordings; check how their names are read.")
    known = {mic.id for mic in kit.mics}
    heard = {r.mic for p in pieces for a in p.articulations for t in a.takes for r in t.recordings}
    missing = heard - known - {mic.id for mic in mics}
    if missing:
        raise Refusal(f"The pieces were heard by a microphone the kit does not have: {', '.join(sorted(missing))}.")
    stops = hats_silencing(pieces)
    added = tuple(
        piece.but(
            articulations=tuple(
                a.but(silences=tuple(Silence(articulation=i) for i in stops.get(a.id, ()))) for a in piece.articulations
            )
        )
        for piece in pieces
    )
    new = {piece.id for piece in added}
    kept = tuple(piece for piece in pieces_of(kit) if piece.id not in new)
    grown = kit.but(
        mics=kit.mics + tuple(mic for mic in mics if mic.id not in known),
        pieces=kept + added,
        notes=place_by_standard(added, _without_lost_notes(kept + added, kit)),
    )
    return grown.but(routing=route_pieces(added, grown))


def _without_lost_notes(pieces: tuple[Piece, ...], kit: Kit) -> NoteMap:
    known = {a.id for p in pieces for a in p.articulations}
    return kit.notes.but(placed=tuple(p for p in kit.notes.placed if p.articulation in known))


def take_out_piece(kit: Kit, gone_id: str) -> Kit:
    """The kit without a piece: its notes, its feeds, its channel and the silences that named it go with it."""
    piece = piece_of(kit, gone_id)
    gone = {a.id for a in piece.articulations}
    pieces = tuple(
        p.but(
            articulations=tuple(
                a.but(silences=tuple(s for s in a.silences if s.articulation not in gone)) for a in p.articulations
            )
        )
        for p in pieces_of(kit)
        if p.id != gone_id
    )
    feeds = tuple(f for f in kit.routing.feeds if f.piece != gone_id)
    still_fed = {f.channel for f in feeds}
    left_empty = {f.channel for f in kit.routing.feeds if f.piece == gone_id} - still_fed
    channels = tuple(c for c in kit.routing.channels if c.id not in left_empty)
    return kit.but(
        pieces=pieces,
        notes=kit.notes.but(placed=tuple(p for p in kit.notes.placed if p.articulation not in gone)),
        routing=kit.routing.but(feeds=feeds, channels=channels),
    )
