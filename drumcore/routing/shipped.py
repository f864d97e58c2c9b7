"""The routing plans that ship."""

from dataclasses import dataclass

from drumcore.kit.values import Family, MicKind, Width
from drumcore.routing.plans import PlanRule, RoutingPlan

MONO, STEREO = Width.MONO, Width.STEREO
CYMBALS = (Family.CRASH, Family.RIDE, Family.SPLASH, Family.CHINA)
CLOSE = (MicKind.CLOSE,)
TOMS, AMBIENCE, METAL = "Toms", "Overheads and room", "Cymbals and percussion"


@dataclass(frozen=True)
class ShippedPlan:
    id: str
    name: str
    plan: RoutingPlan


def _first_three() -> tuple[PlanRule, ...]:
    return (
        PlanRule(track="Kick", width=MONO, families=(Family.KICK,), number=1, mics=CLOSE),
        PlanRule(track="Snare", width=MONO, families=(Family.SNARE,), number=1, mics=CLOSE),
        PlanRule(track="Hats", width=MONO, families=(Family.HATS,), number=1, mics=CLOSE),
    )


def _ambience() -> tuple[PlanRule, ...]:
    return (
        PlanRule(track="Overheads", gathers=(MicKind.OVERHEAD,), group=AMBIENCE),
        PlanRule(track="Room", gathers=(MicKind.ROOM, MicKind.OTHER), group=AMBIENCE),
    )


def _toms() -> tuple[PlanRule, ...]:
    return tuple(
        PlanRule(track=f"Tom {number}", width=MONO, families=(Family.TOM,), number=number, mics=CLOSE, group=TOMS)
        for number in (1, 2, 3)
    )


ONE_OUTPUT_A_PIECE = RoutingPlan(
    rules=(
        *_first_three(),
        *_ambience(),
        *_toms(),
        PlanRule(track="Crash 1", families=(Family.CRASH,), number=1, group=METAL),
        PlanRule(track="Crash 2", families=(Family.CRASH,), number=2, group=METAL),
        PlanRule(track="Ride", families=(Family.RIDE,), number=1, group=METAL),
        PlanRule(track="Percussion 1", families=(Family.PERCUSSION,), number=1, group=METAL),
        PlanRule(track="Percussion 2", families=(Family.PERCUSSION,), number=2, group=METAL),
        PlanRule(track="Other cymbals", families=CYMBALS, group=METAL),
        PlanRule(track="Other pieces", families=tuple(Family), group=METAL),
    )
)
CLOSE_AND_AMBIENCE = RoutingPlan(
    rules=(
        PlanRule(track="Close microphones", mics=CLOSE),
        PlanRule(track="Ambience", mics=(MicKind.OVERHEAD, MicKind.ROOM, MicKind.OTHER)),
    )
)
MONO_FOR_CLOSE = RoutingPlan(
    rules=(
        *_first_three(),
        *_toms(),
        PlanRule(track="Ride", width=MONO, families=(Family.RIDE,), number=1, mics=CLOSE),
        *_ambience(),
        PlanRule(track="Cymbals", families=CYMBALS, group=METAL),
        PlanRule(track="Other pieces", families=tuple(Family), group=METAL),
    ),
    pairs=True,
)
PAIRS = RoutingPlan(
    rules=(
        *_first_three()[:2],
        PlanRule(track="Overheads and room", mics=(MicKind.OVERHEAD, MicKind.ROOM, MicKind.OTHER)),
        PlanRule(track="Toms", families=(Family.TOM,), group=TOMS),
        PlanRule(track="Hats and percussion", families=tuple(Family), group=TOMS),
    ),
    pairs=True,
)
PLANS = tuple(
    ShippedPlan(id=identifier, name=name, plan=plan)
    for identifier, name, plan in (
        ("one-output-a-piece", "One output per piece", ONE_OUTPUT_A_PIECE),
        ("close-and-ambience", "Close and ambience", CLOSE_AND_AMBIENCE),
        ("mono-for-close", "Mono for close, stereo for the rest", MONO_FOR_CLOSE),
        ("pairs", "Pairs for a small host", PAIRS),
    )
)
