"""The demo's sessions with every recording cut short: the same pieces, takes and mistakes, in a tenth of the sound.

A page that opens the whole demo fetches and keeps 242 MB; what most journeys are about needs none of it.
"""

import os
import shutil
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import soundfile

SECONDS, FADE_SECONDS = 0.16, 0.04


def shorten(sessions: Path, into: Path) -> None:
    """Write every recording under `sessions` to `into` as its first `SECONDS`; what is no sound stays as it is."""
    files = [path for path in sessions.rglob("*") if path.is_file()]
    with ThreadPoolExecutor(os.cpu_count() or 2) as pool:
        for _ in pool.map(lambda path: _shorten(path, into / path.relative_to(sessions)), files):
            pass


def _shorten(source: Path, target: Path) -> None:
    target.parent.mkdir(parents=True, exist_ok=True)
    try:
        rate = soundfile.info(source).samplerate
        sound, _ = soundfile.read(source, int(SECONDS * rate), always_2d=True)
    except soundfile.LibsndfileError:
        shutil.copyfile(source, target)
        return
    fade = int(FADE_SECONDS * rate)
    sound[-fade:] *= np.linspace(1.0, 0.0, fade)[:, None]
    soundfile.write(target, sound, rate, subtype="PCM_24")
