"""The server and the worker. Each ends by itself if the parent process is gone."""

import argparse
import gc
import logging
import os
import signal
import sys
import threading
import time
from pathlib import Path

import django

THREADS = 16
GARBAGE = (50_000, 20, 50)
"""New objects before the youngest are looked through, and how often before the older: Python's own are 700, 10 and 10."""
HALF_SENT_S = 20
FORGOTTEN_EVERY_S = 3.0
LARGEST_REQUEST = 9 << 30
LARGEST_ANSWER_IN_MEMORY = 64 << 20


def _end_with_parent() -> None:
    """The parent holds the other end of standard input; when the parent ends, however it ends, that end closes."""

    def watch() -> None:
        # os.read avoids Python's buffered reader, whose lock would block this process from ending.
        while os.read(0, 1024):
            pass
        os.kill(os.getpid(), signal.SIGTERM)
        time.sleep(5.0)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()


def serve(port: int) -> None:
    """The server. Requests are read completely before a thread takes them, so that incomplete ones hold no thread."""
    import waitress
    from waitress.channel import HTTPChannel

    from studio.http.request_body import Request
    from studio.http.wsgi import application

    HTTPChannel.parser_class = Request
    # Kits are large trees without cycles that live long. Scanning them for garbage took a fifth of an edit's time, so
    # everything loaded so far is excluded.
    gc.freeze()
    gc.set_threshold(*GARBAGE)

    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    waitress.serve(
        application,
        host="127.0.0.1",
        port=port,
        threads=THREADS,
        channel_timeout=HALF_SENT_S,
        cleanup_interval=5,
        connection_limit=400,
        max_request_body_size=LARGEST_REQUEST,
        # A kit state of some megabytes is sent from memory, so it also works on a full disk.
        outbuf_overflow=LARGEST_ANSWER_IN_MEMORY,
        ident=None,
        asyncore_use_poll=True,
    )


def work() -> None:
    """The worker: runs two jobs at a time. A second worker on the same folder ends at once."""
    from django.conf import settings
    from django.core.management import call_command

    from studio.jobs.worker import LOCK_NAME, TOKEN
    from studio.storage.locks import BEAT_S, ProcessLock

    lock = ProcessLock(Path(settings.DATA) / LOCK_NAME, TOKEN)
    if not lock.take():
        sys.exit("Another worker serves this folder.")

    def beat() -> None:
        while True:
            lock.beat()
            time.sleep(BEAT_S)

    threading.Thread(target=beat, daemon=True).start()
    threading.Thread(target=_look_for_forgotten_jobs, daemon=True).start()
    # It polls often, because somebody is waiting for a dropped folder.
    options = ["--workers", "2", "--quiet", "--delay", "0.05", "--max-delay", "0.1", "--backoff", "1.1"]
    call_command("run_huey", *options)


def _look_for_forgotten_jobs() -> None:
    from django.db import close_old_connections

    from studio.jobs.runner import enqueue_forgotten

    missed: set[str] = set()
    while True:
        time.sleep(FORGOTTEN_EVERY_S)
        try:
            missed = enqueue_forgotten(missed)
        except Exception:
            # The disk is full or the database busy: try again shortly.
            logging.getLogger(__name__).warning("waiting jobs could not be looked at", exc_info=True)
            close_old_connections()


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("program", choices=("server", "worker"))
    parser.add_argument("--port", type=int, default=8480)
    options = parser.parse_args()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    django.setup()
    _end_with_parent()
    if options.program == "server":
        serve(options.port)
    else:
        work()


if __name__ == "__main__":
    main()
