"""A kit's versions as shown to people: a drag is one step, and steps are listed by day, newest first."""

from collections.abc import Iterable
from datetime import date, datetime, timedelta

from drumcore.value import Value


class Step(Value):
    """A version: the sentence of its edit, its name if it has one, and the gesture it belongs to."""

    version: int
    said: str
    name: str = ""
    gesture: str = ""
    made: datetime


class DaySteps(Value):
    """Consecutive steps of one day. A named version stands alone."""

    day: date
    steps: tuple[Step, ...]


def read_back(steps: Iterable[Step], minutes: int = 0) -> tuple[DaySteps, ...]:
    """Steps from newest to oldest, in days of a time zone `minutes` east of Greenwich. The last step of a gesture
    represents the whole gesture, unless an earlier one has a name; a named step begins and ends a group.
    """
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
