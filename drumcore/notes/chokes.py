"""Which articulation chokes which: the defaults for hats and cymbals, and a sentence."""

from collections import defaultdict

from drumcore.kit.values import Articulation, Choke, Family, Piece
from drumcore.notes.openness import WORDS, is_pedal, opening, rings_open

HAND_STOPPED = (Family.CRASH, Family.RIDE, Family.SPLASH, Family.CHINA)
HAND_STOP_MS = 60.0
CHOKED_BY_KIND = (Family.HATS, *HAND_STOPPED)
"""Kinds of pieces whose articulations stop one another by nature."""


def stopped_by_themselves(piece: Piece) -> dict[str, tuple[str, ...]]:
    """The default chokes: closed hats stop open ones, a hand stops its own cymbal."""
    stops: dict[str, tuple[str, ...]] = {}
    if piece.family is Family.HATS:
        for articulation in piece.articulations:
            ringing = [a.id for a in piece.articulations if rings_open(a) and _wider(a, articulation)]
            stops[articulation.id] = tuple(ringing)
    for choke in (a for a in piece.articulations if is_hand_stop(a)):
        stops[choke.id] = tuple(a.id for a in piece.articulations if a.id != choke.id)
    return {identifier: stopped for identifier, stopped in stops.items() if stopped}


def with_usual_chokes(piece: Piece, new: set[str] | None = None) -> Piece:
    """The piece with its family's usual chokes: all reset, or only those that concern the `new` articulations."""
    stops = stopped_by_themselves(piece)

    def chokes(articulation: Articulation) -> tuple[Choke, ...]:
        wanted = stops.get(articulation.id, ())
        if new is not None and articulation.id not in new:
            there = {s.articulation for s in articulation.chokes}
            return (*articulation.chokes, *(Choke(articulation=i) for i in wanted if i in new and i not in there))
        return tuple(Choke(articulation=i) for i in wanted)

    stopped_by_hand = HAND_STOP_MS if piece.family in HAND_STOPPED else None
    return piece.but(
        articulations=tuple(a.but(chokes=chokes(a)) for a in piece.articulations),
        hand_stop_ms=stopped_by_hand if new is None else piece.hand_stop_ms,
    )


def is_hand_stop(articulation: Articulation) -> bool:
    return any(word in articulation.name.lower() for word in ("choke", "hand stop", "mute"))


def _wider(ringing: Articulation, articulation: Articulation) -> bool:
    """Whether hats ringing in one articulation are stopped by another because it closes them further."""
    return is_pedal(articulation) or _stands(articulation) < _stands(ringing)


def _stands(articulation: Articulation) -> int:
    """How open the hats are in an articulation; one that does not say is closed."""
    place = opening(articulation)
    return WORDS.index("closed") if place is None else place


def sentence(piece: Piece) -> str:
    """A sentence that says which articulations of a piece choke which; empty if none does."""
    names = {a.id: a.name for a in piece.articulations}
    by_stopped: dict[str, list[str]] = defaultdict(list)
    for articulation in piece.articulations:
        for choke in articulation.chokes:
            if choke.articulation in names:
                by_stopped[names[choke.articulation]].append(articulation.name)
    same: dict[tuple[str, ...], list[str]] = defaultdict(list)
    for stopped, stopping in by_stopped.items():
        same[tuple(stopping)].append(stopped)
    said = [
        f"{_listed(stopped, 'and').capitalize()} {'is' if len(stopped) == 1 else 'are'} choked when "
        f"{_listed(list(stopping), 'or')} is hit."
        for stopping, stopped in same.items()
    ]
    if piece.hand_stop_ms is not None:
        said.append("A hand on the pad chokes all of it.")
    return " ".join(said)


def _listed(names: list[str], last: str) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} {last} {names[-1]}"
