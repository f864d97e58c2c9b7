"""How alike consecutive strikes are. Repeating one recording is what makes a kit sound like a machine."""

import numpy as np

from drumcore.arrays import Floats
from drumcore.kit.lookup import articulation_of
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_piece
from drumcore.playing.play_table import PlayArticulation, PlayLayer
from drumcore.playing.sounds import Sounds
from drumcore.routing.default_routing import mics_heard

WINDOW_S = 0.200
REACH_S = 0.002
MACHINE_LIKE = 0.97
"""Strikes more alike than this are heard as one recording repeating."""


def sameness(kit: Kit, articulation_id: str, sounds: Sounds) -> list[float | None]:
    """The similarity of each layer, softest first; None where nothing plays.

    It is the mean, over consecutive strikes once through the layer's round robin, of the greatest normalised
    cross-correlation of their first 200 ms within ±2 ms, in the piece's first own microphone. Repeating one recording
    gives 1. Tuning and start trims count; levels do not matter. Source: the design's rules ("Orders").
    """
    piece, _ = articulation_of(kit, articulation_id)
    articulation = next(a for a in compile_piece(piece, kit).articulations if a.id == articulation_id)
    heard = mics_heard(piece)
    own = next((heard.index(mic) for mic in piece.own_mics if mic in heard), None)
    return [_of_layer(articulation, layer, own, sounds, kit.rate_hz) for layer in articulation.layers]


def _of_layer(
    articulation: PlayArticulation, layer: PlayLayer, own: int | None, sounds: Sounds, rate_hz: int
) -> float | None:
    if not layer.steps:
        return None
    strikes = [
        (layer.steps[i % len(layer.steps)], layer.turns[i % len(layer.turns)].tuning if layer.turns else 0)
        for i in range(max(len(layer.steps), len(layer.turns)))
    ]
    heard = {strike: _opening(articulation, *strike, own, sounds, rate_hz) for strike in dict.fromkeys(strikes)}
    alike: dict[frozenset[tuple[tuple[int, ...], int]], float] = {}
    total = 0.0
    for one, other in zip(strikes, [*strikes[1:], strikes[0]], strict=True):
        key = frozenset((one, other))
        if key not in alike:
            alike[key] = correlation(heard[one], heard[other], round(REACH_S * rate_hz))
        total += alike[key]
    return total / len(strikes)


def _opening(
    articulation: PlayArticulation, takes: tuple[int, ...], tuning: int, own: int | None, sounds: Sounds, rate_hz: int
) -> Floats:
    """The first 200 ms of a strike in microphone `own`, or in the first that recorded it; the mean of its sides, shape
    (frames,).
    """
    frames = round(WINDOW_S * rate_hz)
    sum_ = np.zeros(frames)
    for number in takes:
        voices = articulation.takes[number].voices
        voice = next((v for v in voices if v.mic == own), voices[0])
        sound = voice.tuned[tuning - 1] if tuning and voice.tuned else voice.sound
        part = sounds.get(sound, rate_hz)[:, :frames].mean(axis=0, dtype=np.float64)
        sum_[: len(part)] += part * voice.gain
    return sum_


def correlation(one: Floats, other: Floats, reach: int) -> float:
    """The greatest normalised cross-correlation of two arrays of equal length within ± `reach` frames, 0 to 1."""
    size = float(np.sqrt(np.square(one).sum() * np.square(other).sum()))
    if size == 0.0:
        return 1.0
    n = 1 << (2 * len(one) - 1).bit_length()
    product = np.fft.irfft(np.fft.rfft(one, n) * np.conj(np.fft.rfft(other, n)), n)
    best = max(float(product[: reach + 1].max()), float(product[-reach:].max()) if reach else 0.0)
    return min(1.0, max(0.0, best / size))
