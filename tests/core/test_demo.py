"""The demo sounds like drums, by figures, and plays like a drummer: harder is never softer."""

import re

import numpy as np
import pytest
from scipy.signal import butter, sosfiltfilt

from drumcore.cli.main import main
from drumcore.demo.figures import compare_with_real_drums, hardest, of_bands
from drumcore.demo.synthesis import RATE_HZ
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.formats.kit_file import contents_of
from drumcore.kit.lookup import articulation_of
from drumcore.kit.values import Kit
from drumcore.listening.velocity_sweep import climbs
from drumcore.playing.compiler import compile_kit
from drumcore.playing.sounds import FileSounds
from drumcore.recordings.audio_files import read_audio
from drumcore.recordings.measurement import measure


def test_its_drums_come_within_the_figures_of_real_ones(demo_sessions):
    off = {heard.wanted.name: heard.off() for heard in compare_with_real_drums(demo_sessions)}
    assert len(off) == 9 and not any(off.values()), off


def test_bands_are_measured_right():
    """A tone of 300 Hz that falls by 20 dB in 100 ms beside one of 3 kHz, 12 dB weaker, that falls in 40 ms."""
    t = np.arange(RATE_HZ) / RATE_HZ
    sound = np.sin(2 * np.pi * 300 * t) * 10 ** (-t / 0.1)
    sound += 10 ** (-12 / 20) * np.sin(2 * np.pi * 3000 * t) * 10 ** (-t / 0.04)
    levels, times = of_bands(sound, RATE_HZ, 0)
    # Energy of the first 50 ms: (1 − 10^(−2·50/T)) · T, so a further 10·log10(0.4 · 0.9968 / 0.9) for the shorter one.
    assert levels[5] - levels[2] == pytest.approx(-12 + 10 * np.log10(0.4 * 0.9968 / 0.9), abs=0.3)
    assert times[2] == pytest.approx(100, abs=8) and times[5] == pytest.approx(40, abs=6)


def softest(folder):
    return sorted(p for p in folder.glob("*.wav") if re.search(r"_01_\d", p.name))


def bands(path):
    audio = read_audio(path)
    start = round(measure(audio).start_ms * audio.rate_hz / 1000)
    return of_bands(audio.samples[:, 0].astype(float), audio.rate_hz, start)[0]


@pytest.mark.parametrize(
    ("articulation", "top", "least", "most"),
    [("Rack tom/Rack tom centre", 5, 6, 10), ("Kick in/Kick centre", 5, 5, 11), ("Hat/Hats closed", 7, 5, 12)],
)
def test_softer_articulations_lose_the_upper_bands_first(demo_sessions, articulation, top, least, most):
    folder = demo_sessions / "Boathouse No. 4" / articulation
    hard = np.mean([bands(p) for p in hardest(folder)], axis=0)
    soft = np.mean([bands(p) for p in softest(folder)], axis=0)
    body = int(np.argmax(hard[:3]))
    lost = (hard - hard[body]) - (soft - soft[body])
    assert least <= lost[top] <= most
    assert lost[top] > lost[3] - 0.5


def test_rooms_fall_evenly_lows_longer_than_highs_down_to_the_noise(demo_sessions):
    audio = read_audio(hardest(demo_sessions / "Boathouse No. 4" / "Room" / "Snare centre")[0])
    sound = audio.samples[:, 0].astype(float)
    assert 20 * np.log10(np.sqrt(np.mean(sound[-960:] ** 2))) == pytest.approx(-92, abs=6)
    falls = []
    for low, high in ((200, 500), (500, 1000), (1000, 2000), (2000, 5000), (5000, 10000)):
        band = sosfiltfilt(butter(4, [low, high], "bandpass", fs=RATE_HZ, output="sos"), sound)
        rms = np.sqrt(np.mean(band[: len(band) // 960 * 960].reshape(-1, 960) ** 2, axis=1))
        level = 20 * np.log10(rms + 1e-12)
        floor = level[-3:].mean()
        from_, to = level.argmax() + 4, np.flatnonzero(level > floor + 10)[-1]
        half = (from_ + to) // 2
        early, late = (np.polyfit(np.arange(a, b), level[a:b], 1)[0] for a, b in ((from_, half), (half, to)))
        assert late / early == pytest.approx(1.0, abs=0.45), (low, early, late)
        falls.append(-60 / ((early + late) / 2) * 0.02)
    assert falls[0] > falls[-1] and all(0.2 < fall < 1.0 for fall in falls)


@pytest.fixture(scope="module")
def boathouse_kit(boathouse) -> Kit:
    return apply(Kit(id="boathouse", name="Boathouse"), e.BuildPieces(mics=boathouse.mics, pieces=boathouse.pieces))


@pytest.fixture(scope="module")
def boathouse_sounds(boathouse_kit, demo_sessions) -> FileSounds:
    places = {c: demo_sessions / "Boathouse No. 4" / r.path for c, r in contents_of(boathouse_kit).items()}
    return FileSounds(lambda content: places[content])


def test_every_articulation_climbs_as_it_is_rendered(boathouse_kit, boathouse_sounds):
    velocities = [1, 9, 16, *range(20, 60, 2), *range(60, 128, 3), 127]
    found = list(climbs(compile_kit(boathouse_kit), boathouse_sounds, velocities))
    assert len(found) == 20
    assert [f"{c.piece} {c.articulation}: {c.beyond_db:.2f}" for c in found if not c.climbs] == []
    for climb in found:
        assert climb.levels_db[127] - climb.levels_db[32] > 18.0


def test_an_articulation_that_falls_is_found_by_its_sound(boathouse_kit, boathouse_sounds):
    """Two layers change places in level: what is rendered falls by about what the formula says."""
    _, kick = articulation_of(boathouse_kit, "kick/centre")
    one, other = kick.layers[1], kick.layers[2]
    swapped = (kick.layers[0], one.but(takes=other.takes), other.but(takes=one.takes), kick.layers[3])
    piece, _ = articulation_of(boathouse_kit, "kick/centre")
    odd = boathouse_kit.but(pieces=(piece.but(articulations=(kick.but(layers=swapped),)),))
    (climb,) = climbs(compile_kit(odd), boathouse_sounds, range(1, 128, 2))
    # The layer above is 10 dB softer, and lifted by no more than 6.
    assert not climb.climbs and climb.beyond_db == pytest.approx(10.0 - 6.0, abs=1.5)


def test_the_command_says_of_every_articulation_whether_it_climbs(small_session, tmp_path, capsys):
    path = tmp_path / "Small.zestykit"
    assert main(["build", str(small_session), "-o", str(path)]) == 0
    capsys.readouterr()
    assert main(["climb", str(path)]) == 0
    lines = capsys.readouterr().out.splitlines()
    assert len(lines) == 5 and all(line.endswith("climbs") for line in lines) and lines[1].startswith("Snare · centre")
