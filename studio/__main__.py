"""`python -m studio`: starts the whole application and runs until it is stopped."""

import argparse
import os
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from pathlib import Path

import django

from studio.storage.locks import ProcessLock

UNUSABLE = 2
ENDS_WITHIN_S = 10.0
LOOKS_EVERY_S = 0.25
WAITS_S = (0.0, 0.5, 2.0, 5.0)
"""Before a program that ended is started again: the first time at once."""
STEADY_S = 60.0
"""A program that ran so long starts with no wait again."""


def main() -> int:
    parser = argparse.ArgumentParser(prog="python -m studio", description="Run the studio on this machine.")
    parser.add_argument("--port", type=int, default=int(os.environ.get("ZESTY_PORT", "8480")))
    parser.add_argument("--demo", action="store_true", help="make the demo kits first, once")
    options = parser.parse_args()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    try:
        django.setup()
        from django.conf import settings

        lock = ProcessLock(Path(settings.DATA) / "studio.lock", str(os.getpid()))
        taken = lock.take()
    except OSError as error:
        print(f"The studio cannot keep its data: {error.strerror} ({error.filename}).", file=sys.stderr)
        return UNUSABLE
    if not taken:
        print("A studio runs on this folder already; use that one, or give another ZESTY_DATA.", file=sys.stderr)
        return UNUSABLE
    if not _is_free(options.port):
        print(f"Port {options.port} is in use by another program; give another with --port.", file=sys.stderr)
        return UNUSABLE
    from drumcore.refusals import Refusal
    from studio.maintenance.startup import fix_records
    from studio.maintenance.upgrade import bring_up_to_date, make_private

    try:
        data = Path(settings.DATA)
        make_private(data)
        for said in fix_records(data):
            print(said, file=sys.stderr)
        bring_up_to_date(data)
    except Refusal as refusal:
        print(refusal, file=sys.stderr)
        return UNUSABLE
    if options.demo:
        from studio.demo_kits import make_demo

        print("Making the demo kits, if they are not there yet. This takes about half a minute, once.", flush=True)
        make_demo()
    return _supervise(options.port)


def _is_free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True


class Program:
    """One of the studio's two programs; it is restarted when it ends."""

    def __init__(self, name: str, *arguments: str) -> None:
        self.name = name
        self._command = [sys.executable, "-m", "studio.children", name, *arguments]
        self._ends = 0
        self._start()

    def _start(self) -> None:
        self._began = time.monotonic()
        environment = {**os.environ, "PYTHONUNBUFFERED": "1"}
        # In a session of its own, so that Ctrl+C reaches only this process and both children end in order. They also
        # notice when the pipe to this process closes.
        self.process = subprocess.Popen(self._command, stdin=subprocess.PIPE, env=environment, start_new_session=True)

    def look(self) -> None:
        """Restarts the program if it has ended."""
        if self.process.poll() is None:
            return
        lasted = time.monotonic() - self._began
        self._ends = 0 if lasted > STEADY_S else self._ends
        wait = WAITS_S[min(self._ends, len(WAITS_S) - 1)]
        if lasted < wait:
            return
        print(f"The {self.name} ended ({self.process.returncode}); it is started again.", file=sys.stderr, flush=True)
        self._ends += 1
        self._start()

    def end(self) -> None:
        self.process.terminate()

    def wait(self, until: float) -> None:
        try:
            self.process.wait(max(0.0, until - time.monotonic()))
        except subprocess.TimeoutExpired:
            self.process.kill()
            self.process.wait()


def _supervise(port: int) -> int:
    """Runs the server and the worker until this process is stopped, then ends both."""
    # Not a threading.Event: this thread holds its lock now and then, and a signal handler that runs at that moment
    # would wait for the lock forever.
    stopped: list[int] = []
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda number, _: stopped.append(number))
    programs = [Program("server", "--port", str(port)), Program("worker")]
    threading.Thread(target=_announce, args=(port,), daemon=True).start()
    while True:
        time.sleep(LOOKS_EVERY_S)
        if stopped:
            break
        for program in programs:
            program.look()
    for program in programs:
        program.end()
    until = time.monotonic() + ENDS_WITHIN_S
    for program in programs:
        program.wait(until)
    return 0


def _announce(port: int) -> None:
    address = f"http://127.0.0.1:{port}/"
    while True:
        try:
            with urllib.request.urlopen(f"{address}api/kits", timeout=5):
                break
        except (OSError, urllib.error.URLError):
            time.sleep(0.1)
    print(f"\nZesty Skin is ready at {address}  (stop it with Ctrl+C)\n", flush=True)


if __name__ == "__main__":
    sys.exit(main())
