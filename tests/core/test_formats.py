"""Kit files, MIDI files and archives, good and bad."""

import zipfile

import numpy as np
import pytest
import soundfile

from drumcore.edits.apply import apply
from drumcore.edits.values import BuildPieces
from drumcore.formats.archives import check_archive, entries_of, open_archive, safe_name
from drumcore.formats.kit_file import contents_of, read_kit_file, write_kit_file
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import KIT_FORMAT, Kit
from drumcore.recordings.audio_files import read_audio
from drumcore.recordings.session import read_folder
from drumcore.refusals import Refusal
from tests.conftest import RATE, strike_sound


@pytest.fixture(scope="module")
def kit_file(small_kit: Kit, small_session, tmp_path_factory):
    path = tmp_path_factory.mktemp("kit") / "Small.zestykit"
    places = {content: small_session / r.path for content, r in contents_of(small_kit).items()}
    write_kit_file(small_kit, lambda content: places[content], path)
    return path


def test_a_kit_file_reads_back_to_an_equal_kit_and_the_same_sound(small_kit: Kit, kit_file, tmp_path):
    opened = read_kit_file(kit_file, tmp_path)
    assert opened.kit == small_kit
    assert opened.problems == ()
    assert {content: read_audio(place).content for content, place in opened.recordings.items()} == {
        content: content for content in contents_of(small_kit)
    }
    assert {place.suffix for place in opened.recordings.values()} == {".flac"}


def test_sound_that_flac_cannot_hold_is_kept_as_it_is(tmp_path):
    root = tmp_path / "floats"
    for number in (1, 2):
        (root / "Kick").mkdir(parents=True, exist_ok=True)
        soundfile.write(root / "Kick" / f"kick_{number}.wav", strike_sound(number) * 1.7, RATE, subtype="FLOAT")
    reading = read_folder(root)
    kit = apply(Kit(id="f", name="F"), BuildPieces(mics=reading.mics, pieces=reading.pieces))
    places = {content: root / r.path for content, r in contents_of(kit).items()}
    write_kit_file(kit, lambda content: places[content], tmp_path / "f.zestykit")
    opened = read_kit_file(tmp_path / "f.zestykit", tmp_path / "out")
    assert opened.kit == kit
    assert {read_audio(p).content for p in opened.recordings.values()} == set(places)


def rewritten(source, target, change):
    """A copy of a zip with entries changed or left out: change(name, data) -> data or None."""
    with zipfile.ZipFile(source) as old, zipfile.ZipFile(target, "w") as new:
        for name in old.namelist():
            data = change(name, old.read(name))
            if data is not None:
                new.writestr(name, data)
    return target


def test_missing_and_damaged_recordings_are_named_and_the_rest_opens(small_kit: Kit, kit_file, tmp_path):
    lost = [n for n in zipfile.ZipFile(kit_file).namelist() if n.startswith("recordings/")][:2]

    def change(name, data):
        return None if name == lost[0] else b"noise" if name == lost[1] else data

    opened = read_kit_file(rewritten(kit_file, tmp_path / "less.zestykit", change), tmp_path / "out")
    assert "2 of " in opened.problems[0] and "missing or damaged in less.zestykit" in opened.problems[0]
    assert len(contents_of(opened.kit)) == len(contents_of(small_kit)) - 2
    assert len(pieces_of(opened.kit)) == len(pieces_of(small_kit))


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (
            lambda n, d: d.replace(f'"format":{KIT_FORMAT}'.encode(), b'"format":99') if n == "kit.json" else d,
            "newer version",
        ),
        (lambda n, d: None if n == "kit.json" else d, "zip without a kit.json"),
        (lambda n, d: d[:100] if n == "kit.json" else d, "not valid JSON"),
        (lambda n, d: d if n == "kit.json" else None, "holds none of its"),
    ],
)
def test_unusable_kit_files_are_refused(kit_file, tmp_path, change, said):
    with pytest.raises(Refusal, match=said):
        read_kit_file(rewritten(kit_file, tmp_path / "bad.zestykit", change), tmp_path / "out")


def test_a_file_that_is_no_zip_is_refused(tmp_path):
    path = tmp_path / "no.zestykit"
    path.write_bytes(b"PK\x03\x04 nothing of the kind")
    with pytest.raises(Refusal, match="not a zip archive"):
        read_kit_file(path, tmp_path / "out")


@pytest.mark.parametrize("name", ["../a.wav", "/etc/a.wav", "a/../../b.wav", "C:/a.wav", "..\\a.wav", "a\0.wav", ""])
def test_names_that_leave_their_folder_are_not_names(name):
    assert safe_name(name) is None


def test_an_archive_that_unpacks_to_too_much_is_refused(tmp_path):
    path = tmp_path / "bomb.zip"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("kick.wav", np.zeros(80 << 20, np.uint8).tobytes())
    with pytest.raises(Refusal, match="times its size"), open_archive(path) as archive:
        check_archive(archive, path.name)
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("../kick.wav", b"x")
        archive.writestr("Kick/kick.wav", b"x")
    with open_archive(path) as archive:
        assert [safe for _, safe in entries_of(archive)] == [None, "Kick/kick.wav"]
