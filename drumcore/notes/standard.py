"""The standard percussion notes, and which of a kit's articulations belong on them."""

from collections.abc import Collection, Iterator

from drumcore.kit.values import Articulation, Family, NoteMap, Piece, Placed
from drumcore.natural_order import natural_key

_GENERAL_MIDI_NAMES = (
    "Bass drum 2, Bass drum, Side stick, Snare, Hand clap, Snare 2, Low floor tom, Closed hat, Floor tom, Pedal hat, "
    "Low tom, Open hat, Low mid tom, High mid tom, Crash 1, High tom, Ride, China, Ride bell, Tambourine, Splash, "
    "Cowbell, Crash 2, Vibraslap, Ride 2, High bongo, Low bongo, Mute high conga, Open high conga, Low conga, "
    "High timbale, Low timbale, High agogo, Low agogo, Cabasa, Maracas, Short whistle, Long whistle, Short guiro, "
    "Long guiro, Claves, High wood block, Low wood block, Mute cuica, Open cuica, Mute triangle, Open triangle"
)
GENERAL_MIDI: dict[int, str] = dict(enumerate(_GENERAL_MIDI_NAMES.split(", "), start=35))
"""General MIDI level 1 percussion map, notes 35 to 81."""

_BY_ARTICULATION: dict[tuple[Family, str], tuple[int, ...]] = {
    (Family.KICK, "centre"): (36, 35),
    (Family.SNARE, "centre"): (38,),
    (Family.SNARE, "rimshot"): (40,),
    (Family.SNARE, "side stick"): (37,),
    (Family.HATS, "closed"): (42,),
    (Family.HATS, "tight"): (22,),
    (Family.HATS, "half open"): (26,),
    (Family.HATS, "open"): (46,),
    (Family.HATS, "pedal"): (44,),
    (Family.CRASH, "edge"): (49, 57),
    (Family.CRASH, "choke"): (27, 28),
    (Family.RIDE, "bow"): (51, 59),
    (Family.RIDE, "bell"): (53,),
    (Family.SPLASH, "edge"): (55,),
    (Family.CHINA, "edge"): (52,),
}
_BY_NAME: dict[str, tuple[int, ...]] = {
    "tambourine": (54,),
    "cowbell": (56,),
    "clap": (39,),
    "bongo": (60, 61),
    "conga": (63, 62, 64),
    "timbale": (65, 66),
    "agogo": (67, 68),
    "cabasa": (69,),
    "maracas": (70,),
    "shaker": (70, 69),
    "guiro": (73, 74),
    "claves": (75,),
    "woodblock": (76, 77),
    "triangle": (81, 80),
}
TOM_NOTES = (50, 48, 47, 45, 43, 41)
SECOND_SNARE = 40
_TOMS_BY_COUNT = {1: (48,), 2: (48, 43), 3: (48, 47, 43), 4: (50, 48, 45, 43), 5: (50, 48, 47, 45, 43)}
HAT_OPENNESS = {"tight": 15, "closed": 47, "half open": 95, "open": 127}
"""How far open the pedal may stand for each articulation of the hats; each begins where the one before it ends."""
OPEN_HAT_NOTE = 46


def standard_notes(piece: Piece, articulation_name: str) -> tuple[int, ...]:
    """The General MIDI notes of an articulation, best first. For hats and chokes without one, the two notes below its
    range that many kits add are used. Toms depend on their number; see `place_by_standard`.
    """
    by_articulation = _BY_ARTICULATION.get((piece.family, _without_number(articulation_name)))
    if by_articulation is not None:
        return by_articulation
    words = piece.name.lower()
    notes = next((notes for word, notes in _BY_NAME.items() if word in words), ())
    return tuple(sorted(notes, key=lambda note: articulation_name not in GENERAL_MIDI[note].lower().split()))


def _without_number(articulation_name: str) -> str:
    """“open” for “open 2”: one of several steps."""
    return articulation_name.rstrip("0123456789").strip()


def filed_on(note: int) -> tuple[Family, str] | None:
    """The family and articulation on a note in the standard map; None if it has none."""
    for (family, articulation), notes in _BY_ARTICULATION.items():
        if note in notes:
            return family, articulation
    if note in TOM_NOTES:
        return Family.TOM, "centre"
    return (Family.PERCUSSION, "hit") if note in GENERAL_MIDI else None


def free_note(piece: Piece, articulation_name: str, taken: Collection[int]) -> int | None:
    """A free note for an articulation: one of its standard notes, or else the first note outside the standard map
    (above it before below it), or else any; None if all are in use.
    """
    more = {Family.TOM: TOM_NOTES, Family.SNARE: (SECOND_SNARE,)} if articulation_name == "centre" else {}
    elsewhere = (*range(max(GENERAL_MIDI) + 1, 128), *range(min(GENERAL_MIDI)), *GENERAL_MIDI)
    wanted = (*standard_notes(piece, articulation_name), *more.get(piece.family, ()), *elsewhere)
    return next((note for note in wanted if note not in taken), None)


def place_by_standard(pieces: tuple[Piece, ...], already: NoteMap) -> NoteMap:
    """The note map with every articulation of `pieces` that has no note on its standard note, if that is free.

    The open hats' note also plays the other hats by openness (CC 4); until the pedal moves it counts as open, so that a
    plain file plays open hats there.
    """
    taken = {placed.note for placed in already.placed}
    has_note = {placed.articulation for placed in already.placed}
    placed = list(already.placed)
    tom_notes = _tom_notes(pieces)
    for piece in pieces:
        # Of several steps of open hats, the widest gets the note.
        for articulation in (
            sorted(piece.articulations, key=_steps_down) if hats_in_steps(piece) else piece.articulations
        ):
            if articulation.id in has_note:
                continue
            wanted = standard_notes(piece, articulation.name)
            if piece.family is Family.TOM and articulation.name == "centre":
                wanted = (*tom_notes.get(piece.id, ()), *TOM_NOTES)
            free = next((note for note in wanted if note not in taken), None)
            if free is not None:
                taken.add(free)
                placed.append(Placed(note=free, articulation=articulation.id))
    for piece in pieces:
        if piece.family is Family.HATS:
            placed = list(_spread_openness(piece, placed))
    return already.but(placed=tuple(sorted(placed, key=lambda p: (p.note, p.open_from))))


def _tom_notes(pieces: tuple[Piece, ...]) -> dict[str, tuple[int, ...]]:
    """Toms in the order of the kit, highest first."""
    toms = [piece.id for piece in pieces if piece.family is Family.TOM]
    notes = _TOMS_BY_COUNT.get(len(toms), TOM_NOTES)
    return {tom: (note,) for tom, note in zip(toms, notes, strict=False)}


def hats_in_steps(piece: Piece) -> bool:
    """Whether a piece's articulations are numbered steps of openness."""
    return piece.family is Family.HATS and any(_without_number(a.name) != a.name for a in piece.articulations)


def _steps_down(articulation: Articulation) -> tuple[int, tuple[tuple[int, int, str], ...]]:
    """A place in the order of articulations that puts open ones last to first, and the others after them."""
    number = articulation.name[len(_without_number(articulation.name)) :].strip()
    is_open = _without_number(articulation.name) == "open"
    return (-int(number or 0) if is_open else 1, natural_key(articulation.name))


def _zones(hats: Piece) -> list[tuple[str, int]]:
    """The articulations of hats that stand for an openness, closest first, each with the highest of its values; numbered
    steps of one articulation share its values equally.
    """
    zones, low = [], 0
    for name, high in HAT_OPENNESS.items():
        steps = sorted(
            (a for a in hats.articulations if _without_number(a.name) == name), key=lambda a: natural_key(a.name)
        )
        zones += [(a.id, low + (high - low) * k // len(steps)) for k, a in enumerate(steps, start=1)]
        low = high if steps else low
    return zones


def _spread_openness(hats: Piece, placed: list[Placed]) -> Iterator[Placed]:
    zones = _zones(hats)
    opens = {a.id for a in hats.articulations if _without_number(a.name) == "open"}
    for entry in placed:
        whole = (entry.open_from, entry.open_to) == (0, 127)
        if entry.note != OPEN_HAT_NOTE or entry.articulation not in opens or not whole or len(zones) < 2:
            yield entry
            continue
        low = 0
        for number, (articulation, high) in enumerate(zones):
            top = 127 if number == len(zones) - 1 else high
            yield Placed(note=entry.note, articulation=articulation, open_from=low, open_to=top)
            low = top + 1
