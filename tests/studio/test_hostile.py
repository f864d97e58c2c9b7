"""The API asked from its own document: FUZZ in the environment changes how many, SEED which."""

import os
import random
import zipfile
from collections import Counter

import numpy as np
import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile

from drumcore.demo.grooves import demo_grooves
from drumcore.formats.midi import write_midi
from studio.http.api import api
from tests.studio.hostile import Hostile, spoilt

MAY_BE = {503, 507}


def test_no_request_is_answered_by_a_fault(studio, small_session):
    kit = studio.kit_of(small_session)
    session = studio.get(f"/kits/{kit['id']}/sessions")[0]["id"]
    sound = kit["play_pieces"][0]["articulations"][0]["takes"][0]["voices"][0]["sound"]["content"]
    known = {
        "kit_id": [kit["id"]],
        "session_id": [str(session)],
        "articulation": ["snare/centre", "kick/centre"],
        "take": ["t1", "t2"],
        "content": [sound],
    }
    # What a request removes is gone for all that follow.
    document = {**api.get_openapi_schema(), "paths": {**api.get_openapi_schema()["paths"]}}
    document["paths"] = {
        path: {m: o for m, o in methods.items() if (m, path) != ("delete", "/api/kits/{kit_id}")}
        for path, methods in document["paths"].items()
    }
    studio.client.raise_request_exception = False
    asked, faults = Counter[int](), []
    made = Hostile(document, known, int(os.environ.get("SEED", "1")))
    for method, path, body in made.requests(int(os.environ.get("FUZZ", "300"))):
        send = getattr(studio.client, method)
        answer = send(path) if method == "get" else send(path, body or b"", content_type="application/json")
        asked[answer.status_code] += 1
        if answer.status_code >= 500 and answer.status_code not in MAY_BE:
            faults.append((method, path[:200], (body or b"")[:400]))
        if answer.status_code >= 400 and path.startswith("/api") and answer.status_code != 404:
            assert answer.json()["detail"], (method, path)
    print(f"{sum(asked.values())} requests of {len(made.operations)} operations: {dict(sorted(asked.items()))}")
    assert not faults, faults[:5]
    assert asked[200] > 0.1 * sum(asked.values()), "enough of them are as the document says"
    assert studio.kit(kit["id"])["id"] == kit["id"], "and the kit still opens"


def test_no_file_is_answered_by_a_fault(studio, small_session, tmp_path):
    kit = studio.kit_of(small_session)
    job = studio.post(f"/kits/{kit['id']}/exports/kit-file", {})
    write_midi(demo_grooves()[2], tmp_path / "a.mid")
    wav = (small_session / "Room" / "kick_01_1.wav").read_bytes()
    soundfile.write(tmp_path / "a.flac", np.zeros((4800, 2)), 48000)
    soundfile.write(tmp_path / "a.aiff", np.zeros((4800, 2)), 48000)
    with zipfile.ZipFile(tmp_path / "a.zip", "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("kick_1.wav", wav)
    whole = {
        "a.zestykit": studio.download(job["download"]).getvalue(),
        "a.wav": wav,
        **{name: (tmp_path / name).read_bytes() for name in ("a.mid", "a.zip", "a.flac", "a.aiff")},
    }
    draw, asked = random.Random(int(os.environ.get("SEED", "1"))), Counter[str]()
    session = studio.post(f"/kits/{kit['id']}/sessions", {"name": "Hostile"})["id"]
    studio.client.raise_request_exception = False
    for number in range(int(os.environ.get("FUZZ", "300")) // 4):
        name = draw.choice(list(whole))
        upload = SimpleUploadedFile(f"{number}{name}", spoilt(whole[name], draw))
        address, fields = f"/api/sessions/{session}/files", {"files": [upload], "paths": [f"{number}{name}"]}
        if name in ("a.zestykit", "a.mid"):
            address, fields = f"/api/{'kit-files' if name == 'a.zestykit' else 'grooves'}", {"file": upload}
        answer = studio.client.post(address, fields)
        assert answer.status_code in (200, 422), (number, name, answer.content[:300])
        asked[f"{name} {answer.status_code}"] += 1
        if name == "a.zestykit":
            said = answer.json()
            assert said["state"] in ("done", "failed") and "wrong inside" not in said["message"], (number, said)
            if said["state"] == "done":
                assert studio.kit(said["kit"])["play_pieces"] is not None
    read = studio.post(f"/sessions/{session}/read")
    assert read["state"] == "done", read
    print(dict(sorted(asked.items())))
    assert all(card["trouble"] == "" for card in studio.get("/kits"))
