"""Small sounds and sessions that tests write for themselves."""

import os
import pickle
import shutil
from collections import Counter
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
import soundfile
from filelock import FileLock
from hypothesis import HealthCheck, settings

RATE = 48000
# The same cases every time: a run that failed fails again, and one that passed is no luck.
# A busy machine is no fault: nothing here is timed.
settings.register_profile(
    "steady",
    derandomize=True,
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
)
# `make test-long`: other cases every time, and many of them.
settings.register_profile("long", parent=settings.get_profile("steady"), derandomize=False, max_examples=1000)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "steady"))


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """One process makes the demo's studio while the other does what needs none, instead of waiting for it; then come the tests
    that take longest, so that neither process is left with one of them at the end."""

    def order(item: pytest.Item) -> int:
        if item.path.name == "test_building.py":
            return 0
        if item.path.name in WITHOUT_DEMO:
            return 1
        return 2 if "browser" in item.path.parts else 3

    items.sort(key=order)


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    """Where the time went: in seconds of one process, of which two run side by side."""
    spent: Counter[str] = Counter()
    for reports in terminalreporter.stats.values():
        for report in reports:
            if isinstance(report, pytest.TestReport):
                spent[report.nodeid.split("::")[0]] += report.duration
    folders: Counter[str] = Counter()
    for file, seconds in spent.items():
        folders["/".join(file.split("/")[:2])] += seconds
    terminalreporter.section("where the time went")
    for name, seconds in (*folders.most_common(), *spent.most_common(8)):
        terminalreporter.write_line(f"{seconds:7.0f} s  {name}")


WITHOUT_DEMO = ("test_backup.py", "test_durability.py", "test_process.py")
"""Longer together than the demo takes to be recorded and read."""


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


def whole(table, events, sounds, output=1, **options):
    """All that comes out of one output, float64 (2, frames)."""
    from drumcore.playing.renderer import render

    return np.concatenate([b.outputs[output] for b in render(table, events, sounds, **options)], axis=1)


@pytest.fixture
def session_of(tmp_path: Path) -> Callable[[dict[str, float]], Path]:
    """Writes a session folder from {relative path: level in dB}; two files never hold the same sound."""

    def write(files: dict[str, float]) -> Path:
        root = tmp_path / "session"
        for seed, (name, level) in enumerate(files.items()):
            write_sound(root / name, strike_sound(level, seed))
        return root

    return write


def made_once(factory: pytest.TempPathFactory, name: str, make: Callable[[Path], object]) -> Path:
    """A folder made once for all processes of a run; half of one is none."""
    above = factory.getbasetemp()
    root = (above.parent if "PYTEST_XDIST_WORKER" in os.environ else above) / name
    with FileLock(f"{root}.lock"):
        if not root.exists():
            half = root.with_name(f"{name}-half")
            shutil.rmtree(half, ignore_errors=True)
            make(half)
            half.rename(root)
    return root


@pytest.fixture(scope="session")
def demo_sessions(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Both demo sessions."""
    from drumcore.demo.recordist import write_sessions

    return made_once(tmp_path_factory, "demo", write_sessions)


@pytest.fixture(scope="session")
def boathouse(tmp_path_factory: pytest.TempPathFactory, demo_sessions: Path):
    """The demo's main session as it is read."""
    from drumcore.recordings.session import read_folder

    def make(folder: Path) -> None:
        folder.mkdir()
        (folder / "reading").write_bytes(pickle.dumps(read_folder(demo_sessions / "Boathouse No. 4")))

    return pickle.loads((made_once(tmp_path_factory, "boathouse-read", make) / "reading").read_bytes())


@pytest.fixture(scope="session")
def clean_recordings(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A session in which nothing is wrong; to be read only."""
    from tests.core.clean_session import write_clean_session

    return made_once(tmp_path_factory, "clean", write_clean_session)


@pytest.fixture
def clean_session(tmp_path: Path, clean_recordings: Path) -> Path:
    """One in which nothing is wrong yet."""
    return shutil.copytree(clean_recordings, tmp_path / "clean")


@pytest.fixture(scope="session")
def small_session(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Kick and snare with a close microphone, overheads and room; hats of three articulations; a crash without a close one."""
    root = tmp_path_factory.mktemp("small")
    seed = 0
    articulations = [
        ("Kick", "kick", 3, 2),
        ("Snare", "sn", 4, 3),
        ("Hat", "hat_closed", 2, 2),
        ("Hat", "hat_open", 2, 2),
        ("", "crash_left", 2, 2),
    ]
    for close, prefix, strengths, repeats in articulations:
        for strength in range(1, strengths + 1):
            for repeat in range(1, repeats + 1):
                level = -10.0 * (strengths - strength) + 0.3 * (repeat - 1)
                name = f"{prefix}_{strength:02d}_{repeat}.wav"
                seed += 1
                if close:
                    write_sound(root / f"{close} mic" / name, strike_sound(level, seed))
                for far, width in (("Overheads", 2), ("Room", 2)):
                    sides = [
                        strike_sound(level - 8, seed * 100 + 10 * width + s + ord(far[0]), lead_s=0.012)
                        for s in range(width)
                    ]
                    write_sound(root / far / name, np.stack(sides, axis=1))
    return root


@pytest.fixture(scope="session")
def small_kit(small_session: Path):
    """A kit of the small session, built the way a user's is."""
    from drumcore.edits.apply import apply
    from drumcore.edits.values import BuildPieces
    from drumcore.kit.values import Kit
    from drumcore.recordings.session import read_folder

    reading = read_folder(small_session)
    return apply(Kit(id="small", name="Small"), BuildPieces(mics=reading.mics, pieces=reading.pieces))


@pytest.fixture(scope="session")
def rich(small_kit):
    """The small kit with something of everything."""
    from tests.core.rich_kit import rich_kit

    return rich_kit(small_kit)


@pytest.fixture
def sounds(small_kit, small_session: Path):
    """The small session's recordings, by their content."""
    from drumcore.formats.kit_file import contents_of
    from drumcore.playing.sounds import FileSounds

    places = {content: small_session / r.path for content, r in contents_of(small_kit).items()}
    return FileSounds(lambda content: places[content])


@pytest.fixture(scope="session")
def after(small_kit):
    """The small kit after some edits, those that are refused left out. (A function: a failing case prints what it got.)"""
    from tests.changes import made

    return lambda changes: made(small_kit, changes)
