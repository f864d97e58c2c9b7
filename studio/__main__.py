"""`python -m studio`: the whole application under one command, ended by stopping it."""

import argparse
import os
import sys
import threading
import time
import urllib.error
import urllib.request

import django
from honcho.manager import Manager


def main() -> int:
    parser = argparse.ArgumentParser(prog="python -m studio", description="Run the studio on this machine.")
    parser.add_argument("--port", type=int, default=int(os.environ.get("ZESTY_PORT", "8480")))
    parser.add_argument("--demo", action="store_true", help="make the demo kits first, once")
    options = parser.parse_args()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    django.setup()
    from django.core.management import call_command

    call_command("migrate", verbosity=0)
    if options.demo:
        from studio.demo_kits import make_demo

        print("Making the demo kits, if they are not there yet. This takes about half a minute, once.", flush=True)
        make_demo()
    return _supervise(options.port)


def _supervise(port: int) -> int:
    """Run the server and the worker; when one ends or this is stopped, both end."""
    environment = {**os.environ, "PYTHONUNBUFFERED": "1"}
    python = sys.executable
    server = f"{python} -m gunicorn studio.wsgi --bind 127.0.0.1:{port} --worker-class gthread --threads 16"
    manager = Manager()
    manager.add_process("server", f"exec {server} --timeout 300 --log-level warning", env=environment)
    manager.add_process("worker", f"exec {python} manage.py run_huey --workers 2 --quiet", env=environment)
    threading.Thread(target=_announce, args=(port,), daemon=True).start()
    manager.loop()
    return int(manager.returncode or 0)


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
