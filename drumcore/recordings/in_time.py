"""Microphones out of time inside a take: one recording shifted against the others, which sounds as a flam."""

from collections import defaultdict
from collections.abc import Mapping
from statistics import median

from drumcore.kit.remembering import remembered
from drumcore.kit.values import Piece, Take

LATE_MS = 8.0
SPREADS = 5.0
"""How many times the usual spread of a microphone's starts a recording may stray."""
FEWEST_TAKES = 4


@remembered(limit=2000)
def out_of_time(piece: Piece) -> Mapping[tuple[str, str, str], float]:
    """Recordings that stand apart in time, by (articulation, take, microphone): how late in ms, early where negative.

    A microphone's delay against the others of a take is held against that of the same microphones in the piece's other
    takes (design, "Measuring a recording": Start). Of two that differ, the one that strayed further from where it usually
    starts in its file is out of time. With fewer than four takes nothing can be said.
    """
    starts: dict[str, list[float]] = defaultdict(list)
    for stroke in piece.articulations:
        for take in stroke.takes:
            for recording in take.recordings:
                starts[recording.mic].append(recording.start_ms)
    usual = {mic: median(found) for mic, found in starts.items() if len(found) >= FEWEST_TAKES}
    strayed: dict[str, list[float]] = defaultdict(list)
    shifts: dict[tuple[str, str], dict[str, float]] = {}
    for stroke in piece.articulations:
        for take in stroke.takes:
            shift = {r.mic: r.start_ms - usual[r.mic] for r in take.recordings if r.mic in usual}
            if len(shift) < 2:
                continue
            # What all of them moved by is where the take was cut, not who is late; of two, the one that moved less knows.
            common = median(shift.values()) if len(shift) > 2 else min(shift.values(), key=abs)
            apart = {mic: moved - common for mic, moved in shift.items()}
            shifts[stroke.id, take.id] = apart
            for mic, moved in apart.items():
                strayed[mic].append(abs(moved))
    spread = {mic: median(found) for mic, found in strayed.items()}
    return {
        (stroke, take, mic): round(moved, 3)
        for (stroke, take), apart in shifts.items()
        for mic, moved in apart.items()
        if abs(moved) > max(LATE_MS, SPREADS * spread[mic])
    }


def in_common_time(piece: Piece) -> Piece:
    """The piece with takes cut at the earliest start among their own microphones that are in time: one that stands apart
    does not set the cut."""
    found = out_of_time(piece)
    if not found:
        return piece

    def cut(stroke: str, take: Take) -> Take:
        if not any((stroke, take.id, r.mic) in found for r in take.recordings):
            return take
        sound = [r for r in take.recordings if (stroke, take.id, r.mic) not in found]
        heard = [r for r in sound if r.mic in piece.own_mics] or sound
        return take.but(start_ms=min(r.start_ms for r in heard)) if heard else take

    return piece.but(
        articulations=tuple(a.but(takes=tuple(cut(a.id, t) for t in a.takes)) for a in piece.articulations)
    )
