"""Malformed, hostile and merely odd files: each ends in a sentence or a good recording, and loses no neighbour."""

import os
import struct
import zipfile
from pathlib import Path

import numpy as np
import pytest
import soundfile
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.formats.archives import check_archive, open_archive
from drumcore.recordings.files import (
    Measured,
    Unread,
    Unsplit,
    files_under,
    measure_file,
    measure_files,
    shown_name,
)
from drumcore.recordings.session import read_folder
from drumcore.refusals import Refusal
from tests.conftest import RATE, strike_sound, write_sound


def wav(
    data: bytes,
    *,
    rate: int = RATE,
    channels: int = 1,
    bits: int = 16,
    kind: int = 1,
    promised: int | None = None,
    riff: int | None = None,
) -> bytes:
    """A WAV file whose header says what it is told to say."""
    width = max(1, channels * bits // 8)
    form = struct.pack(
        "<4sIHHIIHH", b"fmt ", 16, kind, channels, rate, (rate * width) & 0xFFFFFFFF, width & 0xFFFF, bits
    )
    body = form + struct.pack("<4sI", b"data", len(data) if promised is None else promised) + data
    return struct.pack("<4sI4s", b"RIFF", (len(body) + 4) if riff is None else riff, b"WAVE") + body


PCM = (np.round(strike_sound(0.0, 5) * 20000)).astype("<i2").tobytes()
FLOATS = strike_sound(0.0, 5).astype("<f4")


def with_float(value: float) -> bytes:
    odd = FLOATS.copy()
    odd[700] = value
    return wav(odd.tobytes(), bits=32, kind=3)


ODD: dict[str, bytes] = {
    "promises more.wav": wav(PCM, promised=len(PCM) * 4),
    "promises four gigabytes.wav": wav(PCM, promised=0xFFFFFFF0),
    "promises less.wav": wav(PCM, promised=2000),
    "wrong riff length.wav": wav(PCM, riff=12),
    "no frames.wav": wav(b""),
    "no channels.wav": wav(PCM, channels=0),
    "one hertz.wav": wav(PCM, rate=1),
    "ten megahertz.wav": wav(PCM, rate=10_000_000),
    "no rate.wav": wav(PCM, rate=0),
    "sixty-four channels.wav": wav(PCM[: len(PCM) // 128 * 128], channels=64),
    "sixty thousand channels.wav": wav(PCM, channels=60_000),
    "not a number.wav": with_float(float("nan")),
    "infinite.wav": with_float(float("inf")),
    "nine bits.wav": wav(PCM, bits=9),
    "unknown kind.wav": wav(PCM, kind=0x4D2),
    "only a header.wav": wav(PCM)[:44],
    "half a header.wav": wav(PCM)[:17],
    "nothing.wav": b"",
    "zeros.wav": bytes(4096),
    "flac by name.flac": wav(PCM),
    "aiff by name.aif": b"FORM\x00\x00\x00\x04AIFF",
    "mp3 by name.mp3": b"ID3" + bytes(400),
    "text.wav": b"Buy lamp oil.",
    "line\nbreak.wav": wav(PCM),
    "\u202egnp.wav": wav(PCM),
    "drum 🥁 roll.wav": wav(PCM),
    f"{'long' * 62}.wav": wav(PCM),
    "kick;rm -rf.wav": wav(PCM),
    "silence.wav": wav(bytes(20_000)),
    "one frame.wav": wav(PCM[:2]),
    "full scale.wav": wav(b"\xff\x7f" * 4000),
    "lowest.wav": wav(b"\x00\x80" * 4000),
}


@pytest.fixture(scope="module")
def odd_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    root = tmp_path_factory.mktemp("odd")
    for name, content in ODD.items():
        (root / name).write_bytes(content)
    for strength in (1, 2, 3):
        for repeat in (1, 2):
            sound = strike_sound(-9.0 * (3 - strength), strength * 10 + repeat)
            write_sound(root / "Kick" / f"kick_{strength}_{repeat}.wav", sound)
    (root / "Kick" / "itself").symlink_to(root)
    (root / os.fsdecode(b"no utf-8 \xff.wav")).write_bytes(wav(PCM))
    return root


def test_every_odd_file_ends_in_a_sentence_or_a_recording(odd_folder: Path):
    names = files_under(odd_folder)
    assert len(names) == len(ODD) + 7  # the folder inside itself is not walked into
    measured, unread = measure_files((odd_folder / name, shown_name(name)) for name in names)
    assert len(measured) + len(unread) == len(names)
    good = {m.path for m in measured}
    assert {f"Kick/kick_{s}_{r}.wav" for s in (1, 2, 3) for r in (1, 2)} <= good
    assert {"line\nbreak.wav", "drum 🥁 roll.wav", "\u202egnp.wav", "silence.wav", "one frame.wav"} <= good
    for entry in unread:
        assert entry.path in entry.why and entry.why.endswith("."), entry.why
    refused = {entry.path for entry in unread}
    assert {
        "promises more.wav", "no frames.wav", "one hertz.wav", "ten megahertz.wav", "not a number.wav", "infinite.wav",
        "nothing.wav", "zeros.wav", "text.wav", "only a header.wav", "half a header.wav", "mp3 by name.mp3",
    } <= refused  # fmt: skip
    for file in measured:
        numbers = (v for v in vars(file.measurements).values() if isinstance(v, int | float))
        assert all(np.isfinite(value) for value in numbers), file.path


def test_the_good_neighbours_are_read_as_if_alone(odd_folder: Path):
    reading = read_folder(odd_folder)
    kick = next(p for p in reading.pieces if p.name == "Kick")
    assert [len(layer.takes) for layer in kick.articulations[0].layers] == [2, 2, 2]
    assert "no utf-8 \ufffd.wav" in reading.model_dump_json()


def test_many_channels_are_said_to_be_many(odd_folder: Path):
    found = measure_file(odd_folder / "sixty-four channels.wav", "x.wav")
    assert isinstance(found, Unsplit) and found.channels == 64


@settings(max_examples=150)
@given(data=st.data())
def test_a_file_with_any_bytes_changed_never_breaks_the_reader(tmp_path: Path, data):
    whole = bytearray(wav(PCM[:6000]))
    for _ in range(data.draw(st.integers(1, 6))):
        at = data.draw(st.integers(0, 60))
        whole[at] = data.draw(st.integers(0, 255))
    cut = data.draw(st.integers(0, len(whole)))
    path = tmp_path / "changed.wav"
    path.write_bytes(bytes(whole[:cut]))
    assert isinstance(measure_file(path, "changed.wav"), Measured | Unread | Unsplit)


@pytest.mark.parametrize(
    ("subtype", "format"),
    [("PCM_16", "WAV"), ("PCM_24", "WAVEX"), ("PCM_32", "WAV"), ("FLOAT", "WAV"), ("DOUBLE", "WAV"), ("PCM_24", "RF64"),
     ("PCM_16", "AIFF"), ("PCM_24", "AIFF"), ("PCM_24", "FLAC")],
)  # fmt: skip
def test_every_format_measures_the_same(tmp_path: Path, subtype: str, format: str):
    sound = strike_sound(-3.0, 8)
    path = tmp_path / f"x.{ {'AIFF': 'aif', 'FLAC': 'flac'}.get(format, 'wav') }"
    soundfile.write(path, sound, RATE, subtype=subtype, format=format)
    found = measure_file(path, "x")
    assert isinstance(found, Measured), found
    plain = measure_file(write_sound(tmp_path / "plain.wav", sound), "plain")
    assert abs(found.measurements.level_db - plain.measurements.level_db) < 0.02
    assert abs(found.measurements.start_ms - plain.measurements.start_ms) < 0.05
    assert found.lossy == ""


def test_a_zip_of_a_hundred_thousand_entries_is_refused_at_once(tmp_path: Path):
    path = tmp_path / "many.zip"
    with zipfile.ZipFile(path, "w") as archive:
        for number in range(100_000):
            archive.writestr(zipfile.ZipInfo(f"{number}.wav"), b"")
    with open_archive(path) as archive, pytest.raises(Refusal, match="holds 100,000 entries; split it"):
        check_archive(archive, "many.zip")
