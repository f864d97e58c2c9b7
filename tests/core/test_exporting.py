"""What leaves: stems and what a host records, kit files, kept pieces, and whatever else is kept under a name."""

import io
import json
import zipfile
from pathlib import Path

import numpy as np
import pytest
import soundfile

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.exports.export import Export, Made, Source, file_name
from drumcore.exports.kinds import EXPORTS
from drumcore.formats.kept_file import CURVE_FILE, SPACE_FILE, KeptRead, kept_to_json, read_kept
from drumcore.formats.kit_file import read_kit_file
from drumcore.formats.piece_file import kept_from, piece_of_file, write_piece_file
from drumcore.grooves.values import Groove, Strike
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Curve, Kit, Node
from drumcore.playing.compiler import compile_kit
from drumcore.playing.stems import outline_of, write_stems
from drumcore.refusals import Refusal
from drumcore.shelf.kept_piece import kept_piece
from drumcore.spaces.imported import Response
from drumcore.spaces.kept import KeptSpace
from tests.conftest import whole

MARCH = Groove(
    name="Quay: march",
    bpm=120.0,
    beats_a_bar=4.0,
    length_s=1.0,
    events=tuple(Strike(time_s=0.25 * at, note=note, velocity=100) for at, note in enumerate((36, 38, 36, 38))),
)


def groove(number: int) -> Groove:
    if number != 7:
        raise Refusal("There is no such groove.")
    return MARCH


def made(export: Export, kit: Kit, sounds, folder: Path, **asked) -> tuple[Made, list[tuple[int, int]], str]:
    folder.mkdir(parents=True, exist_ok=True)
    source, chosen = Source(kit, sounds._locate, groove), export.asked(**asked)
    told: list[tuple[int, int]] = []
    found = export.write(chosen, source, folder, lambda done, total: told.append((done, total)))
    return found, told, export.title(chosen, source)


def test_stems_are_packed_with_their_list_and_stand_beside_it_one_an_output(small_kit: Kit, sounds, tmp_path: Path):
    kit = apply(small_kit, e.SetChannel(channel="snare-channel", output=3)).but(name="Small: one")
    found, told, title = made(EXPORTS["stems"], kit, sounds, tmp_path, groove=7, rate_hz=44100, bits=16)
    assert title == "Rendering Quay: march"
    assert found.download == "Small  one - Quay  march.zip" and found.within == "stems"
    with zipfile.ZipFile(tmp_path / found.download) as archive:
        assert archive.namelist() == ["01 Main.wav", "03 Output 3.wav", "stems.json"]
        assert {entry.compress_type for entry in archive.infolist()} == {zipfile.ZIP_STORED}
        packed = archive.read("03 Output 3.wav")
        listed = json.loads(archive.read("stems.json"))
    assert packed == (tmp_path / "stems" / "03 Output 3.wav").read_bytes()
    main, own = found.parts
    assert [(part.file, part.output, part.width) for part in (main, own)] == [
        ("01 Main.wav", 1, "stereo"),
        ("03 Output 3.wav", 3, "stereo"),
    ]
    sound, rate = soundfile.read(io.BytesIO(packed), always_2d=True)
    assert rate == 44100 == listed["rate_hz"] and len(sound) == listed["frames"] and listed["bits"] == 16
    assert own.peak_dbfs == pytest.approx(20 * np.log10(np.abs(sound).max()), abs=0.02) and own.clipped_samples == 0
    assert len(own.outline) == min(160, -(-len(sound) // 1024))
    assert max(own.outline) == pytest.approx(np.abs(sound).max(), abs=1e-3)
    # The snare is struck at a quarter and three quarters of a second; before the first, its stem is silent.
    assert own.outline[0] == 0.0 < main.outline[0]
    # In tenths of a second, never past the groove's length though its last strike rings on.
    assert [done for done, _ in told] == sorted(done for done, _ in told) and told[-1] == (10, 10)
    assert {total for _, total in told} == {10}
    with pytest.raises(Refusal, match="no such groove"):
        made(EXPORTS["stems"], kit, sounds, tmp_path, groove=8)
    unplayed = Kit(id="bare", name="Bare")
    with pytest.raises(Refusal, match="No channel of this kit goes to an output"):
        made(EXPORTS["stems"], unplayed, sounds, tmp_path / "bare", groove=7)


def test_what_clips_is_counted_sample_by_sample_and_a_length_asked_for_is_kept(small_kit: Kit, sounds, tmp_path: Path):
    loud = compile_kit(apply(small_kit, e.SetChannel(channel="main", level_db=24.0)))
    exact = whole(loud, MARCH.events, sounds, length_s=0.61)
    seconds: list[float] = []
    listed = write_stems(loud, MARCH.events, sounds, tmp_path, length_s=0.61, progress=seconds.append)
    (stem,) = listed["stems"]
    assert listed["frames"] == exact.shape[1] == round(0.61 * 48000) and seconds[-1] == pytest.approx(0.61)
    assert stem["clipped_samples"] == int((np.abs(exact) > 1.0).sum()) > 0 and stem["peak_dbfs"] > 0.0
    with pytest.raises(Refusal, match="cannot have 20 bits; choose 16, 24 or 32"):
        write_stems(loud, MARCH.events, sounds, tmp_path, bits=20)


def test_an_outline_has_the_highest_of_every_part():
    assert outline_of([]) == [] and outline_of([0.25, 0.5]) == [0.25, 0.5]
    assert outline_of([0.1, 0.9, 0.2, 0.3, 0.4], parts=2) == [0.9, 0.4]
    assert len(outline_of([0.5] * 1000)) == 160


def test_what_a_host_records_is_called_as_its_tracks_are(small_kit: Kit, sounds, tmp_path: Path):
    kit = apply(small_kit, e.SetChannel(channel="snare-channel", output=3))
    kit = apply(kit, e.NameOutput(output=3, track="Sn top"))
    found, _, title = made(EXPORTS["host-take"], kit, sounds, tmp_path, groove=7)
    assert title == "Ferry 16 records Quay: march"
    assert [part.file for part in found.parts] == ["01 Track 1.wav", "03 Sn top.wav"]
    # The kit itself goes on calling its output what it did.
    plain, _, _ = made(EXPORTS["stems"], kit, sounds, tmp_path / "stems too", groove=7)
    assert [part.file for part in plain.parts] == ["01 Main.wav", "03 Output 3.wav"]
    for one, other in zip(found.parts, plain.parts, strict=True):
        there = tmp_path / "stems" / one.file, tmp_path / "stems too" / "stems" / other.file
        assert there[0].read_bytes() == there[1].read_bytes()


def test_a_kit_file_is_the_kit_with_all_its_recordings(small_kit: Kit, sounds, tmp_path: Path):
    found, told, title = made(EXPORTS["kit-file"], small_kit.but(name="Quay/1?"), sounds, tmp_path)
    assert (title, found.download, found.parts) == ("Saving the kit file", "Quay 1.zestykit", ())
    read = read_kit_file(tmp_path / found.download, tmp_path / "recordings")
    assert read.kit == small_kit.but(name="Quay/1?") and read.problems == ()
    # Anybody on the machine may read what was saved.
    assert (tmp_path / found.download).stat().st_mode & 0o777 == 0o644
    assert told[-1][0] == told[-1][1] > 0 and [done for done, _ in told] == list(range(told[0][0], told[-1][0] + 1))


@pytest.mark.parametrize(
    ("name", "called"),
    [("Boathouse", "Boathouse.wav"), (" ..a/b\\c: d.. ", "a b c  d.wav"), ("??", "Kit.wav"), ("Ä-1_b", "Ä-1_b.wav")],
)
def test_a_file_is_called_so_that_any_system_takes_it(name: str, called: str):
    assert file_name(name, ".wav") == called


def test_a_kept_pieces_file_is_read_back_and_what_is_none_is_told_from_it(small_kit: Kit, sounds, tmp_path: Path):
    kept, path = kept_piece(small_kit, "snare"), tmp_path / "Snare.zestypiece"
    write_piece_file(kept, sounds._locate, path)
    assert kept_from(path, "Snare.zestypiece") == "Small"
    read = read_kit_file(path, tmp_path / "recordings")
    assert piece_of_file(read.kit, "Small", "Snare.zestypiece") == kept
    with pytest.raises(Refusal, match=r"Two\.zestypiece says that it is a piece and holds 4; save the piece again"):
        piece_of_file(small_kit, "Small", "Two.zestypiece")
    made(EXPORTS["kit-file"], small_kit, sounds, tmp_path)
    assert kept_from(tmp_path / "Small.zestykit", "Small.zestykit") is None
    for text, said in (
        ("{", "not valid JSON; save the piece again"),
        ("[1]", "written by a newer version"),
        ('{"kept_piece": 2}', "written by a newer version, which this one cannot read; it reads format 1"),
        ('{"kept_piece": 1, "of": "' + "x" * (64 << 10) + '"}', "too large; save the piece again"),
    ):
        spoiled = tmp_path / "spoiled.zestypiece"
        with zipfile.ZipFile(path) as old, zipfile.ZipFile(spoiled, "w") as new:
            for entry in old.namelist():
                new.writestr(entry, text if entry == "piece.json" else old.read(entry))
        with pytest.raises(Refusal, match=said):
            kept_from(spoiled, "spoiled.zestypiece")
    long = tmp_path / "long.zestypiece"
    write_piece_file(kept.but(of="x" * 399), sounds._locate, long)
    assert kept_from(long, "long.zestypiece") == "x" * 399
    assert [piece.name for piece in pieces_of(read.kit)] == ["Snare"]


SOFT = Curve(nodes=(Node(x=0, y=0), Node(x=127, y=90)))
WALL = KeptSpace(space=Response(content="a" * 40, name="Wall", sides=2, seconds=0.5), says="Brick.")


def test_what_is_kept_under_a_name_comes_back_from_its_file_with_all_that_was_said_of_it():
    text = kept_to_json(CURVE_FILE, "Soft", SOFT, "For quiet rooms.", ("dry", "quiet"))
    assert list(json.loads(text))[:4] == ["velocity_curve", "name", "description", "tags"]
    assert read_kept(CURVE_FILE, text.encode(), "x.json") == KeptRead(
        "Soft", SOFT, "For quiet rooms.", ("dry", "quiet"), None
    )
    bare = kept_to_json(CURVE_FILE, "Soft", SOFT)
    assert "description" not in bare and "tags" not in bare and "sound" not in bare
    sound = bytes(range(256)) * 3
    space = read_kept(SPACE_FILE, kept_to_json(SPACE_FILE, "Wall", WALL, sound=sound).encode(), "x.json")
    assert (space.name, space.value, space.sound) == ("Wall", WALL, sound)
    # Without a name it goes by its file's; one that is too long is cut, and so is what is said of it.
    unnamed = json.loads(bare) | {"name": "  "}
    assert read_kept(CURVE_FILE, json.dumps(unnamed).encode(), "deep/Quay pads.curve.json").name == "Quay pads.curve"
    long = json.loads(bare) | {"name": "n" * 200, "description": "d" * 3000, "tags": ["dry", 4, "dry"]}
    read = read_kept(CURVE_FILE, b"\xef\xbb\xbf" + json.dumps(long).encode(), "x.json")
    assert (len(read.name), len(read.description), read.tags) == (120, 2000, ("dry",))


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"{", r"x\.json is not valid JSON; choose a curve saved by this program\."),
        (b'{"velocity_curve": NaN}', "is not valid JSON"),
        (b"[]", r"does not describe a curve; choose one saved by this program\."),
        (b'{"note_map": 1}', "does not describe a curve"),
        (b'{"velocity_curve": 2}', "written by a newer version, which this one cannot read; it reads format 1"),
        (b'{"velocity_curve": 1}', r"x\.json, nodes: it is missing\."),
        (b'{"velocity_curve": 1, "nodes": [{"x": 9, "y": 0}, {"x": 127, "y": 9}]}', "a curve begins at 0 and ends at 127"),
        (b'{"velocity_curve": 1, "sound": "?"}', r"x\.json, sound: it is damaged; save it again\."),
        (b" " * ((1 << 20) + 1), r"x\.json is too large for a curve; choose one under 1 MB\."),
    ],
)  # fmt: skip
def test_a_file_that_cannot_be_kept_is_refused_with_what_is_wrong_in_it(data: bytes, said: str):
    with pytest.raises(Refusal, match=said):
        read_kept(CURVE_FILE, data, "x.json")
    assert read_kept(CURVE_FILE, kept_to_json(CURVE_FILE, "Soft", SOFT).encode().ljust(1 << 20), "x.json").value == SOFT
