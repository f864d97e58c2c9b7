"""MIDI files: performances in and grooves out."""

from itertools import groupby
from pathlib import Path

import mido

from drumcore.kit.values import Value
from drumcore.playing.rendering import GrooveEvent
from drumcore.refusals import Refusal

OPENNESS_CONTROLLER = 4
LARGEST_FILE = 8 << 20
MOST_EVENTS = 500_000
LONGEST_S = 6 * 3600


class Groove(Value):
    """A performance: its first tempo, its length to the end of its last bar, and its events in time."""

    name: str
    bpm: float
    beats_a_bar: float
    length_s: float
    events: tuple[GrooveEvent, ...]

    @property
    def strikes(self) -> int:
        return sum(1 for event in self.events if event.is_strike)


def read_midi(path: Path, channel: int | None = None, name: str | None = None) -> Groove:
    """Read a MIDI file of any resolution, tempo changes followed; channels are ignored unless one (1..16) is asked.

    A note-on with velocity 0 is a note-off (MIDI 1.0). Raises Refusal for what is not a MIDI file or holds no strike.
    """
    name = name or path.name
    if path.stat().st_size > LARGEST_FILE:
        raise Refusal(f"{name} is too large for a MIDI file; choose a performance under {LARGEST_FILE >> 20} MB.")
    try:
        file = mido.MidiFile(path, clip=True)
        if file.ticks_per_beat <= 0 or file.type == 2:
            raise ValueError("unusable timing")
        merged = list(mido.merge_tracks(file.tracks))
    except Exception:
        # mido has no error of its own: a damaged file surfaces as whatever its parser tripped over.
        raise Refusal(f"{name} is not a MIDI file that can be read; export it again as a standard MIDI file.") from None
    if len(merged) > MOST_EVENTS:
        raise Refusal(f"{name} holds {len(merged):,} events; cut it to under {MOST_EVENTS:,}.")
    return _groove(Path(name).stem, merged, file.ticks_per_beat, channel, name)


def _groove(title: str, messages: list[mido.Message], ticks_per_beat: int, channel: int | None, name: str) -> Groove:
    events: list[GrooveEvent] = []
    tempo, first_tempo = 500_000, None
    beats_a_bar = 4.0
    time_s, ticks = 0.0, 0
    for message in messages:
        time_s += mido.tick2second(message.time, ticks_per_beat, tempo)
        ticks += message.time
        if message.type == "set_tempo":
            tempo = max(1, message.tempo)
            first_tempo = first_tempo or tempo
        elif message.type == "time_signature" and ticks == 0:
            beats_a_bar = message.numerator * 4.0 / message.denominator
        elif channel is not None and getattr(message, "channel", channel - 1) != channel - 1:
            continue
        elif message.type == "note_on" and message.velocity > 0:
            events.append(GrooveEvent(time_s=round(time_s, 9), note=message.note, velocity=message.velocity))
        elif message.type == "control_change" and message.control == OPENNESS_CONTROLLER:
            events.append(GrooveEvent(time_s=round(time_s, 9), openness=message.value))
        elif message.type == "polytouch":
            events.append(GrooveEvent(time_s=round(time_s, 9), note=message.note, pressure=message.value))
    if not any(event.is_strike for event in events):
        where = "" if channel is None else f" on channel {channel}"
        raise Refusal(f"{name} holds no notes{where}; choose a performance with drum notes.")
    if time_s > LONGEST_S:
        raise Refusal(f"{name} lasts {time_s / 3600:.1f} hours; cut it to under {LONGEST_S // 3600}.")
    bar_ticks = ticks_per_beat * beats_a_bar
    left_ticks = -ticks % bar_ticks if ticks else bar_ticks
    length_s = time_s + mido.tick2second(left_ticks, ticks_per_beat, tempo)
    bpm = mido.tempo2bpm(first_tempo or 500_000)
    return Groove(
        name=title, bpm=round(bpm, 3), beats_a_bar=beats_a_bar, length_s=round(length_s, 9), events=tuple(events)
    )


def write_midi(groove: Groove, path: Path, ticks_per_beat: int = 480) -> None:
    """Write a groove as a standard MIDI file on the drum channel, at its own tempo."""
    tempo = mido.bpm2tempo(groove.bpm)
    track = mido.MidiTrack(
        [mido.MetaMessage("track_name", name=groove.name), mido.MetaMessage("set_tempo", tempo=tempo)]
    )
    track.append(mido.MetaMessage("time_signature", numerator=round(groove.beats_a_bar), denominator=4))

    def tick(time_s: float) -> int:
        return int(mido.second2tick(time_s, ticks_per_beat, tempo))

    messages: list[tuple[int, int, mido.Message]] = []
    for event in groove.events:
        at = tick(event.time_s)
        if event.openness is not None:
            change = mido.Message("control_change", channel=9, control=OPENNESS_CONTROLLER, value=event.openness)
            messages.append((at, 0, change))
        elif event.pressure is not None:
            messages.append((at, 1, mido.Message("polytouch", channel=9, note=event.note, value=event.pressure)))
        else:
            messages.append((at, 1, mido.Message("note_on", channel=9, note=event.note, velocity=event.velocity)))
            messages.append((at + ticks_per_beat // 8, 2, mido.Message("note_off", channel=9, note=event.note)))
    now = 0
    for at, group in groupby(sorted(messages, key=lambda m: m[:2]), key=lambda m: m[0]):
        for _, _, message in group:
            track.append(message.copy(time=at - now))
            now = at
    track.append(mido.MetaMessage("end_of_track", time=max(0, tick(groove.length_s) - now)))
    path.parent.mkdir(parents=True, exist_ok=True)
    mido.MidiFile(ticks_per_beat=ticks_per_beat, tracks=[track]).save(path)
