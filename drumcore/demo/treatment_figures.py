"""Measurements of the shipped treatments on the demo's recordings: level, crest and three bands."""

from pathlib import Path

import numpy as np
from scipy.signal import butter, sosfiltfilt

from drumcore.arrays import Floats
from drumcore.recordings.audio_files import read_audio
from drumcore.recordings.files import files_under
from drumcore.refusals import Refusal
from drumcore.treatments.kinds import compiled, stages
from drumcore.treatments.shipped import SHIPPED, ShippedTreatment
from drumcore.value import Value

BANDS = ((20.0, 200.0), (200.0, 2000.0), (2000.0, 18_000.0))
APART_S = 0.5
STRIKES = 12


class TreatmentFigures(Value):
    """Changes by a treatment, in dB: level (RMS), crest (peak over RMS), and each band relative to the whole."""

    id: str
    name: str
    heard_on: str
    level_db: float
    crest_db: float
    bands_db: tuple[float, float, float]


def treatment_figures(session: Path) -> list[TreatmentFigures]:
    """Measures every shipped treatment. Raises Refusal if the folder is not the demo's session."""
    return [_figures(shipped, *_played(session, shipped.heard_on)) for shipped in SHIPPED]


def _played(session: Path, folder: str) -> tuple[Floats, int]:
    """The strikes of a folder, soft to hard, half a second apart: shape (sides, frames), and the sample rate."""
    names = sorted(name for name in files_under(session) if name.startswith(f"{folder}/"))
    if not names:
        raise Refusal(f"{session} has no “{folder}”; write the demo's session with “zesty demo DIR” first.")
    chosen = [names[round(k * (len(names) - 1) / (STRIKES - 1))] for k in range(STRIKES)]
    strikes = [read_audio(session / name) for name in chosen]
    rate = strikes[0].rate_hz
    step = int(APART_S * rate)
    sound = np.zeros((strikes[0].width, step * STRIKES + rate))
    for number, strike in enumerate(strikes):
        part = strike.samples.T[:, : 2 * step].astype(np.float64)
        sound[:, number * step : number * step + part.shape[1]] += part
    return sound, rate


def _figures(shipped: ShippedTreatment, sound: Floats, rate_hz: int) -> TreatmentFigures:
    treated = sound
    for stage in stages(compiled(shipped.kept.treatments, rate_hz), rate_hz, len(sound)):
        treated = stage.process(treated)
    before, after = (_measured(each, rate_hz) for each in (sound, treated))
    level, crest, *bands = (round(b - a, 1) for a, b in zip(before, after, strict=True))
    low, middle, high = bands
    return TreatmentFigures(
        id=shipped.id,
        name=shipped.name,
        heard_on=shipped.heard_on,
        level_db=level,
        crest_db=crest,
        bands_db=(low, middle, high),
    )


def _measured(sound: Floats, rate_hz: int) -> tuple[float, ...]:
    level = _db(float(np.mean(sound**2)) ** 0.5)
    bands = [
        _db(float(np.mean(sosfiltfilt(butter(4, band, "bandpass", fs=rate_hz, output="sos"), sound) ** 2)) ** 0.5)
        for band in BANDS
    ]
    return (level, _db(float(np.abs(sound).max())) - level, *(band - level for band in bands))


def _db(size: float) -> float:
    return 20.0 * float(np.log10(max(size, 1e-12)))
