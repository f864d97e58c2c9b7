"""Hi-hat openness: the zones of a note, their blends, and the articulation that closing the pedal plays."""

from collections import defaultdict
from collections.abc import Iterator

from drumcore.kit.values import Articulation, Family, NoteMap, Piece, Placed
from drumcore.layers.ranges import BlendedRange, Span, blend_spans

WORDS = ("tight", "closed", "half", "loose", "open")
"""What articulations along the pedal's way are called, from shut to wide."""


def is_pedal(articulation: Articulation) -> bool:
    """Whether an articulation is the sound of the pedal itself (closed or splashed by foot)."""
    words = articulation.name.lower()
    return "pedal" in words or "foot" in words


def rings_open(articulation: Articulation) -> bool:
    """Whether hats ring in an articulation until something closes them."""
    ringing = WORDS[WORDS.index("half") :]
    return any(word in articulation.name.lower() for word in ringing) and not is_pedal(articulation)


def opening(articulation: Articulation) -> int | None:
    """How open an articulation's name says the hats are, as an index into `WORDS`; None if it does not say."""
    words = articulation.name.lower()
    return next((place for place, word in enumerate(WORDS) if word in words), None)


def along_the_pedal(hats: Piece) -> tuple[Articulation, ...]:
    """The articulations of hats from closed to open, without the pedal's own and those whose names do not say."""
    placed = [(opening(a), a) for a in hats.articulations if not is_pedal(a)]
    return tuple(a for place, a in sorted(placed, key=lambda p: p[0] or 0) if place is not None)


def closing_articulation(piece: Piece) -> Articulation | None:
    """The articulation that closing the pedal plays: the pedal's own, or else the most closed one that chokes another;
    None for other families.
    """
    if piece.family is not Family.HATS:
        return None
    own = [a for a in piece.articulations if is_pedal(a)]
    return next((a for a in (*own, *along_the_pedal(piece)) if a.chokes), own[0] if own else None)


def zones_of(notes: NoteMap, note: int) -> tuple[Placed, ...]:
    """What a note plays by openness, from closed to open; empty if the pedal does not matter there."""
    here = sorted((p for p in notes.placed if p.note == note), key=lambda p: (p.open_from, p.open_to))
    return tuple(p for p in here if (p.open_from, p.open_to) != (0, 127))


def zone_gains(notes: NoteMap) -> Iterator[tuple[Placed, BlendedRange]]:
    """Every placed articulation with the openness it plays at, and its gains there with the blends of neighbouring
    zones.
    """
    by_note: dict[int, list[Placed]] = defaultdict(list)
    for placed in notes.placed:
        by_note[placed.note].append(placed)
    for note, here in by_note.items():
        zones = zones_of(notes, note)
        answers = blend_spans([Span(z.open_from, z.open_to, notes.openness_blend) for z in zones])
        for placed in here:
            if placed in zones:
                yield placed, answers[zones.index(placed)]
            else:
                yield placed, BlendedRange(0, 127, ())
