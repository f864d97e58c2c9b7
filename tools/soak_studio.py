"""The studio under soak: started as a user starts it, accessed over HTTP, with every response validated."""

import contextlib
import http.client
import json
import os
import subprocess
import sys
import threading
import time
import uuid
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path
from types import TracebackType
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
SLOWEST_S = 10.0
GIVES_UP_S = 90.0
SIZE_MB = 900


class Place:
    """A folder for the studio, on a small disk of its own if one can be mounted."""

    def __init__(self, folder: Path) -> None:
        self.folder, self.data = folder / "disk", folder / "disk" / "data"
        self.clock = folder / "clock"
        self.folder.mkdir()
        self.clock.write_text("0")
        self.shim = folder / "clock.so"
        compiler = ["cc", "-shared", "-fPIC", "-O1", "-o", str(self.shim), str(ROOT / "tools" / "soak_clock.c"), "-ldl"]
        try:
            self.clock_moves = subprocess.run(compiler, capture_output=True, check=False).returncode == 0
        except FileNotFoundError:
            self.clock_moves = False
        options = ["-t", "tmpfs", "-o", f"size={SIZE_MB}m", "tmpfs", str(self.folder)]
        self.small = subprocess.run(["mount", *options], capture_output=True, check=False).returncode == 0

    def __enter__(self) -> "Place":
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        if self.small:
            subprocess.run(["umount", "-l", str(self.folder)], check=False)


@dataclass
class Ledger:
    """A record of requests and their responses. `edits` are confirmed ones: the level set in a kit's version; `files`
    the hash by session and path; `kits` those made and not deleted since, of which the `editors`' are left alone;
    `jobs` those started.
    """

    counts: Counter[str] = field(default_factory=Counter)
    statuses: Counter[int] = field(default_factory=Counter)
    edits: dict[tuple[str, int], float] = field(default_factory=dict)
    files: dict[tuple[int, str], str] = field(default_factory=dict)
    kits: set[str] = field(default_factory=set)
    editors: set[str] = field(default_factory=set)
    deleted: set[str] = field(default_factory=set)
    sessions_deleted: set[int] = field(default_factory=set)
    jobs: set[str] = field(default_factory=set)
    wrong: list[str] = field(default_factory=list)
    slowest_s: float = 0.0
    memory_mb: dict[str, float] = field(default_factory=dict)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def count(self, what: str, by: int = 1) -> None:
        with self.lock:
            self.counts[what] += by

    def is_wrong(self, said: str) -> None:
        with self.lock:
            self.wrong.append(said)


class Gone(Exception):
    """No response: the studio was killed, or closed the connection."""


@dataclass
class Answer:
    status: int
    body: bytes
    headers: dict[str, str]

    @property
    def json(self) -> Any:
        return json.loads(self.body)


class Studio:
    """Started by `python -m studio`. Responses that began or ended while it was suspended are not timed."""

    def __init__(self, place: Place, port: int, ledger: Ledger) -> None:
        self.place, self.port, self.ledger = place, port, ledger
        self.process: subprocess.Popen[bytes] | None = None
        self.suspended = 0.0
        self.log = place.folder.parent / "log"

    def start(self) -> None:
        environment = {**os.environ, "ZESTY_DATA": str(self.place.data), "PYTHONUNBUFFERED": "1"}
        if self.place.clock_moves:
            environment |= {"LD_PRELOAD": str(self.place.shim), "ZESTY_SOAK_CLOCK": str(self.place.clock)}
        command = [sys.executable, "-m", "studio", "--port", str(self.port)]
        self.process = subprocess.Popen(
            command, cwd=ROOT, env=environment, stdout=self.log.open("ab"), stderr=subprocess.STDOUT
        )
        self.wait()

    def wait(self, most_s: float = 120.0) -> bool:
        """Waits until it responds; returns whether it does."""
        until = time.monotonic() + most_s
        while time.monotonic() < until:
            with contextlib.suppress(Gone):
                if self.ask("GET", "/api/kits", timed=False).status < 500:
                    return True
            time.sleep(0.2)
        return False

    def ask(
        self,
        method: str,
        path: str,
        body: object = None,
        *,
        raw: bytes | None = None,
        kind: str = "application/json",
        timed: bool = True,
        judged: bool = True,
    ) -> Answer:
        """One request. Raises Gone if there is no response."""
        data = raw if raw is not None else None if body is None else json.dumps(body).encode()
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=GIVES_UP_S)
        began = time.monotonic()
        try:
            connection.request(method, path, data, {"Content-Type": kind} if data is not None else {})
            response = connection.getresponse()
            answer = Answer(response.status, response.read(), dict(response.getheaders()))
        except TimeoutError:
            if self.suspended < began:
                self.ledger.is_wrong(f"no answer within {GIVES_UP_S:.0f} s: {method} {path[:120]}")
            raise Gone from None
        except (OSError, http.client.HTTPException, ValueError):
            raise Gone from None
        finally:
            connection.close()
        if judged:
            self._judge(method, path, answer, time.monotonic() - began if timed and self.suspended < began else 0.0)
        return answer

    def _judge(self, method: str, path: str, answer: Answer, took: float) -> None:
        with self.ledger.lock:
            self.ledger.statuses[answer.status] += 1
            self.ledger.slowest_s = max(self.ledger.slowest_s, took)
        if took > SLOWEST_S:
            self.ledger.is_wrong(f"{took:.1f} s: {method} {path[:120]}")
        if answer.status < 400:
            return
        try:
            said = answer.json["detail"]
        except (ValueError, KeyError, TypeError):
            said = ""
        if not said and path.startswith("/api/"):
            self.ledger.is_wrong(f"{answer.status} without a sentence: {method} {path[:120]}: {answer.body[:120]!r}")
        if answer.status >= 500 and answer.status not in (503, 507):
            self.ledger.is_wrong(f"{answer.status}: {method} {path[:160]}")

    def get(self, path: str) -> Any:
        return self._said(self.ask("GET", f"/api{path}"))

    def post(self, path: str, body: object = None) -> Any:
        return self._said(self.ask("POST", f"/api{path}", {} if body is None else body))

    def send(self, path: str, files: list[tuple[str, str, bytes]], fields: list[tuple[str, str]] = ()) -> Any:  # type: ignore[assignment]
        """Sends a form with files: (field, file name, bytes)."""
        boundary = uuid.uuid4().hex
        parts = [
            f'--{boundary}\r\nContent-Disposition: form-data; name="{name}"\r\n\r\n{value}\r\n'.encode()
            for name, value in fields
        ]
        for name, file_name, data in files:
            head = f'--{boundary}\r\nContent-Disposition: form-data; name="{name}"; filename="{file_name}"\r\n\r\n'
            parts.append(head.encode() + data + b"\r\n")
        body = b"".join(parts) + f"--{boundary}--\r\n".encode()
        kind = f"multipart/form-data; boundary={boundary}"
        return self._said(self.ask("POST", f"/api{path}", raw=body, kind=kind))

    def _said(self, answer: Answer) -> Any:
        """The JSON of a response. Raises Refused for a refusal."""
        if answer.status >= 400:
            raise Refused(answer.status)
        return answer.json if answer.body else None


class Refused(Exception):
    def __init__(self, status: int) -> None:
        super().__init__(status)
        self.status = status
