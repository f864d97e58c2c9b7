"""`make soak MINUTES=n`: uses, misuses and kills a running studio, and checks that nothing was lost.

Edits, imports, renders, deletions and hostile requests run side by side while the server, the worker and their parent
are killed and suspended, the disk fills up and the clock is set back. Everything the studio confirmed is recorded here
and checked at the end. The exit status is 1 if anything confirmed is missing, a response was an error or too slow, or
memory grew too much.
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
    """Runs one actor; if it ends early, the reason is reported at the end."""
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
