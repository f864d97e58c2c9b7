"""Waiting for what another program does: it tells nobody, so it is asked until it has come to that."""

import time


def until(reached, seconds: float = 60.0):
    """What `reached` gives once it is something."""
    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        if found := reached():
            return found
        time.sleep(0.05)
    raise AssertionError("it did not come to that")
