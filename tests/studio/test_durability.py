"""What was acknowledged survives kill -9: the real server, killed the moment it has answered."""

import json
import os
import signal
import socket
import subprocess
import sys
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path

from tests.conftest import strike_sound, write_sound
from tests.waiting import until

ROOT = Path(__file__).resolve().parents[2]


class Server:
    def __init__(self, data: Path, **environment: str) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        self.address = f"http://127.0.0.1:{port}/api"
        self.environment = {**os.environ, "ZESTY_DATA": str(data), "DJANGO_SETTINGS_MODULE": "studio.settings"}
        self.environment |= environment
        if not data.exists():
            migrate = [sys.executable, "manage.py", "migrate", "-v0", "--skip-checks"]
            subprocess.run(migrate, cwd=ROOT, env=self.environment, check=True)
        self.process = self._started("server", "--port", str(port))
        until(self._answers)

    def _started(self, *program: str) -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "studio.children", *program]
        quiet = {"stdin": subprocess.PIPE, "stderr": subprocess.DEVNULL}
        return subprocess.Popen(command, cwd=ROOT, env=self.environment, start_new_session=True, **quiet)

    def _answers(self) -> bool:
        try:
            return self.call("/kits") is not None
        except (urllib.error.URLError, ConnectionError):
            return False

    def call(self, path: str, body: object = None):
        data = json.dumps(body).encode() if body is not None else None
        request = urllib.request.Request(self.address + path, data, {"Content-Type": "application/json"})
        with urllib.request.urlopen(request) as answer:
            return json.load(answer)

    def worker(self) -> subprocess.Popen[bytes]:
        return self._started("worker")

    def jobs_until(self, kit: str, reached: Callable[[list[dict]], bool]) -> list[dict]:
        def jobs() -> list[dict] | None:
            found = self.call(f"/kits/{kit}/jobs")
            return found if reached(found) else None

        return until(jobs, 90.0)

    def kill(self) -> None:
        kill(self.process)


def kill(process: subprocess.Popen[bytes]) -> None:
    os.killpg(process.pid, signal.SIGKILL)
    process.wait()


def test_acknowledged_edits_survive_kill_9(tmp_path: Path):
    data = tmp_path / "data"
    server = Server(data)
    kit = server.call("/kits", {"name": "Small"})
    version = server.call(f"/kits/{kit['id']}")["version"]
    for number in range(3):
        rename = {"kind": "rename_kit", "name": f"Name {number}"}
        state = server.call(f"/kits/{kit['id']}/edits", {"base_version": version, "edit": rename})
        version = state["version"]
        server.kill()
        server = Server(data)
        back = server.call(f"/kits/{kit['id']}")
        assert (back["version"], back["head"]["name"], back["undo"]) == (
            version,
            f"Name {number}",
            f"The kit is called Name {number}",
        )
    server.kill()


def test_bringing_in_goes_on_after_its_worker_was_killed(tmp_path: Path):
    for strength in range(1, 5):
        for repeat in range(1, 61):
            sound = strike_sound(-7.0 * (4 - strength), strength * 100 + repeat)
            write_sound(tmp_path / "inbox" / "Night" / f"kick_{strength}_{repeat:02d}.wav", sound)
    server = Server(tmp_path / "data", ZESTY_INBOX=str(tmp_path / "inbox"))
    kit = server.call("/kits", {"name": "Night"})["id"]
    server.call(f"/kits/{kit}/sessions/from-inbox", {"path": "Night"})
    worker = server.worker()
    server.jobs_until(kit, lambda jobs: jobs[0]["state"] == "running" and jobs[0]["done"] > 0)
    kill(worker)
    assert server.call(f"/kits/{kit}/sessions")[0]["read"] is False
    worker = server.worker()
    jobs = server.jobs_until(kit, lambda jobs: [job["state"] for job in jobs] == ["done", "stopped"])
    assert "went on afterwards" in jobs[1]["message"]
    session = server.call(f"/kits/{kit}/sessions")[0]
    assert (session["files"], server.call(f"/sessions/{session['id']}")["takes"]) == (240, 240)
    kill(worker)
    server.kill()
