"""Learns pad faults from recorded playing: which pads shake their neighbours, and which send double triggers."""

import math
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence

from drumcore.kit.values import CrossTalk, MidiNote, Velocity
from drumcore.touch.gate import CrossTalkRule, Gate
from drumcore.value import Value

LOOK_BACK_MS = 40.0
SOFT = 45
FEWEST_CROSS_TALK, FEWEST_DOUBLES = 5, 2
MOST_LEADING = 0.1
"""Cross-talk follows; of strikes that are meant to fall together, as many come a little early."""
CLOSEST_DOUBLE_MS = 35.0
"""Strikes of one hand on one pad come further apart than this, even in a roll."""


class PadStrike(Value):
    time_ms: float
    note: MidiNote
    velocity: Velocity


class TurnedAway(Value):
    """A strike that the rules would have removed, by its index; for cross-talk with the note it came `after`."""

    place: int
    note: MidiNote
    velocity: Velocity
    why: str
    after: MidiNote | None = None


class LearnedPadRules(Value):
    """The rules learned, and the strikes they would have removed."""

    cross_talk: tuple[CrossTalk, ...]
    doubles_ms: float
    removed: tuple[TurnedAway, ...]
    strikes: int


def learn(strikes: Sequence[PadStrike]) -> LearnedPadRules:
    """Learns cross-talk and doubles from the playing of one input.

    Pad a causes cross-talk in pad b if strikes of b at 45 or softer follow within 40 ms after a strike of a that is at
    least twice as hard and 25 harder; at least five times; all softer than b is struck by itself (the tenth softest
    percentile; at most 30 if it never is); and hardly ever just before a. A soft strike meant to fall together with a
    hard one is early as often as late, so it is not taken for cross-talk. A double is a second strike of a pad within
    35 ms of one over 45 that is not harder, at least twice; it does not count as cross-talk. Limits get a margin of 2
    in velocity and 3 ms in time.
    """
    ordered = sorted(strikes, key=lambda s: s.time_ms)
    following, leading, alone = _neighbours(ordered)
    cross_talk = []
    for (after, note), found in sorted(following.items()):
        own = sorted(alone.get(note, ()))
        limit = own[len(own) // 10] - 1 if own else 30
        soft = [(v, gap) for v, gap in found if v <= limit]
        if len(soft) < FEWEST_CROSS_TALK or leading[after, note] > MOST_LEADING * len(soft):
            continue
        up_to = max(1, min(limit, max(v for v, _ in soft) + 2))
        within = math.ceil(max(gap for _, gap in soft)) + 3.0
        cross_talk.append(CrossTalk(after=after, note=note, up_to=up_to, within_ms=within))
    return judged(ordered, cross_talk, _doubles(ordered, cross_talk))


def judged(strikes: Sequence[PadStrike], cross_talk: Sequence[CrossTalk], doubles_ms: float) -> LearnedPadRules:
    """The same result for rules somebody chose instead of the learned ones."""
    ordered = sorted(strikes, key=lambda s: s.time_ms)
    removed = removed_by(ordered, cross_talk, doubles_ms)
    return LearnedPadRules(cross_talk=tuple(cross_talk), doubles_ms=doubles_ms, removed=removed, strikes=len(ordered))


def removed_by(
    strikes: Sequence[PadStrike], cross_talk: Sequence[CrossTalk], doubles_ms: float
) -> tuple[TurnedAway, ...]:
    """The strikes that some rules would have removed, in order of time."""
    gate = Gate(
        [CrossTalkRule(b.after, b.note, b.up_to, b.within_ms / 1000.0) for b in cross_talk], doubles_ms / 1000.0
    )
    found = []
    for place, strike in enumerate(strikes):
        why = gate.judge(strike.note, strike.velocity, strike.time_ms / 1000.0)
        if why:
            after = gate.shaken_by if why == "cross_talk" else None
            found.append(TurnedAway(place=place, note=strike.note, velocity=strike.velocity, why=why, after=after))
    return tuple(found)


Pair = tuple[int, int]


def _neighbours(
    ordered: Sequence[PadStrike],
) -> tuple[dict[Pair, list[tuple[int, float]]], Counter[Pair], dict[int, list[int]]]:
    """Soft strikes beside a much harder one of another pad, by (that pad, this pad): delays of those right after it and
    a count of those right before it; and every pad's other strikes. If several pads were struck together, the soft
    strike counts for the one it follows most often.
    """
    suspects: list[tuple[PadStrike, list[PadStrike]]] = []
    leading: Counter[Pair] = Counter()
    alone: dict[int, list[int]] = defaultdict(list)
    often: Counter[Pair] = Counter()
    last: dict[int, PadStrike] = {}
    for place, strike in enumerate(ordered):
        own, last[strike.note] = last.get(strike.note), strike
        if own and _is_double(own, strike):
            continue  # a double of its own pad, not cross-talk
        before = _harder_near(strike, (ordered[k] for k in range(place - 1, -1, -1)))
        after = _harder_near(strike, (ordered[k] for k in range(place + 1, len(ordered))))
        leading.update({(other.note, strike.note) for other in after})
        if before and strike.velocity <= SOFT:
            suspects.append((strike, before))
            often.update({(other.note, strike.note) for other in before})
        else:
            alone[strike.note].append(strike.velocity)
    following: dict[Pair, list[tuple[int, float]]] = defaultdict(list)
    for strike, before in suspects:
        struck = max(before, key=lambda s: (often[s.note, strike.note], s.velocity))
        following[struck.note, strike.note].append((strike.velocity, strike.time_ms - struck.time_ms))
    return following, leading, alone


def _harder_near(strike: PadStrike, others: Iterable[PadStrike]) -> list[PadStrike]:
    """The much harder strikes of other pads among those next to it in time."""
    found = []
    for other in others:
        if abs(other.time_ms - strike.time_ms) > LOOK_BACK_MS:
            break
        if other.note != strike.note and other.velocity >= max(2 * strike.velocity, strike.velocity + 25):
            found.append(other)
    return found


def _is_double(before: PadStrike, strike: PadStrike) -> bool:
    """Whether a strike bounced off the one before on the same pad. Only a real strike bounces: soft notes in a row are
    a pedal's stray notes.
    """
    near = strike.time_ms - before.time_ms <= CLOSEST_DOUBLE_MS
    return near and strike.velocity <= before.velocity and before.velocity > SOFT


def _doubles(ordered: Sequence[PadStrike], cross_talk: Sequence[CrossTalk]) -> float:
    away = {gone.place for gone in removed_by(ordered, cross_talk, 0.0)}
    last: dict[int, PadStrike] = {}
    gaps = []
    for place, strike in enumerate(ordered):
        if place in away:
            continue
        before = last.get(strike.note)
        if before and _is_double(before, strike):
            gaps.append(strike.time_ms - before.time_ms)
        last[strike.note] = strike
    return math.ceil(max(gaps)) + 3.0 if len(gaps) >= FEWEST_DOUBLES else 0.0
