"""The waveform of a recording at any size and zoom."""

from pathlib import Path

import numpy as np

from drumcore.recordings.audio_files import read_audio


def recording_peaks(path: Path, points: int, first: int = 0, frames: int = 0) -> tuple[list[float], list[float]]:
    """The lowest and highest sample of equal parts of a recording, both sides together, rounded to six digits. The
    `frames` from frame `first` (0: all) are divided into `points` parts, or into one per frame if there are fewer
    frames.
    """
    samples = read_audio(path).samples[first : first + frames if frames else None]
    if len(samples) == 0:
        return [], []
    edges = np.unique(np.linspace(0, len(samples), min(points, len(samples)) + 1).astype(int))[:-1]
    low = np.minimum.reduceat(samples.min(axis=1), edges)
    high = np.maximum.reduceat(samples.max(axis=1), edges)
    return [round(float(v), 6) for v in low], [round(float(v), 6) for v in high]
