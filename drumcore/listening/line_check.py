"""The line check: every articulation is struck alone, and what arrives at each output is compared with the plan.

An articulation's planned outputs are those of every channel it feeds, and of buses that those channels send to, if the
bus has a reverb or an output of its own. The measurement is the highest peak of each side over all takes at one velocity, each strike from a fresh
state, with treatments, sends and mutes as set; solo does not count.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from enum import StrEnum

import numpy as np

from drumcore.arrays import Floats
from drumcore.grooves.values import Strike
from drumcore.kit.flow import channels_and_buses, in_order, next_of
from drumcore.kit.lookup import all_articulations
from drumcore.kit.values import Articulation, Kit, Piece, Side, Width
from drumcore.listening.velocity_sweep import NOTE, struck_directly
from drumcore.playing.compiler import compile_kit
from drumcore.playing.mixer import outputs_in_use
from drumcore.playing.play_table import PlayArticulation, PlayTable
from drumcore.playing.renderer import render
from drumcore.playing.sounds import Sounds
from drumcore.playing.striker import Striker
from drumcore.recordings.k_weighting import decibels
from drumcore.routing.default_routing import channel_width, heard_feeds, outputs_by_channel, own_channel
from drumcore.routing.plan_reference import planned_places
from drumcore.routing.signal_paths import copies_db, wet
from drumcore.value import Value

STRUCK_AT, HARDEST = 100, 127
LISTEN_S = 2.0
ARRIVES_DBFS = -60.0
APART_DB = 20.0
"""Sides further apart than this are one side; copies closer than this are one sound twice."""
CHANGED_DB = 0.5


class Verdict(StrEnum):
    """What the line check says of an articulation, the worst first."""

    NOWHERE = "nowhere"
    ONE_SIDE = "one_side"
    ELSEWHERE = "elsewhere"
    TWICE = "twice"
    CLIPS = "clips"
    AS_PLANNED = "as_planned"


class LineOutput(Value):
    """The peak of each side of an output, in dBFS; None for digital silence. `arrives_dbfs` is the highest one if it is
    audible, `only` the side if just one carries sound, `over_db` how far the hardest strike exceeds full scale.
    """

    number: int
    name: str
    peaks_dbfs: tuple[float | None, ...]
    arrives_dbfs: float | None
    only: Side | None
    over_db: float | None = None


class Line(Value):
    """One articulation: where it arrives, where it should, and the verdict. `outputs` are all outputs in use, `astray`
    the numbers of unplanned ones where it arrives, `own` the number of its own channel's output; None for a piece
    without a channel of its own or not fed into it.
    """

    piece: str
    articulation: str
    verdict: Verdict
    outputs: tuple[LineOutput, ...]
    planned: tuple[int, ...]
    astray: tuple[int, ...]
    own: int | None = None


class Change(Value):
    """An articulation that arrives differently than before at an output; None where it does not arrive."""

    articulation: str
    output: int
    from_dbfs: float | None
    to_dbfs: float | None


def articulations_of(kit: Kit) -> list[tuple[Piece, Articulation]]:
    """The articulations that have takes to play, in the order they are struck."""
    return [
        (piece, articulation)
        for piece, articulation in all_articulations(kit)
        if any(layer.takes for layer in articulation.layers)
    ]


def check_lines(kit: Kit, sounds: Sounds, progress: Callable[[int, int], None] | None = None) -> Iterator[Line]:
    """The line check's result for every articulation. `progress` is called with articulations done and the total."""
    table = compile_kit(kit)
    articulations = articulations_of(kit)
    played = {articulation.id: articulation for piece in table.pieces for articulation in piece.articulations}
    for done, (piece, articulation) in enumerate(articulations, start=1):
        yield _line(kit, table, piece, articulation, played[articulation.id], sounds)
        if progress:
            progress(done, len(articulations))


def _line(
    kit: Kit, table: PlayTable, piece: Piece, articulation: Articulation, played: PlayArticulation, sounds: Sounds
) -> Line:
    peaks = _peaks(table, played, STRUCK_AT, sounds)
    hardest = _peaks(table, played, HARDEST, sounds)
    names = {output.number: output.name for output in table.head.outputs}
    outputs = tuple(_output(number, names[number], sides, hardest[number]) for number, sides in peaks.items())
    planned = planned_outputs(kit, piece)
    arriving = [output for output in outputs if output.arrives_dbfs is not None]
    astray = tuple(output.number for output in arriving if output.number not in planned)
    own = own_output(kit, piece)
    # Overheads record every drum, so a drum that is silent on its own output is reported even though it is heard there.
    if not arriving or (own is not None and own not in {output.number for output in arriving}):
        verdict = Verdict.NOWHERE
    elif any(output.only and _in_the_middle(kit, piece, articulation, output.number) for output in arriving):
        verdict = Verdict.ONE_SIDE
    elif astray:
        verdict = Verdict.ELSEWHERE
    elif any(is_twice(levels) for levels in copies_db(kit, piece).values()):
        verdict = Verdict.TWICE
    elif any((sides > 1.0).any() for sides in hardest.values()):
        verdict = Verdict.CLIPS
    else:
        verdict = Verdict.AS_PLANNED
    return Line(
        piece=piece.id,
        articulation=articulation.id,
        verdict=verdict,
        outputs=outputs,
        planned=planned,
        astray=astray,
        own=own,
    )


def own_output(kit: Kit, piece: Piece) -> int | None:
    """The output of a piece's own channel, by the plan if there is one, if the piece is fed into it."""
    own = own_channel(kit, piece)
    if own is None or not any(f.on and f.piece == piece.id and f.channel == own.id for f in kit.routing.feeds):
        return None
    place = planned_places(kit).get(own.id)
    return (place.output or 1) if place else outputs_by_channel(kit.routing)[own.id][0]


def _output(number: int, name: str, sides: Floats, hardest: Floats) -> LineOutput:
    peaks = tuple(decibels(peak) if peak else None for peak in sides)
    loudest = max((peak for peak in peaks if peak is not None), default=None)
    arrives = loudest if loudest is not None and loudest > ARRIVES_DBFS else None
    over = decibels(float(hardest.max()))
    return LineOutput(
        number=number,
        name=name,
        peaks_dbfs=peaks,
        arrives_dbfs=arrives,
        only=_only(peaks) if arrives else None,
        over_db=over if over > 0.0 else None,
    )


def _only(peaks: tuple[float | None, ...]) -> Side | None:
    """The only side with sound; None if both have sound or there is only one side."""
    if len(peaks) < 2:
        return None
    left, right = (ARRIVES_DBFS - APART_DB if peak is None else peak for peak in peaks)
    if abs(left - right) < APART_DB:
        return None
    return Side.LEFT if left > right else Side.RIGHT


def changed(before: Sequence[Line], lines: Sequence[Line]) -> tuple[Change, ...]:
    """Articulations that arrive louder, softer, newly or no longer, compared with an earlier check."""
    known = {line.articulation: _arriving(line) for line in before}
    found = []
    for line in lines:
        if line.articulation not in known:
            continue
        was, now = known[line.articulation], _arriving(line)
        for number in sorted(was.keys() | now.keys()):
            then, there = was.get(number), now.get(number)
            if then is None or there is None or abs(then - there) >= CHANGED_DB:
                found.append(Change(articulation=line.articulation, output=number, from_dbfs=then, to_dbfs=there))
    return tuple(found)


def _arriving(line: Line) -> dict[int, float]:
    return {output.number: output.arrives_dbfs for output in line.outputs if output.arrives_dbfs is not None}


def _peaks(table: PlayTable, articulation: PlayArticulation, velocity: int, sounds: Sounds) -> dict[int, Floats]:
    """The highest sample of each side of each output over all takes that the articulation plays at a velocity."""
    direct = struck_directly(table, articulation)
    striker = Striker(direct)
    sides = {o.number: 2 if o.width is Width.STEREO else 1 for o in outputs_in_use(table.head)}
    highest = {number: np.zeros(count) for number, count in sides.items()}
    steps = max((len(set(y.steps)) for y in articulation.layers if y.low <= velocity <= y.high), default=0)
    for _ in range(steps):
        struck = [Strike(time_s=0.0, note=NOTE, velocity=velocity)]
        for block in render(direct, struck, sounds, length_s=LISTEN_S, striker=striker):
            for number, sound in block.outputs.items():
                np.maximum(highest[number], np.abs(sound).max(axis=1), out=highest[number])
    return highest


def planned_outputs(kit: Kit, piece: Piece) -> tuple[int, ...]:
    """The outputs where a piece should be heard: those of every channel it feeds, and of buses that those channels send
    to, if the bus has a reverb or an output of its own.
    """
    fed = {feed.channel for feed in kit.routing.feeds if feed.piece == piece.id and feed.on}
    places = planned_places(kit)
    all_channels = channels_and_buses(kit.routing)
    reached = set(fed)
    found: list[int] = []
    # In this order each channel comes after all that flow into it.
    for place in in_order(all_channels):
        channel = all_channels[place]
        if channel.id not in reached:
            continue
        reached.update(next_of(channel))
        if channel.id in fed or wet(channel) or channel.output is not None:
            # Without a plan, a channel is meant for its first output; its sends do not count.
            planned = places.get(channel.id)
            found.append((planned.output or 1) if planned else outputs_by_channel(kit.routing)[channel.id][0])
    return tuple(sorted(set(found)))


def _in_the_middle(kit: Kit, piece: Piece, articulation: Articulation, number: int) -> bool:
    """Whether a mono microphone of a piece goes to an output where it should be in the centre."""
    fed = {feed.channel for feed in heard_feeds(kit) if feed.piece == piece.id}
    ends = outputs_by_channel(kit.routing)
    there = (c for c in kit.routing.channels if c.id in fed and number in ends[c.id])
    middle = (c.pan == 0.0 and c.side is Side.BOTH and channel_width(kit, c.id) is Width.MONO for c in there)
    return any(middle) and not any(take.pan for take in articulation.takes)


def is_twice(levels_db: Mapping[int, float]) -> bool:
    """Whether the two loudest copies of one microphone are almost equally loud."""
    loud = sorted((level for level in levels_db.values() if level > ARRIVES_DBFS), reverse=True)
    return len(loud) > 1 and loud[0] - loud[1] < APART_DB
