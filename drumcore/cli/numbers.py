"""Numbers as arguments."""

import argparse
from collections.abc import Callable


def whole(low: int, high: int) -> Callable[[str], int]:
    """A whole number within limits, both included."""

    def read(text: str) -> int:
        if not text.isdecimal() or not low <= int(text) <= high:
            raise argparse.ArgumentTypeError(f"{text} is not a whole number from {low} to {high}")
        return int(text)

    return read
