"""Bringing recordings in: stored once, measured once, read with reasons; hostile archives stay in their folder."""

import io
import zipfile
from pathlib import Path

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile

from drumcore.recordings.files import files_under
from studio.sessions.models import Session, WordRecord
from studio.storage.models import StoredFile
from tests.conftest import strike_sound, write_sound


def stored_files() -> list[Path]:
    return [p for p in (settings.DATA / "recordings").rglob("*") if p.is_file()]


def test_a_folder_comes_in_is_measured_and_read(studio, small_session):
    kit_id = studio.post("/kits", {"name": "Small"})["id"]
    came = studio.bring_in(kit_id, small_session)
    count = len(files_under(small_session))
    assert came["kept"] == {"kept": count, "refused": []}
    assert (came["job"]["state"], came["job"]["done"], came["job"]["total"]) == ("done", count, count)
    reading = studio.get(f"/sessions/{came['session']}")
    assert (reading["files"], reading["takes"], reading["pieces"]) == (count, 30, 4)
    assert {s["articulation_id"]: s["sizes"] for s in reading["articulations"]}["snare/centre"] == [3, 3, 3, 3]
    assert {f["name"]: f["files"] for f in reading["folders"]}["Room"] == 30


def test_the_same_recording_is_stored_once_whatever_its_name(studio, small_session):
    kit_id = studio.post("/kits", {"name": "Small"})["id"]
    studio.bring_in(kit_id, small_session)
    once = len(stored_files())
    studio.bring_in(kit_id, small_session)
    assert len(stored_files()) == once == StoredFile.objects.count()
    assert not [p for p in stored_files() if p.suffix == ".part"]


def test_bad_files_are_listed_and_the_good_come_in(studio, tmp_path):
    root = tmp_path / "mixed"
    for strength in (1, 2, 3):
        write_sound(root / "Kick" / f"kick_{strength}_1.wav", strike_sound(-10 * (3 - strength), strength))
    good = (root / "Kick" / "kick_3_1.wav").read_bytes()
    (root / "Kick" / "kick_4_1.wav").write_bytes(good[:5000])
    (root / "Kick" / "kick_5_1.wav").write_text("Buy lamp oil.")
    (root / "Kick" / "kick_6_1.wav").write_bytes(b"")
    (root / "notes.txt").write_text("Buy lamp oil.")
    kit_id = studio.post("/kits", {"name": "Mixed"})["id"]
    came = studio.bring_in(kit_id, root)
    reading = studio.get(f"/sessions/{came['session']}")
    assert reading["takes"] == 3
    why = {u["path"]: u["why"] for u in reading["unread"]}
    assert "cut short" in why["Kick/kick_4_1.wav"]
    assert "not audio" in why["Kick/kick_5_1.wav"]
    assert "is empty" in why["Kick/kick_6_1.wav"]
    assert "not a WAV, AIFF or FLAC" in why["notes.txt"]


def zip_of(entries: dict[str, bytes]) -> SimpleUploadedFile:
    raw = io.BytesIO()
    with zipfile.ZipFile(raw, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in entries.items():
            archive.writestr(name, data)
    return SimpleUploadedFile("session.zip", raw.getvalue())


def send_zip(studio, upload: SimpleUploadedFile) -> tuple[str, int, dict]:
    kit_id = studio.post("/kits", {"name": "Zipped"})["id"]
    session = studio.post(f"/kits/{kit_id}/sessions", {"name": "zip"})["id"]
    return kit_id, session, studio.send(f"/sessions/{session}/files", files=[upload], paths=["session.zip"])


def test_a_zip_comes_in_and_its_entries_never_leave_their_folder(studio, small_session, tmp_path):
    names = [n for n in files_under(small_session) if n.startswith("Kick")]
    entries = {n: (small_session / n).read_bytes() for n in names}
    entries |= {"../../escaped.wav": entries[names[0]], "/abs.wav": entries[names[0]], "__MACOSX/._x.wav": b"x"}
    _, session, kept = send_zip(studio, zip_of(entries))
    assert kept == {"kept": 1, "refused": []}
    job = studio.post(f"/sessions/{session}/read")
    assert ["escaped" in why for why in job["problems"]] == [True, False] and "/abs.wav" in job["problems"][1]
    assert all("outside its folder" in why for why in job["problems"])
    assert not list(tmp_path.rglob("escaped.wav")) and not Path("/abs.wav").exists()
    assert studio.get(f"/sessions/{session}")["takes"] == len(names)


def test_a_zip_bomb_and_a_false_zip_are_refused_with_a_sentence(studio):
    _, _, kept = send_zip(studio, zip_of({"kick_1.wav": bytes(80 << 20)}))
    assert kept["kept"] == 0 and "times its size" in kept["refused"][0]["why"]
    _, session, kept = send_zip(studio, SimpleUploadedFile("session.zip", b"PK nothing"))
    assert "not a zip archive" in kept["refused"][0]["why"]
    assert "No files came in" in studio.post(f"/sessions/{session}/read")["message"]


def test_paths_that_climb_out_are_refused(studio, small_session):
    kit_id = studio.post("/kits", {"name": "Climb"})["id"]
    session = studio.post(f"/kits/{kit_id}/sessions", {"name": "x"})["id"]
    upload = SimpleUploadedFile("a.wav", (small_session / "Kick mic/kick_01_1.wav").read_bytes())
    kept = studio.send(f"/sessions/{session}/files", files=[upload], paths=["../../a.wav"])
    assert kept["kept"] == 0 and "outside its folder" in kept["refused"][0]["why"]


def test_sounds_and_peaks_are_served_for_keeps(studio, small_session):
    kit = studio.kit_of(small_session)
    heard = studio.get(f"/kits/{kit['id']}/recordings?articulation=snare/centre&take=t1")
    assert [r["mic"] for r in heard] == ["snare-mic", "overheads", "room"]
    content = heard[0]["content"]
    for width, kind in (("stereo", "audio/flac"), ("mono", "audio/wav")):  # made, and the original as it is
        answer = studio.client.get(f"/api/sounds/{content}/48000/{width}")
        assert answer["Content-Type"] == kind and "immutable" in answer["Cache-Control"]
    peaks = studio.client.get(f"/api/peaks/{content}?points=50")
    assert "immutable" in peaks["Cache-Control"]
    assert len(peaks.json()["low"]) == 50 and max(peaks.json()["high"]) > 0.001 and min(peaks.json()["low"]) < -0.001
    assert "missing or damaged" in studio.get(f"/peaks/{'0' * 40}", 422)["detail"]
    assert "not a sound" in studio.get(f"/sounds/{content}/12345/mono", 422)["detail"]


def test_several_sounds_come_in_one_answer_as_many_as_fit(studio, small_session, monkeypatch):
    kit = studio.kit_of(small_session)
    heard = studio.get(f"/kits/{kit['id']}/recordings?articulation=snare/centre&take=t1")
    asked = [(r["content"], width, "", "", side) for r in heard for width, side in (("mono", ""), ("stereo", "left"))]

    def together(sounds, rate: int = 48000):
        said = "&".join("of=" + ",".join(sound) for sound in sounds)
        return studio.client.get(f"/api/sounds/together/{rate}?{said}")

    def files(answer) -> list[bytes]:
        left, found = answer.content, []
        while left:
            size = int.from_bytes(left[:4], "big")
            found.append(left[4 : 4 + size])
            left = left[4 + size :]
        return found

    answer = together(asked)
    alone = [f"/api/sounds/{c}/48000/{width}" + (f"?flipped={side}" if side else "") for c, width, _, _, side in asked]
    assert files(answer) == [b"".join(studio.client.get(path).streaming_content) for path in alone]
    assert "immutable" in answer["Cache-Control"]
    # One that cannot be had costs itself, and is not kept as missing for good.
    lost = together([asked[0], ("0" * 40, "mono", "", "", ""), asked[1]])
    assert [len(file) > 0 for file in files(lost)] == [True, False, True] and lost["Cache-Control"] == "no-store"
    monkeypatch.setattr("studio.http.sound_bundles.MOST_BYTES", 1000)
    assert len(files(together(asked))) == 1
    for wrong in (
        [("../x", "mono", "", "", "")],
        [("a", "wide", "", "", "")],
        [("a", "mono", "9e9", "", "")],
        [("a",)],
    ):
        assert together(wrong).status_code == 422
    assert together(asked, 12345).status_code == 422


def test_files_and_paths_must_match(studio, small_session):
    kit_id = studio.post("/kits", {"name": "Odd"})["id"]
    session = studio.post(f"/kits/{kit_id}/sessions", {"name": "x"})["id"]
    upload = SimpleUploadedFile("a.wav", (small_session / "Kick mic/kick_01_1.wav").read_bytes())
    said = studio.send(f"/sessions/{session}/files", 422, files=[upload], paths=["a.wav", "b.wav"])
    assert said["detail"] == "1 files came with 2 paths; send one path for each file."


def test_an_unread_session_makes_no_pieces(studio):
    kit_id = studio.post("/kits", {"name": "Early"})["id"]
    session = studio.post(f"/kits/{kit_id}/sessions", {"name": "x"})["id"]
    said = studio.post(f"/sessions/{session}/pieces", {"base_version": 1}, 422)
    assert "has not been read yet" in said["detail"]
    assert studio.client.delete(f"/api/kits/{kit_id}").status_code == 204
    assert kit_id not in {k["id"] for k in studio.get("/kits")}


def test_what_an_older_rule_measured_is_measured_anew(studio, small_session):
    kit = studio.kit_of(small_session)
    session = Session.objects.get(kits=kit["id"])
    one = StoredFile.objects.filter(measured__has_key="file").first()
    wrong = {**one.measured, "rules": 1}
    wrong["file"] = {**wrong["file"], "measurements": {**wrong["file"]["measurements"], "start_ms": 400.0}}
    StoredFile.objects.filter(sha256=one.sha256).update(measured=wrong)
    studio.post(f"/sessions/{session.id}/read")
    again = StoredFile.objects.get(sha256=one.sha256).measured
    assert again == one.measured and again["file"]["measurements"]["start_ms"] < 100.0


def test_a_word_of_blanks_is_refused_and_one_kept_before_hides_no_session(studio, small_session):
    kit_id = studio.post("/kits", {"name": "Words"})["id"]
    session = studio.bring_in(kit_id, small_session)["session"]
    for word in (" ", "İ" * 60):
        said = studio.post(f"/sessions/{session}/guidance", {"words": [{"word": word, "meaning": "piece"}]}, 422)
        assert "word" in said["detail"]
    studio.post(
        f"/sessions/{session}/guidance", {"words": [{"word": "  Boom   Box ", "meaning": "piece", "value": "Kick"}]}
    )
    WordRecord.objects.create(word="", meaning="piece")
    assert [w["word"] for w in studio.get(f"/sessions/{session}")["words"]] == ["boom box"]
