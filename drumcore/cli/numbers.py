"""Argument types for numbers."""

import argparse
from collections.abc import Callable


def whole(low: int, high: int) -> Callable[[str], int]:
    """An argument type for whole numbers from `low` to `high`, both included."""

    def read(text: str) -> int:
        if not text.isdecimal() or not low <= int(text) <= high:
            raise argparse.ArgumentTypeError(f"{text} is not a whole number from {low} to {high}")
        return int(text)

    return read
