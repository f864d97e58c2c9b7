"""The studio over real requests, on a real SQLite file, jobs done on the spot."""

import io
import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from drumcore.recordings.files import files_under
from studio.people.workspace import LOCAL, acting_in


class Studio:
    """What the interface does, as a script."""

    def __init__(self) -> None:
        self.client = Client()

    def get(self, path: str, status: int = 200):
        answer = self.client.get(f"/api{path}")
        assert answer.status_code == status, answer.content
        return answer.json()

    def post(self, path: str, body: object = None, status: int = 200):
        answer = self.client.post(f"/api{path}", json.dumps(body or {}), content_type="application/json")
        assert answer.status_code == status, answer.content
        return answer.json()

    def send(self, path: str, status: int = 200, **fields):
        answer = self.client.post(f"/api{path}", fields)
        assert answer.status_code == status, answer.content
        return answer.json()

    def edit(self, kit: dict, edit: dict, status: int = 200, gesture: str = ""):
        body = {"base_version": kit["version"], "edit": edit, "gesture": gesture}
        return self.post(f"/kits/{kit['id']}/edits", body, status)

    def kit(self, kit_id: str) -> dict:
        return self.get(f"/kits/{kit_id}")

    def bring_in(self, kit_id: str, root: Path, names: list[str] | None = None, **said: object) -> dict:
        """Bring a folder in as a session, of which more may be said, and read it; the session and the job."""
        session = self.post(f"/kits/{kit_id}/sessions", {"name": root.name, **said})
        names = names or files_under(root)
        files = [SimpleUploadedFile(Path(name).name, (root / name).read_bytes()) for name in names]
        kept = self.send(f"/sessions/{session['id']}/files", files=files, paths=names)
        job = self.post(f"/sessions/{session['id']}/read")
        return {"session": session["id"], "kept": kept, "job": job}

    def kit_of(self, root: Path, name: str = "Small") -> dict:
        """A kit with the pieces of a folder."""
        kit_id = self.post("/kits", {"name": name})["id"]
        came = self.bring_in(kit_id, root)
        assert came["job"]["state"] == "done", came["job"]
        return self.post(f"/sessions/{came['session']}/pieces", {"base_version": self.kit(kit_id)["version"]})

    def download(self, path: str) -> io.BytesIO:
        answer = self.client.get(path)
        assert answer.status_code == 200, answer
        return io.BytesIO(b"".join(answer.streaming_content))


@pytest.fixture(autouse=True)
def at_this_machine() -> Iterator[None]:
    """What a test asks of the rows directly is asked as the person at this machine."""
    with acting_in(LOCAL):
        yield


@pytest.fixture
def studio(transactional_db, tmp_path, monkeypatch) -> Studio:
    from huey.contrib.djhuey import HUEY

    monkeypatch.setattr(settings, "DATA", tmp_path / "data")
    monkeypatch.setattr(HUEY, "immediate", True)
    from studio.kits import versions

    versions._kits.clear()
    return Studio()
