"""MIDI files: reading performances and writing grooves."""

from dataclasses import dataclass
from io import BytesIO
from itertools import groupby
from pathlib import Path

import mido

from drumcore.formats.midi_chunks import Chunks, NotMidi, as_one_file, read_chunks
from drumcore.grooves.values import Groove, GrooveEvent, PedalMove, Press, Strike
from drumcore.kit.values import OPENNESS_CONTROLLER
from drumcore.refusals import Refusal

LARGEST_FILE = 8 << 20
MOST_EVENTS = 500_000
LONGEST_S = 6 * 3600
SHORTEST_BEAT = 64


def read_midi(path: Path, channel: int | None = None, name: str | None = None, pattern: int | None = None) -> Groove:
    """Reads a MIDI file of any resolution, following tempo changes; all channels, or one (1..16) if `channel` is given.

    A note-on with velocity 0 is a note-off (MIDI 1.0). A file of type 2 holds several patterns; `pattern` (from 1)
    selects one. Raises Refusal if it is not a MIDI file or has no notes.
    """
    name = name or path.name
    found = read_patterns(path, channel, name)
    if pattern is None and len(found) > 1:
        raise Refusal(f"{name} holds {len(found)} patterns one beside another; say which to play, 1 to {len(found)}.")
    wanted = 1 if pattern is None else pattern
    if not 1 <= wanted <= len(found):
        raise Refusal(f"{name} has no pattern {wanted}; it holds {len(found)}.")
    return found[wanted - 1]


def read_patterns(path: Path, channel: int | None = None, name: str | None = None) -> list[Groove]:
    """Everything in a MIDI file: one groove, or for type 2 one per pattern that has notes."""
    name = name or path.name
    if path.stat().st_size > LARGEST_FILE:
        raise Refusal(f"{name} is too large for a MIDI file; choose a performance under {LARGEST_FILE >> 20} MB.")
    try:
        chunks = read_chunks(path.read_bytes())
    except NotMidi as why:
        raise Refusal(f"{name} {why}.") from None
    title = Path(name).stem
    if chunks.kind != 2:
        return [_groove(title, _messages(chunks, chunks.tracks, name), _Clock(chunks), channel, name)]
    played = [messages for track in chunks.tracks if _strikes(messages := _messages(chunks, (track,), name), channel)]
    titles = [title] if len(played) == 1 else [f"{title} {number}" for number in range(1, len(played) + 1)]
    if not played:
        raise _no_notes(name, channel)
    return [_groove(each, some, _Clock(chunks), channel, name) for each, some in zip(titles, played, strict=True)]


def _messages(chunks: Chunks, tracks: tuple[bytes, ...], name: str) -> list[mido.Message]:
    try:
        merged = list(mido.merge_tracks(mido.MidiFile(file=BytesIO(as_one_file(chunks, tracks)), clip=True).tracks))
    except Exception:
        # mido has no error class of its own: a damaged file raises whatever its parser hit.
        raise Refusal(f"{name} is not a MIDI file that can be read; export it again as a standard MIDI file.") from None
    if len(merged) > MOST_EVENTS:
        raise Refusal(f"{name} holds {len(merged):,} events; cut it to under {MOST_EVENTS:,}.")
    return merged


def _is_strike(message: mido.Message, channel: int | None) -> bool:
    heard = channel is None or getattr(message, "channel", None) == channel - 1
    return bool(message.type == "note_on" and message.velocity > 0 and heard)


def _strikes(messages: list[mido.Message], channel: int | None) -> bool:
    return any(_is_strike(message, channel) for message in messages)


def _no_notes(name: str, channel: int | None) -> Refusal:
    where = "" if channel is None else f" on channel {channel}"
    return Refusal(f"{name} holds no notes{where}; choose a performance with drum notes.")


@dataclass
class _Clock:
    """The time while reading a file: current tempo and bar positions."""

    chunks: Chunks
    tempo: int = 500_000
    beats_a_bar: float = 4.0
    time_s: float = 0.0
    ticks: int = 0
    bars_from_s: float = 0.0
    bars_from_ticks: int = 0

    def go_on(self, ticks: int) -> None:
        self.ticks += ticks
        if self.chunks.ticks_per_s:
            self.time_s = self.ticks / self.chunks.ticks_per_s
        else:
            self.time_s += mido.tick2second(ticks, self.chunks.ticks_per_beat, self.tempo)

    def follow(self, message: mido.Message) -> None:
        """Follows a change of tempo or metre. Impossible values (0 µs per beat, 0 beats per bar) are ignored."""
        if message.type == "set_tempo" and message.tempo > 0:
            self.tempo = message.tempo
        elif message.type == "time_signature" and message.numerator > 0 and message.denominator <= SHORTEST_BEAT:
            self.beats_a_bar = message.numerator * 4.0 / message.denominator
            self.bars_from_s, self.bars_from_ticks = self.time_s, self.ticks

    def end_of_bar_s(self) -> float:
        """The end of the current bar; a file that ends exactly where it begins lasts one bar."""
        beat_s = self.tempo / 1e6
        if self.chunks.ticks_per_s:
            bar_s, into_s = self.beats_a_bar * beat_s, self.time_s - self.bars_from_s
            left_s = -into_s % bar_s if self.ticks else bar_s
        else:
            bar = self.chunks.ticks_per_beat * self.beats_a_bar
            left = -(self.ticks - self.bars_from_ticks) % bar if self.ticks else bar
            left_s = left / self.chunks.ticks_per_beat * beat_s
        return self.time_s + left_s


def _groove(title: str, messages: list[mido.Message], clock: _Clock, channel: int | None, name: str) -> Groove:
    """A groove from messages. Tempo and metre are those at its first strike."""
    events: list[GrooveEvent] = []
    tempo, beats_a_bar = 0, 4.0
    for message in messages:
        clock.go_on(message.time)
        at = round(clock.time_s, 9)
        if message.is_meta:
            clock.follow(message)
        elif channel is not None and getattr(message, "channel", channel - 1) != channel - 1:
            continue
        elif _is_strike(message, channel):
            if not tempo:
                tempo, beats_a_bar = clock.tempo, clock.beats_a_bar
            events.append(Strike(time_s=at, note=message.note, velocity=message.velocity))
        elif message.type == "control_change" and message.control == OPENNESS_CONTROLLER:
            events.append(PedalMove(time_s=at, openness=message.value))
        elif message.type == "polytouch":
            events.append(Press(time_s=at, note=message.note, pressure=message.value))
    if not tempo:
        raise _no_notes(name, channel)
    if clock.time_s > LONGEST_S:
        raise Refusal(f"{name} lasts {clock.time_s / 3600:.1f} hours; cut it to under {LONGEST_S // 3600}.")
    return Groove(
        name=title,
        bpm=round(mido.tempo2bpm(tempo), 3),
        beats_a_bar=beats_a_bar,
        length_s=round(clock.end_of_bar_s(), 9),
        events=tuple(events),
    )


def _metre(beats_a_bar: float) -> tuple[int, int]:
    """Beats per bar of a time signature: in quarters if that is a whole number, else in the longest notes that fit."""
    for denominator in (4, 8, 16, 32, 64):
        count = beats_a_bar * denominator / 4
        if count >= 1 and abs(count - round(count)) < 1e-6:
            return min(255, round(count)), denominator
    return max(1, min(255, round(beats_a_bar))), 4


def write_midi(groove: Groove, path: Path, ticks_per_beat: int = 480) -> None:
    """Writes a groove as a standard MIDI file on the drum channel, at its own tempo."""
    tempo, (beats, of) = mido.bpm2tempo(groove.bpm), _metre(groove.beats_a_bar)
    track = mido.MidiTrack(
        [mido.MetaMessage("track_name", name=groove.name), mido.MetaMessage("set_tempo", tempo=tempo)]
    )
    track.append(mido.MetaMessage("time_signature", numerator=beats, denominator=of))

    def tick(time_s: float) -> int:
        return int(mido.second2tick(time_s, ticks_per_beat, tempo))

    # At one tick, note-offs come first (or they would end a strike of the same note), then the pedal, then strikes.
    ends, moves, falls = range(3)
    messages: list[tuple[int, int, mido.Message]] = []
    for event in groove.events:
        at = tick(event.time_s)
        if isinstance(event, PedalMove):
            change = mido.Message("control_change", channel=9, control=OPENNESS_CONTROLLER, value=event.openness)
            messages.append((at, moves, change))
        elif isinstance(event, Press):
            messages.append((at, falls, mido.Message("polytouch", channel=9, note=event.note, value=event.pressure)))
        else:
            messages.append((at, falls, mido.Message("note_on", channel=9, note=event.note, velocity=event.velocity)))
            messages.append((at + ticks_per_beat // 8, ends, mido.Message("note_off", channel=9, note=event.note)))
    now = 0
    for at, group in groupby(sorted(messages, key=lambda m: m[:2]), key=lambda m: m[0]):
        for _, _, message in group:
            track.append(message.copy(time=at - now))
            now = at
    track.append(mido.MetaMessage("end_of_track", time=max(0, tick(groove.length_s) - now)))
    path.parent.mkdir(parents=True, exist_ok=True)
    mido.MidiFile(ticks_per_beat=ticks_per_beat, tracks=[track]).save(path)
