"""The two programs the studio consists of, each ending by itself when the one that started it is gone."""

import argparse
import os
import signal
import sys
import threading
import time
from pathlib import Path

import django

THREADS = 16
HALF_SENT_S = 20
LARGEST_REQUEST = 9 << 30


def _end_with_parent() -> None:
    """The parent holds the other end of standard input: when it is gone, however it ended, that end closes."""

    def watch() -> None:
        # Past Python's own buffer, whose lock would be in the way as this process ends.
        while os.read(0, 1024):
            pass
        os.kill(os.getpid(), signal.SIGTERM)
        time.sleep(5.0)
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()


def serve(port: int) -> None:
    """The server. Requests are read whole before a thread takes them, so that half-sent ones hold none."""
    import waitress

    from studio.wsgi import application

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
        ident=None,
        asyncore_use_poll=True,
    )


def work() -> None:
    """The worker: it does jobs two at a time. A second one on the same folder ends at once."""
    from django.conf import settings
    from django.core.management import call_command

    from studio.jobs.worker import LOCK_NAME, TOKEN
    from studio.locks import BEAT_S, ProcessLock

    lock = ProcessLock(Path(settings.DATA) / LOCK_NAME, TOKEN)
    if not lock.take():
        sys.exit("Another worker serves this folder.")

    def beat() -> None:
        while True:
            lock.beat()
            time.sleep(BEAT_S)

    threading.Thread(target=beat, daemon=True).start()
    # It looks often, because somebody waits for a folder that was dropped.
    options = ["--workers", "2", "--quiet", "--delay", "0.05", "--max-delay", "0.1", "--backoff", "1.1"]
    call_command("run_huey", *options)


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
