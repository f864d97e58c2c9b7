"""The Python player: renders events with a play table to the sound of every output, in blocks.

Voices are rendered here, the mix in `mixer`. The browser's player (web/src/player) builds the same graph from audio
nodes. Both start a strike at frame floor(seconds * rate + 0.5), fade a stopped voice by exp(-frames / (rate * time
constant)) from the frame of the choke, and mix in 32-bit floats.
"""

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
import scipy

from drumcore.arrays import Floats, Samples
from drumcore.grooves.values import DirectStrike, HandOn, PedalMove, PlayedEvent, Press
from drumcore.playing.filters import Coefficients, low_pass
from drumcore.playing.mixer import Mixer
from drumcore.playing.play_table import PlayTable
from drumcore.playing.sounds import Sounds
from drumcore.playing.striker import Sounding, Striker

BLOCK_FRAMES = 16384
FILTER_RINGS = 256
"""Frames a voice's filter is let ring on after its sound has ended."""
FADE_LENGTHS = 16.0
"""A faded voice is dropped after this many time constants (−139 dB)."""


@dataclass(slots=True)
class _Voice:
    articulation: str
    first: int
    sound: Samples
    routes: list[tuple[int, np.float32]]
    filter: Coefficients | None = None
    memory: Floats | None = None
    fade_from: int | None = None
    fade_frames: float = 1.0
    attack: int = 0

    def end(self) -> int:
        whole = self.first + int(self.sound.shape[1])
        return whole if self.fade_from is None else min(whole, self.fade_from + self.fade_length())

    def fade_length(self) -> int:
        return math.ceil(self.fade_frames * FADE_LENGTHS)


@dataclass(frozen=True)
class Block:
    """A block of every output in use: float32 arrays of shape (sides, frames), by output number."""

    first_frame: int
    outputs: dict[int, Samples]


def render(
    table: PlayTable,
    events: Iterable[PlayedEvent],
    sounds: Sounds,
    *,
    length_s: float | None = None,
    block_frames: int = BLOCK_FRAMES,
    striker: Striker | None = None,
) -> Iterator[Block]:
    """Plays events and yields the outputs block by block, until nothing sounds any more or `length_s` is reached.

    Memory use does not grow with the length. Events may come in any order. A `striker` can be passed in to keep the
    round robins' positions from one render to the next.
    """
    renderer = _Renderer(table, sounds, block_frames, striker or Striker(table))
    waiting = sorted(events, key=lambda e: e.time_s)
    last_frame = None if length_s is None else math.ceil(length_s * table.head.rate_hz)
    at, first = 0, 0
    while at < len(waiting) or renderer.sounds_on or (last_frame is not None and first < last_frame):
        if last_frame is not None and first >= last_frame:
            return
        while at < len(waiting) and (frame := frame_of(waiting[at].time_s, table.head.rate_hz)) < first + block_frames:
            renderer.take(waiting[at], frame)
            at += 1
        frames = block_frames if last_frame is None else min(block_frames, last_frame - first)
        yield renderer.block(first, frames)
        first += block_frames


def frame_of(time_s: float, rate_hz: int) -> int:
    return math.floor(time_s * rate_hz + 0.5)


class _Renderer:
    def __init__(self, table: PlayTable, sounds: Sounds, block_frames: int, striker: Striker) -> None:
        self.head = table.head
        self.sounds = sounds
        self.striker = striker
        self.voices: list[_Voice] = []
        self.feeds = {feeds.piece: feeds.mics for feeds in self.head.feeds}
        self.mixer = Mixer(table.head, block_frames, sounds)
        self.scratch = np.zeros((2, block_frames), np.float32)

    @property
    def sounds_on(self) -> bool:
        """Whether a voice or a tail still sounds."""
        return bool(self.voices) or self.mixer.rings

    def take(self, event: PlayedEvent, frame: int) -> None:
        """Starts and stops the voices an event asks for. Everything it stops is stopped before anything starts."""
        if isinstance(event, PedalMove):
            stopped, found = self.striker.pedal(event.openness, event.time_s)
        elif isinstance(event, Press):
            stopped, found = self.striker.press(event.note, event.pressure), []
        elif isinstance(event, HandOn):
            stopped, found = self.striker.hand_on(event.articulation), []
        elif isinstance(event, DirectStrike):
            stopped, found = [], self.striker.strike_directly(event.articulation, event.velocity)
        else:
            stopped, found = [], self.striker.strike(event.note, event.velocity, event.time_s)
        for choke in [*stopped, *(s for sounding in found for s in sounding.articulation.chokes)]:
            self._fade_out(choke.articulation, frame, choke.fade_s * self.head.rate_hz)
        for sounding in found:
            self._start(sounding, frame)

    def _start(self, sounding: Sounding, frame: int) -> None:
        mics = self.feeds[sounding.piece.id]
        for voice in sounding.take.voices:
            routes = [(feed.channel, np.float32(voice.gain * sounding.gain * feed.gain)) for feed in mics[voice.mic]]
            if not routes:
                continue
            wanted = voice.tuned[sounding.tuning - 1] if sounding.tuning and voice.tuned else voice.sound
            sound = self.sounds.get(wanted, self.head.rate_hz)
            coefficients = None
            if sounding.cutoff_hz is not None:
                coefficients = low_pass(sounding.cutoff_hz, self.head.rate_hz)
                sound = np.pad(sound, ((0, 0), (0, FILTER_RINGS)))
            self.voices.append(
                _Voice(sounding.articulation.id, frame, sound, routes, coefficients, attack=sounding.attack)
            )

    def _fade_out(self, articulation: str, frame: int, fade_frames: float) -> None:
        for voice in self.voices:
            if voice.articulation == articulation and voice.fade_from is None:
                voice.fade_from, voice.fade_frames = frame, fade_frames

    def block(self, first: int, frames: int) -> Block:
        self.mixer.begin()
        for voice in self.voices:
            self._add(voice, first, frames)
        self.voices = [voice for voice in self.voices if voice.end() > first + frames]
        return Block(first, self.mixer.process(frames))

    def _add(self, voice: _Voice, first: int, frames: int) -> None:
        start, end = max(voice.first, first), min(voice.end(), first + frames)
        if end <= start:
            return
        part = voice.sound[:, start - voice.first : end - voice.first]
        if start < voice.first + voice.attack:
            rising = np.arange(start, end, dtype=np.float64) - voice.first
            part = part * np.minimum(rising / voice.attack, 1.0).astype(np.float32)
        if voice.fade_from is not None and end > voice.fade_from:
            since = np.arange(start, end, dtype=np.float64) - voice.fade_from
            part = part * np.exp(-np.maximum(since, 0.0) / voice.fade_frames).astype(np.float32)
        if voice.filter is not None:
            part = _filtered(voice, part)
        for number, gain in voice.routes:
            channel = self.mixer.channels[number]
            channel.heard = True
            target = channel.sound[:, start - first : end - first]
            if gain == 1.0:
                np.add(target, part, out=target)
            else:
                scratch = self.scratch[: part.shape[0], : part.shape[1]]
                np.multiply(part, gain, out=scratch)
                np.add(target, scratch, out=target)


def _filtered(voice: _Voice, part: Samples) -> Samples:
    """A block of a voice through its low-pass, whose state carries over from the block before."""
    assert voice.filter is not None
    b, a = voice.filter[:3], (1.0, *voice.filter[3:])
    memory = np.zeros((part.shape[0], 2)) if voice.memory is None else voice.memory
    filtered, voice.memory = scipy.signal.lfilter(b, a, part.astype(np.float64), axis=1, zi=memory)
    return np.asarray(filtered, dtype=np.float32)
