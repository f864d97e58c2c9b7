"""What was acknowledged survives kill -9: the real server, killed the moment it has answered."""

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


class Server:
    def __init__(self, data: Path) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        self.address = f"http://127.0.0.1:{port}/api"
        self.environment = {**os.environ, "ZESTY_DATA": str(data), "DJANGO_SETTINGS_MODULE": "studio.settings"}
        command = [sys.executable, "-m", "gunicorn", "studio.wsgi", "--bind", f"127.0.0.1:{port}", "--threads", "4"]
        subprocess.run([sys.executable, "manage.py", "migrate", "-v0"], cwd=ROOT, env=self.environment, check=True)
        self.process = subprocess.Popen(
            command, cwd=ROOT, env=self.environment, stderr=subprocess.DEVNULL, start_new_session=True
        )
        until = time.monotonic() + 30
        while time.monotonic() < until:
            try:
                self.call("/kits")
                return
            except (urllib.error.URLError, ConnectionError):
                time.sleep(0.05)
        raise AssertionError("the server did not start")

    def call(self, path: str, body: object = None):
        data = json.dumps(body).encode() if body is not None else None
        request = urllib.request.Request(self.address + path, data, {"Content-Type": "application/json"})
        with urllib.request.urlopen(request) as answer:
            return json.load(answer)

    def kill(self) -> None:
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()


def test_acknowledged_edits_survive_kill_9(tmp_path: Path):
    server = Server(tmp_path)
    kit = server.call("/kits", {"name": "Small"})
    version = server.call(f"/kits/{kit['id']}")["version"]
    for number in range(3):
        rename = {"kind": "rename_kit", "name": f"Name {number}"}
        state = server.call(f"/kits/{kit['id']}/edits", {"base_version": version, "edit": rename})
        version = state["version"]
        server.kill()
        server = Server(tmp_path)
        back = server.call(f"/kits/{kit['id']}")
        assert (back["version"], back["head"]["name"], back["undo"]) == (version, f"Name {number}", "Rename kit")
    server.kill()
