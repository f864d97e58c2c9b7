"""The reverbs and echoes that ship: the places of the Salt Lantern Players' tour, made from seeds.

`zesty spaces` prints their measured decay times, which are within a tenth of their settings in each band.
"""

from dataclasses import dataclass

from drumcore.spaces.echo import Echo
from drumcore.spaces.hall import Hall
from drumcore.spaces.kept import KeptSpace
from drumcore.spaces.kinds import Space


@dataclass(frozen=True)
class ShippedSpace:
    id: str
    name: str
    kept: KeptSpace


def _shipped(id_: str, name: str, says: str, space: Space) -> ShippedSpace:
    return ShippedSpace(id_, name, KeptSpace(space=space, says=says))


def _hall(length_s: float, size_m: float, damping: float, pre_delay_ms: float, width: float, seed: int) -> Hall:
    return Hall(length_s=length_s, size_m=size_m, damping=damping, pre_delay_ms=pre_delay_ms, width=width, seed=seed)


SHIPPED = (
    _shipped("boathouse", "Boathouse", "Wood and water: short, a little dark.", _hall(0.7, 14, 0.45, 4, 0.9, 11)),
    _shipped("prop-cupboard", "Prop cupboard", "Hardly a room: thickens a snare.", _hall(0.35, 4, 0.3, 0, 0.6, 12)),
    _shipped("caravan", "Caravan", "Very small, all cloth.", _hall(0.4, 5, 0.8, 0, 0.7, 23)),
    _shipped("schoolroom", "Schoolroom", "Bare walls, quick and bright.", _hall(0.9, 9, 0.15, 6, 1.0, 14)),
    _shipped("net-loft", "Net loft", "Under the roof: a dry bloom behind the kit.", _hall(1.1, 16, 0.6, 10, 1.0, 15)),
    _shipped("custom-house", "Custom house", "Stone stairs, bright and long.", _hall(2.2, 20, 0.2, 14, 1.0, 16)),
    _shipped("town-theatre", "Town theatre", "Plush seats: even, dark highs.", _hall(1.5, 28, 0.7, 18, 0.9, 17)),
    _shipped("market-hall", "Market hall", "Iron and glass, wide.", _hall(2.8, 45, 0.3, 24, 1.0, 18)),
    _shipped("lighthouse", "Lighthouse", "A narrow shaft that rings on.", _hall(3.4, 11, 0.25, 0, 0.35, 19)),
    _shipped("sea-cave", "Sea cave", "Very long and dark.", _hall(5.5, 60, 0.9, 40, 1.0, 20)),
    _shipped(
        "quay-wall",
        "Quay wall",
        "One echo from across the harbour, then another.",
        Echo(every_ms=240, repeats=3, softer_db=7, darker=0.6, sides=0.3),
    ),
    _shipped(
        "two-piers",
        "Two piers",
        "Three quarters of a beat, ping-pong.",
        Echo(beats=0.75, tempo=100, repeats=7, softer_db=4, darker=0.5, sides=0.9),
    ),
)
