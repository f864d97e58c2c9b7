"""Hosts: how many outputs they have, their widths and names. Three simulated ones ship."""

from collections.abc import Iterator
from typing import Annotated, Self

from pydantic import Field, model_validator

from drumcore.kit.values import MOST_OUTPUTS, Output, Width
from drumcore.value import Value

MAIN_OUTPUT_NAME = "Main"


class OutputRun(Value):
    """Consecutive outputs of one width that a host numbers together. It names each by a word and a number counted from
    `first`; `by_channel` gives a stereo output two numbers, such as 3/4.
    """

    width: Width
    count: Annotated[int, Field(ge=1, le=MOST_OUTPUTS)]
    called: Annotated[str, Field(max_length=40)] = ""
    first: Annotated[int, Field(ge=0, le=999)] = 1
    by_channel: bool = False

    def names(self) -> Iterator[str]:
        """The host's name for each of them, in order."""
        step = 2 if self.by_channel and self.width is Width.STEREO else 1
        for place in range(self.count):
            number = self.first + place * step
            counted = f"{number}/{number + 1}" if step == 2 else f"{number}"
            yield f"{self.called} {counted}".strip()


class Host(Value):
    """The program or recorder that receives the outputs. Outputs are numbered from 1 across all runs; the first carries
    main.
    """

    name: Annotated[str, Field(min_length=1, max_length=120)]
    runs: Annotated[tuple[OutputRun, ...], Field(min_length=1, max_length=16)]

    @model_validator(mode="after")
    def _can_be_numbered(self) -> Self:
        there = sum(run.count for run in self.runs)
        if there > MOST_OUTPUTS:
            raise ValueError(f"a host has at most {MOST_OUTPUTS} outputs, and this one would have {there}")
        return self


def host_outputs(host: Host) -> tuple[Output, ...]:
    """The outputs of a host with default names; output 1 carries main."""
    there = ((run.width, called) for run in host.runs for called in run.names())
    return tuple(
        Output(number=n, name=plain_name(n), width=width, called=called)
        for n, (width, called) in enumerate(there, start=1)
    )


def plain_name(number: int) -> str:
    """The default name of an output."""
    return MAIN_OUTPUT_NAME if number == 1 else f"Output {number}"


FERRY = Host(name="Ferry 16", runs=(OutputRun(width=Width.STEREO, count=16, by_channel=True),))
SKIFF = Host(
    name="Skiff",
    runs=(OutputRun(width=Width.STEREO, count=4, called="St"), OutputRun(width=Width.MONO, count=12, called="M")),
)
RAFT = Host(name="Raft", runs=(OutputRun(width=Width.STEREO, count=2, called="Pair", first=0),))
HOSTS = {"ferry-16": FERRY, "skiff": SKIFF, "raft": RAFT}
"""Those that ship, by identifier."""
