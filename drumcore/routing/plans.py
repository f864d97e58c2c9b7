"""Routing plans: saved policies that route any kit.

A plan's rules get their output numbers on a host once, in their order, whatever kit is routed, so that a track keeps
its number from kit to kit.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Self

from pydantic import Field, model_validator

from drumcore.kit.values import MOST_OUTPUTS, Family, MicKind, Name, Output, Side, Width
from drumcore.value import Value

MOST_RULES = 64
Track = Annotated[str, Field(min_length=1, max_length=120)]


class PlanRule(Value):
    """A track, its width, and what it takes: the own channels of `pieces` by name and of `families`, channels that
    gather a kind of microphone (`gathers`), and `buses` by name.

    `number` limits families to the first, second, … piece of each. With `mics`, only channels fed by these kinds of
    microphones match. When outputs run out, a rule shares the place of the nearest earlier rule of its `group`, and the
    shared output is named after the group.
    """

    track: Track
    width: Width = Width.STEREO
    families: Annotated[tuple[Family, ...], Field(max_length=len(Family))] = ()
    number: Annotated[int, Field(ge=1, le=64)] | None = None
    pieces: Annotated[tuple[Name, ...], Field(max_length=200)] = ()
    mics: Annotated[tuple[MicKind, ...], Field(max_length=len(MicKind))] = ()
    gathers: Annotated[tuple[MicKind, ...], Field(max_length=len(MicKind))] = ()
    buses: Annotated[tuple[Name, ...], Field(max_length=64)] = ()
    group: Annotated[str, Field(max_length=120)] = ""

    @model_validator(mode="after")
    def _takes_something(self) -> Self:
        if not (self.families or self.pieces or self.mics or self.gathers or self.buses):
            raise ValueError(
                f"the rule “{self.track}” matches nothing; say which pieces, microphones or buses it matches"
            )
        return self


class AssignedPlace(Value):
    """The place a track has on a host."""

    host: Annotated[str, Field(min_length=1, max_length=120)]
    track: Track
    output: Annotated[int, Field(ge=1, le=MOST_OUTPUTS)]
    side: Side = Side.BOTH


class RoutingPlan(Value):
    """A routing policy: rules in order of importance. `keeps_main` reserves output 1 for main. With `pairs`, mono
    tracks share stereo outputs, left and right, if a host has no mono ones; otherwise each uses a whole stereo output.
    """

    rules: Annotated[tuple[PlanRule, ...], Field(min_length=1, max_length=MOST_RULES)]
    keeps_main: bool = True
    pairs: bool = False
    given: Annotated[tuple[AssignedPlace, ...], Field(max_length=2000)] = ()

    @model_validator(mode="after")
    def _tracks_are_told_apart(self) -> Self:
        tracks = [rule.track for rule in self.rules]
        for track in tracks:
            if tracks.count(track) > 1:
                raise ValueError(f"two rules are called “{track}”; give each track a name of its own")
        return self


@dataclass(frozen=True)
class OutputPlace:
    """Where a rule's track is; `joined` names the earlier rule whose place it shares because none was left."""

    output: int
    side: Side = Side.BOTH
    joined: str = ""


def places(plan: RoutingPlan, host: str, outputs: Sequence[Output]) -> dict[str, OutputPlace]:
    """Each track's place on a host with these outputs: its remembered place, else the next free one, in the order of
    the rules. A track without a place and without an earlier rule of its group is missing.
    """
    free = _Free(outputs, keeps_main=plan.keeps_main)
    widths = {rule.track: rule.width for rule in plan.rules}
    found: dict[str, OutputPlace] = {}
    for given in plan.given:
        track = given.track
        if given.host == host and track in widths and track not in found:
            place = OutputPlace(given.output, given.side)
            if free.take(place, widths[track]):
                found[track] = place
    for rule in plan.rules:
        taken = None if rule.track in found else free.next(rule.width, plan.pairs)
        if taken:
            found[rule.track] = taken
    return _joined(plan, found)


def _joined(plan: RoutingPlan, found: dict[str, OutputPlace]) -> dict[str, OutputPlace]:
    """Places for the remaining tracks, shared with the nearest earlier rule of their group."""
    earlier: dict[str, tuple[str, OutputPlace]] = {}
    placed = dict(found)
    for rule in plan.rules:
        place = found.get(rule.track)
        if place is None and rule.group in earlier:
            track, shared = earlier[rule.group]
            placed[rule.track] = OutputPlace(shared.output, shared.side, joined=track)
        elif place is not None and rule.group:
            earlier[rule.group] = (rule.track, place)
    return placed


def remembering(plan: RoutingPlan, host: str, outputs: Sequence[Output]) -> RoutingPlan:
    """The plan with its places on a host remembered; shared places are not."""
    here = tuple(
        AssignedPlace(host=host, track=track, output=place.output, side=place.side)
        for track, place in places(plan, host, outputs).items()
        if not place.joined
    )
    return plan.but(given=(*(given for given in plan.given if given.host != host), *here))


class _Free:
    """The sides of a host's outputs that are still free."""

    def __init__(self, outputs: Sequence[Output], *, keeps_main: bool):
        self.widths = {output.number: output.width for output in outputs}
        self.sides = {n: {Side.LEFT, Side.RIGHT} for n in self.widths if n > 1 or not keeps_main}

    def take(self, place: OutputPlace, width: Width) -> bool:
        """Takes a remembered place, if it still exists, is wide enough and free."""
        wide = self.widths.get(place.output)
        wanted = {Side.LEFT, Side.RIGHT} if place.side is Side.BOTH else {place.side}
        fits = wide is Width.STEREO or (wide is Width.MONO and width is Width.MONO and place.side is Side.BOTH)
        if not fits or not wanted <= self.sides.get(place.output, set()):
            return False
        self.sides[place.output] -= wanted
        return True

    def next(self, width: Width, pairs: bool) -> OutputPlace | None:
        """Takes the next free place for a track of a width."""
        whole = {n: self.widths[n] for n, sides in self.sides.items() if len(sides) == 2}
        halves = [n for n, sides in self.sides.items() if len(sides) == 1]
        mono = [n for n, wide in whole.items() if wide is Width.MONO]
        stereo = [n for n, wide in whole.items() if wide is Width.STEREO]
        tries: list[OutputPlace] = []
        if width is Width.MONO:
            tries += [OutputPlace(n) for n in mono[:1]]
            if pairs:
                tries += [OutputPlace(n, next(iter(self.sides[n]))) for n in halves[:1]]
                tries += [OutputPlace(n, Side.LEFT) for n in stereo[:1]]
        tries += [OutputPlace(n) for n in stereo[:1]]
        return next((place for place in tries if self.take(place, width)), None)
