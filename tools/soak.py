"""`make soak MINUTES=n`: the running studio used, misused and killed; counts what was tried and whether anything was lost.

Edits, imports, renders, deletions and hostile requests go on side by side while server, worker and the process above them are
killed, suspended, run out of disk and have their clock set back. What was acknowledged is written down on this side and looked
for at the end. Ends with 1 where anything acknowledged is missing, an answer was a fault or too slow, or memory ran away.
"""

import argparse
import random
import sys
import tempfile
import threading
import time
import traceback
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
sys.path.insert(0, str(ROOT / "tools"))

from soak_actors import ACTORS, Actor  # noqa: E402
from soak_chaos import Chaos, Watcher  # noqa: E402
from soak_studio import Ledger, Place, Studio  # noqa: E402
from soak_verdict import verdict  # noqa: E402


def act(actor: Actor, studio: Studio, ledger: Ledger, draw: random.Random, until: float) -> None:
    """Let one act; whatever ends it before its time is said at the end."""
    try:
        actor(studio, ledger, draw, until)
    except Exception as error:
        ledger.is_wrong(f"{actor.__name__} ended: {traceback.format_exc()[-700:]}")
        raise error


def main() -> int:
    parser = argparse.ArgumentParser(prog="make soak", description=__doc__)
    parser.add_argument("--minutes", type=float, default=5.0)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--port", type=int, default=8496)
    options = parser.parse_args()
    with tempfile.TemporaryDirectory(prefix="zesty-soak-") as folder, Place(Path(folder)) as place:
        ledger = Ledger()
        studio = Studio(place, options.port, ledger)
        studio.start()
        until = time.monotonic() + 60.0 * options.minutes
        threads = [
            threading.Thread(
                target=act, args=(actor, studio, ledger, random.Random(options.seed * 100 + number), until)
            )
            for number, actor in enumerate(ACTORS)
        ]
        watcher = Watcher(studio, ledger, until)
        chaos = Chaos(studio, ledger, random.Random(options.seed), until)
        for thread in (*threads, watcher, chaos):
            thread.start()
        for thread in (chaos, *threads, watcher):
            thread.join()
        return verdict(studio, ledger, options.minutes)


if __name__ == "__main__":
    sys.exit(main())
