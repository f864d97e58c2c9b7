"""Jobs: stems and kit files with progress, cancel, a clear end; the dead are found and run again."""

import os
import subprocess
import sys
import zipfile
from importlib import import_module

import numpy as np
import pytest
import soundfile
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from huey.contrib.djhuey import HUEY
from huey.storage import SqliteStorage

from drumcore.demo.grooves import demo_grooves
from drumcore.formats.midi import write_midi
from studio.catalogue.previews import PREVIEW
from studio.jobs import runner
from studio.jobs.models import Job
from studio.kits.loudness import MEASURE


@pytest.fixture
def groove(studio, tmp_path) -> dict:
    write_midi(demo_grooves()[2], tmp_path / "Tide Turn.mid")
    upload = SimpleUploadedFile("Tide Turn.mid", (tmp_path / "Tide Turn.mid").read_bytes())
    (card,) = studio.send("/grooves", file=upload)
    return card


def test_a_stem_that_clips_is_a_finding_until_its_output_is_lowered(studio, small_session, groove):
    kit = studio.edit(studio.kit_of(small_session), {"kind": "set_channel", "channel": "main", "level_db": 12.0})
    job = studio.post(f"/kits/{kit['id']}/exports/stems", {"groove": groove["id"], "bits": 24})
    (stem,) = job["parts"]
    assert stem["clipped_samples"] > 0
    (finding,) = [f for f in studio.get(f"/kits/{kit['id']}/findings") if f["rule"] == "stem_clips"]
    assert f"{stem['peak_dbfs']:.1f} dBFS" in finding["sentence"] and finding["where"]["step"] == "delivery"
    kit = studio.edit(kit, finding["fixes"][0]["edit"])
    assert kit["head"]["main"]["level_db"] < 12.0 - stem["peak_dbfs"]
    assert "stem_clips" not in [f["rule"] for f in studio.get(f"/kits/{kit['id']}/findings")]
    again = studio.post(f"/kits/{kit['id']}/exports/stems", {"groove": groove["id"], "bits": 24})
    assert again["parts"][0]["clipped_samples"] == 0


def test_stems_are_rendered_and_downloaded(studio, small_session, groove):
    kit = studio.edit(studio.kit_of(small_session), {"kind": "apply_plan", "plan": "one-output-a-piece"})
    job = studio.post(f"/kits/{kit['id']}/exports/stems", {"groove": groove["id"], "bits": 24})
    assert job["state"] == "done", job
    assert [s["file"] for s in job["parts"]] == [
        "02 Kick.wav", "03 Snare.wav", "04 Hats.wav", "05 Overheads.wav", "06 Room.wav", "10 Crash 1.wav",
    ]  # fmt: skip
    archive = zipfile.ZipFile(studio.download(job["download"]))
    assert sorted(archive.namelist()) == sorted([*(s["file"] for s in job["parts"]), "stems.json"])
    snare, rate = soundfile.read(studio.download(f"/api/jobs/{job['id']}/parts/1"))
    assert rate == 48000 and np.abs(snare).max() > 0.01


def test_a_kit_file_goes_out_and_comes_back_as_an_equal_kit(studio, small_session):
    kit = studio.edit(studio.kit_of(small_session), {"kind": "split_evenly", "articulation": "snare/centre"})
    job = studio.post(f"/kits/{kit['id']}/exports/kit-file", {})
    assert job["state"] == "done"
    upload = SimpleUploadedFile("Small.zestykit", studio.download(job["download"]).read())
    opened = studio.send("/kit-files", file=upload)
    assert (opened["state"], opened["problems"]) == ("done", [])
    back = studio.kit(opened["kit"])
    first = studio.kit(kit["id"])
    for part in ("order", "pieces", "head", "play_head", "play_pieces"):
        assert back[part] == first[part], part


@pytest.mark.parametrize(("content", "said"), [(b"Buy lamp oil.", "not a zip archive"), (b"", "not a zip archive")])
def test_a_kit_file_that_is_not_one_ends_with_a_sentence(studio, content, said):
    opened = studio.send("/kit-files", file=SimpleUploadedFile("x.zestykit", content))
    assert opened["state"] == "failed" and said in opened["message"] and opened["kit"] is None


def test_a_midi_file_that_is_not_one_is_refused(studio):
    said = studio.send("/grooves", 422, file=SimpleUploadedFile("song.mid", b"Buy lamp oil."))
    assert said["detail"].startswith("song.mid is not a MIDI file")


def test_a_cancelled_job_ends_and_leaves_nothing_half_made(studio, small_session, groove, monkeypatch):
    kit = studio.kit_of(small_session)
    begun = runner._kinds["export"].work

    def cancel_midway(job, progress):
        result = begun(job, lambda done, total: None)
        runner.cancel(job)
        progress(10**9, 10**9)
        return result

    monkeypatch.setitem(runner._kinds, "export", runner.JobKind(cancel_midway))
    job = studio.post(f"/kits/{kit['id']}/exports/stems", {"groove": groove["id"]})
    assert job["state"] == "cancelled" and "Cancelled" in job["message"]
    assert not runner.folder_of(Job.objects.get(id=job["id"])).exists()
    monkeypatch.setitem(runner._kinds, "export", runner.JobKind(begun))
    assert studio.post(f"/jobs/{job['id']}/again")["state"] == "done"


@pytest.mark.parametrize(
    "error", [FileNotFoundError("gone"), PermissionError(5, "I/O"), RuntimeError("no"), KeyError("x")]
)
def test_a_job_ends_in_a_sentence_whatever_goes_wrong_in_it(studio, monkeypatch, error):
    def fails(job, progress):
        raise error

    monkeypatch.setitem(runner._kinds, "piece_file", runner.JobKind(fails))
    job = studio.get(f"/jobs/{runner.start('piece_file', {}).id}")
    assert job["state"] == "failed" and "nothing saved is lost" in job["message"]


def test_a_job_whose_worker_died_is_found_and_run_again(studio, small_session, groove):
    kit = studio.kit_of(small_session)
    done = studio.post(f"/kits/{kit['id']}/exports/stems", {"groove": groove["id"]})
    Job.objects.filter(id=done["id"]).update(state="running", worker="gone")
    found = studio.get(f"/jobs/{done['id']}")
    assert found["state"] == "stopped" and "Run it again" in found["message"]
    assert studio.post(f"/jobs/{done['id']}/again")["state"] == "done"
    assert "no such job" in studio.get("/jobs/nothing", 422)["detail"]


def test_exports_of_an_older_program_are_had_and_made_again(studio, small_session, groove):
    kit = studio.kit_of(small_session)
    arguments = {"groove": groove["id"], "rate_hz": 48_000, "bits": 24, "version": kit["version"], "groove_name": "Two"}
    stem = {
        "output": 1,
        "name": "Main",
        "width": "stereo",
        "file": "01 Main.wav",
        "peak_dbfs": -3.0,
        "clipped_samples": 0,
    }
    made = {"stems": {"rate_hz": 48_000, "stems": [stem]}, "download": "Small - Two.zip", "groove": "Two"}
    old = Job.objects.create(kind="render_stems", kit=kit["id"], arguments=arguments, state="done", result=made)
    (runner.folder_of(old) / "stems").mkdir(parents=True)
    (runner.folder_of(old) / "stems" / "01 Main.wav").write_bytes(b"sound")
    Job.objects.create(kind="save_kit_file", kit=kit["id"], arguments={"version": kit["version"]}, state="done")
    import_module("studio.jobs.migrations.0002_exports").rename(apps, None)
    jobs = {job["export"]: job for job in studio.get(f"/kits/{kit['id']}/jobs")}
    assert [jobs[name]["title"] for name in ("stems", "kit-file")] == ["Rendering Two", "Saving the kit file"]
    assert [part["file"] for part in jobs["stems"]["parts"]] == ["01 Main.wav"]
    assert studio.download(f"/api/jobs/{old.id}/parts/0").read() == b"sound"
    for job in jobs.values():
        assert studio.post(f"/jobs/{job['id']}/again")["state"] == "done"


def test_a_worker_knows_every_kind_of_work_by_itself():
    """It never sees the addresses that begin jobs: what names itself only there would fail in it alone."""
    said = subprocess.run(
        [
            sys.executable,
            "-c",
            "import django; django.setup(); from studio.jobs import runner; print(*runner._kinds)",
        ],
        env={**os.environ, "DJANGO_SETTINGS_MODULE": "studio.settings"},
        capture_output=True,
        text=True,
        check=True,
    )
    import_module("studio.http.api")
    assert set(said.stdout.split()) == set(runner._kinds)


def test_what_somebody_asked_for_goes_before_previews_and_figures(studio, monkeypatch, tmp_path):
    monkeypatch.setattr(HUEY, "immediate", False)
    monkeypatch.setattr(HUEY, "storage", SqliteStorage("zesty", filename=str(tmp_path / "queue.sqlite3")))
    kinds = (PREVIEW, MEASURE, "read_session", PREVIEW, "piece_file")
    jobs = {str(runner.start(kind, {}).id): kind for kind in kinds}
    taken = [jobs[task.args[0]] for task in iter(HUEY.dequeue, None)]
    assert taken == ["read_session", "piece_file", PREVIEW, MEASURE, PREVIEW]


def test_what_is_made_beside_waits_for_its_like_and_never_holds_all_of_the_worker(studio, monkeypatch, tmp_path):
    """A second preview is put back while one is made, and is made afterwards; what somebody asked for is not held up."""
    monkeypatch.setattr(HUEY, "immediate", False)
    monkeypatch.setattr(HUEY, "storage", SqliteStorage("zesty", filename=str(tmp_path / "queue.sqlite3")))
    done = []
    for kind, beside in ((PREVIEW, True), ("piece_file", False)):
        monkeypatch.setitem(
            runner._kinds, kind, runner.JobKind(lambda job, _: done.append(job.kind) or {}, beside=beside)
        )
    preview, file = (runner.start(kind, {}) for kind in (PREVIEW, "piece_file"))
    HUEY.storage.flush_queue()
    with runner._beside:
        runner.run.call_local(str(preview.id))
        runner.run.call_local(str(file.id))
        assert done == ["piece_file"] and Job.objects.get(id=preview.id).state == "waiting"
        assert [task.args[0] for task in (*HUEY.pending(), *HUEY.scheduled())] == [str(preview.id)], "it comes again"
        assert runner.enqueue_forgotten({str(preview.id)}) == set(), "it is not forgotten"
    runner.run.call_local(str(preview.id))
    assert done == ["piece_file", PREVIEW] and Job.objects.get(id=preview.id).state == "done"
