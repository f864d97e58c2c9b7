"""A session of another making than the demo's, in which nothing is wrong: five pieces of drums made up anew."""

from pathlib import Path

import numpy as np

from drumcore.demo.start_trials import shaped
from drumcore.edits.apply import apply
from drumcore.edits.outputs import ApplyPlan
from drumcore.edits.values import BuildPieces
from drumcore.kit.values import Kit
from drumcore.recordings.session import SessionReading, read_folder
from tests.conftest import RATE, write_sound

LEAD_S = 0.02
ARTICULATIONS = {
    "Kick": ("kick", "kick", ("Kick",)),
    "Snare": ("snare", "snare", ("Snare top", "Snare bottom")),
    "Hats closed": ("hats_closed", "hat", ("Hats",)),
    "Hats open": ("hats_open", "hat", ("Hats",)),
    "Hats pedal": ("hats_pedal", "hat", ("Hats",)),
    "Rack tom": ("rack_tom", "tom", ("Rack tom",)),
    "Crash": ("crash", "cymbal", ()),
    "Crash stop": ("crash_stop", "cymbal", ()),
}
LAYERS_DB = (-24.0, -13.0, -3.0)
TAKES = 4
DELAY_MS = {"Snare bottom": 0.4, "Overheads": 3.0}


def write_clean_session(root: Path) -> Path:
    """Three layers of four takes, each heard by its close microphones and by stereo overheads, 3 and 3.4 ms behind."""
    for number, (_, (prefix, kind, close)) in enumerate(ARTICULATIONS.items()):
        for layer, level_db in enumerate(LAYERS_DB, start=1):
            for take in range(1, TAKES + 1):
                rng = np.random.default_rng([number, layer, take])
                dry = shaped(rng, RATE, kind, LEAD_S).sound * 10 ** ((level_db + 0.4 * rng.uniform(-1, 1)) / 20)
                for mic in (*close, "Overheads"):
                    gain = 0.5 if mic == "Overheads" else 0.8
                    heard = [gain * _later(dry, DELAY_MS.get(mic, 0.0))]
                    if mic == "Overheads":
                        heard.append(gain * 0.9 * _later(dry, DELAY_MS[mic] + 0.4))
                    sides = np.stack(heard, axis=1) + 1e-5 * rng.standard_normal((len(dry), len(heard)))
                    write_sound(root / mic / f"{prefix}_{layer}_{take}.wav", sides)
    return root


def _later(sound, ms: float):
    frames = round(ms * RATE / 1000)
    return np.concatenate([np.zeros(frames), sound])[: len(sound)]


def kit_of(root: Path) -> Kit:
    return made_of(read_folder(root))


def made_of(reading: SessionReading) -> Kit:
    kit = apply(Kit(id="clean", name="Clean"), BuildPieces(mics=reading.mics, pieces=reading.pieces))
    return apply(kit, ApplyPlan(plan="one-output-a-piece"))
