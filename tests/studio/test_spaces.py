"""Spaces over HTTP: answered, drawn, brought in as files that stems are rendered through, and refused in words."""

import io
import json
import struct
from urllib.parse import quote

import numpy as np
import pytest
import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile

from drumcore.demo.grooves import demo_grooves
from drumcore.formats.midi import write_midi
from drumcore.spaces.hall import Hall
from drumcore.spaces.kinds import respond

HALL = {"kind": "hall", "length_s": 0.4, "size_m": 6.0}


def file_of(sound: np.ndarray, name: str = "stairs.wav", rate: int = 48_000, subtype: str = "FLOAT"):
    held = io.BytesIO()
    soundfile.write(held, sound, rate, subtype=subtype, format="WAV")
    return SimpleUploadedFile(name, held.getvalue())


def asked(studio, space: dict, rate: int = 48_000):
    return studio.client.get(f"/api/spaces/impulse-responses/{rate}?space={quote(json.dumps(space))}")


def test_an_answer_comes_as_the_core_makes_it_and_may_be_kept_for_ever(studio):
    answer = asked(studio, HALL, 44_100)
    assert answer.status_code == 200 and "immutable" in answer.headers["Cache-Control"]
    sides, middle = struct.unpack("<II", answer.content[:8])
    samples = np.frombuffer(answer.content[8:], "<f4").reshape(sides, -1)
    np.testing.assert_array_equal(samples, respond(Hall(length_s=0.4, size_m=6.0), 44_100, lambda _: None).samples)
    assert middle == 1
    for bad, rate in (({"kind": "hall", "length_s": 99}, 48_000), ({"kind": "plate"}, 48_000), (HALL, 11_025)):
        refused = asked(studio, bad, rate)
        assert refused.status_code == 422 and "not a reverb or echo" in refused.json()["detail"]
    gone = {"kind": "response", "content": "ab" * 20, "name": "gone", "sides": 1, "seconds": 1.0}
    assert asked(studio, gone).status_code == 422


def test_what_is_drawn_of_a_hall_is_what_it_was_measured_at(studio):
    shown = studio.post("/spaces/shown", {"space": HALL | {"length_s": 1.2, "damping": 0.3}, "rate_hz": 48_000})
    assert [band["hz"] for band in shown["decay"]] == [125, 250, 500, 1000, 2000, 4000, 8000]
    for band, says in zip(shown["decay"], shown["says_s"], strict=True):
        assert says == pytest.approx(1.2 / (1 + 0.3 * band["hz"] / 2000))
        assert band["seconds"] == pytest.approx(says, rel=0.15)
    assert shown["room"]["length_m"] == 6.0 and len(shown["room"]["reflections"]) > 5
    assert len(shown["outline_db"]) == 2 and max(map(max, shown["outline_db"])) == 0.0
    echo = studio.post("/spaces/shown", {"space": {"kind": "echo", "every_ms": 200, "repeats": 2}, "rate_hz": 48_000})
    assert echo["room"] is None and echo["says_s"] == [] and 0.4 < echo["seconds"] < 0.5


def test_a_response_is_kept_and_stems_are_rendered_through_it(studio, small_session, tmp_path):
    click = np.zeros((4800, 1))
    click[2400] = 0.5
    kept = studio.send("/spaces/responses", file=file_of(click, "../late click.wav"))
    assert kept["said"] == "" and kept["space"]["name"] == "late click" and kept["space"]["sides"] == 1
    assert studio.send("/spaces/responses", file=file_of(click))["space"]["content"] == kept["space"]["content"]
    kit = studio.kit_of(small_session)
    for edit in (
        {"kind": "make_bus", "name": "Late"},
        {"kind": "set_send", "channel": "snare-channel", "bus": "late-bus", "level_db": 0.0},
        {"kind": "set_channel", "channel": "late-bus", "output": 3},
        {"kind": "set_channel", "channel": "snare-channel", "output": 2},
        {"kind": "set_space", "bus": "late-bus", "space": kept["space"]},
    ):
        kit = studio.edit(kit, edit)
    assert kit["play_head"]["channels"][-1]["space"]["content"] == kept["space"]["content"]
    write_midi(demo_grooves()[2], tmp_path / "Tide Turn.mid")
    upload = SimpleUploadedFile("Tide Turn.mid", (tmp_path / "Tide Turn.mid").read_bytes())
    groove = studio.send("/grooves", file=upload)[0]["id"]
    job = studio.post(f"/kits/{kit['id']}/exports/stems", {"groove": groove, "bits": 32})
    assert job["state"] == "done", job
    outputs = [int(part["file"][:2]) for part in job["parts"]]
    dry, late = (
        soundfile.read(studio.download(f"/api/jobs/{job['id']}/parts/{outputs.index(number)}"))[0] for number in (2, 3)
    )
    # A click of unit energy is the sound itself, 50 ms later.
    assert np.abs(dry).max() > 0.05
    np.testing.assert_allclose(late[2400 : len(dry)], dry[: len(dry) - 2400], atol=1e-6)


@pytest.mark.parametrize(
    ("sound", "rate", "words"),
    [
        (np.zeros((4800, 2)), 48_000, "is silent"),
        (np.full((4800, 1), np.inf), 48_000, "not numbers"),
        (np.ones((480, 64)), 48_000, "64 channels"),
    ],
)
def test_what_cannot_be_a_response_is_refused_with_its_name(studio, sound, rate, words):
    refused = studio.send("/spaces/responses", 422, file=file_of(sound, "cave.wav", rate))
    assert "cave.wav" in refused["detail"] and words in refused["detail"]


def test_of_ten_minutes_the_first_twelve_seconds_are_kept_and_it_is_said(studio):
    noise = np.random.default_rng(1).standard_normal((8000 * 600, 1)) * 0.1
    long = studio.send("/spaces/responses", file=file_of(noise, "long.wav", 8000, "PCM_16"))
    assert "600.0 s long; its first 12 s" in long["said"] and long["space"]["seconds"] == 12.0
