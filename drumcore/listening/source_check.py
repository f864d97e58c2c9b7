"""What a line check finds before the outputs: in the microphones of a piece, and in how loud the piece is.

Each piece is judged by the hardest takes of its main articulation: whether a side of a stereo microphone is dead,
whether two microphones cancel each other where they meet, and whether it is far softer than pieces of its family are.
"""

from collections.abc import Iterator, Mapping
from itertools import combinations
from statistics import median
from typing import Literal

import numpy as np
import scipy

from drumcore.arrays import Floats
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Family, Kit, Piece, Side
from drumcore.listening.loudness import main_articulation, piece_level_db
from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlayArticulation, PlayTable
from drumcore.playing.sounds import Sounds
from drumcore.recordings.k_weighting import decibels_of_power
from drumcore.routing.default_routing import mics_heard
from drumcore.routing.signal_paths import dry_levels_db
from drumcore.value import Value

LISTENED_S = 0.3
MOST_TAKES = 3
DEAD_DB = 40.0
"""A side this far under the other is dead: an open microphone's hiss and bleed are louder."""
CANCELS_DB = 6.0
LOW_HZ = 500.0
COMPARABLE_DB = 10.0
"""Levels further apart than this cannot take 6 dB from each other."""
USUAL_LEVELS_DB = {
    Family.KICK: -24.2,
    Family.SNARE: -25.4,
    Family.HATS: -29.8,
    Family.TOM: -21.2,
    Family.CRASH: -25.5,
    Family.RIDE: -28.4,
    Family.SPLASH: -24.4,
    Family.CHINA: -24.1,
    Family.PERCUSSION: -28.4,
}
"""The median level of the pieces of a family in the kits that ship (`loudness.piece_level_db`), in dB."""
QUIET_DB = 20.0


class SourceProblem(Value):
    """One problem of a piece. `dead_side`: side `side` of microphone `mic` is `db` under the other. `cancels`: below 500 Hz
    the sum of `mic` and `other` at an output is `db` under their power sum. `quiet`: the piece is `db` under the median
    of its family.
    """

    kind: Literal["dead_side", "cancels", "quiet"]
    piece: str
    db: float
    mic: str = ""
    other: str = ""
    side: Side = Side.BOTH


def check_sources(kit: Kit, sounds: Sounds) -> Iterator[SourceProblem]:
    """The problems of every piece's microphones and level."""
    table = compile_kit(kit)
    articulations = {a.id: a for piece in table.pieces for a in piece.articulations}
    for piece in pieces_of(kit):
        played = articulations.get(main_articulation(piece))
        if played is None or not played.takes:
            continue
        takes = _hardest(table, piece, played, sounds)
        yield from _dead_sides(piece, takes)
        yield from _cancelling(kit, piece, takes)
        level_db, usual_db = piece_level_db(kit, piece.id, sounds), USUAL_LEVELS_DB.get(piece.family)
        if level_db is not None and usual_db is not None and level_db < usual_db - QUIET_DB:
            yield SourceProblem(kind="quiet", piece=piece.id, db=round(usual_db - level_db, 1))


def _hardest(table: PlayTable, piece: Piece, played: PlayArticulation, sounds: Sounds) -> list[dict[str, Floats]]:
    """The hardest takes: by microphone what they play before feeds, shape (sides, frames) of 300 ms."""
    frames = round(LISTENED_S * table.head.rate_hz)
    names = mics_heard(piece)  # as the play table counts them
    hardest = max(played.layers, key=lambda layer: layer.high, default=None)
    steps = dict.fromkeys(n for step in hardest.steps for n in step) if hardest else {}
    found = []
    for number in list(steps)[:MOST_TAKES]:
        take = {}
        for voice in played.takes[number].voices:
            sound = np.asarray(sounds.get(voice.sound, table.head.rate_hz)[:, :frames], dtype=np.float64)
            whole = np.zeros((sound.shape[0], frames))
            whole[:, : sound.shape[1]] = sound * voice.gain
            take[names[voice.mic]] = whole
        found.append(take)
    return found


def _dead_sides(piece: Piece, takes: list[dict[str, Floats]]) -> Iterator[SourceProblem]:
    for mic in dict.fromkeys(mic for take in takes for mic in take):
        levels = [[_power(side) for side in take[mic]] for take in takes if mic in take and len(take[mic]) == 2]
        if not levels:
            continue
        left, right = (decibels_of_power(median(powers)) for powers in zip(*levels, strict=True))
        if abs(left - right) >= DEAD_DB:
            side = Side.LEFT if left < right else Side.RIGHT
            yield SourceProblem(kind="dead_side", piece=piece.id, mic=mic, side=side, db=round(abs(left - right), 1))


def _cancelling(kit: Kit, piece: Piece, takes: list[dict[str, Floats]]) -> Iterator[SourceProblem]:
    """Pairs of microphones that meet at an output, dry, and lose more than 6 dB of their power sum below 500 Hz."""
    rate = kit.rate_hz
    low = scipy.signal.butter(4, LOW_HZ, "lowpass", fs=rate, output="sos")
    paths = dry_levels_db(kit, piece)
    own = {mic.id: 10.0 ** (mic.gain_db / 20.0) * (-1.0 if mic.inverted else 1.0) for mic in kit.mics}
    for first, second in combinations(paths, 2):
        losses = []
        for number in paths[first].keys() & paths[second].keys():
            gains = [own[mic] * 10.0 ** (paths[mic][number] / 20.0) for mic in (first, second)]
            lost = [
                _lost_db(
                    *(
                        scipy.signal.sosfilt(low, take[mic].mean(axis=0)) * g
                        for mic, g in zip((first, second), gains, strict=True)
                    )
                )
                for take in takes
                if first in take and second in take
            ]
            losses += [median(lost)] if lost else []
        if losses and max(losses) > CANCELS_DB:
            yield SourceProblem(kind="cancels", piece=piece.id, mic=first, other=second, db=round(max(losses), 1))


def _lost_db(a: Floats, b: Floats) -> float:
    """How far the power of a sum is under the sum of the powers; 0 for levels too far apart to matter."""
    powers = _power(a), _power(b)
    apart = abs(decibels_of_power(powers[0]) - decibels_of_power(powers[1]))
    if min(powers) <= 0.0 or apart > COMPARABLE_DB:
        return 0.0
    return decibels_of_power(sum(powers)) - decibels_of_power(_power(a + b))


def _power(sound: Floats) -> float:
    return float(np.mean(np.square(sound)))


def still_true(kit: Kit, checked: Kit, problem: SourceProblem) -> bool:
    """Whether nothing that a problem depends on has changed since the kit was checked."""
    return _depends_on(kit, problem) == _depends_on(checked, problem)


def _depends_on(kit: Kit, problem: SourceProblem) -> object:
    piece = next((p for p in pieces_of(kit) if p.id == problem.piece), None)
    if piece is None:
        return None
    mics = {mic.id: mic for mic in kit.mics}
    of_mics = tuple(mics.get(mic) for mic in (problem.mic, problem.other))
    if problem.kind == "dead_side":
        return piece.articulations, of_mics
    paths: Mapping[str, Mapping[int, float]] = dry_levels_db(kit, piece)
    if problem.kind == "cancels":
        return piece.articulations, of_mics, paths.get(problem.mic), paths.get(problem.other)
    return piece, paths, kit.mics
