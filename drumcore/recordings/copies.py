"""Finds copies of one recording among a piece's takes: at another level or bit depth, or flipped, in any microphone."""

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from drumcore.kit.memoization import remembered
from drumcore.kit.values import Piece

ALIKE = 0.12
"""Share of a fingerprint's signs in which copies of one recording may differ; two strikes differ in about half, a copy
that was flipped in nearly all."""


@dataclass(frozen=True)
class Copy:
    """Two takes of a piece, by (articulation, take); `later` is a copy of `first` in some microphones; `turned` if its
    polarity was flipped.
    """

    first: tuple[str, str]
    later: tuple[str, str]
    mics: tuple[str, ...]
    turned: bool


@remembered(limit=2000)
def copies_in(piece: Piece) -> tuple[Copy, ...]:
    """Every take with the first other take it copies. Recordings with the same hash do not count, because they are one
    file.
    """
    found: dict[tuple[tuple[str, str], tuple[str, str], bool], list[str]] = defaultdict(list)
    by_mic: dict[str, list[tuple[tuple[str, str], str, str]]] = defaultdict(list)
    for articulation in piece.articulations:
        for take in articulation.takes:
            for recording in take.recordings if take.enabled else ():
                by_mic[recording.mic].append(((articulation.id, take.id), recording.grain, recording.content))
    for mic, recordings in by_mic.items():
        for first, later, turned in _alike(recordings):
            found[first, later, turned].append(mic)
    return tuple(Copy(first, later, tuple(mics), turned) for (first, later, turned), mics in found.items())


def _alike(
    recordings: list[tuple[tuple[str, str], str, str]],
) -> Iterator[tuple[tuple[str, str], tuple[str, str], bool]]:
    """Pairs of one microphone's recordings whose fingerprints are almost equal, or almost opposite."""
    most = max((len(grain) for _, grain, _ in recordings), default=0)
    whole = [each for each in recordings if most and len(each[1]) == most]
    if len(whole) < 2:
        return
    bits = np.unpackbits(np.frombuffer(bytes.fromhex("".join(grain for _, grain, _ in whole)), np.uint8))
    signs = bits.reshape(len(whole), -1).astype(np.float32) * 2.0 - 1.0
    agreeing = signs @ signs.T / signs.shape[1]
    copied = np.abs(agreeing) > 1.0 - 2.0 * ALIKE
    for later in range(1, len(whole)):
        firsts = np.flatnonzero(copied[later, :later])
        first = next((int(n) for n in firsts if whole[n][2] != whole[later][2]), None)
        if first is not None:
            yield whole[first][0], whole[later][0], bool(agreeing[later, first] < 0)
