"""A kit's versions as somebody reads them: a drag is one step, steps stand under their days, the newest first."""

from collections.abc import Iterable
from datetime import date, datetime, timedelta

from drumcore.value import Value


class Step(Value):
    """A version: the sentence of what made it, its name where it has one, the gesture it is part of."""

    version: int
    said: str
    name: str = ""
    gesture: str = ""
    made: datetime


class DaySteps(Value):
    """Steps that follow one another within a day. One that has a name stands alone."""

    day: date
    steps: tuple[Step, ...]


def read_back(steps: Iterable[Step], minutes: int = 0) -> tuple[DaySteps, ...]:
    """Steps from the newest to the oldest, by days as they are `minutes` east of Greenwich. Of a gesture the last stands for
    all of it, unless an earlier one has a name; what has a name ends a stretch and begins one."""
    stretches: list[list[Step]] = []
    days: list[date] = []
    behind: Step | None = None
    for step in steps:
        if behind is not None and step.gesture and step.gesture == behind.gesture and not step.name:
            behind = step
            continue
        day = (step.made + timedelta(minutes=minutes)).date()
        follows = behind is not None and days and days[-1] == day and not step.name and not stretches[-1][-1].name
        if follows:
            stretches[-1].append(step)
        else:
            stretches.append([step])
            days.append(day)
        behind = step
    return tuple(DaySteps(day=day, steps=tuple(some)) for day, some in zip(days, stretches, strict=True))
