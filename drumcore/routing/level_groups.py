"""Channel groups: channels whose levels move together and keep their distances. The browser's twin is
web/src/player/together.ts.
"""

import math
from collections.abc import Collection, Mapping

from drumcore.kit.flow import channels_and_buses
from drumcore.kit.values import LEAST_DB, MOST_DB, Kit, Routing

LOWEST_DB = LEAST_DB + 1.0
"""Nothing that sounds is moved lower: at nothing it would have no distance any more."""


def moved(levels_db: Mapping[str, float], by_db: float) -> dict[str, float]:
    """The levels after moving all by `by_db`, or by as much of it as the limits allow, to hundredths of a dB. Levels of
    −∞ stay.
    """
    sounding = {name: level for name, level in levels_db.items() if level > LEAST_DB}
    if not sounding:
        return dict(levels_db)
    least = min(0.0, LOWEST_DB - min(sounding.values()))
    most = max(0.0, MOST_DB - max(sounding.values()))
    by = max(least, min(most, by_db))
    return {**levels_db, **{name: math.floor((level + by) * 100.0 + 0.5) / 100.0 for name, level in sounding.items()}}


def groups(routing: Routing) -> tuple[tuple[str, ...], ...]:
    """The groups of channels and buses; a group of one does not count."""
    found: dict[str, list[str]] = {}
    for channel in channels_and_buses(routing):
        if channel.group:
            found.setdefault(channel.group, []).append(channel.id)
    return tuple(tuple(group) for group in found.values() if len(group) > 1)


def with_their_groups(kit: Kit, channels: Collection[str]) -> tuple[str, ...]:
    """Channels and buses with everything grouped with them, in the kit's order."""
    moving = {*channels, *(each for group in groups(kit.routing) if {*group} & {*channels} for each in group)}
    return tuple(c.id for c in channels_and_buses(kit.routing) if c.id in moving)
