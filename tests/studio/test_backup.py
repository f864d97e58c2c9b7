"""A studio is backed up while it is used, restored elsewhere, checked, and repaired from a backup."""

import json
import os
import random
import shutil
import sqlite3
import threading
from pathlib import Path

import pytest

from tests.studio.a_studio import STEMS, kept_studio, run, zesty
from tests.studio.test_durability import Server


@pytest.fixture(scope="module")
def kept(tmp_path_factory: pytest.TempPathFactory, small_session: Path) -> tuple[Path, dict]:
    return kept_studio(tmp_path_factory, small_session)


@pytest.fixture
def data(kept: tuple[Path, dict], tmp_path: Path) -> Path:
    return shutil.copytree(kept[0], tmp_path / "data")


def test_a_restored_backup_plays_the_same_stems_and_a_second_copies_only_what_is_new(kept, data, tmp_path):
    made = kept[1]
    first = zesty(data, "backup", tmp_path / "backup", "--json")
    assert first.returncode == 0, first.stderr
    report = json.loads(first.stdout)
    assert report["copied"] == report["recordings"] > 50
    run(
        data,
        "print(json.dumps(studio.edit(studio.kit(asked['kit']), {'kind': 'rename_kit', 'name': 'Later'})['version']))",
        **made,
    )
    again = json.loads(zesty(data, "backup", tmp_path / "backup", "--json").stdout)
    assert (again["recordings"], again["copied"]) == (report["recordings"], 0)
    elsewhere = tmp_path / "elsewhere"
    assert zesty(elsewhere, "restore", tmp_path / "backup").returncode == 0
    assert run(elsewhere, STEMS, **made) == run(data, STEMS, **made)
    kit = run(elsewhere, "print(json.dumps(studio.kit(asked['kit'])))", **made)
    assert kit["head"]["name"] == "Later" and kit["undo"], "with all its versions"
    assert zesty(elsewhere, "doctor").returncode == 0
    used = zesty(elsewhere, "restore", tmp_path / "backup")
    assert used.returncode == 2 and "holds a studio already" in used.stderr


@pytest.mark.parametrize("place", ["inside", "relative", "used"])
def test_a_backup_is_not_written_where_it_would_harm_or_help_nobody(data, tmp_path, place):
    (tmp_path / "used").mkdir()
    (tmp_path / "used" / "songs.txt").write_text("mine")
    folder = {"inside": data / "backup", "relative": data.parent, "used": tmp_path / "used"}[place]
    said = zesty(data, "backup", folder)
    assert said.returncode == 2 and said.stderr.count("\n") == 1, said.stderr
    assert (tmp_path / "used" / "songs.txt").read_text() == "mine" and not (data / "backup").exists()


def test_a_backup_made_while_the_studio_is_edited_and_cleared_is_whole(kept, data, tmp_path):
    """Edits, deletions and clearing go on while it is written; it holds one moment of them."""
    server = Server(data)
    stop, edited, cleared = threading.Event(), [], []

    def edits() -> None:
        kit = server.call(f"/kits/{kept[1]['kit']}")
        while not stop.is_set():
            level = -(len(edited) % 40) / 10
            edit = {"kind": "set_channel", "channel": "snare-channel", "level_db": level - 0.05}
            kit = server.call(f"/kits/{kit['id']}/edits", {"base_version": kit["version"], "edit": edit})
            edited.append(kit["version"])

    def removals() -> None:
        while not stop.is_set():
            copy = server.call(f"/library/kits/{kept[1]['kit']}/duplicate", {"name": f"Copy {len(cleared)}"})["id"]
            things = {"things": [{"kind": "kits", "id": copy}]}
            cleared.append(server.call("/library/remove", things)["said"])

    try:
        threads = [threading.Thread(target=edits), threading.Thread(target=removals)]
        for thread in threads:
            thread.start()
        assert zesty(data, "backup", tmp_path / "backup").returncode == 0
        stop.set()
        for thread in threads:
            thread.join()
        assert len(edited) > 2 and cleared
    finally:
        server.process.kill()
    elsewhere = tmp_path / "elsewhere"
    assert zesty(elsewhere, "restore", tmp_path / "backup").returncode == 0
    found = json.loads(zesty(elsewhere, "doctor", "--json").stdout)
    assert found["sound"], found["troubles"]
    at = run(elsewhere, "print(json.dumps(studio.kit(asked['kit'])['version']))", **kept[1])
    assert at in edited or at < edited[0]
    code = "from studio.kits.versions import kit_at; print(json.dumps(kit_at(asked['kit'], asked['at']).model_dump_json()))"
    assert run(elsewhere, code, at=at, **kept[1]) == run(data, code, at=at, **kept[1])


TURN_AND_CHECK = """
from studio.maintenance.doctor import check_studio
import random
draw, found = random.Random(asked["seed"]), []
for place in asked["files"]:
    path = DATA / place
    whole = path.read_bytes()
    at = draw.randrange(len(whole)) if place not in asked["late"] else draw.randrange(len(whole) // 4, len(whole))
    path.write_bytes(whole[:at] + bytes([whole[at] ^ draw.choice((1, 16, 128, 255))]) + whole[at + 1:])
    report = check_studio(DATA, lambda done, total: None)
    kits = studio.client.get("/api/kits").status_code
    found.append([place, at, [t.said for t in report.troubles if not t.repaired], report.sound, kits])
    path.write_bytes(whole)
    from studio.storage.models import StoredFile
    StoredFile.objects.update(damaged=False)
print(json.dumps(found))
"""


def test_a_byte_turned_in_any_file_is_found_and_the_studio_goes_on(data):
    files = [path.relative_to(data).as_posix() for path in data.rglob("*") if path.is_file() and path.stat().st_size]
    draw = random.Random(5)
    recordings = draw.sample([f for f in files if f.startswith("recordings/")], 8)
    made = [f for f in files if f.startswith("jobs/") and not f.endswith(".json")]
    # Of a sound ready to play its header may say anything: what sounds are its frames.
    ready = [f for f in files if f.startswith("prepared/")]
    assert made and ready
    found = run(data, TURN_AND_CHECK, files=[*recordings, *made, *ready], late=ready, seed=7)
    missed = [(place, at) for place, at, said, sound, _ in found if sound or not said]
    assert not missed, "what a check did not find"
    assert all(kits == 200 for *_, kits in found)
    assert all(".wav is damaged" in said[0] for place, _, said, *_ in found if place in recordings), "by its own name"


DAMAGE_RECORDS = """
from studio.maintenance.doctor import check_studio
report = check_studio(DATA, lambda done, total: None)
answers = {path: studio.client.get(f"/api{path}").status_code for path in ("/kits", "/library", "/grooves")}
print(json.dumps([said, [t.said for t in report.troubles], answers]))
"""


def test_damaged_records_never_keep_the_studio_from_starting(kept, tmp_path):
    """Bytes turned anywhere in the database: it starts, answers in sentences, and what it cannot read is named."""
    draw, named = random.Random(3), 0
    for number in range(3):
        data = shutil.copytree(kept[0], tmp_path / f"data{number}")
        database = data / "studio.sqlite3"
        records = bytearray(database.read_bytes())
        for _ in range(1 if number < 1 else 200):
            at = draw.randrange(100, len(records))
            records[at] ^= draw.choice((1, 16, 255))
        database.write_bytes(records)
        said, troubles, answers = run(data, DAMAGE_RECORDS)
        named += bool(said or troubles)
        assert set(answers.values()) <= {200, 503}, (number, answers)
    assert named >= 2, "two hundred turned bytes are always found"


def test_records_that_were_packed_anew_are_not_taken_for_damaged(data, kept):
    """Any program for SQLite may do it (VACUUM): every table lies elsewhere afterwards."""
    with sqlite3.connect(data / "studio.sqlite3") as opened:
        opened.execute("CREATE TABLE room (x)")
        opened.execute("DROP TABLE room")
    opened.execute("VACUUM")
    opened.close()
    said = run(data, "print(json.dumps([said, studio.kit(asked['kit'])['version']]))", **kept[1])
    assert said[0] == [] and said[1] > 1


def test_pages_that_are_gone_cost_what_stood_in_them_and_the_rest_is_used(kept, data):
    database = data / "studio.sqlite3"
    records = bytearray(database.read_bytes())
    page = int.from_bytes(records[16:18], "big")
    with sqlite3.connect(database) as opened:
        begins = "SELECT rootpage FROM sqlite_master WHERE name = 'library_sessionfile'"
        (root,) = opened.execute(begins).fetchone()
    opened.close()
    records[(root - 1) * page : root * page] = os.urandom(page)
    database.write_bytes(records)
    said, troubles, answers = run(data, DAMAGE_RECORDS)
    assert troubles or said
    fixed = zesty(data, "doctor", "--repair", "--json")
    assert json.loads(fixed.stdout)["looked_at"]["kits"] == 1, fixed.stderr
    after = zesty(data, "doctor", "--json")
    assert not [t for t in json.loads(after.stdout)["troubles"] if "records are damaged" in t["said"]]
    assert [path.name for path in data.glob("studio-damaged-*")], "the damaged file is kept"
    assert set(answers.values()) <= {200, 503}


def test_what_is_damaged_is_repaired_from_a_backup(kept, data, tmp_path):
    made = kept[1]
    before = run(data, STEMS, **made)
    assert zesty(data, "backup", tmp_path / "backup").returncode == 0
    recordings = sorted((data / "recordings").rglob("*.wav"))
    recordings[0].unlink()
    recordings[1].write_bytes(b"RIFF")
    found = zesty(data, "doctor")
    assert found.returncode == 1 and "is gone; add it again" in found.stdout and "lost:" in found.stdout
    spoil = (
        "from studio.kits.models import *; Part.objects.filter(hash=Part.objects.first().hash).update(data=b'x');"
        "KitVersion.objects.filter(number=2).update(head=b'y'); KitReference.objects.all().delete(); print('{}')"
    )
    run(data, spoil)
    fixed = json.loads(zesty(data, "doctor", "--repair", "--from", tmp_path / "backup", "--json").stdout)
    assert fixed["sound"] and all(trouble["repaired"] for trouble in fixed["troubles"])
    assert len(fixed["troubles"]) >= 5
    assert zesty(data, "doctor").returncode == 0
    assert run(data, STEMS, **made) == before


def test_the_storage_page_starts_a_backup_and_a_check_and_shows_the_last_of_each(data, tmp_path):
    code = """
folder = asked["folder"]
begin = studio.get("/maintenance")
studio.post("/maintenance/backup", {"folder": "backup"}, 422)
backup = studio.post("/maintenance/backup", {"folder": folder})
check = studio.post("/maintenance/check", {"repair": False})
print(json.dumps([begin, backup["state"], check["state"], studio.get("/maintenance")]))
"""
    begin, backup, check, after = run(data, code, folder=tmp_path / "backup")
    assert (begin, backup, check) == ({"backup": None, "check": None, "going": []}, "done", "done")
    assert after["backup"]["folder"] == str(tmp_path / "backup") and after["backup"]["problems"] == []
    assert after["check"]["sound"] and " recordings" in after["check"]["said"]
