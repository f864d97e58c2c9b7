"""What every treatment keeps: how it is said, compiled and processed."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Protocol

from drumcore.arrays import Floats
from drumcore.value import Value

QUIET = 1e-6
"""−120 dB full scale: what rings on below this has ended."""
GONE = 1e-30
"""A filter's state under this is set to nothing, before numbers become too small for the processor to be fast with."""


class Stage(Protocol):
    """One treatment at work in one channel. It keeps its state from block to block and has no latency."""

    @property
    def silent(self) -> bool:
        """Whether nothing is left in it: it would do to silence what it would have done at the beginning."""
        ...

    def process(self, sound: Floats, into: Floats | None = None) -> Floats:
        """The next frames treated; shape (sides, frames) in and out, double precision. Written `into` an array that is
        given, which may be `sound` itself."""
        ...


@dataclass(frozen=True)
class Kind:
    """One kind of treatment.

    `value` is what a channel holds, `compiled` what a play table has of it; `compile` makes the one of the other at a
    sample rate, `stage` sets it to work for so many sides. Nothing else of the core knows a kind by name.
    """

    name: str
    value: type[Value]
    compiled: type[Value]
    compile: Callable[[Any, int], Value]
    stage: Callable[[Any, int, int], Stage]
