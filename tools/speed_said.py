"""Prints measured against wanted figures; a figure worse than wanted by half fails the run."""

from typing import Protocol

Ratios = tuple[float, float, float]
"""The lowest, the median and the highest of several runs."""
FAR_OFF = 1.5


class Say(Protocol):
    def __call__(
        self, what: str, ratios: Ratios, *, at_most: float | None = None, at_least: float | None = None
    ) -> None: ...


class Said:
    """Prints each figure as it arrives."""

    def __init__(self) -> None:
        self.far_off: list[str] = []

    def __call__(
        self, what: str, ratios: Ratios, *, at_most: float | None = None, at_least: float | None = None
    ) -> None:
        low, middle, high = ratios
        wanted = f"at most {at_most:g}" if at_most is not None else f"at least {at_least:g}"
        print(f"{what:58} {middle:6.2f}  ({low:.2f} to {high:.2f})   wanted: {wanted}", flush=True)
        if (at_most is not None and middle > at_most * FAR_OFF) or (
            at_least is not None and middle * FAR_OFF < at_least
        ):
            self.far_off.append(f"{what}: {middle:.2f}, wanted {wanted}")

    def status(self) -> int:
        """The program's exit status; figures far off are repeated."""
        for said in self.far_off:
            print(f"Worse than wanted by half: {said}")
        return int(bool(self.far_off))
