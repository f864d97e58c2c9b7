"""MIDI files, good and bad: their time, their order, what is not one, and grooves as files."""

import io
import struct

import mido
import numpy as np
import pytest

from drumcore.demo.grooves import demo_grooves
from drumcore.formats import midi as midi_files
from drumcore.formats.midi import read_midi, read_patterns, write_midi
from drumcore.grooves.values import Groove, PedalMove, Press, Strike
from drumcore.refusals import Refusal


def groove_of(*events, **fields) -> Groove:
    values = {"name": "Quay", "bpm": 120.0, "beats_a_bar": 4.0, "length_s": 2.0, **fields}
    return Groove(events=events, **values)


def written(groove: Groove, tmp_path, **options) -> list[mido.Message]:
    write_midi(groove, tmp_path / "deep" / "made.mid", **options)
    file = mido.MidiFile(tmp_path / "deep" / "made.mid")
    assert file.ticks_per_beat == options.get("ticks_per_beat", 480)
    (track,) = file.tracks
    return list(track)


def test_at_one_tick_what_ended_ends_first_then_the_pedal_moves_then_articulations_fall(tmp_path):
    """A roll in thirty-seconds begins every articulation where the one before it ends: ended last, it would be cut."""
    roll = [Strike(time_s=n / 16, note=46, velocity=90) for n in range(3)]
    press = Press(time_s=1 / 16, note=46, pressure=70)
    made = written(groove_of(roll[0], roll[1], press, PedalMove(time_s=1 / 16, openness=9), roll[2]), tmp_path)
    at, told = 0, []
    for message in made:
        at += message.time
        if not message.is_meta:
            assert message.channel == 9
            told.append((at, message.type, *message.bytes()[1:]))
    assert told == [
        (0, "note_on", 46, 90),
        (60, "note_off", 46, 64),
        (60, "control_change", 4, 9),
        (60, "note_on", 46, 90),
        (60, "polytouch", 46, 70),
        (120, "note_off", 46, 64),
        (120, "note_on", 46, 90),
        (180, "note_off", 46, 64),
    ]
    assert [(m.type, m.time) for m in made if m.is_meta] == [
        ("track_name", 0), ("set_tempo", 0), ("time_signature", 0), ("end_of_track", 1920 - 180),
    ]  # fmt: skip


def test_a_groove_is_written_at_its_own_tempo_and_resolution_and_no_shorter_than_its_last_articulation(tmp_path):
    late = groove_of(Strike(time_s=1.0, note=36, velocity=1), bpm=90.0, beats_a_bar=4.5, length_s=0.5)
    made = written(late, tmp_path, ticks_per_beat=2880)
    tempo, metre = made[1], made[2]
    assert (tempo.tempo, metre.numerator, metre.denominator) == (666_667, 9, 8)
    assert [m.time for m in made[3:]] == [4320, 360, 0]
    for beats, (numerator, denominator) in {0.5: (1, 8), 300.0: (255, 4), 1 / 3: (1, 4)}.items():
        metre = written(late.but(beats_a_bar=beats), tmp_path)[2]
        assert (metre.numerator, metre.denominator) == (numerator, denominator)


def test_presses_and_the_pedal_are_read_and_other_controllers_are_not(tmp_path):
    data = midi(
        [
            mido.Message("control_change", channel=9, control=1, value=3),
            mido.Message("control_change", channel=9, control=4, value=30),
            hit(49),
            mido.Message("polytouch", channel=9, note=49, value=99, time=480),
            mido.Message("aftertouch", channel=9, value=99),
            mido.Message("note_on", channel=9, note=49, velocity=0),
        ]
    )
    assert read(data, tmp_path).events == (
        PedalMove(time_s=0.0, openness=30),
        Strike(time_s=0.0, note=49, velocity=90),
        Press(time_s=0.5, note=49, pressure=99),
    )
    with pytest.raises(
        Refusal, match=r"^beat\.mid holds no notes on channel 3; choose a performance with drum notes\.$"
    ):
        read(data, tmp_path, channel=3)
    with pytest.raises(Refusal, match=r"^beat\.mid holds no notes; choose"):
        read(midi([tempo(400_000)]), tmp_path)
    with pytest.raises(Refusal, match=r"^beat\.mid holds no notes; choose"):
        read(midi([tempo(400_000)], [tempo(9)], kind=2), tmp_path)
    with pytest.raises(Refusal, match="has no pattern 0; it holds 2"):
        read(midi([hit()], [hit()], kind=2), tmp_path, pattern=0)


def test_too_much_is_refused_with_what_would_do(tmp_path, monkeypatch):
    monkeypatch.setattr(midi_files, "MOST_EVENTS", 3)
    with pytest.raises(Refusal, match=r"^beat\.mid holds 4 events; cut it to under 3\.$"):
        read(midi([hit(), hit(38), hit(40)]), tmp_path)
    assert len(read(midi([hit(), hit(38)]), tmp_path).events) == 2
    monkeypatch.undo()
    with pytest.raises(Refusal, match=r"^beat\.mid lasts 6\.7 hours; cut it to under 6\.$"):
        read(midi([hit(), tempo(8_000_000), hit(38, 480 * 3000)]), tmp_path)
    assert read(midi([hit(), tempo(8_000_000), hit(38, 480 * 2699)]), tmp_path).events[1].time_s == 21592.0
    big = tmp_path / "big.mid"
    with big.open("wb") as file:
        file.truncate(midi_files.LARGEST_FILE + 1)
    with pytest.raises(Refusal, match=r"^big\.mid is too large for a MIDI file; choose a performance under \d+ MB\.$"):
        read_midi(big)
    kind = bytearray(midi([hit()]))
    kind[9] = 3
    with pytest.raises(Refusal, match=r"is a MIDI file of an unknown kind \(3\); export it again as kind 0 or 1"):
        read(bytes(kind), tmp_path)
    header = bytearray(midi([hit()]))
    header[7] = 5
    with pytest.raises(Refusal, match="has a damaged header"):
        read(bytes(header), tmp_path)


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
