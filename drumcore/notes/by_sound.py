"""Suggests notes of the standard map for sounds without a drum's name: near articulations that sound alike."""

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Family, Identifier, Kit, MidiNote, Name, Piece
from drumcore.notes.standard import GENERAL_MIDI, TOM_NOTES
from drumcore.recordings.own_mics import own_recording
from drumcore.value import Value

LOW_HZ, BRIGHT_HZ = 500.0, 4000.0
SHORT_MS, LONG_MS = 350.0, 900.0


@dataclass(frozen=True)
class SoundCharacter:
    """How a sound is described for this: its spectral centre in Hz, and its length from its start in ms."""

    hz: float
    ms: float

    def said(self) -> str:
        """How it sounds in two words: “low and long”."""
        height = "low" if self.hz < LOW_HZ else "bright" if self.hz > BRIGHT_HZ else "middling"
        length = "short" if self.ms < SHORT_MS else "long" if self.ms > LONG_MS else "fairly long"
        return f"{height} and {length}"


@dataclass(frozen=True)
class _Place:
    """A note, the usual sound on it, and the penalty for skipping it when there are few sounds."""

    note: int
    sounding: SoundCharacter
    spared: float


USUAL = tuple(
    _Place(note, SoundCharacter(hz, ms), spared)
    for note, hz, ms, spared in (
        (36, 80, 220, 0.0),
        (38, 2500, 320, 0.0),
        (42, 8400, 260, 0.0),
        (46, 6900, 1600, 2.0),
        (48, 230, 1000, 2.0),
        (43, 200, 1700, 2.0),
        (49, 6000, 3000, 2.0),
        (51, 4400, 2500, 2.0),
        (37, 1100, 95, 4.0),
        (44, 5400, 135, 4.0),
        (50, 260, 900, 4.0),
        (45, 205, 1400, 4.0),
        (47, 215, 1100, 5.0),
        (41, 190, 2000, 5.0),
        (57, 5400, 3100, 5.0),
        (55, 4500, 900, 5.0),
        (52, 2000, 1500, 5.0),
        (56, 1550, 700, 5.0),
        (39, 1800, 250, 5.0),
        (54, 8800, 400, 5.0),
        (76, 1250, 115, 6.0),
        (77, 900, 130, 6.0),
        (75, 2200, 80, 6.0),
        (81, 6000, 2000, 6.0),
        (70, 9000, 100, 6.0),
    )
)
"""The standard map's articulations by how they sound: medians measured of the demo's recordings (centroid, length), toms spread about
theirs, the rest between. The last column is what it costs, in octaves squared, to use a note that grooves play seldom."""


def sounding_of(piece: Piece) -> SoundCharacter | None:
    """How the loudest take of a piece's main articulation sounds; None if it has no take."""
    takes = piece.articulations[0].takes if piece.articulations else ()
    if not takes:
        return None
    loudest = max(takes, key=lambda take: take.level_db).recordings
    heard = own_recording(piece.own_mics, loudest)
    return SoundCharacter(max(20.0, heard.centroid_hz), max(10.0, heard.length_ms - heard.start_ms))


def near(sounds: Sequence[SoundCharacter], taken: Collection[int] = ()) -> list[int | None]:
    """A different note for every sound, chosen so that all together are as near as possible to the usual sounds, in
    octaves of height and length. The highest of several tom sounds gets the highest tom. None where no note is left.
    """
    places = [place for place in USUAL if place.note not in taken]
    found: list[int | None] = [None] * len(sounds)
    if places and sounds:
        cost = np.array([[_apart(sound, place) for place in places] for sound in sounds])
        for row, column in zip(*scipy.optimize.linear_sum_assignment(cost), strict=True):
            found[row] = places[column].note
    toms = [at for at, note in enumerate(found) if note in TOM_NOTES]
    by_height = sorted(toms, key=lambda at: -sounds[at].hz)
    notes = sorted((note for at in toms if (note := found[at]) is not None), reverse=True)
    for at, note in zip(by_height, notes, strict=True):
        found[at] = note
    return found


def _apart(sound: SoundCharacter, place: _Place) -> float:
    height = math.log2(sound.hz / place.sounding.hz)
    length = math.log2(sound.ms / place.sounding.ms)
    return height * height + length * length + place.spared


class Proposed(Value):
    """A suggested place for a piece by how it sounds, and the reason."""

    piece: Identifier
    articulation: Identifier
    name: Name
    note: MidiNote
    said: str


def propose(kit: Kit, pieces: Collection[str]) -> tuple[Proposed, ...]:
    """Suggests notes for those of some pieces that have no note and whose names name no drum."""
    struck = {placed.articulation for placed in kit.notes.placed}
    waiting = [
        (piece, sounding)
        for piece in pieces_of(kit)
        if piece.id in pieces
        and piece.family in (Family.OTHER, Family.PERCUSSION)
        and not struck & {articulation.id for articulation in piece.articulations}
        and (sounding := sounding_of(piece)) is not None
    ]
    notes = near([sounding for _, sounding in waiting], {placed.note for placed in kit.notes.placed})
    return tuple(
        Proposed(
            piece=piece.id,
            articulation=piece.articulations[0].id,
            name=piece.name,
            note=note,
            said=f"{sounding.said()}, like the {GENERAL_MIDI[note].lower()}",
        )
        for (piece, sounding), note in zip(waiting, notes, strict=True)
        if note is not None
    )
