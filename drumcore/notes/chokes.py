"""Which stroke stops which, set for hats and cymbals by themselves and said in a sentence."""

from collections import defaultdict

from drumcore.kit.values import Articulation, Family, Piece, Silence
from drumcore.notes.openness import WORDS, is_pedal, opening, rings_open

HAND_STOPPED = (Family.CRASH, Family.RIDE, Family.SPLASH, Family.CHINA)
HAND_STOP_MS = 60.0
SILENCED_BY_KIND = (Family.HATS, *HAND_STOPPED)
"""Kinds of pieces whose strokes stop one another by nature."""


def stopped_by_themselves(piece: Piece) -> dict[str, tuple[str, ...]]:
    """Which articulations each one stops: closing hats stop open ones, a hand stop its own cymbal."""
    stops: dict[str, tuple[str, ...]] = {}
    if piece.family is Family.HATS:
        for stroke in piece.articulations:
            ringing = [a.id for a in piece.articulations if rings_open(a) and _wider(a, stroke)]
            stops[stroke.id] = tuple(ringing)
    for choke in (a for a in piece.articulations if is_hand_stop(a)):
        stops[choke.id] = tuple(a.id for a in piece.articulations if a.id != choke.id)
    return {identifier: stopped for identifier, stopped in stops.items() if stopped}


def silencing_by_itself(piece: Piece, new: set[str] | None = None) -> Piece:
    """The piece with the silences its kind has: all of it set anew, or only what concerns `new` articulations added."""
    stops = stopped_by_themselves(piece)

    def silences(stroke: Articulation) -> tuple[Silence, ...]:
        wanted = stops.get(stroke.id, ())
        if new is not None and stroke.id not in new:
            there = {s.articulation for s in stroke.silences}
            return (*stroke.silences, *(Silence(articulation=i) for i in wanted if i in new and i not in there))
        return tuple(Silence(articulation=i) for i in wanted)

    stopped_by_hand = HAND_STOP_MS if piece.family in HAND_STOPPED else None
    return piece.but(
        articulations=tuple(a.but(silences=silences(a)) for a in piece.articulations),
        hand_stop_ms=stopped_by_hand if new is None else piece.hand_stop_ms,
    )


def is_hand_stop(articulation: Articulation) -> bool:
    return any(word in articulation.name.lower() for word in ("choke", "hand stop", "mute"))


def _wider(ringing: Articulation, stroke: Articulation) -> bool:
    """Whether hats that ring in one stroke are stopped by another: one that holds them closer together."""
    return is_pedal(stroke) or _stands(stroke) < _stands(ringing)


def _stands(articulation: Articulation) -> int:
    """How wide the hats stand in a stroke; one that says nothing of it is struck closed."""
    place = opening(articulation)
    return WORDS.index("closed") if place is None else place


def sentence(piece: Piece) -> str:
    """Which strokes of a piece stop which, read aloud; empty where none does."""
    names = {a.id: a.name for a in piece.articulations}
    by_stopped: dict[str, list[str]] = defaultdict(list)
    for stroke in piece.articulations:
        for silence in stroke.silences:
            if silence.articulation in names:
                by_stopped[names[silence.articulation]].append(stroke.name)
    same: dict[tuple[str, ...], list[str]] = defaultdict(list)
    for stopped, stopping in by_stopped.items():
        same[tuple(stopping)].append(stopped)
    said = [
        f"{_listed(stopped, 'and').capitalize()} {'stops' if len(stopped) == 1 else 'stop'} when "
        f"{_listed(list(stopping), 'or')} is hit."
        for stopping, stopped in same.items()
    ]
    if piece.hand_stop_ms is not None:
        said.append("A hand on the pad stops all of it.")
    return " ".join(said)


def _listed(names: list[str], last: str) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} {last} {names[-1]}"
