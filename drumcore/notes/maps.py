"""Note maps saved under a name and applied to any kit, and what applying one would change."""

from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from drumcore.kit.lookup import all_articulations, full_name, pieces_of
from drumcore.kit.memoization import remembered
from drumcore.kit.values import Articulation, Kit, MapEntry, NoteMap, Piece, Placed, SavedMap
from drumcore.notes.standard import place_by_standard
from drumcore.value import Value

STANDARD_NAME = "Standard percussion"


def saved_map(kit: Kit, name: str) -> SavedMap:
    """The kit's own map, described so that it fits other kits."""
    numbers = numbers_in_families(pieces_of(kit))
    entries = []
    for placed in kit.notes.placed:
        for piece, articulation in all_articulations(kit):
            if articulation.id == placed.articulation:
                entries.append(
                    MapEntry(
                        note=placed.note,
                        family=piece.family,
                        articulation=articulation.name,
                        piece=piece.name,
                        number=numbers[piece.id],
                        open_from=placed.open_from,
                        open_to=placed.open_to,
                        gain_db=placed.gain_db,
                    )
                )
    return SavedMap(name=name, entries=tuple(entries))


@dataclass(frozen=True)
class Placing:
    """What a map places in a kit, and its entries for articulations the kit lacks."""

    placed: tuple[Placed, ...]
    without_articulation: tuple[MapEntry, ...] = ()


@remembered(limit=24)
def place_by(pieces: tuple[Piece, ...], saved: SavedMap | None) -> Placing:
    """What a map (None: the standard one) places among the pieces."""
    if saved is None:
        return Placing(place_by_standard(pieces, NoteMap()).placed)
    by_piece, by_family = articulations_by_name(pieces)
    placed: dict[tuple[int, str], Placed] = {}
    without = []
    for entry in saved.entries:
        articulation = by_piece.get((entry.piece.casefold(), entry.articulation.casefold())) or by_family.get(
            (entry.family, entry.number, entry.articulation.casefold())
        )
        if articulation is None:
            without.append(entry)
            continue
        placed.setdefault(
            (entry.note, articulation.id),
            Placed(
                note=entry.note,
                articulation=articulation.id,
                open_from=min(entry.open_from, entry.open_to),
                open_to=max(entry.open_from, entry.open_to),
                gain_db=entry.gain_db,
            ),
        )
    return Placing(in_order(placed.values()), tuple(without))


def in_order(placed: Iterable[Placed]) -> tuple[Placed, ...]:
    return tuple(sorted(placed, key=lambda p: (p.note, p.open_from)))


def numbers_in_families(pieces: tuple[Piece, ...]) -> dict[str, int]:
    """Each piece's number within its family, from 1."""
    counted: Counter[str] = Counter()
    numbers = {}
    for piece in pieces:
        counted[piece.family] += 1
        numbers[piece.id] = counted[piece.family]
    return numbers


def articulations_by_name(
    pieces: tuple[Piece, ...],
) -> tuple[dict[tuple[str, str], Articulation], dict[tuple[str, int, str], Articulation]]:
    """Articulations by (piece, name), and by (family, number in the family, name), names without case."""
    numbers = numbers_in_families(pieces)
    by_piece: dict[tuple[str, str], Articulation] = {}
    by_family: dict[tuple[str, int, str], Articulation] = {}
    for piece in pieces:
        for articulation in piece.articulations:
            by_piece.setdefault((piece.name.casefold(), articulation.name.casefold()), articulation)
            by_family[piece.family.value, numbers[piece.id], articulation.name.casefold()] = articulation
    return by_piece, by_family


def apply_map(kit: Kit, saved: SavedMap | None) -> Kit:
    """The kit with a map's notes. An articulation the map does not place keeps its notes where the map leaves them
    free; `compare` lists those that lose theirs. Nothing but notes changes.
    """
    placing = place_by(pieces_of(kit), saved)
    taken = {p.note for p in placing.placed}
    has_note = {p.articulation for p in placing.placed}
    kept = [p for p in kit.notes.placed if p.articulation not in has_note and p.note not in taken]
    return kit.but(notes=kit.notes.but(placed=in_order((*placing.placed, *kept)), base=saved))


class NoteChange(Value):
    """An articulation whose notes a map would change."""

    articulation: str
    name: str
    before: tuple[int, ...]
    after: tuple[int, ...]


class MapComparison(Value):
    """What applying a map would do: the articulations that move, those that lose their notes, those that keep theirs
    because the map does not place them, and the map's articulations that the kit lacks.
    """

    name: str
    moved: tuple[NoteChange, ...]
    lost: tuple[NoteChange, ...]
    kept: tuple[NoteChange, ...]
    without_articulation: tuple[MapEntry, ...]


def compare(kit: Kit, saved: SavedMap | None) -> MapComparison:
    after = apply_map(kit, saved)
    placing = place_by(pieces_of(kit), saved)
    by_map = {p.articulation for p in placing.placed}
    before_all, after_all = _all_of(kit.notes.placed), _all_of(after.notes.placed)
    moved, lost, kept = [], [], []
    for piece, articulation in all_articulations(kit):
        one = NoteChange(
            articulation=articulation.id,
            name=full_name(piece, articulation),
            before=tuple(dict.fromkeys(p.note for p in before_all[articulation.id])),
            after=tuple(dict.fromkeys(p.note for p in after_all[articulation.id])),
        )
        if one.before and not one.after:
            lost.append(one)
        elif before_all[articulation.id] != after_all[articulation.id]:
            moved.append(one)
        if one.after and articulation.id not in by_map:
            kept.append(one)
    return MapComparison(
        name=saved.name if saved else STANDARD_NAME,
        moved=tuple(moved),
        lost=tuple(lost),
        kept=tuple(kept),
        without_articulation=placing.without_articulation,
    )


def _all_of(placed: tuple[Placed, ...]) -> dict[str, tuple[Placed, ...]]:
    found: dict[str, tuple[Placed, ...]] = defaultdict(tuple)
    for each in placed:
        found[each.articulation] = (*found[each.articulation], each)
    return found


def customised(kit: Kit) -> Iterator[int]:
    """The notes that differ from the map applied last."""
    base = place_by(pieces_of(kit), kit.notes.base).placed
    ours, theirs = _by_note(kit.notes.placed), _by_note(base)
    for note in range(128):
        if ours.get(note, set()) != theirs.get(note, set()):
            yield note


def _by_note(placed: tuple[Placed, ...]) -> dict[int, set[Placed]]:
    found: dict[int, set[Placed]] = defaultdict(set)
    for each in placed:
        found[each.note].add(each)
    return found
