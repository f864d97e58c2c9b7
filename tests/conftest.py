"""Small sounds and sessions that tests write for themselves."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
import soundfile

RATE = 48000


def strike_sound(level_db: float, seed: int = 0, *, lead_s: float = 0.01, seconds: float = 0.25, rate: int = RATE):
    """A decaying noise strike of a given peak-ish level after a silent lead, float64 (frames,)."""
    rng = np.random.default_rng(seed)
    t = np.arange(int(seconds * rate)) / rate
    body = rng.standard_normal(len(t)) * np.exp(-t / 0.04) * 0.25 * 10 ** (level_db / 20)
    return np.concatenate([np.zeros(int(lead_s * rate)), body])


def write_sound(path: Path, sound, rate: int = RATE, subtype: str = "PCM_24") -> Path:
    path.parent.mkdir(parents=True, exist_ok=True)
    soundfile.write(path, np.clip(sound, -1, 1 - 2**-23), rate, subtype=subtype)
    return path


@pytest.fixture
def session_of(tmp_path: Path) -> Callable[[dict[str, float]], Path]:
    """Writes a session folder from {relative path: level in dB}; two files never hold the same sound."""

    def write(files: dict[str, float]) -> Path:
        root = tmp_path / "session"
        for seed, (name, level) in enumerate(files.items()):
            write_sound(root / name, strike_sound(level, seed))
        return root

    return write


@pytest.fixture(scope="session")
def demo_sessions(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Both demo sessions, written once."""
    from drumcore.demo.recordist import write_sessions

    root = tmp_path_factory.mktemp("demo")
    write_sessions(root)
    return root
