"""The plan a kit was routed by, as the reference for what was moved by hand since."""

from collections.abc import Iterator

from drumcore.kit.flow import channels_and_buses
from drumcore.kit.values import Channel, Kit, PlannedPlace


def place_now(channel: Channel) -> PlannedPlace:
    """Where a channel goes now."""
    return PlannedPlace(channel=channel.id, output=channel.output, side=channel.side)


def planned_places(kit: Kit) -> dict[str, PlannedPlace]:
    """Where the plan sent each channel and bus, by id; empty without a plan."""
    return {place.channel: place for place in kit.routing.plan.places} if kit.routing.plan else {}


def moved_by_hand(kit: Kit) -> Iterator[tuple[Channel, PlannedPlace]]:
    """The channels and buses that go elsewhere than the plan has them, with their planned places."""
    places = planned_places(kit)
    for channel in channels_and_buses(kit.routing):
        place = places.get(channel.id)
        if place is not None and (channel.bus or place != place_now(channel)):
            yield channel, place
