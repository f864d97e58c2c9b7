"""Archives from anywhere: judged before they are unpacked, unpacked by a job that can be cancelled and goes on."""

import io
import os
import struct
import zipfile

from django.core.files.uploadedfile import SimpleUploadedFile

from studio.jobs import runner
from studio.sessions import archives
from studio.sessions.models import SessionFile
from studio.storage.recordings import uploads_folder
from tests.conftest import strike_sound, write_sound


def sent(studio, data: bytes, name: str = "Night.zip") -> tuple[int, dict]:
    kit = studio.post("/kits", {"name": "Zip"})["id"]
    session = studio.post(f"/kits/{kit}/sessions", {"name": "Zip"})["id"]
    return session, studio.send(f"/sessions/{session}/files", files=[SimpleUploadedFile(name, data)], paths=[name])


def packed(tmp_path, names: list[str], beside: dict[str, bytes] | None = None) -> bytes:
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for number, name in enumerate(names):
            archive.write(write_sound(tmp_path / "sound.wav", strike_sound(-6.0 * (number % 3), number)), name)
        for name, data in (beside or {}).items():
            archive.writestr(name, data)
    return made.getvalue()


def test_what_no_session_can_use_is_not_unpacked(studio, tmp_path, monkeypatch):
    unpacked = []
    copy = archives.copy_entry
    monkeypatch.setattr(archives, "copy_entry", lambda a, info, t: (unpacked.append(info.filename), copy(a, info, t)))
    notes = {f"notes/{n}.txt": b"x" for n in range(300)}
    session, kept = sent(studio, packed(tmp_path, ["kick_1.wav"], {**notes, "__MACOSX/._kick_1.wav": b"x"}))
    assert (kept["kept"], kept["refused"], unpacked) == (1, [], []), "kept as it came, and unpacked when it is read"
    job = studio.post(f"/sessions/{session}/read")
    assert job["state"] == "done" and unpacked == ["kick_1.wav"]
    unread = {entry["path"]: entry["why"] for entry in studio.get(f"/sessions/{session}")["unread"]}
    assert len(unread) == 300 and "not a WAV" in unread["notes/7.txt"]
    assert not any(uploads_folder().iterdir()), "nothing of it is left over"


def shared(data: bytes, copies: int) -> bytes:
    """An archive whose directory names its one entry again and again: a small file that unpacks to as much as it likes."""
    end = data.rindex(b"PK\x05\x06")
    size, start = struct.unpack("<II", data[end + 12 : end + 20])
    entry = data[start : start + size]
    length = struct.unpack("<H", entry[28:30])[0]
    names = [f"kick_{n}.wav".ljust(length, "x")[:length].encode() for n in range(copies)]
    directory = b"".join(entry[:46] + name + entry[46 + length :] for name in names)
    tail = struct.pack("<IHHHHIIH", 0x06054B50, 0, 0, copies, copies, len(directory), start, 0)
    return data[:start] + directory + tail


def test_entries_that_share_their_bytes_are_refused(studio, tmp_path):
    made = shared(packed(tmp_path, ["kick_1.wav"]), 12)
    assert len(zipfile.ZipFile(io.BytesIO(made)).infolist()) == 12
    _, kept = sent(studio, made)
    assert kept["kept"] == 0 and "lie over one another" in kept["refused"][0]["why"]
    opened = studio.send("/kit-files", file=SimpleUploadedFile("x.zestykit", made))
    assert opened["state"] == "failed" and "lie over one another" in opened["message"]


def test_unpacking_can_be_cancelled_and_goes_on_where_it_was(studio, tmp_path, monkeypatch):
    monkeypatch.setattr(archives, "NAMES_AT_ONCE", 2)
    session, _ = sent(studio, packed(tmp_path, [f"kick_{n}.wav" for n in range(1, 8)]))
    work, told = runner._kinds["read_session"].work, []

    def cancelled_after_three(job, progress):
        def tell(done, total):
            told.append((done, total))
            if done == 3:
                runner.cancel(job)
            progress(10**9, 10**9)

        return work(job, tell)

    monkeypatch.setitem(runner._kinds, "read_session", runner.JobKind(cancelled_after_three))
    job = studio.post(f"/sessions/{session}/read")
    assert job["state"] == "cancelled" and told[-1] == (3, 7)
    names = SessionFile.objects.filter(session_id=session)
    assert set(names.values_list("path", flat=True)) == {"kick_1.wav", "kick_2.wav", "kick_3.wav"}
    unpacked = []
    copy = archives.copy_entry
    monkeypatch.setattr(archives, "copy_entry", lambda a, info, t: (unpacked.append(info.filename), copy(a, info, t)))
    monkeypatch.setitem(runner._kinds, "read_session", runner.JobKind(work))
    assert studio.post(f"/sessions/{session}/read")["state"] == "done"
    assert unpacked == ["kick_4.wav", "kick_5.wav", "kick_6.wav", "kick_7.wav"]
    assert names.count() == 7 and not any(uploads_folder().iterdir())


def test_an_archive_that_waits_is_counted_with_its_session_and_goes_with_it(studio, tmp_path):
    session, _ = sent(studio, packed(tmp_path, ["kick_1.wav"]))
    kit = studio.get("/library/kits")["entries"][0]["id"]
    assert studio.get(f"/kits/{kit}/sessions")[0]["files"] == 1
    room = studio.get("/library/room")
    assert room["uploads"] > 1000
    (upload,) = uploads_folder().iterdir()
    os.utime(upload, (1, 1))
    assert studio.get("/library/unneeded") == {"files": 0, "bytes": 0}, "somebody may still read it"
    studio.post("/library/remove", {"things": [{"kind": "sessions", "id": str(session)}]})
    assert studio.get("/library/unneeded")["files"] == studio.post("/library/clear")["files"] == 1
    assert not upload.exists()
