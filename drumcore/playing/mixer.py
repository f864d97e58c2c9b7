"""The mix: summed voices go through their channels' treatments into buses, main and outputs, block by block.

Treatments may ring on after the last voice has ended; `Mixer.rings` says whether any still does.
"""

import functools
import os
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from drumcore.arrays import Samples
from drumcore.kit.values import Width
from drumcore.playing.play_table import PlayChannel, PlayHead, PlayOutput
from drumcore.playing.sounds import Sounds
from drumcore.spaces.convolution import Convolving
from drumcore.treatments.kinds import stages
from drumcore.treatments.stage import QUIET

LONGEST_TAIL_S = 30.0


def outputs_in_use(head: PlayHead) -> list[PlayOutput]:
    """The numbers of outputs that some channel goes to; main leaves by output 1."""
    used = {channel.output or 1 for channel in head.channels if channel.into is None}
    return [output for output in head.outputs if output.number in used]


@dataclass
class ChannelInput:
    """A channel's input for one block: frames of its sides, valid only while `heard` is true."""

    sound: Samples
    heard: bool = False

    def clear(self) -> None:
        if self.heard:
            self.sound.fill(0.0)
            self.heard = False


class ChannelProcessor:
    """One channel's treatments and the reverb or echo after them. Without any, the input passes unchanged."""

    def __init__(self, channel: PlayChannel, rate_hz: int, block_frames: int, sounds: Sounds) -> None:
        sides = 2 if channel.width is Width.STEREO else 1
        self._stages = stages(channel.treatments, rate_hz, sides)
        self._space = (
            Convolving(sounds.impulse_response(channel.space, rate_hz), block_frames) if channel.space else None
        )
        self._room = np.empty(sides * block_frames)
        """Where a block is treated: arrays allocated for every block cost more than some of the stages."""
        self._longest = int(LONGEST_TAIL_S * rate_hz)
        self._ringing_for = 0
        self.rings = False
        self._asleep = True

    def works(self, heard: bool) -> bool:
        """Whether the next block needs any processing."""
        return not self._empty and (heard or not self._asleep)

    @property
    def _empty(self) -> bool:
        return not self._stages and self._space is None

    def process(self, sound: Samples, heard: bool) -> Samples | None:
        """Processes a block; None while it sleeps. After the input ends, tails ring out and compressors release."""
        if self._empty:
            return sound if heard else None
        if not heard and self._asleep:
            return None
        treated = self._room[: sound.size].reshape(sound.shape)
        treated[:] = sound
        for stage in self._stages:
            stage.process(treated, into=treated)
        if self._space is not None:
            self._space.process(treated, into=treated)
        self._ringing_for = 0 if heard else self._ringing_for + sound.shape[1]
        loud = max(treated.max(initial=0.0), -treated.min(initial=0.0)) >= QUIET
        # An echo may be silent between two repeats without being finished.
        coming = self._space is not None and not self._space.silent
        self.rings = (bool(loud) or coming) and self._ringing_for < self._longest
        self._asleep = not heard and not self.rings and all(stage.silent for stage in self._stages)
        return np.asarray(treated, dtype=np.float32)


class Mixer:
    """All channels of a table, processed in the order given by its head."""

    def __init__(self, head: PlayHead, block_frames: int, sounds: Sounds) -> None:
        self.head = head
        self.used = outputs_in_use(head)
        self.channels = [
            ChannelInput(np.zeros((2 if c.width is Width.STEREO else 1, block_frames), np.float32))
            for c in head.channels
        ]
        self._strips = [ChannelProcessor(channel, head.rate_hz, block_frames, sounds) for channel in head.channels]
        self._turns = _turns(head)
        self._main = ChannelProcessor(head.main, head.rate_hz, block_frames, sounds)

    @property
    def rings(self) -> bool:
        """Whether anything that entered earlier still sounds."""
        return self._main.rings or any(strip.rings for strip in self._strips)

    def begin(self) -> None:
        """Call before voices are added for the next block."""
        for channel in self.channels:
            channel.clear()

    def process(self, frames: int) -> dict[int, Samples]:
        """The next frames of every output in use, float32 of shape (sides, frames), by number."""
        sides = {o.number: 2 if o.width is Width.STEREO else 1 for o in self.used}
        mixed = {number: np.zeros((count, frames), np.float32) for number, count in sides.items()}
        main, main_heard = np.zeros((2, frames), np.float32), False
        # Summed in a fixed order, so that the result is always the same to the bit.
        for place, sound in self._treated(frames):
            channel = self.head.channels[place]
            if sound is None:
                continue
            for send in channel.sends:
                self._enter(send.into, send.matrix, sound)
            if channel.into is not None:
                self._enter(channel.into, channel.matrix, sound)
            elif channel.output == 0:
                _add_through(channel.matrix, sound, main)
                main_heard = True
            elif channel.output in mixed:
                _add_through(channel.matrix, sound, mixed[channel.output])
        sound = self._main.process(main, main_heard)
        if sound is not None and self.head.main.output in mixed:
            _add_through(self.head.main.matrix, sound, mixed[self.head.main.output])
        return mixed

    def _enter(self, place: int, matrix: Sequence[Sequence[float]], sound: Samples) -> None:
        channel = self.channels[place]
        _add_through(matrix, sound, channel.sound[:, : sound.shape[1]])
        channel.heard = True

    def _treated(self, frames: int) -> Iterator[tuple[int, Samples | None]]:
        """The treated blocks by channel index. Channels that do not depend on each other are processed in parallel
        threads; a bus waits until everything that enters it is summed.
        """

        def treat(place: int) -> Samples | None:
            channel = self.channels[place]
            return self._strips[place].process(channel.sound[:, :frames], channel.heard)

        for turn in self._turns:
            at_work = sum(1 for place in turn if self._strips[place].works(self.channels[place].heard))
            yield from zip(turn, _workers().map(treat, turn) if at_work > 1 else map(treat, turn), strict=True)


def leads_to(channel: PlayChannel) -> set[int]:
    """The indices of the channels that one enters."""
    return {send.into for send in channel.sends} | ({channel.into} if channel.into is not None else set())


def _turns(head: PlayHead) -> list[list[int]]:
    """The channel indices in order, divided into groups whose members do not enter each other."""
    turns: list[list[int]] = []
    entered: set[int] = set()
    for place in head.order:
        if not turns or place in entered:
            turns.append([])
            entered = set()
        turns[-1].append(place)
        entered |= leads_to(head.channels[place])
    return turns


@functools.cache
def _workers() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(max_workers=os.cpu_count() or 1, thread_name_prefix="strips")


def _add_through(matrix: Sequence[Sequence[float]], sound: Samples, target: Samples) -> None:
    for row, gains in zip(target, matrix, strict=True):
        for gain, side in zip(gains, sound, strict=True):
            if gain:
                np.add(row, side if gain == 1.0 else np.float32(gain) * side, out=row)
