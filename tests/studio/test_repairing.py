"""A recording whose file is damaged is found, named and repaired by bringing it in again."""

import hashlib

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from studio.storage.files import place_of
from studio.storage.models import StoredFile
from studio.storage.recordings import recordings

NAME = "Snare mic/sn_04_1.wav"


def cut_short(data: bytes) -> bytes:
    return data[: len(data) // 2]


def one_byte_turned(data: bytes) -> bytes:
    middle = len(data) // 2
    return data[:middle] + bytes([data[middle] ^ 0x10]) + data[middle + 1 :]


def gone(data: bytes) -> None:
    return None


@pytest.mark.parametrize("damage", [cut_short, one_byte_turned, gone])
def test_a_damaged_recording_is_a_finding_by_its_name_and_repaired_by_bringing_it_in_again(
    studio, small_session, damage
):
    kit = studio.kit_of(small_session)
    session = studio.get(f"/kits/{kit['id']}/sessions")[0]["id"]
    whole = (small_session / NAME).read_bytes()
    sha256 = hashlib.sha256(whole).hexdigest()
    stored = StoredFile.objects.get(sha256=sha256)
    place = place_of(stored)
    spoilt = damage(whole)
    place.unlink() if spoilt is None else place.write_bytes(spoilt)

    # It is noticed where it is read: tuned, so that it has to be.
    said = studio.get(f"/sounds/{stored.content}/48000/mono?cents=30", 422)["detail"]
    assert said == f"{NAME} is missing or damaged on the disk; add it again to repair it."
    found = [f for f in studio.get(f"/kits/{kit['id']}/findings") if f["rule"] == "damaged"]
    assert [f["title"] for f in found] == ["sn_04_1.wav cannot be read"] and NAME in found[0]["sentence"]
    assert studio.client.get(f"/api/kits/{kit['id']}/foreseen", {"finding": found[0]["key"]}).status_code == 200

    offered = [{"path": NAME, "sha256": sha256}]
    assert studio.post(f"/sessions/{session}/known", offered) == {"paths": [NAME]}
    kept = studio.send(f"/sessions/{session}/files", files=[SimpleUploadedFile("sn_04_1.wav", whole)], paths=[NAME])
    assert kept == {"kept": 1, "refused": []}
    assert hashlib.sha256(place.read_bytes()).hexdigest() == sha256
    assert studio.post(f"/sessions/{session}/known", offered) == {"paths": []}
    assert studio.client.get(f"/api/sounds/{stored.content}/48000/mono?cents=30").status_code == 200
    assert not [f for f in studio.get(f"/kits/{kit['id']}/findings") if f["rule"] == "damaged"]


def test_jobs_name_the_recording_that_stopped_them(studio, small_session):
    kit = studio.kit_of(small_session)
    stored = StoredFile.objects.get(sha256=hashlib.sha256((small_session / NAME).read_bytes()).hexdigest())
    place_of(stored).write_bytes(one_byte_turned(place_of(stored).read_bytes()))
    job = studio.post(f"/kits/{kit['id']}/lines")
    assert job["state"] == "failed"
    assert job["message"] == f"{NAME} is missing or damaged on the disk; add it again to repair it."


def test_a_file_damaged_before_it_was_measured_is_not_taken_for_no_audio(studio, small_session):
    kit_id = studio.post("/kits", {"name": "Small"})["id"]
    session = studio.post(f"/kits/{kit_id}/sessions", {"name": "S"})["id"]
    names = [NAME, "Snare mic/sn_03_1.wav"]
    whole = [(small_session / name).read_bytes() for name in names]

    def send() -> dict:
        files = [SimpleUploadedFile("a.wav", data) for data in whole]
        studio.send(f"/sessions/{session}/files", files=files, paths=names)
        return studio.post(f"/sessions/{session}/read")

    files = [SimpleUploadedFile("a.wav", data) for data in whole]
    studio.send(f"/sessions/{session}/files", files=files, paths=names)
    place = recordings().local(f"{hashlib.sha256(whole[0]).hexdigest()}.wav")
    place.write_bytes(b"RIFF")
    studio.post(f"/sessions/{session}/read")
    unread = studio.get(f"/sessions/{session}")["unread"]
    assert [entry["path"] for entry in unread] == [NAME] and "add it again to repair it" in unread[0]["why"]
    assert send()["state"] == "done" and studio.get(f"/sessions/{session}")["unread"] == []
