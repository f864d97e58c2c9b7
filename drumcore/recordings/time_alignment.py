"""Finds one microphone's recording that is shifted in time against the others of its take, which sounds like a flam."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from statistics import median

from drumcore.kit.memoization import remembered
from drumcore.kit.values import Piece, Take
from drumcore.recordings.polarity import reference_of

LATE_MS = 8.0
"""By which a start strays, as far as starts can be told."""
LATE_BY_SOUND_MS = 2.0
SURE = 0.3
"""The same by sound, where that is clear."""
SPREADS = 5.0
"""How many times the usual spread of a microphone's starts a recording may stray."""
FEWEST_TAKES = 4


@remembered(limit=2000)
def out_of_time(piece: Piece) -> Mapping[tuple[str, str, str], float]:
    """Recordings that are out of time, by (articulation, take, microphone): how late in ms, negative for early.

    A microphone's delay against the others of a take is compared with the delay of the same microphones in the piece's
    other takes (design, "Measuring a recording", Start). Of two that differ, the one further from its usual start in
    its file is out of time. With fewer than four takes there is no answer. Starts show large shifts; the sound
    (`recordings.mic_comparison`) shows those down to 2 ms.
    """
    by_start = _by_start(piece)
    return by_start | {key: late for key, late in _by_sound(piece).items() if key[:2] not in {k[:2] for k in by_start}}


def _by_start(piece: Piece) -> dict[tuple[str, str, str], float]:
    starts: dict[str, list[float]] = defaultdict(list)
    for articulation in piece.articulations:
        for take in articulation.takes:
            for recording in take.recordings:
                starts[recording.mic].append(recording.start_ms)
    usual = {mic: median(found) for mic, found in starts.items() if len(found) >= FEWEST_TAKES}
    strayed: dict[str, list[float]] = defaultdict(list)
    shifts: dict[tuple[str, str], dict[str, float]] = {}
    for articulation in piece.articulations:
        for take in articulation.takes:
            shift = {r.mic: r.start_ms - usual[r.mic] for r in take.recordings if r.mic in usual}
            if len(shift) < 2:
                continue
            # A shift of all microphones is how the take was cut. Of two microphones, the one that moved less shows that
            # shift.
            common = median(shift.values()) if len(shift) > 2 else min(shift.values(), key=abs)
            apart = {mic: moved - common for mic, moved in shift.items()}
            shifts[articulation.id, take.id] = apart
            for mic, moved in apart.items():
                strayed[mic].append(abs(moved))
    spread = {mic: median(found) for mic, found in strayed.items()}
    return {
        (articulation, take, mic): round(moved, 3)
        for (articulation, take), apart in shifts.items()
        for mic, moved in apart.items()
        if abs(moved) > max(LATE_MS, SPREADS * spread[mic])
    }


def _by_sound(piece: Piece) -> dict[tuple[str, str, str], float]:
    """Compared with the usual delay between the same two microphones in the other takes."""
    delays: dict[tuple[str, str], list[tuple[str, str, float, float]]] = defaultdict(list)
    starts: dict[str, list[float]] = defaultdict(list)
    takes: dict[tuple[str, str], Take] = {}
    for articulation in piece.articulations:
        for take in articulation.takes:
            takes[articulation.id, take.id] = take
            found = reference_of(take)
            for recording in take.recordings:
                starts[recording.mic].append(recording.start_ms)
                if found and recording is not found[0] and recording.against and recording.against[0].polarity:
                    heard = recording.against[0]
                    delays[found[0].mic, recording.mic].append((articulation.id, take.id, heard.delay_ms, heard.sure))
    shifts: dict[tuple[str, str], dict[tuple[str, str], float]] = defaultdict(dict)
    answered: dict[tuple[str, str], list[str]] = defaultdict(list)
    for (reference, mic), heard_at in delays.items():
        if len(heard_at) < FEWEST_TAKES:
            continue
        usual = median(delay for *_, delay, _ in heard_at)
        spread = median(abs(delay - usual) for *_, delay, _ in heard_at)
        for in_articulation, in_take, delay, sure in heard_at:
            answered[in_articulation, in_take].append(mic)
            if sure >= SURE and abs(delay - usual) > max(LATE_BY_SOUND_MS, SPREADS * spread):
                shifts[in_articulation, in_take][reference, mic] = delay - usual
    late: dict[tuple[str, str, str], float] = {}
    for place, moved in shifts.items():
        pairs = list(moved)
        reference = pairs[0][0]
        together = max(moved.values()) - min(moved.values()) < LATE_BY_SOUND_MS
        # All others moved alike, so it is the reference that is out of time.
        alone = len(pairs) == 1 and _strayed_more(takes[place], reference, pairs[0][1], starts)
        if together and (len(pairs) > 1 or alone) and len(pairs) == len(answered[place]):
            late[(*place, reference)] = round(-median(moved.values()), 3)
        else:
            late.update({(*place, mic): round(by, 3) for (_, mic), by in zip(pairs, moved.values(), strict=True)})
    return late


def _strayed_more(take: Take, one: str, other: str, starts: Mapping[str, Sequence[float]]) -> bool:
    """Whether one recording of a take starts further from its microphone's usual start than the other, after removing
    the shift of the whole take.
    """
    moved = {r.mic: r.start_ms - median(starts[r.mic]) for r in take.recordings}
    common = median(moved.values()) if len(moved) > 2 else 0.0
    return abs(moved[one] - common) > abs(moved[other] - common)


def in_common_time(piece: Piece) -> Piece:
    """The piece with each take cut at the earliest start among its own microphones that are in time."""
    found = out_of_time(piece)
    if not found:
        return piece

    def cut(articulation: str, take: Take) -> Take:
        if not any((articulation, take.id, r.mic) in found for r in take.recordings):
            return take
        sound = [r for r in take.recordings if (articulation, take.id, r.mic) not in found]
        heard = [r for r in sound if r.mic in piece.own_mics] or sound
        return take.but(start_ms=min(r.start_ms for r in heard)) if heard else take

    return piece.but(
        articulations=tuple(a.but(takes=tuple(cut(a.id, t) for t in a.takes)) for a in piece.articulations)
    )
