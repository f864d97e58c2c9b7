"""What goes wrong in the studio costs itself alone, and ends in a sentence."""

import errno
import json
import sqlite3
import zipfile
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError, transaction

from studio.http import kits as routes
from studio.kits.models import KitRecord, KitVersion
from studio.sessions import archives, incoming
from studio.sessions.models import SessionFile
from studio.storage import prepared
from studio.storage.models import StoredFile
from studio.storage.recordings import folder
from tests.conftest import strike_sound, write_sound


def of_sqlite(code: int) -> OperationalError:
    """What Django raises where SQLite ends with a code; what it says of it is nobody's to rely on."""
    cause = sqlite3.OperationalError("whatever it says")
    cause.sqlite_errorcode = code
    error = OperationalError("whatever it says")
    error.__cause__ = cause
    return error


def rename(name: str) -> dict:
    return {"kind": "rename_kit", "name": name}


SPLIT = {"kind": "split_evenly", "articulation": "snare/centre"}


def test_an_edit_made_against_an_older_version_is_made_where_it_touches_something_else(studio, small_session):
    old = studio.kit_of(small_session)
    new = studio.edit(old, rename("Elsewhere"))
    met = studio.edit(old, SPLIT)
    assert (met["version"], met["head"]["name"]) == (new["version"] + 1, "Elsewhere")
    assert [piece["id"] for piece in met["pieces"]] == ["snare"], (
        "all that changed since the version it was made against"
    )
    clash = studio.edit(old, rename("Otherwise"), 409)
    assert clash["current"] == met["version"] and "changed elsewhere" in clash["detail"]
    assert studio.kit(old["id"])["head"]["name"] == "Elsewhere"
    assert studio.edit({**old, "version": 9999}, SPLIT, 409)["current"] == met["version"]


def test_an_edit_that_is_asked_for_again_is_made_once(studio, small_session):
    kit = studio.kit_of(small_session)
    body = {"base_version": kit["version"], "edit": {"kind": "flip_polarity", "mic": "room"}, "mark": "one"}
    first = studio.post(f"/kits/{kit['id']}/edits", body)
    again = studio.post(f"/kits/{kit['id']}/edits", body)
    assert again["version"] == first["version"]
    assert [mic["inverted"] for mic in again["head"]["mics"] if mic["id"] == "room"] == [True]
    assert KitVersion.objects.filter(kit_id=kit["id"]).count() == first["version"]
    assert studio.post(f"/kits/{kit['id']}/edits", {**body, "base_version": 0}, 409)["current"] == first["version"]


def test_the_version_is_answered_only_where_it_is_another(studio, small_session):
    kit = studio.kit_of(small_session)
    address = f"/api/kits/{kit['id']}/version"
    answer = studio.client.get(address)
    assert answer.json() == {"version": kit["version"]}
    tag = answer.headers["ETag"]
    same = studio.client.get(address, headers={"if-none-match": tag})
    assert (same.status_code, same.content) == (304, b"")
    studio.edit(kit, rename("B"))
    assert studio.client.get(address, headers={"if-none-match": tag}).json() == {"version": kit["version"] + 1}


@pytest.mark.parametrize(
    ("trouble", "status", "said"),
    [
        (OSError(errno.ENOSPC, "None left on device"), 507, "free some space"),
        (OSError(errno.EROFS, "Read-only file system"), 507, "free some space"),
        (of_sqlite(sqlite3.SQLITE_FULL), 507, "free some space"),
        (of_sqlite(sqlite3.SQLITE_READONLY), 507, "free some space"),
        (of_sqlite(sqlite3.SQLITE_IOERR_WRITE), 507, "free some space"),
        (of_sqlite(sqlite3.SQLITE_BUSY), 503, "busy"),
    ],
)
def test_no_room_and_a_busy_database_end_in_sentences(studio, monkeypatch, trouble, status, said):
    def fails(*_args, **_kwargs):
        raise trouble

    monkeypatch.setattr(routes, "create_kit", fails)
    assert said in studio.post("/kits", {"name": "A"}, status)["detail"]
    assert studio.get("/kits") == []


@pytest.mark.parametrize("damage", [b"", b"not packed", b"newer"])
def test_a_kit_that_cannot_be_read_hides_no_other(studio, small_session, damage):
    import zlib

    good = studio.kit_of(small_session)
    bad = studio.post("/kits", {"name": "Bad"})["id"]
    version = KitVersion.objects.get(kit_id=bad)
    version.head = zlib.compress(json.dumps({"format": 99, "pieces": []}).encode()) if damage == b"newer" else damage
    version.save()
    KitRecord.objects.filter(id=bad).update(summary=None)
    from studio.kits import versions

    versions._kits.clear()
    cards = {card["id"]: card for card in studio.get("/kits")}
    assert cards[good["id"]]["trouble"] == "" and cards[bad]["trouble"]
    said = "newer version" if damage == b"newer" else "cannot be read"
    assert said in studio.get(f"/kits/{bad}", 422)["detail"] and said in cards[bad]["trouble"]


def packed(path: Path, names: list[str], folder: str = "") -> Path:
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for number, name in enumerate(names):
            sound = write_sound(path.parent / "sound.wav", strike_sound(-6.0 * (number % 3), number))
            archive.write(sound, f"{folder}{name}")
    return path


def send(studio, path: Path) -> tuple[int, dict]:
    """The session of a zip that came in, and the job that reads it."""
    kit = studio.post("/kits", {"name": "Zip"})["id"]
    session = studio.post(f"/kits/{kit}/sessions", {"name": "Zip"})["id"]
    upload = SimpleUploadedFile(path.name, path.read_bytes())
    assert studio.send(f"/sessions/{session}/files", files=[upload], paths=[path.name])["kept"] == 1
    return session, studio.post(f"/sessions/{session}/read")


def stored_of(session: int) -> set[str]:
    files = SessionFile.objects.filter(session_id=session, stored__isnull=False)
    return set(files.values_list("path", flat=True))


def test_a_damaged_entry_costs_that_entry_and_is_listed(studio, tmp_path):
    path = packed(tmp_path / "Night.zip", [f"kick_{n}.wav" for n in range(4)], "Night/")
    data = bytearray(path.read_bytes())
    with zipfile.ZipFile(path) as archive:
        data[archive.infolist()[2].header_offset + 400] ^= 0xFF
    path.write_bytes(bytes(data))
    session, job = send(studio, path)
    assert job["state"] == "done"
    assert stored_of(session) == {"kick_0.wav", "kick_1.wav", "kick_3.wav"}, (
        "the folder that is only the archive's name says nothing"
    )
    why = {entry["path"]: entry["why"] for entry in studio.get(f"/sessions/{session}")["unread"]}
    assert "damaged" in why["kick_2.wav"]


def test_while_an_archive_is_unpacked_the_database_is_nobody_s(studio, tmp_path, monkeypatch):
    """Files are unpacked outside of any transaction, and named some at a time."""
    seen = []
    copy = archives.copy_entry

    def watched(*arguments):
        seen.append((transaction.get_connection().in_atomic_block, SessionFile.objects.count()))
        copy(*arguments)

    monkeypatch.setattr(archives, "copy_entry", watched)
    monkeypatch.setattr(archives, "NAMES_AT_ONCE", 2)
    send(studio, packed(tmp_path / "a.zip", [f"kick_{n}.wav" for n in range(5)]))
    assert seen == [(False, 0), (False, 0), (False, 2), (False, 2), (False, 4)]


def test_a_full_disk_keeps_what_was_unpacked_and_the_rest_comes_when_there_is_room(studio, tmp_path, monkeypatch):
    put, count = incoming.put_file, iter(range(100))

    def fills_up(*arguments, **options):
        if next(count) >= 2:
            raise OSError(errno.ENOSPC, "None left on device")
        return put(*arguments, **options)

    with monkeypatch.context() as patch:
        patch.setattr(incoming, "put_file", fills_up)
        session, job = send(studio, packed(tmp_path / "a.zip", [f"kick_{n}.wav" for n in range(4)]))
    assert job["state"] == "failed" and "free some space" in job["message"]
    assert stored_of(session) == {"kick_0.wav", "kick_1.wav"}
    assert studio.post(f"/sessions/{session}/read")["state"] == "done"
    assert len(stored_of(session)) == 4


def test_names_that_agree_in_their_first_thousand_letters_do_not_replace_one_another(studio, tmp_path):
    long = "a" * 1100
    kit = studio.post("/kits", {"name": "Long"})["id"]
    session = studio.post(f"/kits/{kit}/sessions", {"name": "Long"})["id"]
    sound = write_sound(tmp_path / "a.wav", strike_sound(0)).read_bytes()
    names = [f"{long}/{n}/kick_1.wav" for n in (1, 2)] + ["short/kick_2.wav"]
    files = [SimpleUploadedFile("a.wav", sound) for _ in names]
    kept = studio.send(f"/sessions/{session}/files", files=files, paths=names)
    assert kept["kept"] == 1 and len(kept["refused"]) == 2 and "longer than" in kept["refused"][0]["why"]


def test_sounds_made_ready_are_cleared_the_least_lately_used_first(studio, small_session, settings):
    import os

    kit = studio.kit_of(small_session)
    content = kit["play_pieces"][0]["articulations"][0]["takes"][0]["voices"][0]["sound"]["content"]
    for number, cents in enumerate((10, 20, 30)):
        assert studio.client.get(f"/api/sounds/{content}/48000/mono?cents={cents}").status_code == 200
        made = max(folder("prepared").rglob("*.flac"), key=lambda p: p.stat().st_ctime_ns)
        os.utime(made, (1_000_000 + number,) * 2)
    sizes = {p: p.stat().st_size for p in folder("prepared").rglob("*.flac")}
    settings.ZESTY_PREPARED_BYTES = sum(sizes.values()) - 1
    prepared.clear_prepared()
    left = [p for p in sizes if p.exists()]
    assert len(left) == 2 and all("+10" not in p.name for p in left)
    assert StoredFile.objects.exists(), "recordings are never cleared"
