"""The demo's grooves, written as sixteenths with small human unevenness."""

import random
from dataclasses import dataclass

from drumcore.grooves.values import Groove, GrooveEvent, Strike

STEPS = 16
KICK, SIDE_STICK, SNARE, RIMSHOT, FLOOR, CLOSED, PEDAL, OPEN = 36, 37, 38, 40, 43, 42, 44, 46
MID, RACK, CRASH_LEFT, RIDE, BELL, TAMBOURINE, COWBELL, CRASH_RIGHT = 47, 48, 49, 51, 53, 54, 56, 57
Bar = dict[int, str]
"""One bar: for each note sixteen signs, "." for none and 1 to 9 for strength."""


@dataclass(frozen=True)
class Score:
    name: str
    bpm: float
    bars: tuple[Bar, ...]
    repeats: int = 1
    unevenness_s: float = 0.004


_MARCH_A: Bar = {
    KICK: "8.......8.....6.",
    SNARE: "4.324.3245328234",
    CLOSED: "7.5.7.5.7.5.7.5.",
    TAMBOURINE: "....6.......6...",
}
_MARCH_B: Bar = {
    KICK: "8.....6.8...7...",
    SNARE: "4.3242324.328.66",
    CLOSED: "7.5.7.5.7.5.7...",
    OPEN: "..............6.",
    TAMBOURINE: "....6.......6...",
}
_MARCH_TURN: Bar = {
    KICK: "8...6...8...8.8.",
    SNARE: "4.32..3288......",
    RACK: "..........87....",
    MID: "............77..",
    FLOOR: "..............88",
    CLOSED: "7.5.7.5.........",
}
GANGWAY_MARCH = Score(
    "Gangway March",
    108,
    (
        {**_MARCH_A, CRASH_LEFT: "8..............."},
        _MARCH_B,
        _MARCH_A,
        _MARCH_B,
        {**_MARCH_A, CRASH_RIGHT: "7...............", COWBELL: "....5.......5..."},
        _MARCH_B,
        _MARCH_A,
        _MARCH_TURN,
    ),
)
_SHUFFLE: Bar = {
    KICK: "8.......7..5....",
    SNARE: "..2.8..2..2.8..3",
    RIDE: "7..57..57..57..5",
    PEDAL: "....5.......5...",
}
LANTERN_SHUFFLE = Score(
    "Lantern Shuffle",
    92,
    (_SHUFFLE, {**_SHUFFLE, BELL: "........7......."}, _SHUFFLE, {**_SHUFFLE, SNARE: "..2.8..2..3.8.78"}),
)
TIDE_TURN = Score(
    "Tide Turn",
    120,
    (
        {
            SNARE: "7788............",
            RACK: "....8877........",
            MID: "........8787....",
            FLOOR: "............8899",
            KICK: "8...8...8...8...",
        },
        {CRASH_LEFT: "9...............", CRASH_RIGHT: "8...............", KICK: "9..............."},
    ),
)
_ROPE: Bar = {
    KICK: "4.......3.......",
    SIDE_STICK: "....4.......4..2",
    CLOSED: "3.2.3.2.3.2.3.2.",
    TAMBOURINE: "..........3.....",
}
ROPE_WALK = Score(
    "Rope Walk", 84, (_ROPE, {**_ROPE, OPEN: "..............3."}, _ROPE, {**_ROPE, SNARE: ".......1.......2"})
)


def _written(score: Score) -> Groove:
    rng = random.Random(score.name)
    step_s = 60.0 / score.bpm / 4.0
    events: list[GrooveEvent] = []
    bars = score.bars * score.repeats
    for number, bar in enumerate(bars):
        for note, signs in bar.items():
            for step, sign in enumerate(signs):
                if sign == ".":
                    continue
                at = (number * STEPS + step) * step_s + rng.uniform(-1.0, 1.0) * score.unevenness_s
                velocity = max(1, min(127, int(sign) * 14 + rng.randint(-5, 5)))
                events.append(Strike(time_s=round(max(0.0, at), 6), note=note, velocity=velocity))
    events.sort(key=lambda event: event.time_s)
    length = len(bars) * STEPS * step_s
    return Groove(name=score.name, bpm=score.bpm, beats_a_bar=4.0, length_s=length, events=tuple(events))


def _last_boat() -> Groove:
    """A roll from the softest strike to the hardest, ended by one crash."""
    bpm, step_s = 100.0, 60.0 / 100.0 / 8.0
    strikes = 8 * 8 * 2
    events = [
        Strike(time_s=round(i * step_s, 6), note=SNARE, velocity=1 + round(126 * i / (strikes - 1)))
        for i in range(strikes)
    ]
    end = strikes * step_s
    events += [Strike(time_s=end, note=note, velocity=120) for note in (KICK, CRASH_LEFT)]
    return Groove(name="Last Boat", bpm=bpm, beats_a_bar=4.0, length_s=end + 4 * 60.0 / bpm, events=tuple(events))


def demo_grooves() -> tuple[Groove, ...]:
    """Gangway March, Lantern Shuffle, Tide Turn, Rope Walk and Last Boat."""
    return (*(_written(s) for s in (GANGWAY_MARCH, LANTERN_SHUFFLE, TIDE_TURN, ROPE_WALK)), _last_boat())
