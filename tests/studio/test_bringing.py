"""Bringing in, in full: nothing sent twice, folders of this machine, many channels, and what is said of names."""

import hashlib
from pathlib import Path

import numpy as np
import pytest
import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile

from drumcore.recordings.files import files_under
from studio.jobs import runner
from studio.jobs.models import Job
from studio.sessions import reading
from studio.sessions.models import Session
from studio.storage.models import StoredFile
from tests.conftest import RATE, strike_sound, write_sound


def words_session(root: Path) -> Path:
    """A snare whose strengths are words nobody knows."""
    for strength, word in enumerate(("feather", "walk", "storm")):
        for repeat in (1, 2):
            sound = strike_sound(-9.0 * (2 - strength), strength * 10 + repeat)
            write_sound(root / "Snare" / f"snare {word} {repeat}.wav", sound)
    return root


def session_of(studio, kit_id: str, root: Path) -> int:
    return studio.bring_in(kit_id, root)["session"]


def test_files_the_studio_has_are_not_sent_again(studio, small_session):
    kit_id = studio.post("/kits", {"name": "Small"})["id"]
    studio.bring_in(kit_id, small_session)
    stored = StoredFile.objects.count()
    names = files_under(small_session)
    offered = [
        {"path": f"again/{n}", "sha256": hashlib.sha256((small_session / n).read_bytes()).hexdigest()} for n in names
    ]
    session = studio.post(f"/kits/{kit_id}/sessions", {"name": "Again"})
    offered.append({"path": "again/new.wav", "sha256": "0" * 64})
    offered.append({"path": "../climbing.wav", "sha256": offered[0]["sha256"]})
    wanted = studio.post(f"/sessions/{session['id']}/known", offered)["paths"]
    assert wanted == ["again/new.wav", "../climbing.wav"]
    job = studio.post(f"/sessions/{session['id']}/read")
    assert job["state"] == "done" and StoredFile.objects.count() == stored
    assert studio.get(f"/sessions/{session['id']}")["takes"] == 30


def test_nothing_is_measured_twice_and_cancelling_keeps_what_was(studio, small_session, monkeypatch):
    kit_id = studio.post("/kits", {"name": "Small"})["id"]
    session = studio.post(f"/kits/{kit_id}/sessions", {"name": "Small"})
    names = files_under(small_session)
    files = [SimpleUploadedFile(Path(n).name, (small_session / n).read_bytes()) for n in names]
    studio.send(f"/sessions/{session['id']}/files", files=files, paths=names)
    record = Session.objects.get(id=session["id"])

    def stop_after(done: int, total: int) -> None:
        if done == 20:
            raise runner.Cancelled

    with pytest.raises(runner.Cancelled):
        reading.read_kept_session(record, stop_after)
    assert StoredFile.objects.filter(measured__isnull=False).count() == 20
    counted = []
    reading.read_kept_session(record, lambda done, total: counted.append(total))
    assert set(counted) == {len(names) - 20}


def test_a_folder_of_this_machine_comes_in_and_nothing_outside_it(studio, small_session, tmp_path, monkeypatch):
    assert studio.get("/inbox") == {"open": False, "path": "", "folders": []}
    inbox = tmp_path / "inbox"
    (inbox / "Weekend").mkdir(parents=True)
    for name in files_under(small_session):
        write = inbox / "Weekend" / name
        write.parent.mkdir(parents=True, exist_ok=True)
        write.write_bytes((small_session / name).read_bytes())
    (inbox / "Weekend" / "itself").symlink_to(inbox / "Weekend")
    (tmp_path / "secret").mkdir()
    (inbox / "way out").symlink_to(tmp_path / "secret")
    monkeypatch.setenv("ZESTY_INBOX", str(inbox))
    assert [f["name"] for f in studio.get("/inbox")["folders"]] == ["Weekend"]
    for path in ("../secret", "way out", "nowhere"):
        assert "is not a folder in the inbox" in studio.get(f"/inbox?path={path}", 422)["detail"]
    kit_id = studio.post("/kits", {"name": "Inbox"})["id"]
    job = studio.post(f"/kits/{kit_id}/sessions/from-inbox", {"path": "Weekend"})
    assert job["state"] == "done"
    session = studio.get(f"/kits/{kit_id}/sessions")[0]
    assert (session["name"], studio.get(f"/sessions/{session['id']}")["takes"]) == ("Weekend", 30)


def test_many_channels_are_split_named_and_paired(studio, tmp_path):
    root = tmp_path / "Recorder"
    for strength in (1, 2, 3):
        close = strike_sound(-9.0 * (3 - strength), strength)
        rooms = [0.3 * strike_sound(-9.0 * (3 - strength), 50 + strength * 2 + side) for side in (0, 1)]
        path = root / f"kick_{strength}_1.wav"
        path.parent.mkdir(exist_ok=True)
        soundfile.write(path, np.stack([close, *rooms], axis=1), RATE, subtype="PCM_24")
    kit_id = studio.post("/kits", {"name": "Recorder"})["id"]
    session = session_of(studio, kit_id, root)
    reading = studio.get(f"/sessions/{session}")
    assert [m["name"] for m in reading["mics"]] == ["Channel 1", "Channel 2", "Channel 3"]
    assert (reading["many_channels"], reading["takes"], reading["unread"]) == (3, 3, [])
    studio.post(f"/sessions/{session}/channels", {"names": ["Kick in", "Room", "Room"]})
    reading = studio.get(f"/sessions/{session}")
    assert [(m["name"], m["kind"], m["width"]) for m in reading["mics"]] == [
        ("Kick in", "close", "mono"),
        ("Room", "room", "stereo"),
    ]
    kit = studio.post(f"/sessions/{session}/pieces", {"base_version": studio.kit(kit_id)["version"]})
    room = next(m for m in studio.get(f"/sessions/{session}/rows")["path"] if m.startswith("Room/"))
    assert room == "Room/kick_1_1.wav" and kit["order"] == ["kick"]


def test_lossy_files_come_in_with_a_finding(studio, tmp_path):
    root = tmp_path / "Lossy"
    for strength in (1, 2, 3):
        write_sound(root / f"kick_{strength}_1.wav", strike_sound(-9.0 * (3 - strength), strength))
    soundfile.write(root / "kick_3_2.ogg", strike_sound(0.0, 9).astype(np.float32), RATE)
    soundfile.write(root / "kick_3_3.mp3", strike_sound(0.0, 10).astype(np.float32), RATE, format="MP3")
    kit_id = studio.post("/kits", {"name": "Lossy"})["id"]
    session = session_of(studio, kit_id, root)
    kit = studio.post(f"/sessions/{session}/pieces", {"base_version": studio.kit(kit_id)["version"]})
    found = {f["place"]: f for f in studio.get(f"/kits/{kit['id']}/findings") if f["rule"] == "lossy"}
    assert set(found) == {"kick_3_2.ogg", "kick_3_3.mp3"}
    assert "Ogg Vorbis" in found["kick_3_2.ogg"]["sentence"] and "MP3" in found["kick_3_3.mp3"]["sentence"]


def test_what_is_said_of_a_column_is_read_saved_and_offered_again(studio, tmp_path):
    kit_id = studio.post("/kits", {"name": "Words"})["id"]
    session = session_of(studio, kit_id, words_session(tmp_path / "First"))
    reading = studio.get(f"/sessions/{session}")
    group = reading["groups"][0]
    column = next(i for i, c in enumerate(group["columns"]) if c["text"] in ("feather", "walk", "storm"))
    assert "nothing to save" in studio.post(f"/sessions/{session}/saved-readings", {"name": "Ours"}, 422)["detail"]
    ruling = {"group": group["key"], "column": column, "meaning": "strength"}
    assert studio.post(f"/sessions/{session}/guidance", {"rulings": [ruling]})["state"] == "done"
    reading = studio.get(f"/sessions/{session}")
    assert reading["articulations"][0]["sizes"] == [2, 2, 2]
    assert reading["groups"][0]["columns"][column]["reason"] == "you said so"
    studio.post(f"/sessions/{session}/saved-readings", {"name": "Ours"})
    other = session_of(studio, kit_id, words_session(tmp_path / "Second"))
    offered = studio.get(f"/sessions/{other}")["offered"]
    assert [o["name"] for o in offered] == ["Ours"]
    studio.post(f"/sessions/{other}/saved-readings/{offered[0]['id']}")
    again = studio.get(f"/sessions/{other}")
    assert again["groups"][0]["columns"][column]["ruling"] == "strength" and again["offered"] == []


def test_a_word_learned_once_is_known_in_every_session(studio, tmp_path):
    root = tmp_path / "Odd"
    for strength in (1, 2):
        for repeat in (1, 2):
            sound = strike_sound(-9.0 * (2 - strength), strength * 10 + repeat)
            write_sound(root / f"zork_{strength}_{repeat}.wav", sound)
    kit_id = studio.post("/kits", {"name": "Odd"})["id"]
    session = session_of(studio, kit_id, root)
    assert studio.get(f"/sessions/{session}")["articulations"][0]["piece"] == "Zork"
    word = {"word": "Zork", "meaning": "piece", "value": "Floor tom"}
    studio.post(f"/sessions/{session}/guidance", {"words": [word]})
    corrected = studio.get(f"/sessions/{session}")
    assert corrected["articulations"][0]["piece"] == "Floor tom"
    assert corrected["changed"] == ["4 recordings are Floor tom · centre now, not Zork · hit."]
    next_one = session_of(studio, kit_id, root)
    assert studio.get(f"/sessions/{next_one}")["articulations"][0]["family"] == "tom"
    assert studio.client.delete("/api/words/zork").status_code == 204
    assert studio.get(f"/sessions/{session_of(studio, kit_id, root)}")["articulations"][0]["piece"] == "Zork"


def test_recordings_dropped_on_a_piece_join_its_layers(studio, small_session, tmp_path):
    kit = studio.kit_of(small_session)
    root = tmp_path / "More"
    write_sound(root / "snare_more_1.wav", strike_sound(0.2, 400))
    write_sound(root / "snare_more_2.wav", strike_sound(-30.2, 401))
    session = studio.post(f"/kits/{kit['id']}/sessions", {"name": "More", "adds_to": "snare"})
    files = [SimpleUploadedFile(n, (root / n).read_bytes()) for n in files_under(root)]
    studio.send(f"/sessions/{session['id']}/files", files=files, paths=files_under(root))
    studio.post(f"/sessions/{session['id']}/read")
    after = studio.post(f"/sessions/{session['id']}/pieces", {"base_version": kit["version"]})
    layers = after["pieces"][0]["articulations"][0]["layers"]
    assert [len(layer["takes"]) for layer in layers] == [4, 3, 3, 4]
    assert after["order"] == kit["order"]


def test_work_that_was_stopped_goes_on_when_the_studio_starts_and_other_work_says_so(studio, small_session):
    kit_id = studio.post("/kits", {"name": "Small"})["id"]
    came = studio.bring_in(kit_id, small_session)
    Job.objects.all().delete()
    arguments = {"session": came["session"]}
    lost = Job.objects.create(
        kind="read_session", arguments=arguments, state="running", kit=kit_id, worker=runner.TOKEN
    )
    # Every thread of a worker asks as it begins; what another of them has taken up by then is not lost.
    runner.go_on_after_restart()
    assert [j.state for j in Job.objects.all()] == ["running"]
    Job.objects.filter(id=lost.id).update(worker="gone")
    render = Job.objects.create(kind="export", state="running", kit=kit_id, worker="gone")
    runner.go_on_after_restart()
    runner.go_on_after_restart()
    assert sorted(j.state for j in Job.objects.filter(kind="read_session")) == ["done", "stopped"]
    lost.refresh_from_db()
    render.refresh_from_db()
    assert "went on afterwards" in lost.message
    assert render.state == "stopped" and "Run it again" in render.message


def test_work_that_was_declared_ended_meanwhile_does_not_say_otherwise(studio, small_session, monkeypatch):
    """A worker that was paused, declared gone and comes back."""
    kit_id = studio.post("/kits", {"name": "Small"})["id"]
    came = studio.bring_in(kit_id, small_session)
    begun = runner._kinds["read_session"].work

    def paused(job, progress):
        result = begun(job, lambda done, total: None)
        Job.objects.filter(id=job.id).update(state="stopped", message="Somebody said so.")
        progress(1, 1)
        return result

    monkeypatch.setitem(runner._kinds, "read_session", runner.JobKind(paused))
    job = studio.post(f"/sessions/{came['session']}/read")
    assert (job["state"], job["message"]) == ("stopped", "Somebody said so.")


def test_what_ended_jobs_made_is_cleared_oldest_first(studio, monkeypatch):
    kit_id = studio.post("/kits", {"name": "Small"})["id"]
    jobs = [Job.objects.create(kind="export", state="done", kit=kit_id) for _ in range(5)]
    for job in jobs:
        runner.folder_of(job).mkdir(parents=True)
        (runner.folder_of(job) / "stems.zip").write_bytes(b"x" * 100)
    monkeypatch.setattr(runner, "MOST_BYTES", 250)
    runner.clear_old()
    assert [runner.folder_of(job).exists() for job in jobs] == [False, False, False, True, True]
    assert list(Job.objects.order_by("created")) == jobs[3:]


def test_layers_are_previewed_fitted_and_compared_without_a_version(studio, small_session):
    kit = studio.kit_of(small_session)
    edit = {"kind": "match_take_levels", "articulation": "snare/centre"}
    shown = studio.post(f"/kits/{kit['id']}/preview", {"base_version": kit["version"], "edit": edit})
    assert [p["id"] for p in shown] == ["snare"]
    assert max(layer["spread_db"] for layer in shown[0]["articulations"][0]["layers"]) <= 0.01
    assert studio.kit(kit["id"])["version"] == kit["version"]
    fits = studio.get(f"/kits/{kit['id']}/fits?articulation=snare/centre")["fits"]
    assert fits[0] == 0.0 and fits[3] > 0.99
    alike = studio.get(f"/kits/{kit['id']}/sameness?articulation=snare/centre")["layers"]
    assert len(alike) == 4 and all(0 <= value < 0.5 for value in alike)
