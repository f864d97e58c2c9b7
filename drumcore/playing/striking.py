"""From a strike to what sounds: the one place, beside the browser's player, that walks a play table."""

from dataclasses import dataclass, field

from drumcore.playing.play_table import PlayArticulation, PlayPiece, PlayTable, PlayTake

OPEN = 127


@dataclass(frozen=True)
class Sounding:
    """A take that a strike sets sounding, and how this strike varies."""

    piece: PlayPiece
    articulation: PlayArticulation
    velocity: int
    layer: int
    take_place: int
    take: PlayTake
    gain: float
    tuning: int = 0
    filter: tuple[float, ...] | None = None


@dataclass
class Striker:
    """Keeps each layer's place in its order. Two strikers given the same strikes answer alike."""

    table: PlayTable
    _counts: dict[tuple[str, int], int] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self._by_id = {a.id: (p, a) for p in self.table.pieces for a in p.articulations}

    def strike(self, note: int, velocity: int, openness: int = OPEN) -> list[Sounding]:
        """What a note-on sets sounding: empty where the note is free, the strike ignored, or no layer answers."""
        found: list[Sounding] = []
        coming_in = self.table.head.input_table[velocity]
        for placed in self.table.head.notes[note]:
            if placed.open_from <= openness <= placed.open_to and placed.articulation in self._by_id:
                found += self._sound(*self._by_id[placed.articulation], coming_in)
        return found

    def _sound(self, piece: PlayPiece, articulation: PlayArticulation, coming_in: int) -> list[Sounding]:
        velocity = articulation.table[coming_in] if coming_in else 0
        if velocity == 0:
            return []
        found = []
        for number, layer in enumerate(articulation.layers):
            if not layer.low <= velocity <= layer.high or not layer.steps:
                continue
            count = self._counts.get((articulation.id, number), 0)
            self._counts[articulation.id, number] = count + 1
            gain, tuning, filtered = layer.gains[velocity - layer.low], 0, None
            if layer.turns:
                turn = layer.turns[count % len(layer.turns)]
                gain, tuning, filtered = gain * turn.gain, turn.tuning, turn.filter
            found += [
                Sounding(
                    piece, articulation, velocity, number, place, articulation.takes[place], gain, tuning, filtered
                )
                for place in layer.steps[count % len(layer.steps)]
            ]
        return found
