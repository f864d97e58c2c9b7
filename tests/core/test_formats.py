"""Kit files, MIDI files and archives, good and bad."""

import io
import struct
import zipfile

import mido
import numpy as np
import pytest
import soundfile

from drumcore.demo.grooves import demo_grooves
from drumcore.edits.applying import apply
from drumcore.edits.values import BuildPieces
from drumcore.formats.archives import check_archive, entries_of, open_archive, safe_name
from drumcore.formats.kit_file import contents_of, read_kit_file, write_kit_file
from drumcore.formats.midi import read_midi, read_patterns, write_midi
from drumcore.grooves.values import Groove, PedalMove, Press, Strike
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import KIT_FORMAT, Kit
from drumcore.recordings.reading import read_audio
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


def test_tempo_changes_and_resolutions_keep_their_time(tmp_path):
    for ticks in (96, 480, 960):
        track = mido.MidiTrack(
            [
                mido.MetaMessage("set_tempo", tempo=500_000),
                mido.Message("note_on", note=36, velocity=90, channel=3),
                mido.Message("note_on", note=36, velocity=0, time=ticks),
                mido.MetaMessage("set_tempo", tempo=1_000_000),
                mido.Message("note_on", note=38, velocity=80, time=ticks, channel=9),
                mido.Message("control_change", control=4, value=30, time=ticks),
                mido.Message("note_on", note=46, velocity=70),
            ]
        )
        mido.MidiFile(ticks_per_beat=ticks, tracks=[track]).save(tmp_path / "a.mid")
        groove = read_midi(tmp_path / "a.mid")
        assert groove.events == (
            Strike(time_s=0.0, note=36, velocity=90),
            Strike(time_s=1.5, note=38, velocity=80),  # one beat of half a second, one of a whole
            PedalMove(time_s=2.5, openness=30),
            Strike(time_s=2.5, note=46, velocity=70),
        )
        assert (groove.bpm, groove.length_s) == (120.0, 3.5)
    assert [e.note for e in read_midi(tmp_path / "a.mid", channel=10).events] == [38]


def test_a_groove_survives_its_midi_file(tmp_path):
    for groove in demo_grooves():
        write_midi(groove, tmp_path / "g.mid")
        back = read_midi(tmp_path / "g.mid", name=f"{groove.name}.mid")
        assert back.name == groove.name
        assert [(e.note, e.velocity) for e in back.events] == [(e.note, e.velocity) for e in groove.events]
        assert np.allclose([e.time_s for e in back.events], [e.time_s for e in groove.events], atol=0.002)
        assert back.length_s == pytest.approx(groove.length_s, abs=0.01)


@pytest.mark.parametrize(
    "content",
    [b"", b"MThd", b"not midi at all", b"MThd\x00\x00\x00\x06\x00\x01\x00\x01\x01\xe0MTrk\x00\x00\xff\xff\x00"],
)
def test_what_is_not_midi_is_refused(tmp_path, content):
    path = tmp_path / "song.mid"
    path.write_bytes(content)
    with pytest.raises(Refusal, match=r"^song\.mid "):
        read_midi(path)


def test_a_groove_kept_by_an_older_version_is_read_and_its_presses_are_no_strikes():
    plain = {"openness": None, "pressure": None}
    old = [
        {**plain, "time_s": 0.0, "note": 38, "velocity": 90},
        {"time_s": 0.5, "note": 0, "velocity": 0, "openness": 12, "pressure": None},
        {"time_s": 0.75, "note": 49, "velocity": 0, "openness": None, "pressure": 127},
    ]
    groove = Groove.model_validate({"name": "Old", "bpm": 90, "beats_a_bar": 4, "length_s": 2, "events": old})
    assert groove.events == (
        Strike(time_s=0.0, note=38, velocity=90),
        PedalMove(time_s=0.5, openness=12),
        Press(time_s=0.75, note=49, pressure=127),
    )
    assert groove.strikes == 1
    assert Groove.model_validate(groove.model_dump(mode="json")) == groove


def midi(*tracks: list, ticks: int = 480, kind: int = 1) -> bytes:
    """A MIDI file's bytes of messages, each track ended."""
    made = mido.MidiFile(type=kind, ticks_per_beat=ticks, tracks=[mido.MidiTrack(t) for t in tracks])
    out = io.BytesIO()
    made.save(file=out)
    return out.getvalue()


def hit(note: int = 36, time: int = 0) -> mido.Message:
    return mido.Message("note_on", channel=9, note=note, velocity=90, time=time)


def tempo(microseconds: int, time: int = 0) -> mido.MetaMessage:
    return mido.MetaMessage("set_tempo", tempo=microseconds, time=time)


def read(data: bytes, tmp_path, **options):
    (tmp_path / "beat.mid").write_bytes(data)
    return read_midi(tmp_path / "beat.mid", **options)


def test_smpte_time_counts_seconds_whatever_the_tempo(tmp_path):
    """25 frames of 40 ticks are 1,000 ticks a second; 29 frames are 30,000/1,001 a second."""
    data = bytearray(midi([tempo(250_000), hit(), hit(38, 1500)]))
    data[12:14] = struct.pack(">bB", -25, 40)
    groove = read(bytes(data), tmp_path)
    assert [e.time_s for e in groove.events] == [0.0, 1.5]
    assert (groove.bpm, groove.length_s) == (240.0, 2.0)
    data[12:14] = struct.pack(">bB", -29, 100)
    assert read(bytes(data), tmp_path).events[1].time_s == pytest.approx(1500 / (30_000 / 1001 * 100))
    for division in (struct.pack(">bB", -23, 40), struct.pack(">bB", -25, 0), b"\0\0"):
        data[12:14] = division
        with pytest.raises(Refusal, match=r"^beat\.mid counts (time|no ticks).*export it again\.$"):
            read(bytes(data), tmp_path)


def test_patterns_are_played_one_at_a_time(tmp_path):
    data = midi([hit(36)], [tempo(400_000)], [hit(38), hit(40, 480)], kind=2)
    with pytest.raises(Refusal, match="holds 2 patterns one beside another; say which to play, 1 to 2"):
        read(data, tmp_path)
    assert [[e.note for e in read(data, tmp_path, pattern=n).events] for n in (1, 2)] == [[36], [38, 40]]
    assert [g.name for g in read_patterns(tmp_path / "beat.mid")] == ["beat 1", "beat 2"]
    with pytest.raises(Refusal, match="has no pattern 3; it holds 2"):
        read(data, tmp_path, pattern=3)
    assert read(midi([hit(36)], [tempo(400_000)], kind=2), tmp_path).name == "beat"


def test_wrappings_and_foreign_chunks_are_passed_over(tmp_path):
    plain = midi([tempo(400_000), hit()], [hit(38, 480)])
    first_track = 14
    foreign = plain[:first_track] + b"XFIH\0\0\0\x03abc" + plain[first_track:] + b"XFKM\0\0\0\x01z" + b"\0\0"
    riff = b"RIFF" + struct.pack("<I", len(foreign) + 22) + b"RMID" + b"DISP" + struct.pack("<I", 1) + b"x\0"
    riff += b"data" + struct.pack("<I", len(foreign)) + foreign
    wanted = read(plain, tmp_path)
    assert [e.note for e in wanted.events] == [36, 38]
    assert read(foreign, tmp_path) == read(riff, tmp_path) == wanted
    for cut, said in ((riff[:12], "without MIDI"), (plain[:-3], "in the middle of a track"), (plain[:14], "no track")):
        with pytest.raises(Refusal, match=said):
            read(cut, tmp_path)


def test_what_means_nothing_changes_nothing_and_the_tempo_is_the_first_strikes(tmp_path):
    metre = mido.MetaMessage("time_signature", numerator=3, denominator=4)
    data = bytearray(midi([tempo(600_000), metre, tempo(400_000, 1440), hit(), hit(38, 480)]))
    groove = read(bytes(data), tmp_path)
    # Three beats of 0.6 s of nothing, then 0.4 s a beat: bars of three, the second ends three beats after the strike.
    assert [e.time_s for e in groove.events] == [1.8, 2.2]
    assert (groove.bpm, groove.beats_a_bar, groove.length_s) == (150.0, 3.0, 3.0)
    later = midi([hit(), mido.MetaMessage("time_signature", numerator=3, denominator=4, time=1920), hit(time=480)])
    assert read(later, tmp_path).length_s == 2.0 + 1.5  # a bar of four, then one of three
    at = data.index(b"\xff\x58\x04\x03")
    data[at + 3] = 0  # no beats to a bar
    spoiled = bytes(data).replace((400_000).to_bytes(3, "big"), b"\0\0\0")
    groove = read(spoiled, tmp_path)
    assert (groove.bpm, groove.beats_a_bar) == (100.0, 4.0)
    for beats in (4.0, 3.0, 3.5, 2.25):
        write_midi(groove.but(beats_a_bar=beats), tmp_path / "back.mid")
        assert read_midi(tmp_path / "back.mid").beats_a_bar == beats
