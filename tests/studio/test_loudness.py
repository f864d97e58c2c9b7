"""Figures of loudness over HTTP: worked out once by a job, kept by what they depend on, told when they cannot be had."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from drumcore.demo.grooves import demo_grooves
from drumcore.formats.midi import write_midi
from studio.jobs import runner
from studio.jobs.models import Job
from studio.kits import loudness
from studio.kits.loudness import MEASURE
from studio.kits.models import MeasuredFigure

SNARE = "snare-channel"
LOUDER = {"kind": "compressor", "ratio": 1.0, "make_up_db": 6.0}


@pytest.fixture
def groove(studio, tmp_path) -> int:
    write_midi(demo_grooves()[2], tmp_path / "Tide Turn.mid")
    upload = SimpleUploadedFile("Tide Turn.mid", (tmp_path / "Tide Turn.mid").read_bytes())
    return studio.send("/grooves", file=upload)[0]["id"]


def treated(studio, kit: dict, *treatments: dict) -> dict:
    return studio.edit(kit, {"kind": "set_treatments", "channel": SNARE, "treatments": list(treatments)})


def figure(studio, kit: dict, of: dict, status: int = 200, **more) -> dict:
    return studio.post(f"/kits/{kit['id']}/figures", {"of": of, **more}, status)


def test_a_figure_is_measured_once_kept_and_measured_anew_when_it_is_touched(studio, small_session, groove):
    kit = treated(studio, studio.kit_of(small_session), LOUDER)
    asked = {"kind": "channel", "channel": SNARE, "groove": groove}
    first = figure(studio, kit, asked)
    assert first["state"] == "known" and first["figure"]["louder_db"] == 6.0
    assert first["figure"]["db"] == pytest.approx(first["figure"]["plain_db"] + 6.0, abs=0.01)
    jobs = Job.objects.filter(kind=MEASURE)
    assert jobs.count() == 1
    lower = studio.edit(kit, {"kind": "set_channel", "channel": SNARE, "level_db": -6.0})
    assert figure(studio, lower, asked) == first and jobs.count() == 1
    plain = treated(studio, lower)
    assert figure(studio, plain, asked)["figure"]["louder_db"] == 0.0 and jobs.count() == 2
    # Undone, it is known at once.
    studio.post(f"/kits/{kit['id']}/undo", {"base_version": plain["version"]})
    assert figure(studio, kit, asked) == first and jobs.count() == 2
    # It is no work anybody asked to be made.
    assert [job["kind"] for job in studio.get(f"/kits/{kit['id']}/jobs")] == ["read_session"]


def test_every_kind_of_figure_is_given(studio, small_session, groove):
    squeezed = {"kind": "compressor", "threshold_db": -45.0, "ratio": 6.0}
    kit = treated(studio, studio.kit_of(small_session), squeezed)
    piece = figure(studio, kit, {"kind": "piece", "piece": "snare"})["figure"]
    assert -60 < piece["db"] < 0 and piece["louder_db"] is None
    whole = figure(studio, kit, {"kind": "kit", "groove": groove})["figure"]
    assert whole["louder_db"] < 0
    make_up = figure(studio, kit, {"kind": "make_up", "channel": SNARE, "groove": groove})["figure"]["db"]
    kit = treated(studio, kit, {**squeezed, "make_up_db": make_up})
    even = figure(studio, kit, {"kind": "channel", "channel": SNARE, "groove": groove})["figure"]
    assert abs(even["louder_db"]) <= 0.1


def test_what_cannot_be_measured_says_why_and_is_tried_again_when_asked(studio, small_session, groove):
    kit = studio.kit_of(small_session)
    asked = {"kind": "make_up", "channel": SNARE, "groove": groove}
    for _ in range(2):
        found = figure(studio, kit, asked)
        assert found["state"] == "failed" and found["said"].startswith("Snare has no compressor that is on")
    assert Job.objects.filter(kind=MEASURE).count() == 1
    figure(studio, kit, asked, again=True)
    assert Job.objects.filter(kind=MEASURE).count() == 2
    assert "no such groove" in figure(studio, kit, {**asked, "groove": 999}, 422)["detail"]
    assert "nowhere" in figure(studio, kit, {"kind": "channel", "channel": "nowhere", "groove": groove}, 422)["detail"]
    silent = figure(studio, kit, {"kind": "channel", "channel": "cowbell-channel", "groove": groove}, 422)
    assert "cowbell-channel" in silent["detail"]


def test_what_is_waited_for_no_more_is_cancelled_and_old_figures_go(studio, small_session, groove, monkeypatch):
    kit = treated(studio, studio.kit_of(small_session), LOUDER)
    asked = {"kind": "channel", "channel": SNARE, "groove": groove}
    with monkeypatch.context() as away:
        # A worker that does not come.
        away.setattr(runner, "run", lambda job_id, priority: None)
        assert figure(studio, kit, asked)["state"] == "measuring"
        assert figure(studio, kit, asked)["state"] == "measuring"
        (waiting,) = Job.objects.filter(kind=MEASURE)
        treated(studio, kit, {**LOUDER, "make_up_db": 3.0})
        figure(studio, kit, asked)
        waiting.refresh_from_db()
        assert waiting.state == "cancelled"
        Job.objects.filter(state="waiting").update(state="stopped")
    # Whoever asks again begins anew what was left by a worker that died.
    assert figure(studio, kit, asked)["figure"]["louder_db"] == 3.0
    monkeypatch.setattr(loudness, "MOST_KEPT", 1)
    figure(studio, kit, {"kind": "piece", "piece": "snare"})
    assert MeasuredFigure.objects.count() == 1


def test_measuring_pushes_nothing_that_was_made_out_of_the_list(studio, small_session, groove, monkeypatch):
    kit = studio.kit_of(small_session)
    monkeypatch.setattr(runner, "MOST_ENDED", 2)
    monkeypatch.setattr(runner, "MOST_MEASURED", 1)
    made = studio.post(f"/kits/{kit['id']}/exports/stems", {"groove": groove})
    for piece in kit["order"]:
        assert figure(studio, kit, {"kind": "piece", "piece": piece})["state"] == "known"
    assert made["id"] in [job["id"] for job in studio.get(f"/kits/{kit['id']}/jobs")]
    assert Job.objects.filter(kind=MEASURE).count() <= 2
    assert studio.download(made["download"])
