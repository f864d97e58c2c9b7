"""Adding pieces to a kit and removing one, with everything that depends on them."""

from collections.abc import Iterable, Sequence

from drumcore.edits.takes import joined_by_level
from drumcore.kit.invariants import mics_named
from drumcore.kit.lookup import articulation_of, piece_of, pieces_of, stopping_only, with_piece
from drumcore.kit.values import Articulation, Choke, Family, Kit, Mic, MicKind, NoteMap, Piece, Placed, slug
from drumcore.layers.dynamics import articulation_following_strength, following_strength
from drumcore.notes.chokes import with_usual_chokes
from drumcore.notes.maps import in_order
from drumcore.notes.standard import free_note, place_by_standard
from drumcore.refusals import Refusal
from drumcore.routing.default_routing import route_pieces


def build_pieces(kit: Kit, mics: tuple[Mic, ...], pieces: tuple[Piece, ...], known_notes_only: bool = False) -> Kit:
    """The kit with pieces added: a note for every articulation while one is free, chokes of hats and cymbals, channels
    and feeds. With `known_notes_only`, pieces whose names name no drum get no note.

    An articulation whose takes are all about equally loud follows velocity over the whole range. Results of an earlier
    reading of the same recordings are removed: pieces whose recordings are all among the new ones go, with their feeds
    and channels, and so do microphones that nothing uses then. Copies of a rebuilt piece stay, because somebody made
    them on purpose.
    """
    if not pieces:
        raise Refusal("No pieces were read from these recordings; check how their names are read.")
    known = {mic.id for mic in kit.mics}
    missing = {name for piece in pieces for name in mics_named(piece)} - known - {mic.id for mic in mics}
    if missing:
        raise Refusal(f"The pieces use a microphone that the kit does not have: {', '.join(sorted(missing))}.")
    added = tuple(following_strength(with_usual_chokes(piece)) for piece in pieces)
    new = {piece.id for piece in added}
    before = kit
    for left in _read_otherwise_before(kit, added):
        kit = remove_piece(kit, left.id)
    kit = _without_feeds_of(kit, added)
    kept = tuple(piece for piece in pieces_of(kit) if piece.id not in new)
    there = {a.id for piece in kept + added for a in piece.articulations}
    noted = [piece for piece in added if not known_notes_only or piece.family not in (Family.OTHER, Family.PERCUSSION)]
    kept = tuple(stopping_only(piece, there) for piece in kept)
    gone = _heard_by(pieces_of(before)) - _heard_by(kept + added)
    grown = kit.but(
        mics=tuple(mic for mic in (*kit.mics, *(m for m in mics if m.id not in known)) if mic.id not in gone),
        pieces=kept + added,
        notes=_with_free_notes(noted, place_by_standard(added, _without_lost_notes(kept + added, kit))),
    )
    return _without_empty(grown.but(routing=route_pieces(added, grown)), kit)


def _with_free_notes(pieces: Sequence[Piece], notes: NoteMap) -> NoteMap:
    """The notes with every articulation that still has none on a free note, as long as there are some."""
    placed = list(notes.placed)
    taken, has_note = {p.note for p in placed}, {p.articulation for p in placed}
    waiting = [(piece, a) for piece in pieces for a in piece.articulations if a.id not in has_note]
    for piece, articulation in waiting:
        note = free_note(piece, articulation.name, taken)
        if note is None:
            break
        taken.add(note)
        placed.append(Placed(note=note, articulation=articulation.id))
    return notes.but(placed=in_order(placed))


def _contents(pieces: Iterable[Piece]) -> set[str]:
    return {r.content for piece in pieces for a in piece.articulations for take in a.takes for r in take.recordings}


def _heard_by(pieces: Iterable[Piece]) -> set[str]:
    return {mic for piece in pieces for mic in mics_named(piece)}


def _read_otherwise_before(kit: Kit, added: tuple[Piece, ...]) -> list[Piece]:
    """Pieces under other names whose recordings all belong to pieces about to be added, and to no piece that is rebuilt
    (a copy shares its recordings with its original).
    """
    new, ids = _contents(added), {piece.id for piece in added}
    again = _contents(piece for piece in pieces_of(kit) if piece.id in ids)
    others = ((piece, _contents((piece,))) for piece in pieces_of(kit) if piece.id not in ids)
    return [piece for piece, contents in others if contents and contents <= new and not contents <= again]


def _without_feeds_of(kit: Kit, added: tuple[Piece, ...]) -> Kit:
    """The kit without feeds of rebuilt pieces from microphones that no longer recorded them."""
    heard = {piece.id: mics_named(piece) for piece in added}
    feeds = tuple(f for f in kit.routing.feeds if f.piece not in heard or f.mic in heard[f.piece])
    return kit.but(routing=kit.routing.but(feeds=feeds))


def _without_empty(kit: Kit, before: Kit) -> Kit:
    """The kit without channels that lost their last feed, and without feeds of removed microphones."""
    there = {mic.id for mic in kit.mics}
    feeds = tuple(f for f in kit.routing.feeds if f.mic in there)
    fed, was = {f.channel for f in feeds}, {f.channel for f in before.routing.feeds}
    channels = tuple(c for c in kit.routing.channels if c.id in fed or c.id not in was)
    return kit.but(routing=kit.routing.but(feeds=feeds, channels=channels))


def _without_lost_notes(pieces: tuple[Piece, ...], kit: Kit) -> NoteMap:
    known = {a.id for p in pieces for a in p.articulations}
    return kit.notes.but(placed=tuple(p for p in kit.notes.placed if p.articulation in known))


def remove_piece(kit: Kit, gone_id: str) -> Kit:
    """The kit without a piece: its notes, feeds, channel and the chokes that named it go too."""
    piece = piece_of(kit, gone_id)
    gone = {a.id for a in piece.articulations}
    left = {a.id for p in pieces_of(kit) for a in p.articulations} - gone
    pieces = tuple(stopping_only(p, left) for p in pieces_of(kit) if p.id != gone_id)
    feeds = tuple(f for f in kit.routing.feeds if f.piece != gone_id)
    still_fed = {f.channel for f in feeds}
    left_empty = {f.channel for f in kit.routing.feeds if f.piece == gone_id} - still_fed
    channels = tuple(c for c in kit.routing.channels if c.id not in left_empty)
    return kit.but(
        pieces=pieces,
        notes=kit.notes.but(placed=tuple(p for p in kit.notes.placed if p.articulation not in gone)),
        routing=kit.routing.but(feeds=feeds, channels=channels),
    )


def add_to_piece(kit: Kit, wanted: str, mics: tuple[Mic, ...], articulations: tuple[Articulation, ...]) -> Kit:
    """The kit with articulations added to a piece. Takes of an articulation it already has by name join the layers
    nearest in level; other articulations are added as read, on standard notes. An incoming microphone becomes the
    piece's own if it had none.
    """
    piece = piece_of(kit, wanted)
    if not any(a.takes for a in articulations):
        raise Refusal(f"No takes were read from these recordings; nothing was added to {piece.name}.")
    known = {mic.id for mic in kit.mics}
    by_id = {mic.id: mic for mic in (*kit.mics, *mics)}
    heard = {r.mic for a in articulations for t in a.takes for r in t.recordings}
    if heard - set(by_id):
        raise Refusal(
            f"The takes use a microphone that the kit does not have: {', '.join(sorted(heard - set(by_id)))}."
        )
    own = piece.own_mics or tuple(
        dict.fromkeys(
            r.mic for a in articulations for t in a.takes for r in t.recordings if by_id[r.mic].kind is MicKind.CLOSE
        )
    )
    here = {a.name: a for a in piece.articulations}
    for coming in articulations:
        there = here.get(coming.name)
        if there is None or not there.layers:
            identifier = there.id if there else f"{piece.id}/{slug(coming.name)}"
            here[coming.name] = articulation_following_strength(coming).but(id=identifier)
        else:
            known_sounds = {r.content for t in there.takes for r in t.recordings}
            new = [t for t in coming.takes if any(r.content not in known_sounds for r in t.recordings)]
            here[coming.name] = joined_by_level(there, new, own)
    before = {a.id for a in piece.articulations}
    new_articulations = {a.id for a in here.values()} - before
    grown_piece = with_usual_chokes(piece.but(articulations=tuple(here.values()), own_mics=own), new_articulations)
    grown = kit.but(
        mics=kit.mics + tuple(mic for mic in mics if mic.id not in known),
        pieces=tuple(grown_piece if p.id == wanted else p for p in pieces_of(kit)),
        notes=place_by_standard((grown_piece,), kit.notes),
    )
    return grown.but(routing=route_pieces((grown_piece,), grown))


def duplicate_piece(kit: Kit, wanted: str, new_id: str) -> Kit:
    """The kit with a copy of a piece placed after it, fed to the same channels, without notes."""
    piece = piece_of(kit, wanted)
    renamed = {a.id: f"{new_id}/{a.id.split('/', 1)[-1]}" for a in piece.articulations}

    def chokes(a: Articulation) -> tuple[Choke, ...]:
        return tuple(s.but(articulation=renamed.get(s.articulation, s.articulation)) for s in a.chokes)

    copy = piece.but(
        id=new_id,
        name=free_name(piece.name, {p.name for p in pieces_of(kit)}),
        articulations=tuple(a.but(id=renamed[a.id], chokes=chokes(a)) for a in piece.articulations),
    )
    pieces = [p for each in pieces_of(kit) for p in ((each, copy) if each.id == wanted else (each,))]
    feeds = tuple(f.but(piece=new_id) for f in kit.routing.feeds if f.piece == wanted)
    return kit.but(pieces=tuple(pieces), routing=kit.routing.but(feeds=kit.routing.feeds + feeds))


def duplicate_articulation(kit: Kit, wanted: str, new_id: str) -> Kit:
    """The kit with a copy of an articulation placed after it, without a note."""
    piece, articulation = articulation_of(kit, wanted)
    copy = articulation.but(id=new_id, name=free_name(articulation.name, {a.name for a in piece.articulations}))
    articulations = tuple(a for each in piece.articulations for a in ((each, copy) if each.id == wanted else (each,)))
    owner = piece.id
    return with_piece(kit, owner, lambda p: p.but(articulations=articulations))


def free_name(name: str, taken: set[str]) -> str:
    """The name itself, or with a number if it is in use."""
    number = 2
    while f"{name} {number}" in taken:
        number += 1
    return f"{name} {number}"
