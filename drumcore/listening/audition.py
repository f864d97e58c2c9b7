"""Strikes one note and measures where it arrives."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from drumcore.grooves.values import GrooveEvent, PedalMove, Strike
from drumcore.playing.mixer import outputs_in_use
from drumcore.playing.play_table import PlayTable
from drumcore.playing.renderer import render
from drumcore.playing.sounds import Sounds
from drumcore.playing.striker import OPEN, Sounding, Striker
from drumcore.recordings.k_weighting import decibels

LISTEN_S = 2.0
ARRIVES_DBFS = -60.0
"""The line check's rule: a strike arrives at an output where its peak lies above this."""


@dataclass(frozen=True)
class StrikeResult:
    """The result of one strike: what sounded, and the peak in dBFS at each output it reached."""

    sounding: list[Sounding]
    peaks_dbfs: dict[int, float]


def hit(
    table: PlayTable, sounds: Sounds, note: int, velocity: int, *, strikes: int = 1, openness: int = OPEN
) -> Iterator[StrikeResult]:
    """Strikes a note several times, each from a fresh state and measured for two seconds, while the round robins
    advance.
    """
    shown, played = Striker(table), Striker(table)
    for _ in range(strikes):
        shown.pedal(openness)
        sounding = shown.strike(note, velocity)
        events: list[GrooveEvent] = [
            PedalMove(time_s=0.0, openness=openness),
            Strike(time_s=0.0, note=note, velocity=velocity),
        ]
        peaks = {o.number: 0.0 for o in outputs_in_use(table.head)}
        for block in render(table, events, sounds, length_s=LISTEN_S, striker=played):
            for output, sound in block.outputs.items():
                peaks[output] = max(peaks[output], float(np.abs(sound).max(initial=0.0)))
        found = {output: round(decibels(peak), 2) for output, peak in peaks.items()}
        yield StrikeResult(sounding, {output: peak for output, peak in found.items() if peak > ARRIVES_DBFS})
