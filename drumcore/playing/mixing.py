"""Where voices have been added up: channels through their strips into main or their own outputs, block by block.

What a strip has in it goes on sounding after the last voice has ended; `Mixer.rings` says whether anything still does.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drumcore.arrays import Samples
from drumcore.kit.values import Width
from drumcore.playing.play_table import PlayChannel, PlayHead, PlayOutput
from drumcore.treatments.kinds import stages
from drumcore.treatments.stage import QUIET

LONGEST_TAIL_S = 30.0


def outputs_in_use(head: PlayHead) -> list[PlayOutput]:
    """The outputs some channel goes to, by number; main leaves through output 1."""
    used = {channel.output or 1 for channel in head.channels}
    return [output for output in head.outputs if output.number in used]


@dataclass
class Lane:
    """What enters a channel in a block: frames of its sides, of which nothing counts while `heard` is False."""

    sound: Samples
    heard: bool = False

    def clear(self) -> None:
        if self.heard:
            self.sound.fill(0.0)
            self.heard = False


class Strip:
    """One channel's treatments at work. Without any it hands on what enters, untouched."""

    def __init__(self, channel: PlayChannel, rate_hz: int) -> None:
        sides = 2 if channel.width is Width.STEREO else 1
        self._stages = stages(channel.treatments, rate_hz, sides)
        self._longest = int(LONGEST_TAIL_S * rate_hz)
        self._ringing_for = 0
        self.rings = False

    def process(self, sound: Samples, heard: bool) -> Samples | None:
        """The block treated; None where it is silent. Silence that enters lets a strip that rings decay."""
        if not self._stages:
            return sound if heard else None
        if not heard and not self.rings:
            return None
        treated = sound.astype(np.float64)
        for stage in self._stages:
            treated = stage.process(treated)
        self._ringing_for = 0 if heard else self._ringing_for + sound.shape[1]
        loud = bool(np.abs(treated).max(initial=0.0) >= QUIET)
        self.rings = loud and self._ringing_for < self._longest
        return np.asarray(treated, dtype=np.float32)


class Mixer:
    """All channels of a table, processed in the order its head gives."""

    def __init__(self, head: PlayHead, block_frames: int) -> None:
        self.head = head
        self.used = outputs_in_use(head)
        self.lanes = [
            Lane(np.zeros((2 if c.width is Width.STEREO else 1, block_frames), np.float32)) for c in head.channels
        ]
        self._strips = [Strip(channel, head.rate_hz) for channel in head.channels]

    @property
    def rings(self) -> bool:
        """Whether something still sounds that entered before."""
        return any(strip.rings for strip in self._strips)

    def begin(self) -> None:
        """Before voices are added to the lanes of the next block."""
        for lane in self.lanes:
            lane.clear()

    def process(self, frames: int) -> dict[int, Samples]:
        """The next frames of every output in use, float32 of shape (sides, frames), by number."""
        sides = {o.number: 2 if o.width is Width.STEREO else 1 for o in self.used}
        mixed = {number: np.zeros((count, frames), np.float32) for number, count in sides.items()}
        main = np.zeros((2, frames), np.float32)
        for place in self.head.order:
            channel, lane = self.head.channels[place], self.lanes[place]
            target = main if channel.output == 0 else mixed.get(channel.output)
            sound = self._strips[place].process(lane.sound[:, :frames], lane.heard)
            if target is not None and sound is not None:
                _add_through(channel.matrix, sound, target)
        if 1 in mixed:
            level = np.float32(self.head.main_gain)
            mixed[1] += main * level if sides[1] == 2 else main.mean(axis=0, keepdims=True) * level
        return mixed


def _add_through(matrix: Sequence[Sequence[float]], sound: Samples, target: Samples) -> None:
    for row, gains in zip(target, matrix, strict=True):
        for gain, side in zip(gains, sound, strict=True):
            if gain:
                np.add(row, np.float32(gain) * side, out=row)
