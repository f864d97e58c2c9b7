"""Spaces: a hall dies away as it says, an echo repeats as it says, a response is what was brought in; and a bus is heard
through them to the last of their tails."""

import zipfile
from pathlib import Path

import numpy as np
import pytest
import soundfile
from hypothesis import given
from hypothesis import strategies as st
from scipy.signal import fftconvolve

from drumcore.cli.main import main
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.rules import notice
from drumcore.formats.kit_file import read_kit_file, write_kit_file
from drumcore.grooves.values import Strike
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_kit
from drumcore.playing.renderer import render
from drumcore.playing.sounds import FileSounds
from drumcore.recordings.responses import read_response
from drumcore.refusals import Refusal
from drumcore.spaces.convolution import Convolving
from drumcore.spaces.decay_times import decay_by_band, outline_db
from drumcore.spaces.echo import Echo
from drumcore.spaces.hall import SOUND_M_A_S, Hall, decay_s, reflections, room_of
from drumcore.spaces.imported import Response
from drumcore.spaces.kinds import ImpulseResponse, Space, respond
from drumcore.spaces.shipped import SHIPPED
from tests.printed import shown

RATE = 48_000
AIR = "air-bus"


def answer_of(space: Space, rate: int = RATE) -> ImpulseResponse:
    return respond(space, rate, lambda content: pytest.fail(f"{space.kind} asked for {content}"))


def through(kit: Kit, space: Space | None, sounds, *, length_s: float | None = None) -> np.ndarray:
    """The snare struck once, sent into a bus that leaves by output 5 through a space."""
    for edit in (
        e.MakeBus(name="Air"),
        e.SetSend(channel="snare-channel", bus=AIR, level_db=0.0),
        e.SetChannel(channel=AIR, output=5),
        e.SetSpace(bus=AIR, space=space),
    ):
        kit = apply(kit, edit)
    struck = [Strike(time_s=0.0, note=38, velocity=120)]
    blocks = list(render(compile_kit(kit), struck, sounds, length_s=length_s, block_frames=4096))
    return np.concatenate([block.outputs[5] for block in blocks], axis=1).astype(float)


@pytest.mark.parametrize("shipped", [s for s in SHIPPED if isinstance(s.kept.space, Hall)], ids=lambda s: s.id)
def test_every_hall_that_ships_dies_away_in_each_band_as_it_says(shipped):
    hall = shipped.kept.space
    answer = answer_of(hall)
    found = decay_by_band(answer.samples, RATE)
    assert [band.hz for band in found] == [125, 250, 500, 1000, 2000, 4000, 8000]
    for band in found:
        assert band.seconds == pytest.approx(decay_s(hall, band.hz), rel=0.1), f"{shipped.name} at {band.hz} Hz"
    # Unit energy: as loud as the input, in the mean of its sides.
    assert np.sum(answer.samples.astype(float) ** 2) / 2 == pytest.approx(1.0, rel=1e-4)
    assert answer.middle and len(answer.samples) == 2


def test_what_is_printed_of_spaces_is_what_the_docs_have(capsys):
    assert main(["spaces"]) == 0
    assert capsys.readouterr().out == shown("spaces.md")


def test_a_decay_is_read_where_its_truth_is_known():
    time = np.arange(3 * RATE) / RATE
    noise = np.random.default_rng(5).standard_normal((2, time.size)) * 10 ** (-3 * time / 1.25)
    for band in decay_by_band(noise.astype(np.float32), RATE):
        assert band.seconds == pytest.approx(1.25, rel=0.06)
    # What stops at once has no decay to be read.
    click = np.zeros((1, RATE), np.float32)
    click[0, 100] = 1.0
    assert decay_by_band(click, RATE)[3].seconds is None or decay_by_band(click, RATE)[3].seconds < 0.02


def test_a_hall_begins_with_the_reflections_of_its_room():
    hall = Hall(length_s=2.0, size_m=20.0, damping=0.0, pre_delay_ms=25.0, width=1.0, seed=3)
    room, first = room_of(hall), reflections(hall)
    direct = float(np.linalg.norm(room.source - room.listener))
    # By hand: the nearest of the six walls, in which source and listener see one another mirrored.
    mirrored = []
    for axis in range(3):
        for wall in (0.0, room.size[axis]):
            image = room.source.copy()
            image[axis] = 2 * wall - image[axis]
            mirrored.append(float(np.linalg.norm(image - room.listener)))
    nearest = min(mirrored)
    assert first[0].after_ms == pytest.approx(1000 * (nearest - direct) / SOUND_M_A_S)
    samples = answer_of(hall).samples
    at = round(0.025 * RATE) + round(first[0].after_ms * RATE / 1000)
    # Windows smear it over no more than their length.
    assert np.abs(samples[:, : round(0.025 * RATE)]).max() == 0.0
    assert abs(int(np.argmax(np.abs(samples[:, : at + 300]).max(axis=0))) - at) <= 2
    narrow = answer_of(hall.but(width=0.0)).samples
    np.testing.assert_array_equal(narrow[0], narrow[1])
    assert abs(np.corrcoef(samples[:, RATE // 2 :])[0, 1]) < 0.1
    assert not np.array_equal(samples, answer_of(hall.but(seed=4)).samples)
    assert [r.after_ms for r in first] == sorted(r.after_ms for r in first)
    assert all(-1.0 <= r.side <= 1.0 and r.level_db < 0.0 for r in first)


def test_an_echo_repeats_softer_darker_and_from_side_to_side():
    plain = Echo(every_ms=100.0, repeats=3, softer_db=6.0, darker=0.0, sides=1.0)
    samples = answer_of(plain).samples.astype(float)
    starts = [int(start) for start in np.flatnonzero(np.abs(samples).max(axis=0) > 0.05)]
    firsts = [start for start in starts if start - 1 not in starts]
    assert firsts == [4800, 9600, 14400]
    left, right = (np.array([np.sum(samples[side, at : at + 400] ** 2) for at in firsts]) for side in (0, 1))
    # From side to side: the first wholly left, the second wholly right; each a quarter of the energy of the one before.
    assert right[0] < 1e-9 and left[1] < 1e-9 and right[2] < 1e-9
    np.testing.assert_allclose([right[1] / left[0], left[2] / right[1]], 10 ** (-6 / 10), rtol=1e-6)
    middle = answer_of(plain.but(sides=0.0)).samples
    np.testing.assert_allclose(middle[0], middle[1], atol=1e-7)
    # In parts of a beat: three quarters of one at 90 a minute is half a second.
    by_beats = answer_of(plain.but(beats=0.75, tempo=90.0, repeats=1)).samples
    assert int(np.argmax(np.abs(by_beats[0]))) == RATE // 2
    # An octave darker each time: where the third repeat is 3 dB down, the first is all there.
    dark = answer_of(plain.but(darker=1.0, softer_db=0.0, sides=0.0)).samples.astype(float)[0]
    spectra = [np.abs(np.fft.rfft(dark[at : at + 4800], 4800)) for at in firsts]
    for number, spectrum in enumerate(spectra, start=1):
        cut = int(16_000 / 2 ** (number - 1) / 10)
        assert 20 * np.log10(spectrum[cut] / spectrum[1]) == pytest.approx(-3.01, abs=0.05)
    # A dark one has lost nothing of its lows.
    np.testing.assert_allclose([spectrum[1] for spectrum in spectra], spectra[0][1], rtol=1e-3)
    # As dark as it can be set is no darker than can be heard, and no longer than that.
    darkest = answer_of(plain.but(darker=3.0, softer_db=0.0, repeats=32, every_ms=5.0, sides=0.0)).samples
    assert darkest.shape[1] / RATE == pytest.approx(0.16 + 5.0 / (2 * np.pi * 20.0) * np.log(10.0), abs=0.01)
    # What would begin past the longest is left out.
    assert answer_of(plain.but(every_ms=2000.0, repeats=32)).samples.shape[1] <= 12 * RATE


@given(
    sides=st.sampled_from([1, 2, 4]),
    length=st.integers(1, 3000),
    block=st.sampled_from([128, 384, 1024]),
    whole=st.integers(0, 4),
    last=st.integers(1, 127),
    seed=st.integers(0, 99),
)
def test_convolving_in_blocks_is_convolving(sides: int, length: int, block: int, whole: int, last: int, seed: int):
    drawn = np.random.default_rng(seed)
    samples = drawn.standard_normal((sides, length)).astype(np.float32)
    sound = drawn.standard_normal((2, whole * block + last))
    h = [side.astype(float) for side in samples]

    def heard(response: ImpulseResponse) -> np.ndarray:
        stage = Convolving(response, block)
        parts = [sound[:, at : at + block].copy() for at in range(0, sound.shape[1], block)]
        for part in parts:
            stage.process(part, into=part)
        return np.concatenate(parts, axis=1)

    def convolved(side: np.ndarray, by: np.ndarray) -> np.ndarray:
        return fftconvolve(side, by)[: sound.shape[1]]

    left, right = sound
    if sides == 4:
        expected = [convolved(left, h[0]) + convolved(right, h[2]), convolved(left, h[1]) + convolved(right, h[3])]
    else:
        expected = [convolved(left, h[0]), convolved(right, h[-1])]
    np.testing.assert_allclose(heard(ImpulseResponse(samples, middle=False)), expected, atol=1e-9)
    if sides == 2:
        mean = (left + right) / 2
        np.testing.assert_allclose(
            heard(ImpulseResponse(samples, middle=True)), [convolved(mean, h[0]), convolved(mean, h[1])], atol=1e-9
        )


def test_a_bus_is_heard_through_its_space_until_the_last_of_it(small_kit: Kit, sounds):
    dry = through(small_kit, None, sounds)
    late = Echo(every_ms=1500.0, repeats=2, softer_db=0.0, darker=0.0, sides=0.0)
    out = through(small_kit, late, sounds)
    # Two repeats of half the energy each, three seconds on, though nothing sounds in between.
    expected = np.zeros_like(out)
    answer = answer_of(late).samples.astype(float)
    mean = dry.mean(axis=0)
    for side in (0, 1):
        whole = fftconvolve(mean, answer[side])[: out.shape[1]]
        expected[side, : whole.size] = whole
    assert np.abs(out - expected).max() < 1e-6
    assert np.abs(out[:, 3 * RATE : 3 * RATE + 4800]).max() > 0.1 * np.abs(dry).max()
    assert np.abs(out[:, -2000:]).max() < 1e-5
    # Switched off it lets everything pass, and its values are kept.
    np.testing.assert_array_equal(through(small_kit, late.but(on=False), sounds), dry)


def test_only_buses_are_heard_through_spaces_and_one_that_nobody_hears_is_said(small_kit: Kit):
    with pytest.raises(Refusal, match="no bus “snare-channel”"):
        apply(small_kit, e.SetSpace(bus="snare-channel", space=Hall()))
    kit = small_kit
    for edit in (
        e.MakeBus(name="Air"),
        e.SetSpace(bus=AIR, space=Hall()),
        e.SetSend(channel="snare-channel", bus=AIR, level_db=-6.0),
        e.SetChannel(channel=AIR, muted=True),
    ):
        kit = apply(kit, edit)
    found = next(f for f in notice(kit) if f.rule == "sent_into_silence")
    assert found.title == "The reverb or echo of Air reaches no output"
    assert not [f for f in notice(apply(kit, found.fixes[0].edit)) if f.rule == "sent_into_silence"]


def written(path: Path, sound: np.ndarray, rate: int = RATE, subtype: str = "FLOAT") -> Path:
    soundfile.write(path, sound, rate, subtype=subtype)
    return path


def test_what_cannot_be_a_response_is_refused_in_words_and_what_is_long_is_cut(tmp_path: Path):
    noise = np.random.default_rng(1).standard_normal((4800, 1)) * 0.1
    refused = {
        "silent": (written(tmp_path / "silent.wav", np.zeros((4800, 2))), "silent"),
        "nan": (written(tmp_path / "nan.wav", np.full((4800, 1), np.nan)), "not numbers"),
        "wide": (written(tmp_path / "wide.wav", np.repeat(noise, 64, axis=1)), "64 channels"),
        "three": (written(tmp_path / "three.wav", np.repeat(noise, 3, axis=1)), "one, two or four"),
        "slow": (written(tmp_path / "slow.wav", noise, 4000), "sample rate"),
        "empty": (written(tmp_path / "empty.wav", noise[:0]), "silent"),
        "text": (tmp_path / "text.wav", "not audio that can be read"),
        "kind": (tmp_path / "kind.mp3", "not a WAV, AIFF or FLAC"),
    }
    refused["text"][0].write_bytes(b"nothing of the kind")
    refused["kind"][0].write_bytes(b"nothing of the kind")
    for name, (path, words) in refused.items():
        with pytest.raises(Refusal, match=words):
            read_response(path, name)
    # Ten minutes at 8 kHz: the first twelve seconds, and it says so.
    long = written(tmp_path / "long.wav", np.tile(noise, (1000, 1)), 8000, "PCM_16")
    found = read_response(long, "long.wav")
    assert len(found.samples) == 12 * 8000 and "first 12 s" in found.said
    answer = respond(
        Response(content=found.content, name="long", sides=1, seconds=12.0, length_s=1.5, pre_delay_ms=40.0),
        RATE,
        lambda content: found,
    )
    assert answer.samples.shape == (1, round(1.54 * RATE)) and not answer.middle
    assert not answer.samples[:, : round(0.039 * RATE)].any() and answer.samples[:, round(0.041 * RATE)].any()
    assert np.sum(answer.samples.astype(float) ** 2) == pytest.approx(1.0, rel=1e-4)
    assert np.abs(answer.samples[0, -100:]).max() < 0.1 * np.abs(answer.samples[0]).max()


def test_a_response_cut_to_the_silence_it_begins_with_is_silent_and_no_error(tmp_path: Path):
    late = np.concatenate([np.zeros((4800, 1)), np.full((4800, 1), 0.5)])
    found = read_response(written(tmp_path / "late.wav", late), "late.wav")
    cut = Response(content=found.content, name="late", sides=1, seconds=0.2, length_s=0.05)
    answer = respond(cut, RATE, lambda content: found)
    assert np.all(answer.samples == 0.0)


def test_a_kit_file_takes_its_responses_along_and_says_which_are_missing(
    small_kit: Kit, sounds, small_session: Path, tmp_path: Path
):
    noise = np.random.default_rng(2).standard_normal((2400, 4)) * 0.1
    found = read_response(written(tmp_path / "stairs.wav", noise), "stairs.wav")
    space = Response(content=found.content, name="stairs", sides=4, seconds=0.05)
    kit = apply(apply(small_kit, e.MakeBus(name="Air")), e.SetSpace(bus=AIR, space=space))

    def locate(content: str) -> Path:
        return tmp_path / "stairs.wav" if content == found.content else sounds._locate(content)

    assert isinstance(sounds, FileSounds)
    write_kit_file(kit, locate, tmp_path / "with.zestykit")
    opened = read_kit_file(tmp_path / "with.zestykit", tmp_path / "one")
    assert opened.kit == kit and opened.problems == ()
    np.testing.assert_array_equal(
        read_response(opened.responses[found.content], "stairs").samples, noise.astype(np.float32)
    )
    # The same without it: everything else opens, and it is said.
    with zipfile.ZipFile(tmp_path / "with.zestykit") as whole, zipfile.ZipFile(tmp_path / "cut.zestykit", "w") as cut:
        for entry in whole.infolist():
            if not entry.filename.startswith("responses/"):
                cut.writestr(entry, whole.read(entry.filename))
    opened = read_kit_file(tmp_path / "cut.zestykit", tmp_path / "two")
    assert "stairs is missing" in opened.problems[0]
    assert opened.kit.routing.buses[0].space is None
    assert opened.kit.pieces == kit.pieces


def test_an_outline_is_drawn_of_both_sides():
    four = np.zeros((4, 480), np.float32)
    four[0, 100], four[3, 200] = 1.0, 0.5
    left, right = outline_db(four)
    assert len(left) == len(right) == 240
    assert left[50] == 0.0 and right[100] == pytest.approx(-6.0, abs=0.1) and right[50] == -90.0
