"""The interface of every treatment: how it is stored, compiled and processed."""

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
    """One treatment processing one channel. It keeps its state between blocks and has no latency."""

    @property
    def silent(self) -> bool:
        """Whether it has no tail left: it would treat silence as it did at the very beginning."""
        ...

    def process(self, sound: Floats, into: Floats | None = None) -> Floats:
        """Treats the next frames; shape (sides, frames), double precision. The result goes to `into`, which may be
        `sound` itself.
        """
        ...


@dataclass(frozen=True)
class TreatmentKind:
    """One kind of treatment. `value` is what a channel stores and `compiled` what a play table holds; `compile`
    converts at a sample rate, `stage` starts processing for a number of sides. No other part of the core knows a kind
    by name.
    """

    name: str
    value: type[Value]
    compiled: type[Value]
    compile: Callable[[Any, int], Value]
    stage: Callable[[Any, int, int], Stage]
