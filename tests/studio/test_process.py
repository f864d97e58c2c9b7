"""The studio as one program: who may speak to it, what it does when a part of it ends, and that nothing is left behind."""

import os
import re
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

import pytest

from studio.storage.locks import SILENT_FOR_S, ProcessLock, holder, is_silent
from tests.waiting import until

ROOT = Path(__file__).resolve().parents[2]


class Running:
    """`python -m studio` on a folder of its own."""

    def __init__(self, data: Path) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.environment = {**os.environ, "ZESTY_DATA": str(data), "PYTHONUNBUFFERED": "1"}
        self.process = subprocess.Popen(
            self.command(), cwd=ROOT, env=self.environment, stdout=subprocess.PIPE, text=True
        )
        assert self.process.stdout is not None
        assert any("ready at" in line for line in self.process.stdout)

    def command(self) -> list[str]:
        return [sys.executable, "-m", "studio", "--port", str(self.port)]

    def children(self) -> dict[str, int]:
        """Its programs by name."""
        found = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text().split()
        lines = {int(pid): Path(f"/proc/{pid}/cmdline").read_bytes().decode().split("\0") for pid in found}
        return {line[3]: pid for pid, line in lines.items() if len(line) > 3}

    def asked(self, path: str = "/api/kits", **headers: str) -> tuple[int, str, dict[str, str]]:
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", headers=headers)
        try:
            with urllib.request.urlopen(request, timeout=10) as answer:
                return answer.status, answer.read().decode("utf-8", "replace"), dict(answer.headers)
        except urllib.error.HTTPError as error:
            return error.code, error.read().decode(), dict(error.headers)


STOPPED_AT_ANY_MOMENT = """
import os, signal, threading, time
from studio import __main__ as studio

class Quiet:
    def __init__(self, *_): self.seen = False
    def look(self):
        if not self.seen: threading.Thread(target=stop).start()
        self.seen = True
    def end(self): pass
    def wait(self, until): pass

def stop():
    # At another moment of its looking every time; nothing is waited for.
    time.sleep(moment % 50 * 1e-5)
    os.kill(os.getpid(), signal.SIGINT)

studio.Program, studio._announce, studio.LOOKS_EVERY_S = Quiet, lambda port: None, 0.0
for moment in range(2000):
    assert studio._supervise(0) == 0
"""


def test_it_is_stopped_at_whatever_moment_it_is_asked():
    """It looks at its programs without a pause here, so that it is asked while it does something."""
    subprocess.run([sys.executable, "-c", STOPPED_AT_ANY_MOMENT], cwd=ROOT, check=True, timeout=60)


def test_one_studio_a_folder_whose_parts_come_back_and_end_with_it(tmp_path: Path):
    studio = Running(tmp_path)
    try:
        second = subprocess.run(
            studio.command(), cwd=ROOT, env=studio.environment, capture_output=True, text=True, check=False
        )
        assert second.returncode == 2 and "runs on this folder already" in second.stderr
        elsewhere = {**studio.environment, "ZESTY_DATA": str(tmp_path / "other")}
        taken = subprocess.run(studio.command(), cwd=ROOT, env=elsewhere, capture_output=True, text=True, check=False)
        assert taken.returncode == 2 and "in use by another program" in taken.stderr

        first = until(lambda: studio.children() if len(studio.children()) == 2 else None)
        os.kill(first["worker"], signal.SIGKILL)
        again = until(
            lambda: (
                c if len(c := studio.children()) == 2 and c.get("worker", first["worker"]) != first["worker"] else None
            )
        )
        until(lambda: holder(tmp_path / "worker.lock"))

        # Forty requests that never end, and one that asks meanwhile.
        half_sent = []
        for _ in range(40):
            one = socket.create_connection(("127.0.0.1", studio.port))
            one.sendall(b"POST /api/kits HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 5000\r\n\r\n{")
            half_sent.append(one)
        began = time.monotonic()
        assert studio.asked()[0] == 200 and time.monotonic() - began < 5.0
        for one in half_sent:
            one.close()
    finally:
        studio.process.kill()
        studio.process.wait()
    until(lambda: not any(Path(f"/proc/{pid}").exists() for pid in again.values()))
    back = Running(tmp_path)
    assert back.asked()[0] == 200
    back.process.send_signal(signal.SIGTERM)
    assert back.process.wait(timeout=20) == 0


def test_what_calculates_is_loaded_when_something_is_calculated(tmp_path: Path):
    """It takes as long as all the rest of starting."""
    program = "import sys, django; django.setup(); import studio.http.api; print(*sys.modules)"
    environment = {**os.environ, "ZESTY_DATA": str(tmp_path), "DJANGO_SETTINGS_MODULE": "studio.settings"}
    said = subprocess.run(
        [sys.executable, "-c", program], cwd=ROOT, env=environment, capture_output=True, text=True, check=True
    )
    loaded = set(said.stdout.split())
    assert "drumcore.spaces.hall" in loaded
    assert not loaded & {"scipy.fft", "scipy.optimize", "scipy.signal", "scipy.stats", "numba"}


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 200),
        ({"host": "localhost:8480"}, 200),
        ({"host": "evil.example"}, 403),
        ({"host": "127.0.0.1", "origin": "http://evil.example"}, 403),
        ({"host": "127.0.0.1", "origin": "http://127.0.0.1"}, 200),
        ({"sec-fetch-site": "cross-site"}, 403),
    ],
)
def test_only_the_studio_s_own_pages_read_and_write(studio, headers: dict[str, str], status: int):
    assert studio.client.get("/api/kits", headers=headers).status_code == status
    sent = studio.client.post("/api/kits", '{"name": "A"}', content_type="application/json", headers=headers)
    assert sent.status_code == status
    assert len(studio.client.get("/api/kits").json()) == (status == 200)


def test_another_machine_is_refused_and_pages_say_what_they_may_do(studio):
    said = studio.client.get("/api/kits", REMOTE_ADDR="192.168.1.7")
    assert said.status_code == 403 and "this machine only" in said.json()["detail"]
    headers = studio.client.get("/api/kits").headers
    assert "frame-ancestors 'none'" in headers["Content-Security-Policy"] and headers["X-Frame-Options"] == "DENY"
    assert re.search(r"default-src 'self'", headers["Content-Security-Policy"])


def test_a_lock_tells_who_holds_it_and_whether_it_gives_signs_of_life(tmp_path: Path):
    path = tmp_path / "worker.lock"
    assert holder(path) is None and is_silent(path)
    lock = ProcessLock(path, "me")
    assert lock.take() and not ProcessLock(path, "you").take() and holder(path) == "me"
    assert not is_silent(path)
    for apart in (SILENT_FOR_S + 1, -SILENT_FOR_S - 1):
        os.utime(path, (time.time() + apart,) * 2)
        assert is_silent(path), "paused, or the clock was set"
    lock.beat()
    assert not is_silent(path)
