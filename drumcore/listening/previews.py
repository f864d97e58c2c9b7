"""A preview: a short sound of a kit or piece, heard before it is opened. It is a few bars of a groove or all
articulations from soft to hard, mixed to stereo, all previews at the same loudness.
"""

import hashlib
from collections.abc import Callable
from pathlib import Path

import numpy as np
import soundfile

from drumcore.arrays import Samples
from drumcore.grooves.values import Groove, GrooveEvent, PedalMove, Strike
from drumcore.kit.values import Kit
from drumcore.listening.figures import digest_of
from drumcore.listening.integrated_loudness import Integrated
from drumcore.listening.velocity_sweep import struck_directly
from drumcore.playing.compiler import compile_kit
from drumcore.playing.play_table import PlayTable
from drumcore.playing.renderer import render
from drumcore.playing.sounds import Sounds
from drumcore.playing.stems import FINE, OUTLINE_PARTS, outline_of, whole_samples
from drumcore.playing.striker import OPEN, Striker
from drumcore.value import Value

RULE = "1"
"""Changed with the rule by which previews are made, so that none of an older one is taken for it."""
LOUDNESS_LUFS = -23.0
"""EBU R 128: low enough that drums, which are far louder at their peaks, reach it without being cut."""
MOST_PEAK = 10.0 ** (-1.0 / 20.0)
BARS = 4
RINGS_S = 1.5
"""How long is listened on after the last bar or strike."""
CLIMB = (24, 50, 76, 102, 127)
APART_S = 0.34
MOST_ARTICULATIONS = 12
SUFFIX = ".flac"


class Preview(Value):
    """`loudness_db` is the loudness it was set to, in LUFS; None if it is silent. `outline` is the highest sample in
    each of its 160 parts, 0 to 1.
    """

    seconds: float
    loudness_db: float | None
    outline: tuple[float, ...]


class PreviewMusic(Value):
    """What a preview plays: events on a play table, up to `length_s`."""

    table: PlayTable
    events: tuple[GrooveEvent, ...]
    length_s: float


def of_kit(kit: Kit, groove: Groove | None) -> PreviewMusic:
    """The first bars of a groove; if none of its strikes sounds, all articulations from soft to hard."""
    table = compile_kit(kit)
    if groove is not None:
        length_s = min(groove.length_s, BARS * groove.beats_a_bar * 60.0 / groove.bpm)
        events = tuple(event for event in groove.events if event.time_s < length_s)
        striker = Striker(table)
        if any(isinstance(e, Strike) and striker.strike(e.note, e.velocity) for e in events):
            return PreviewMusic(table=table, events=events, length_s=length_s + RINGS_S)
    return climb(kit)


def climb(kit: Kit) -> PreviewMusic:
    """Every articulation from soft to hard, struck directly, each on a note of its own."""
    table = compile_kit(kit)
    articulations = [a for piece in table.pieces for a in piece.articulations if any(layer.steps for layer in a.layers)]
    articulations = articulations[:MOST_ARTICULATIONS]
    velocities = (
        CLIMB
        if len(articulations) == 1
        else CLIMB[1::3]
        if len(articulations) > MOST_ARTICULATIONS // 2
        else CLIMB[::2]
    )
    struck = [(place, velocity) for place in range(len(articulations)) for velocity in velocities]
    events: list[GrooveEvent] = [PedalMove(time_s=0.0, openness=OPEN)]
    events += [Strike(time_s=i * APART_S, note=note, velocity=v) for i, (note, v) in enumerate(struck)]
    return PreviewMusic(
        table=struck_directly(table, *articulations), events=tuple(events), length_s=len(struck) * APART_S + RINGS_S
    )


def depends_on(phrase: PreviewMusic) -> str:
    """A key that changes with anything that affects the preview's sound."""
    parts = [RULE, phrase.model_dump_json(include={"events", "length_s"}), phrase.table.head.model_dump_json()]
    parts += [digest_of(piece, heard=True) for piece in phrase.table.pieces]
    return hashlib.sha256("\n".join(parts).encode()).hexdigest()


def write_preview(
    phrase: PreviewMusic, sounds: Sounds, path: Path, progress: Callable[[int, int], None] = lambda done, total: None
) -> Preview:
    """Renders a phrase to a 16-bit stereo FLAC file at the common preview loudness, lower only if its peaks would clip.
    The file appears complete or not at all.
    """
    rate, total = phrase.table.head.rate_hz, round(phrase.length_s * 10)
    parts: list[Samples] = []
    for block in render(phrase.table, phrase.events, sounds, length_s=phrase.length_s):
        # As in the players, mono goes to both sides.
        mixed = sum((np.broadcast_to(sound, (2, sound.shape[1])) for sound in block.outputs.values()), np.zeros((2, 1)))
        parts.append(mixed.astype(np.float32))
        progress(min(round(block.first_frame / rate * 10), total), total)
    sound = np.concatenate(parts, axis=1) if parts else np.zeros((2, 1), np.float32)
    sound = sound[:, : round(phrase.length_s * rate)]
    meter = Integrated(rate, 2)
    meter.add(sound)
    found, peak = meter.loudness_db, float(np.abs(sound).max(initial=0.0))
    gain = 1.0 if found is None else 10.0 ** ((LOUDNESS_LUFS - found) / 20.0)
    gain = min(gain, MOST_PEAK / peak) if peak else gain
    fade = np.minimum(1.0, np.arange(sound.shape[1], 0, -1) / (0.25 * rate))
    sound = sound * (gain * fade).astype(np.float32)
    path.parent.mkdir(parents=True, exist_ok=True)
    whole = whole_samples(sound, 16, np.random.default_rng(0))
    written = path.with_name(f"{path.name}.part")
    soundfile.write(written, whole.T, rate, format="FLAC", subtype="PCM_16")
    written.replace(path)
    peaks = [float(np.abs(sound[:, a : a + FINE]).max()) for a in range(0, sound.shape[1], FINE)]
    return Preview(
        seconds=sound.shape[1] / rate,
        loudness_db=None if found is None else round(found + 20.0 * float(np.log10(gain)), 2),
        outline=tuple(outline_of(peaks, OUTLINE_PARTS)),
    )
