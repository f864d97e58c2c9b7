"""Python programs run one after another in processes of their own, forked from one that has loaded the libraries: loading them
takes two seconds, and these tests start dozens of programs. Nothing of the studio itself is loaded before the fork, because
its settings are read from the environment."""

import atexit
import json
import os
import runpy
import subprocess
import sys
import tempfile
import traceback
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
LIBRARIES = (
    "django.db.models",
    "django.http",
    "django.core.management",
    "pydantic",
    "scipy.signal",
    "drumcore.exports.kinds",
    "drumcore.findings.rules",
    "drumcore.listening.figures",
)


class Preloaded:
    """Starts with the first program and ends with whoever asked."""

    _server: subprocess.Popen[str] | None = None

    def run(
        self, environment: dict[str, str], *, code: str = "", module: str = "", arguments: tuple[str, ...] = ()
    ) -> subprocess.CompletedProcess[str]:
        if self._server is None:
            command = [sys.executable, "-m", "tests.studio.preloaded"]
            self._server = subprocess.Popen(command, cwd=ROOT, text=True, stdin=subprocess.PIPE, stdout=subprocess.PIPE)
            atexit.register(self._server.kill)
        assert self._server.stdin and self._server.stdout
        with tempfile.TemporaryDirectory() as folder:
            asked = {"environment": environment, "code": code, "module": module, "arguments": arguments, "into": folder}
            self._server.stdin.write(json.dumps(asked) + "\n")
            self._server.stdin.flush()
            ended = int(self._server.stdout.readline())
            said = [(Path(folder) / name).read_text() for name in ("stdout", "stderr")]
        return subprocess.CompletedProcess(module or "code", ended, *said)


def _become(asked: dict) -> int:
    """The program itself, in the forked process; its exit status."""
    for number, name in ((1, "stdout"), (2, "stderr")):
        os.dup2(os.open(Path(asked["into"]) / name, os.O_WRONLY | os.O_CREAT), number)
    os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
    os.environ.clear()
    os.environ.update(asked["environment"])
    sys.argv = [asked["module"] or "-c", *asked["arguments"]]
    try:
        if asked["module"]:
            runpy.run_module(asked["module"], run_name="__main__", alter_sys=True)
        else:
            exec(compile(asked["code"], "<code>", "exec"), {"__name__": "__main__"})
    except SystemExit as ended:
        return ended.code if isinstance(ended.code, int) else int(ended.code is not None)
    except BaseException:
        traceback.print_exc()
        return 1
    finally:
        # As a program that ends closes them: a database has its log merged into it.
        if "django.db" in sys.modules and "DJANGO_SETTINGS_MODULE" in os.environ:
            sys.modules["django.db"].connections.close_all()
        sys.stdout.flush()
        sys.stderr.flush()
    return 0


def main() -> None:
    for name in LIBRARIES:
        __import__(name)
    for line in sys.stdin:
        if child := os.fork():
            print(os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]), flush=True)
        else:
            os._exit(_become(json.loads(line)))


if __name__ == "__main__":
    main()
