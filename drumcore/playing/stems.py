"""Stems: the sound of every output, written to a file while it is rendered."""

import json
import re
from collections.abc import Callable, Iterable, Sequence
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np
import soundfile
from numpy.typing import NDArray

from drumcore.arrays import Samples
from drumcore.file_names import shortened
from drumcore.grooves.values import PlayedEvent
from drumcore.kit.values import Width
from drumcore.playing.mixer import outputs_in_use
from drumcore.playing.play_table import PlayOutput, PlayTable
from drumcore.playing.renderer import render
from drumcore.playing.sounds import Sounds
from drumcore.recordings.k_weighting import decibels
from drumcore.refusals import Refusal

DITHER_SEED = 16
OUTLINE_PARTS = 160
FINE = 1024
"""Outlines are drawn from the peaks of so many frames each."""
SUBTYPES = {16: "PCM_16", 24: "PCM_24", 32: "FLOAT"}


def stem_name(output: PlayOutput) -> str:
    """A safe file name: the output's number and its name."""
    plain = re.sub(r"[^\w .+-]+", " ", output.name).strip() or "Output"
    return f"{output.number:02d} {shortened(plain)}.wav"


def outline_of(peaks: Sequence[float], parts: int = OUTLINE_PARTS) -> list[float]:
    """The highest peak in each of `parts` equal parts (or fewer, if there are fewer peaks), rounded."""
    if not peaks:
        return []
    parts = min(parts, len(peaks))
    bounds = [len(peaks) * part // parts for part in range(parts + 1)]
    return [round(max(peaks[a:b]), 4) for a, b in pairwise(bounds)]


def whole_samples(sound: Samples, bits: int, noise: np.random.Generator) -> NDArray[np.int32]:
    """Samples of full scale 1 as 16- or 24-bit integers, left-justified in 32 bits: rounded half up and clipped.

    16-bit samples are dithered first with triangular noise of ± 1 step, the difference of two uniform draws (S. P.
    Lipshitz, R. A. Wannamaker and J. Vanderkooy, "Quantization and Dither", JAES 40(5), 1992). The noise is drawn frame
    by frame, so a stem does not depend on the block size.
    """
    scaled = sound.astype(np.float64) * 2.0 ** (bits - 1)
    if bits == 16:
        drawn = noise.random((sound.shape[1], sound.shape[0], 2))
        scaled += (drawn[:, :, 0] - drawn[:, :, 1]).T
    top = 2.0 ** (bits - 1)
    return np.clip(np.floor(scaled + 0.5), -top, top - 1.0).astype(np.int32) << (32 - bits)


def write_stems(
    table: PlayTable,
    events: Iterable[PlayedEvent],
    sounds: Sounds,
    folder: Path,
    *,
    bits: int = 24,
    length_s: float | None = None,
    progress: Callable[[float], None] | None = None,
    outlines: dict[int, list[float]] | None = None,
) -> dict[str, Any]:
    """Renders one WAV file per output in use, and `stems.json`, which lists them; returns that list.

    `progress` is called with the seconds rendered; `outlines`, if given, is filled with an outline of each output
    (`outline_of`). Samples over full scale are clipped and counted in 16 and 24 bits; 32 writes floats. The same kit
    and groove always give identical files.
    """
    if bits not in SUBTYPES:
        raise Refusal(f"Stems cannot have {bits} bits; choose 16, 24 or 32.")
    rate = table.head.rate_hz
    outputs = outputs_in_use(table.head)
    if not outputs:
        raise Refusal("No channel of this kit goes to an output; make pieces or route them first.")
    folder.mkdir(parents=True, exist_ok=True)
    peaks = {o.number: 0.0 for o in outputs}
    along: dict[int, list[float]] = {o.number: [] for o in outputs}
    over = {o.number: 0 for o in outputs}
    files: dict[int, soundfile.SoundFile] = {}
    noise = {o.number: np.random.default_rng([DITHER_SEED, o.number]) for o in outputs}
    frames = 0
    try:
        for output in outputs:
            sides = 2 if output.width is Width.STEREO else 1
            path = folder / stem_name(output)
            files[output.number] = soundfile.SoundFile(path, "w", rate, sides, SUBTYPES[bits], format="WAV")
        for block in render(table, events, sounds, length_s=length_s):
            for number, sound in block.outputs.items():
                size = np.abs(sound)
                highest = float(size.max(initial=0.0))
                peaks[number] = max(peaks[number], highest)
                loudest = size.max(axis=0)
                along[number] += [float(loudest[at : at + FINE].max()) for at in range(0, len(loudest), FINE)]
                over[number] += int(np.count_nonzero(size > 1.0))
                files[number].write(sound.T if bits == 32 else whole_samples(sound, bits, noise[number]).T)
                frames = block.first_frame + sound.shape[1]
            if progress:
                progress(frames / rate)
    finally:
        for file in files.values():
            file.close()
    listed: dict[str, Any] = {
        "rate_hz": rate,
        "bits": bits,
        "frames": frames,
        "stems": [
            {
                "output": o.number,
                "name": o.name,
                "width": o.width.value,
                "file": stem_name(o),
                "peak_dbfs": round(decibels(peaks[o.number]), 2),
                "clipped_samples": over[o.number],
            }
            for o in outputs
        ],
    }
    (folder / "stems.json").write_text(json.dumps(listed, indent=2) + "\n", encoding="utf-8")
    if outlines is not None:
        outlines.update({number: outline_of(peaks) for number, peaks in along.items()})
    return listed
