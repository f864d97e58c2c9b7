"""Rebase: an edit made against an older version, applied to the newest one if the result does not depend on the order."""

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from drumcore.edits.apply import apply
from drumcore.edits.values import Edit
from drumcore.kit.values import MAIN, Kit, Piece


def made_on(base: Kit, stands: Kit, edit: Edit) -> Kit | None:
    """An edit made against `base`, applied to `stands`, the newest kit.

    Returns None if the edit changes or depends on something that changed since. Its effect must be the same as it was
    on `base`; then the order of the two edits does not matter. An edit that changed nothing on `base` changes nothing
    here, so it does not undo somebody else's work.
    """
    made = apply(base, edit)
    mine, theirs = parts_changed(base, made), parts_changed(base, stands)
    if not mine:
        return stands
    if mine & theirs:
        return None
    after = apply(stands, edit)
    meets = parts_changed(stands, after) <= mine and parts_changed(made, after) <= theirs
    return after if meets else None


def parts_changed(before: Kit, after: Kit) -> frozenset[str]:
    """Names of the parts that differ, such as "articulation snare/centre", "note 38", "channel room" or "name"."""
    return frozenset(_parts_changed(before, after))


def _parts_changed(before: Kit, after: Kit) -> Iterator[str]:
    for field in ("name", "description", "tags", "rate_hz", "curve"):
        if getattr(before, field) != getattr(after, field):
            yield field
    yield from (f"finding {key}" for key in set(before.ignored) ^ set(after.ignored))
    yield from _of_list("microphone", before.mics, after.mics)
    yield from _of_list("input", before.inputs, after.inputs)
    if before.pieces is not after.pieces:
        yield from _of_pieces(before, after)
    yield from _of_notes(before, after)
    yield from _of_routing(before, after)


def _of_pieces(before: Kit, after: Kit) -> Iterator[str]:
    if [piece.id for piece in before.pieces] != [piece.id for piece in after.pieces]:
        yield "order of pieces"
    here, there = _by_id(before.pieces), _by_id(after.pieces)
    for name in here.keys() | there.keys():
        one, other = here.get(name), there.get(name)
        if one is other:
            continue
        if one is None or other is None or _without_articulations(one) != _without_articulations(other):
            yield f"piece {name}"
        articulations = [piece.articulations if piece else () for piece in (one, other)]
        if [articulation.id for articulation in articulations[0]] != [
            articulation.id for articulation in articulations[1]
        ]:
            yield f"articulations of {name}"
        yield from _differing("articulation", *map(_by_id, articulations))


def _without_articulations(piece: Piece) -> Piece:
    return piece.but(articulations=())


def _of_notes(before: Kit, after: Kit) -> Iterator[str]:
    if before.notes == after.notes:
        return
    if before.notes.but(placed=()) != after.notes.but(placed=()):
        yield "map"
    yield from (f"note {placed.note}" for placed in set(before.notes.placed) ^ set(after.notes.placed))


def _of_routing(before: Kit, after: Kit) -> Iterator[str]:
    one, other = before.routing, after.routing
    if one == other:
        return
    if one.but(channels=(), buses=(), feeds=(), main=other.main) != other.but(channels=(), buses=(), feeds=()):
        yield "outputs"
    yield from _differing("channel", {MAIN: one.main}, {MAIN: other.main})
    yield from _of_list("channel", one.channels, other.channels)
    yield from _of_list("bus", one.buses, other.buses)
    feeds = [{(f.piece, f.mic, f.channel): f for f in routing.feeds} for routing in (one, other)]
    if [*feeds[0]] != [*feeds[1]]:
        yield "order of feed"
    yield from _differing("feed", *feeds)


def _of_list(kind: str, here: tuple[Any, ...], there: tuple[Any, ...]) -> Iterator[str]:
    """Items whose values differ, by id, and the order they stand in."""
    if [value.id for value in here] != [value.id for value in there]:
        yield f"order of {kind}"
    yield from _differing(kind, _by_id(here), _by_id(there))


def _by_id(values: Iterable[Any]) -> dict[str, Any]:
    return {value.id: value for value in values}


def _differing(kind: str, here: Mapping[Any, Any], there: Mapping[Any, Any]) -> Iterator[str]:
    for key in here.keys() | there.keys():
        if here.get(key) is not there.get(key) and here.get(key) != there.get(key):
            yield f"{kind} {key}"
