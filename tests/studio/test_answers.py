"""Every call of the API is answered in JSON, with a sentence where it is refused, and nobody's fault is the studio's."""

import json
import os
import sqlite3
import subprocess
import sys
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from huey.contrib.djhuey import HUEY
from huey.storage import SqliteStorage

from studio.http import openapi
from studio.jobs import runner
from studio.jobs.models import Job
from studio.kits import exports, versions
from studio.kits.models import KitRecord

JSON = "application/json"


def said(answer, status: int) -> str:
    assert (answer.status_code, answer.headers["Content-Type"].split(";")[0]) == (status, JSON), answer.content[:200]
    return answer.json()["detail"]


def test_what_never_reaches_a_call_is_answered_in_json_too(studio):
    assert "no such page" in said(studio.client.get("/api/kites"), 404)
    kit = studio.post("/kits", {"name": "A"})["id"]
    session = studio.post(f"/kits/{kit}/sessions", {"name": "S"})["id"]
    many = [SimpleUploadedFile(f"{n}.wav", b"RIFF") for n in range(300)]
    paths = [f"{n}.wav" for n in range(300)]
    assert "At most 256 files" in said(
        studio.client.post(f"/api/sessions/{session}/files", {"files": many, "paths": paths}), 413
    )
    broken = studio.client.post(f"/api/sessions/{session}/files", b"--x\r\n", content_type="multipart/form-data")
    assert "did not arrive whole" in said(broken, 400)


def test_plain_text_is_not_taken_for_json(studio):
    for kind in ("text/plain", "application/x-www-form-urlencoded", "application/octet-stream"):
        assert "takes JSON" in said(studio.client.post("/api/kits", b'{"name": "A"}', content_type=kind), 415)
    assert not KitRecord.objects.exists()
    assert (
        studio.client.post("/api/kits", b'{"name": "A"}', content_type="application/json; charset=utf-8").status_code
        == 200
    )


def test_a_page_of_another_site_may_not_read_built_files_and_testserver_is_no_name_of_ours():
    code = (
        "import django, json; django.setup(); from django.conf import settings; from django.test import Client;"
        "answer = Client(headers={'host': '127.0.0.1'}).get('/index.html');"
        "named = Client(headers={'host': 'testserver'}).get('/api/kits').status_code;"
        "print(json.dumps(['Access-Control-Allow-Origin' in answer.headers, named]))"
    )
    environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "studio.settings"}
    found = subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=True)
    assert json.loads(found.stdout) == [False, 403]


def test_the_description_of_the_api_is_made_once(studio, monkeypatch):
    openapi.document.cache_clear()
    made = []
    from studio.http.api import api

    make = api.get_openapi_schema
    monkeypatch.setattr(api, "get_openapi_schema", lambda **options: (made.append(1), make(**options))[1])
    assert studio.get("/openapi.json")["paths"] == studio.get("/openapi.json")["paths"]
    assert len(made) == 1


@pytest.mark.parametrize("path", ["\0", "a" * 5000, "../..", "/etc"])
def test_no_path_leads_out_of_the_inbox_or_breaks_it(studio, monkeypatch, tmp_path, path):
    monkeypatch.setenv("ZESTY_INBOX", str(tmp_path))
    assert "not a folder in the inbox" in said(studio.client.get("/api/inbox", {"path": path}), 422)


def test_the_last_line_check_of_a_forgotten_version_counts_as_none(studio, small_session):
    kit = studio.kit_of(small_session)
    assert studio.post(f"/kits/{kit['id']}/lines")["state"] == "done"
    for level in (-1.0, -2.0):
        kit = studio.edit(kit, {"kind": "set_channel", "channel": "snare-channel", "level_db": level})
    assert studio.get(f"/kits/{kit['id']}/lines")["version"] is not None
    studio.post(f"/kits/{kit['id']}/forget", {"before": kit["version"]})
    assert studio.get(f"/kits/{kit['id']}/lines")["version"] is None


def test_a_piece_of_several_articulations_is_not_put_on_a_note(studio, small_session):
    kit = studio.post("/kits", {"name": "Small"})["id"]
    came = studio.bring_in(kit, small_session)
    body = {"base_version": 1, "kit": kit, "note": 60}
    said = studio.post(f"/sessions/{came['session']}/sounds", body, 422)["detail"]
    assert said.startswith("Hats has 2 articulations here") and studio.kit(kit)["version"] == 1


def test_an_export_of_a_kit_that_is_removed_meanwhile_says_so(studio, small_session, monkeypatch):
    kit = studio.kit_of(small_session)
    source = exports._source

    def removed(kit_id, version):
        found = source(kit_id, version)
        if KitRecord.objects.filter(id=kit_id).delete()[0]:
            # The worker is another process, which has not read it before.
            versions._kits.clear()
        return found

    monkeypatch.setattr(exports, "_source", removed)
    job = studio.post(f"/kits/{kit['id']}/exports/kit-file")
    assert job["state"] == "failed" and "no longer exists" in job["message"]


@pytest.mark.parametrize("name", ["🥁" * 80 + ".zestykit", "漢" * 200 + ".zestykit"])
def test_a_kit_file_of_any_name_opens_and_goes_out_again(studio, small_session, name):
    kit = studio.kit_of(small_session)
    kit = studio.edit(kit, {"kind": "rename_kit", "name": name[:110]})
    job = studio.post(f"/kits/{kit['id']}/exports/kit-file", {})
    assert job["state"] == "done", job
    data = studio.download(job["download"]).read()
    opened = studio.send("/kit-files", file=SimpleUploadedFile(name, data))
    assert opened["state"] == "done", opened
    bad = studio.send("/kit-files", file=SimpleUploadedFile(name, b"no zip"))
    assert bad["message"].startswith(f"{name} is not a zip archive"), "by its own name, whatever it lies under here"


@pytest.fixture
def queue(monkeypatch, tmp_path):
    """A queue that nobody serves."""
    monkeypatch.setattr(HUEY, "immediate", False)
    monkeypatch.setattr(HUEY, "storage", SqliteStorage("zesty", filename=str(tmp_path / "queue.sqlite3")))
    return HUEY


def test_a_job_that_cannot_be_queued_is_refused_and_none_waits_for_ever(studio, queue, monkeypatch):
    kit = studio.post("/kits", {"name": "A"})
    full = sqlite3.OperationalError("database or disk is full")
    full.sqlite_errorcode = sqlite3.SQLITE_FULL
    with monkeypatch.context() as patch:
        patch.setattr(queue.storage, "enqueue", lambda *a, **k: (_ for _ in ()).throw(full))
        answer = studio.client.post(f"/api/kits/{kit['id']}/exports/kit-file", b"{}", content_type=JSON)
        assert "free some space" in said(answer, 507)
    assert not Job.objects.exists()
    # One whose row could be written and whose place in the queue could not, the clock set back since.
    lost = Job.objects.create(kind="piece_file", arguments={})
    Job.objects.update(created="2040-01-01T00:00:00Z")
    missed = runner.enqueue_forgotten(set())
    assert missed == {str(lost.id)} and not queue.pending(), "it may just be starting"
    assert runner.enqueue_forgotten(missed) == set()
    assert [task.args for task in queue.pending()] == [(str(lost.id),)]
    assert runner.enqueue_forgotten({str(lost.id)}) == set() and len(queue.pending()) == 1, "once is enough"


def test_what_the_studio_keeps_is_its_owner_s_alone(tmp_path):
    data = tmp_path / "data"
    code = (
        "import django; django.setup(); from django.conf import settings; import tempfile, pathlib;"
        "from studio.maintenance.upgrade import bring_up_to_date, make_private; from pathlib import Path;"
        "bring_up_to_date(Path(settings.DATA)); make_private(Path(settings.DATA)); print(tempfile.mkdtemp())"
    )
    environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "studio.settings", "ZESTY_DATA": str(data)}
    (data / "uploads").mkdir(parents=True)
    (data / "uploads").chmod(0o755)
    made = subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=True)
    assert Path(made.stdout.strip()).parent == data / "temporary", "temporary files lie where there is room"
    for name in ("studio.sqlite3", "secret", "uploads"):
        assert (data / name).stat().st_mode & 0o077 == 0, name


def test_names_are_no_formulas_in_a_spreadsheet(studio, small_session):
    kit = studio.kit_of(small_session)
    kit = studio.edit(kit, {"kind": "rename_articulation", "articulation": "snare/centre", "name": "=HYPERLINK(1)"})
    sheet = studio.client.get(f"/api/kits/{kit['id']}/track-sheet/csv").content.decode()
    cells = [cell for line in sheet.splitlines() for cell in line.split(",")]
    assert "'=HYPERLINK(1)" in cells and not [cell for cell in cells if cell.startswith(("=", "+", "@"))]
