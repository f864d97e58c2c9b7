"""Bringing a piece of another kit, of the library or of a file into a kit, with everything that depends on it."""

from collections.abc import Iterator, Mapping

from drumcore.edits import bring_piece_steps
from drumcore.edits.bring_piece_values import BringPiece, BringPieces, Entering
from drumcore.edits.build_pieces import free_name
from drumcore.edits.registry import Meanings
from drumcore.kit.invariants import faults, mics_named
from drumcore.kit.lookup import free_id, piece_of, pieces_of, stopping_only
from drumcore.kit.values import LEAST_DB, MOST_DB, Kit, Origin, Piece, slug
from drumcore.refusals import Refusal
from drumcore.routing.default_routing import own_channel


def _bring_piece(kit: Kit, edit: BringPiece) -> Kit:
    for sentence in faults(edit.alone):
        raise Refusal(f"This piece contradicts itself, so it was not added: {sentence}")
    piece = bring_piece_steps.chosen(edit)
    old = piece_of(kit, edit.instead_of) if edit.instead_of else None
    came, called = bring_piece_steps.joined_mics(kit, edit, mics_named(piece))
    stands_for = bring_piece_steps.matches(old, piece) if old else {}
    newcomer = bring_piece_steps.under_their_names(piece, called, _turned(kit, edit))
    identifier = old.id if old else free_id(slug(piece.name), {p.id for p in pieces_of(kit)})
    newcomer = bring_piece_steps.named_anew(kit, newcomer, identifier, stands_for)
    here = {a.id: b.id for a, b in zip(piece.articulations, newcomer.articulations, strict=True)}
    if old is not None:
        newcomer = bring_piece_steps.in_its_place(newcomer, old, edit, {here[new]: new for new in stands_for})
    elif not edit.touch:
        newcomer = bring_piece_steps.untouched(newcomer)
    level = piece.level_db if edit.balance else newcomer.level_db if old else 0.0
    others = {p.name for p in pieces_of(kit) if old is None or p.id != old.id}
    newcomer = newcomer.but(
        name=piece.name if piece.name not in others else free_name(piece.name, others),
        level_db=min(MOST_DB, max(LEAST_DB, level + edit.gain_db)),
        origin=_remembered(edit, old),
    )
    pieces = _on_the_shelf(kit, edit, newcomer)
    there = {a.id for p in pieces for a in p.articulations}
    pieces = tuple(stopping_only(p, there) for p in pieces)
    placed = bring_piece_steps.notes_for(kit, edit, newcomer, here)
    notes = kit.notes.but(placed=tuple(sorted(placed, key=lambda p: (p.note, p.open_from, p.articulation))))
    grown = kit.but(mics=(*kit.mics, *came), pieces=pieces, notes=notes)
    grown = grown.but(routing=bring_piece_steps.routed(kit, grown, edit, newcomer, called))
    grown = bring_piece_steps.treated_alike(_named_after(grown, old, newcomer), edit, newcomer)
    return _without_unheard(grown, kit)


def one_after_another(kit: Kit, edit: BringPieces) -> Iterator[tuple[Kit, BringPiece, Kit]]:
    """Brings several pieces in, one after another. Yields for each the kit before it, its edit, and the kit after it.
    Pieces of one origin share the microphones that came with the first of them.
    """
    came: dict[tuple[str, str], dict[str, str]] = {}
    for one in edit.taken:
        known = came.setdefault((one.origin.kind, one.origin.id) if one.origin else ("", one.of), {})
        here = {mic.id for mic in kit.mics}
        joined = one.but(mics=tuple(_joining(one, {mic: to for mic, to in known.items() if to in here})))
        known.update(bring_piece_steps.joined_mics(kit, joined, mics_named(bring_piece_steps.chosen(joined)))[1])
        after = _bring_piece(kit, joined)
        yield kit, joined, after
        kit = after


def _joining(edit: BringPiece, known: Mapping[str, str]) -> Iterator[Entering]:
    """An edit's microphone settings; microphones in `known` are merged with those already here unless the edit says
    otherwise.
    """
    asked = {entering.mic: entering for entering in edit.mics}
    for mic, to in known.items():
        entering = asked.pop(mic, Entering(mic=mic))
        yield entering if entering.joins or not entering.taken else entering.but(joins=to)
    yield from asked.values()


def _bring_pieces(kit: Kit, edit: BringPieces) -> Kit:
    *_, (_, _, after) = one_after_another(kit, edit)
    return after


def _remembered(edit: BringPiece, old: Piece | None) -> Origin | None:
    """The incoming piece with its origin, and after a replacement the replaced piece's name and the gain that matches
    its loudness.
    """
    if old is None or edit.apart_db is None:
        return edit.origin
    origin = edit.origin or Origin(kind="", id="", name=edit.of)
    level = min(MOST_DB, max(LEAST_DB, old.level_db + edit.apart_db))
    return origin.but(instead_of=old.name, as_loud_at_db=level)


def _turned(kit: Kit, edit: BringPiece) -> set[str]:
    """The microphones that are merged with one of opposite polarity."""
    here = {mic.id: mic.inverted for mic in kit.mics}
    theirs = {mic.id: mic.inverted for mic in edit.alone.mics}
    return {e.mic for e in edit.mics if e.joins in here and e.mic in theirs and here[e.joins] != theirs[e.mic]}


def _on_the_shelf(kit: Kit, edit: BringPiece, newcomer: Piece) -> tuple[Piece, ...]:
    """The kit's pieces with the incoming one: in the replaced piece's position, after the one it joins, or last."""
    if edit.instead_of:
        return tuple(newcomer if p.id == edit.instead_of else p for p in pieces_of(kit))
    if edit.together_with:
        piece_of(kit, edit.together_with)
        return tuple(each for p in pieces_of(kit) for each in ((p, newcomer) if p.id == edit.together_with else (p,)))
    return (*pieces_of(kit), newcomer)


def _named_after(kit: Kit, old: Piece | None, newcomer: Piece) -> Kit:
    """The channel renamed after the incoming piece, unless somebody had named it."""
    mine = own_channel(kit, newcomer)
    if old is None or mine is None or mine.name != old.name:
        return kit
    channels = tuple(c.but(name=newcomer.name) if c.id == mine.id else c for c in kit.routing.channels)
    return kit.but(routing=kit.routing.but(channels=channels))


def _without_unheard(kit: Kit, before: Kit) -> Kit:
    """The kit without microphones that nothing uses any more."""
    heard = {mic for piece in pieces_of(kit) for mic in mics_named(piece)}
    was = {mic for piece in pieces_of(before) for mic in mics_named(piece)}
    gone = was - heard
    feeds = tuple(feed for feed in kit.routing.feeds if feed.mic not in gone)
    return kit.but(mics=tuple(mic for mic in kit.mics if mic.id not in gone), routing=kit.routing.but(feeds=feeds))


MEANINGS = Meanings()
MEANINGS.add(BringPiece, _bring_piece)
MEANINGS.add(BringPieces, _bring_pieces)
