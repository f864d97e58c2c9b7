"""The browser's logic run outside a browser: a TypeScript file that answers a line of JSON with a line of JSON."""

import json
import subprocess
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[2]


@contextmanager
def answering(script: str, folder: Path) -> Iterator[Callable[[Any], Any]]:
    bundle = folder / f"{script}.mjs"
    command = ["npx", "--no-install", "rolldown", str(ROOT / f"tests/twins/{script}.ts"), "--platform", "node"]
    subprocess.run([*command, "--format", "esm", "--file", str(bundle)], cwd=ROOT / "web", check=True)
    with subprocess.Popen(["node", bundle], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as process:
        assert process.stdin is not None and process.stdout is not None
        ask, answers = process.stdin, process.stdout

        def asked(question: Any) -> Any:
            ask.write(json.dumps(question) + "\n")
            ask.flush()
            return json.loads(answers.readline())

        yield asked
        ask.close()
