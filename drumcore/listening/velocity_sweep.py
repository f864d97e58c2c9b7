"""Strikes an articulation at rising velocities and measures the levels: does a harder strike ever play softer?"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from drumcore.arrays import Samples
from drumcore.grooves.values import Strike
from drumcore.playing.mixer import outputs_in_use
from drumcore.playing.play_table import PlayArticulation, PlayPlaced, PlayTable
from drumcore.playing.renderer import render
from drumcore.playing.sounds import Sounds
from drumcore.playing.striker import Striker
from drumcore.recordings.k_weighting import FLOOR_DB, decibels_of_power, strike_level_db

LISTEN_S = 0.3
NOTE = 0
PLAIN = tuple(range(128))


ROUNDING_DB = 0.01


@dataclass(frozen=True)
class Climb:
    """The measured levels of an articulation by velocity: K-weighted mean square over 300 ms of all outputs together,
    in dB.

    `fall_db` is the greatest fall. Takes of one layer differ, so a fall may only be round robin: `beyond_db` is the
    greatest part of a fall that exceeds the level spread of the layers concerned, measured the same way.
    """

    piece: str
    articulation: str
    levels_db: dict[int, float]
    fall_db: float
    beyond_db: float

    @property
    def climbs(self) -> bool:
        return self.beyond_db <= ROUNDING_DB


def climbs(table: PlayTable, sounds: Sounds, velocities: Sequence[int] = range(1, 128)) -> Iterator[Climb]:
    """Strikes every articulation of a kit at rising velocities, each strike from silence, while the round robins
    advance.
    """
    for piece in table.pieces:
        for articulation in piece.articulations:
            if not any(layer.steps for layer in articulation.layers):
                continue
            direct = struck_directly(table, articulation)
            striker = Striker(direct)
            levels = {v: measured_db(direct, sounds, v, striker) for v in velocities}
            fall, beyond = _falls(levels, articulation, _spreads_db(table, articulation, sounds))
            yield Climb(piece.name, articulation.name, levels, fall, beyond)


def _falls(levels: dict[int, float], articulation: PlayArticulation, spreads_db: list[float]) -> tuple[float, float]:
    """The greatest fall from any softer strike, and the greatest beyond the level spread of both strikes' layers."""

    def spread_at(velocity: int) -> float:
        found = (
            s for s, layer in zip(spreads_db, articulation.layers, strict=True) if layer.low <= velocity <= layer.high
        )
        return max(found, default=0.0)

    fall = beyond = 0.0
    for hard, level in levels.items():
        for soft, before in levels.items():
            if soft < hard and before > level:
                fall = max(fall, before - level)
                beyond = max(beyond, before - level - max(spread_at(soft), spread_at(hard)))
    return fall, beyond


def struck_directly(table: PlayTable, *articulations: PlayArticulation) -> PlayTable:
    """The table with the given articulations on notes 0, 1, 2 and so on, and straight curves."""
    notes = tuple(
        (PlayPlaced(articulation=articulations[note].id, open_from=0, open_to=127),)
        if note < len(articulations)
        else ()
        for note in range(128)
    )
    plain = {articulation.id: articulation.but(table=PLAIN) for articulation in articulations}
    pieces = tuple(
        piece.but(articulations=tuple(plain.get(a.id, a) for a in piece.articulations)) for piece in table.pieces
    )
    return table.but(head=table.head.but(notes=notes, input_table=PLAIN, inputs=()), pieces=pieces)


def measured_db(table: PlayTable, sounds: Sounds, velocity: int, striker: Striker) -> float:
    """The level of one strike of note 0: the energies of all outputs together."""
    heard: dict[int, list[Samples]] = {output.number: [] for output in outputs_in_use(table.head)}
    events = [Strike(time_s=0.0, note=NOTE, velocity=velocity)]
    for block in render(table, events, sounds, length_s=LISTEN_S, striker=striker):
        for number, sound in block.outputs.items():
            heard[number].append(sound)
    power = 0.0
    for parts in heard.values():
        level = strike_level_db(np.concatenate(parts, axis=1).T, table.head.rate_hz, LISTEN_S)
        power += 10.0 ** (level / 10.0) if level > FLOOR_DB else 0.0
    return decibels_of_power(power)


def _spreads_db(table: PlayTable, articulation: PlayArticulation, sounds: Sounds) -> list[float]:
    """The level spread of each layer's takes, each struck once at the top of the layer's range."""
    spreads = []
    for number, layer in enumerate(articulation.layers):
        # Each step once, whatever the round robin.
        steps = tuple(dict.fromkeys(layer.steps))
        alone = (y.but(steps=steps if n == number else ()) for n, y in enumerate(articulation.layers))
        only = struck_directly(table, articulation.but(layers=tuple(alone)))
        striker = Striker(only)
        levels = [measured_db(only, sounds, layer.high, striker) for _ in steps]
        spreads.append(max(levels) - min(levels) if levels else 0.0)
    return spreads
