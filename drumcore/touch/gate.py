"""Filters strikes that nobody played: cross-talk between pads, and double triggers."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field

LONGEST_S = 0.2
"""No rule looks back further than this."""


@dataclass(frozen=True)
class CrossTalkRule:
    """Strikes of `note` at `up_to` or softer within `within_s` after a harder strike of `after` are cross-talk."""

    after: int
    note: int
    up_to: int
    within_s: float


@dataclass
class Gate:
    """Judges the strikes of one input in order of time, by their incoming velocity.

    A strike of the same note within `doubles_s` that is not harder than the one before is a double; the second strike
    of a flam is harder and plays. Ignored strikes are not used to judge later ones.
    """

    cross_talk: Sequence[CrossTalkRule] = ()
    doubles_s: float = 0.0
    shaken_by: int | None = None
    """The note that shook the pad of the last strike that was cross-talk."""
    _last: dict[int, tuple[float, int]] = field(default_factory=dict)
    _by_note: dict[int, list[CrossTalkRule]] = field(default_factory=lambda: defaultdict(list))

    def __post_init__(self) -> None:
        for rule in self.cross_talk:
            self._by_note[rule.note].append(rule)

    def judge(self, note: int, velocity: int, time_s: float) -> str:
        """An empty string for a strike that plays, else "cross_talk" or "double"."""
        before = self._last.get(note)
        if before and self.doubles_s and 0.0 <= time_s - before[0] <= self.doubles_s and velocity <= before[1]:
            return "double"
        for rule in self._by_note.get(note, ()):
            struck = self._last.get(rule.after)
            if (
                struck
                and velocity <= rule.up_to
                and velocity < struck[1]
                and 0.0 <= time_s - struck[0] <= rule.within_s
            ):
                self.shaken_by = rule.after
                return "cross_talk"
        self._last[note] = (time_s, velocity)
        return ""
