"""The demo's recordings compared with measurements of real drums, band by band."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from scipy.signal import butter, sosfiltfilt

from drumcore.arrays import Floats
from drumcore.demo.recordist import BOATHOUSE, TIN_LANTERN
from drumcore.demo.synthesis import BANDS, OPENING_S, Eight
from drumcore.recordings.audio_files import read_audio
from drumcore.recordings.measurement import measure

COUNTS_FROM_DB = -25.0
"""Bands weaker than this are not compared, and neither is how long they last."""
WITHIN_DB = 5.0
WITHIN_TIMES = 4.0 / 3.0
FRAME_S = 0.005
LEAD_S = 0.2


@dataclass(frozen=True)
class RealDrum:
    """Measurements of one real drum: where the demo has its counterpart, levels in dB under the strongest band, decay
    times in ms.
    """

    name: str
    folder: str
    levels_db: Eight
    times_ms: Eight


REAL = (
    RealDrum(
        "kick",
        f"{BOATHOUSE}/Kick in/Kick centre",
        (0, -8, -20, -29, -28, -21, -26, -37),
        (60, 30, 35, 35, 20, 15, 15, 15),
    ),
    RealDrum(
        "snare",
        f"{BOATHOUSE}/Snare top/Snare centre",
        (-17, 0, 0, -8, -10, -8, -8, -13),
        (25, 45, 65, 110, 115, 120, 110, 95),
    ),
    RealDrum(
        "high tom",
        f"{BOATHOUSE}/Rack tom/Rack tom centre",
        (-20, 0, -3, -13, -16, -14, -20, -29),
        (345, 345, 90, 100, 110, 65, 40, 45),
    ),
    RealDrum(
        "low tom",
        f"{BOATHOUSE}/Floor tom/Floor tom centre",
        (-5, 0, -8, -13, -12, -13, -22, -34),
        (720, 285, 70, 150, 135, 75, 55, 50),
    ),
    RealDrum(
        "closed hat",
        f"{BOATHOUSE}/Hat/Hats closed",
        (-31, -25, -16, -21, -15, -8, -3, 0),
        (26, 38, 68, 96, 64, 100, 100, 94),
    ),
    RealDrum(
        "open hat",
        f"{BOATHOUSE}/Hat/Hats open",
        (-35, -32, -3, -10, -13, -6, -2, 0),
        (87, 49, 31, 270, 700, 775, 720, 400),
    ),
    RealDrum(
        "crash",
        f"{BOATHOUSE}/Overheads/Crash left edge",
        (-39, -36, -11, -22, -21, -10, 0, -5),
        (74, 960, 500, 1000, 1120, 930, 410, 380),
    ),
    RealDrum(
        "splash",
        f"{TIN_LANTERN}/Overheads/Splash",
        (-31, -24, -7, -4, -8, 0, -1, 0),
        (25, 170, 80, 590, 910, 840, 770, 700),
    ),
    RealDrum(
        "cowbell",
        f"{BOATHOUSE}/Percussion/Cowbell",
        (-43, -40, -22, -10, 0, -6, -12, -21),
        (43, 65, 210, 260, 240, 190, 105, 60),
    ),
)
"""Figures of real drums struck hard, close microphone, overheads for cymbals; the design's own ("The demo")."""


@dataclass(frozen=True)
class DemoDrum:
    """Measurements of one demo drum, and the bands that are too far from the real one's."""

    wanted: RealDrum
    levels_db: tuple[float, ...]
    times_ms: tuple[float, ...]

    def off(self) -> list[str]:
        """The bands that miss, as "level 3" or "time 7", counted from 1."""
        found = []
        for number, level in enumerate(self.wanted.levels_db):
            if level <= COUNTS_FROM_DB:
                continue
            if abs(self.levels_db[number] - level) > WITHIN_DB:
                found.append(f"level {number + 1}")
            if not 1 / WITHIN_TIMES <= self.times_ms[number] / self.wanted.times_ms[number] <= WITHIN_TIMES:
                found.append(f"time {number + 1}")
        return found


def compare_with_real_drums(sessions: Path) -> list[DemoDrum]:
    """Measures the hardest strikes of the sessions under a folder, averaged over takes and sides."""
    found = []
    for wanted in REAL:
        sides = [side for path in hardest(sessions / wanted.folder) for side in _sides(path)]
        levels = np.mean([levels for levels, _ in sides], axis=0)
        times = np.mean([times for _, times in sides], axis=0)
        found.append(DemoDrum(wanted, tuple(levels - levels.max()), tuple(times)))
    return found


def hardest(folder: Path) -> list[Path]:
    """The takes of the hardest layer in an articulation's folder, by the layer number in their names."""
    numbered = [(int(m.group(1)), path) for path in sorted(folder.glob("*.wav")) if (m := _STRENGTH.search(path.name))]
    top = max(strength for strength, _ in numbered)
    return [path for strength, path in numbered if strength == top]


_STRENGTH = re.compile(r"_(\d\d)_\d")


def _sides(path: Path) -> Iterable[tuple[Floats, Floats]]:
    audio = read_audio(path)
    start = round(measure(audio).start_ms * audio.rate_hz / 1000.0)
    for side in audio.samples.T:
        yield of_bands(side.astype(np.float64), audio.rate_hz, start)


def of_bands(sound: Floats, rate_hz: int, start: int) -> tuple[Floats, Floats]:
    """Levels in dB of the first 50 ms of each band, and the times in ms until each has fallen by 20 dB.

    Bands by Butterworth filters of fourth order run both ways; a time is from the frame of 5 ms with the greatest RMS to
    the first that lies 20 dB under it.
    """
    lead = int(LEAD_S * rate_hz)
    whole = np.concatenate([np.zeros(lead), sound])
    levels, times = [], []
    for low, high in BANDS:
        band = sosfiltfilt(butter(4, [low, high], "bandpass", fs=rate_hz, output="sos"), whole)[lead + start :]
        levels.append(10.0 * np.log10(np.sum(band[: int(OPENING_S * rate_hz)] ** 2) + 1e-30))
        size = int(FRAME_S * rate_hz)
        rms = np.sqrt(np.mean(band[: len(band) // size * size].reshape(-1, size) ** 2, axis=1))
        top = int(np.argmax(rms))
        fallen = np.flatnonzero(rms[top:] < rms[top] / 10.0)
        times.append((float(fallen[0]) if len(fallen) else float(len(rms) - top)) * FRAME_S * 1000.0)
    return np.array(levels), np.array(times)


def table(found: Sequence[DemoDrum]) -> str:
    """The wanted and measured figures side by side; an asterisk marks a miss."""
    heads = [f"{_hz(low)}–{_hz(high)}" for low, high in BANDS]
    lines = [f"{'':22}" + "".join(f"{head:>12}" for head in heads)]
    for heard in found:
        off = set(heard.off())
        for what, unit, has, wanted in (
            ("level", "dB", heard.levels_db, heard.wanted.levels_db),
            ("time", "ms", heard.times_ms, heard.wanted.times_ms),
        ):
            cells = []
            for number, (is_, of) in enumerate(zip(has, wanted, strict=True)):
                counts = heard.wanted.levels_db[number] > COUNTS_FROM_DB
                mark = "*" if f"{what} {number + 1}" in off else " " if counts else "·"
                cells.append(f"{is_:.0f} ({of:.0f}){mark}".rjust(12))
            lines.append(f"{heard.wanted.name + ', ' + what + ' in ' + unit:22}" + "".join(cells))
    lines.append(
        "Heard (wanted); · does not count, being under −25 dB; * is off by more than 5 dB or a third of the time."
    )
    return "\n".join(lines)


def _hz(frequency: float) -> str:
    return f"{frequency / 1000:g}k" if frequency >= 1000 else f"{frequency:g}"
