"""A kit in a few numbers, for lists that show kits without opening them."""

from drumcore.kit.lookup import pieces_of
from drumcore.kit.memoization import remembered
from drumcore.kit.values import Family, Kit, Piece
from drumcore.value import Value


class PieceSummary(Value):
    """`layers` is the largest number in any articulation, `takes` the largest number in any layer."""

    id: str
    name: str
    family: Family
    layers: int
    takes: int


class KitSummary(Value):
    """`mics` are the names of its microphones."""

    takes: int = 0
    pieces: tuple[PieceSummary, ...] = ()
    mics: tuple[str, ...] = ()
    description: str = ""
    tags: tuple[str, ...] = ()


def summary(kit: Kit) -> KitSummary:
    return KitSummary(
        takes=sum(len(a.takes) for p in pieces_of(kit) for a in p.articulations),
        pieces=tuple(_of_piece(piece) for piece in pieces_of(kit)),
        mics=tuple(mic.name for mic in kit.mics),
        description=kit.description,
        tags=kit.tags,
    )


@remembered(limit=4000)
def _of_piece(piece: Piece) -> PieceSummary:
    return PieceSummary(
        id=piece.id,
        name=piece.name,
        family=piece.family,
        layers=max((len(a.layers) for a in piece.articulations), default=0),
        takes=max((len(layer.takes) for a in piece.articulations for layer in a.layers), default=0),
    )
