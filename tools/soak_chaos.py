"""What happens to the studio during a soak: kills, suspensions, a full disk, a clock set back; and a watch on its
memory.
"""

import contextlib
import os
import random
import signal
import threading
import time
from pathlib import Path

from soak_studio import Ledger, Studio

PAUSE_S = 4.5
FULL_S = 4.0
SUSPENDED_S = 4.0
MOST_MB = 1000.0


def programs(studio: Studio) -> dict[str, int]:
    """The process ids of the studio's programs: parent, server and worker."""
    found = {}
    parent = studio.process.pid if studio.process else 0
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit():
            continue
        with contextlib.suppress(OSError, ValueError):
            above = int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1])
            words = (entry / "cmdline").read_bytes().split(b"\0")
            if int(entry.name) == parent:
                found["parent"] = parent
            elif above == parent and b"studio.children" in words:
                found[words[words.index(b"studio.children") + 1].decode()] = int(entry.name)
    return found


class Chaos(threading.Thread):
    def __init__(self, studio: Studio, ledger: Ledger, draw: random.Random, until: float) -> None:
        super().__init__()
        self.studio, self.ledger, self.draw, self.until = studio, ledger, draw, until

    def run(self) -> None:
        while time.monotonic() + PAUSE_S < self.until:
            time.sleep(PAUSE_S * self.draw.uniform(0.5, 1.3))
            act = self.draw.choice((self.kill, self.kill, self.kill, self.kill, self.suspend, self.fill, self.set_back))
            try:
                act()
            except OSError as error:
                self.ledger.is_wrong(f"the soak itself: {error}")

    def kill(self) -> None:
        whom = self.draw.choice(("server", "worker", "parent"))
        number = programs(self.studio).get(whom)
        if number is None:
            return
        with contextlib.suppress(ProcessLookupError):
            os.kill(number, signal.SIGKILL)
        self.ledger.count(f"kills of the {whom}")
        if whom == "parent" and self.studio.process is not None:
            self.studio.process.wait()
            # Its programs must end before another studio can use the folder.
            time.sleep(0.5)
            self.studio.start()
        if not self.studio.wait():
            self.ledger.is_wrong(f"the studio did not come back after a kill of the {whom}")

    def suspend(self) -> None:
        number = programs(self.studio).get(self.draw.choice(("server", "worker")))
        if number is None:
            return
        self.studio.suspended = float("inf")
        with contextlib.suppress(ProcessLookupError):
            os.kill(number, signal.SIGSTOP)
            time.sleep(SUSPENDED_S)
            os.kill(number, signal.SIGCONT)
        # Requests that waited have their responses by then.
        self.studio.suspended = time.monotonic() + 5.0
        self.ledger.count("suspensions")

    def fill(self) -> None:
        """Fills the disk completely for a while; only if it is a separate disk."""
        if not self.studio.place.small:
            return
        stuff = self.studio.place.folder / "full"
        with contextlib.suppress(OSError), stuff.open("wb", buffering=0) as file:
            while True:
                file.write(bytes(1 << 20))
        time.sleep(FULL_S * self.draw.uniform(0.5, 2.0))
        stuff.unlink(missing_ok=True)
        self.ledger.count("full disks")

    def set_back(self) -> None:
        """Sets the studio's clock back by an hour or a day, and forward again."""
        if not self.studio.place.clock_moves:
            return
        self.studio.place.clock.write_text(self.draw.choice(("-3600", "-86400", "0")))
        self.ledger.count("clock set")


class Watcher(threading.Thread):
    """The largest memory use of each program (resident, in MB)."""

    def __init__(self, studio: Studio, ledger: Ledger, until: float) -> None:
        super().__init__()
        self.studio, self.ledger, self.until = studio, ledger, until

    def run(self) -> None:
        while time.monotonic() < self.until:
            for name, number in programs(self.studio).items():
                with contextlib.suppress(OSError, StopIteration):
                    lines = Path(f"/proc/{number}/status").read_text().splitlines()
                    held = next(float(line.split()[1]) / 1024 for line in lines if line.startswith("VmRSS"))
                    before = self.ledger.memory_mb.get(name, 0.0)
                    self.ledger.memory_mb[name] = max(before, held)
                    if held > MOST_MB >= before:
                        self.ledger.is_wrong(f"the {name} has {held:.0f} MB")
            time.sleep(1.0)
