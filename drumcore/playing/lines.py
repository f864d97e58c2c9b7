"""The line check: every stroke struck alone, and what arrives at every output, against where it should.

A stroke's planned outputs are those of every channel it feeds and of the buses those are sent into through a space. What is
measured is the highest peak of each side over all that a stroke plays at one velocity, each strike from a fresh state, with
treatments, sends and mutes as they are; nothing listened to alone counts.
"""

from collections.abc import Callable, Iterator, Mapping
from enum import StrEnum

import numpy as np

from drumcore.arrays import Floats
from drumcore.grooves.values import Strike
from drumcore.kit.flow import in_order, lanes
from drumcore.kit.lookup import articulations
from drumcore.kit.values import Articulation, Channel, Kit, Piece, Side, Width
from drumcore.playing.climbing import NOTE, struck_directly
from drumcore.playing.compiling import compile_kit
from drumcore.playing.mixing import outputs_in_use
from drumcore.playing.play_table import PlayArticulation, PlayTable
from drumcore.playing.rendering import render
from drumcore.playing.sounds import Sounds
from drumcore.playing.striking import Striker
from drumcore.recordings.loudness import decibels
from drumcore.routing.lanes import channel_width, heard_feeds, outputs_by_lane
from drumcore.value import Value

STRUCK_AT, HARDEST = 100, 127
LISTEN_S = 2.0
ARRIVES_DBFS = -60.0
APART_DB = 20.0
"""Sides further apart than this are one side; copies closer than this are one sound twice."""


class Verdict(StrEnum):
    """What the line check says of a stroke, the worst first."""

    NOWHERE = "nowhere"
    ONE_SIDE = "one_side"
    ELSEWHERE = "elsewhere"
    TWICE = "twice"
    CLIPS = "clips"
    AS_PLANNED = "as_planned"


class LineOutput(Value):
    """The peak of every side of an output, in dBFS; None where there was nothing at all."""

    number: int
    name: str
    peaks_dbfs: tuple[float | None, ...]

    @property
    def arrives(self) -> bool:
        return any(peak is not None and peak > ARRIVES_DBFS for peak in self.peaks_dbfs)


class Line(Value):
    """One stroke: where it arrives, where it should, and the verdict. `outputs` are all that are in use."""

    piece: str
    articulation: str
    verdict: Verdict
    outputs: tuple[LineOutput, ...]
    planned: tuple[int, ...]


def check_lines(kit: Kit, sounds: Sounds, progress: Callable[[int, int], None] | None = None) -> Iterator[Line]:
    """Every stroke that plays anything, in the kit's order. `progress` is told strokes done and all."""
    table = compile_kit(kit)
    strokes = [(piece, stroke) for piece, stroke in articulations(kit) if any(layer.takes for layer in stroke.layers)]
    played = {stroke.id: stroke for piece in table.pieces for stroke in piece.articulations}
    for done, (piece, stroke) in enumerate(strokes, start=1):
        yield _line(kit, table, piece, stroke, played[stroke.id], sounds)
        if progress:
            progress(done, len(strokes))


def _line(
    kit: Kit, table: PlayTable, piece: Piece, stroke: Articulation, played: PlayArticulation, sounds: Sounds
) -> Line:
    peaks = _peaks(table, played, STRUCK_AT, sounds)
    hardest = _peaks(table, played, HARDEST, sounds)
    names = {output.number: output.name for output in table.head.outputs}
    outputs = tuple(
        LineOutput(
            number=number, name=names[number], peaks_dbfs=tuple(decibels(peak) if peak else None for peak in sides)
        )
        for number, sides in peaks.items()
    )
    planned = planned_outputs(kit, piece)
    over = any(bool((sides > 1.0).any()) for sides in hardest.values())
    verdict = _verdict(kit, piece, stroke, outputs, planned, over=over)
    return Line(piece=piece.id, articulation=stroke.id, verdict=verdict, outputs=outputs, planned=planned)


def _peaks(table: PlayTable, stroke: PlayArticulation, velocity: int, sounds: Sounds) -> dict[int, Floats]:
    """The highest sample of every side of every output in use, over all that the stroke plays at a velocity."""
    direct = struck_directly(table, stroke)
    striker = Striker(direct)
    sides = {o.number: 2 if o.width is Width.STEREO else 1 for o in outputs_in_use(table.head)}
    highest = {number: np.zeros(count) for number, count in sides.items()}
    steps = max((len(set(y.steps)) for y in stroke.layers if y.low <= velocity <= y.high), default=0)
    for _ in range(steps):
        struck = [Strike(time_s=0.0, note=NOTE, velocity=velocity)]
        for block in render(direct, struck, sounds, length_s=LISTEN_S, striker=striker):
            for number, sound in block.outputs.items():
                np.maximum(highest[number], np.abs(sound).max(axis=1), out=highest[number])
    return highest


def planned_outputs(kit: Kit, piece: Piece) -> tuple[int, ...]:
    """The outputs a piece should be heard at: of every channel it feeds, and of buses they are sent into through a space."""
    fed = {feed.channel for feed in kit.routing.feeds if feed.piece == piece.id and feed.on}
    ends = _own_outputs(kit)
    buses = {bus.id: bus for bus in kit.routing.buses}
    found: list[int] = []
    for channel in kit.routing.channels:
        if channel.id in fed:
            found.append(ends[channel.id])
            found += [ends[name] for name in _sent_through_spaces(channel, buses)]
    return tuple(dict.fromkeys(found))


def _sent_through_spaces(channel: Channel, buses: Mapping[str, Channel]) -> Iterator[str]:
    """The buses with a space that a channel is sent into, straight or by others."""
    for send in channel.sends:
        bus = buses[send.bus]
        if bus.space is not None and bus.space.on:
            yield bus.id
        yield from _sent_through_spaces(bus, buses)


def _own_outputs(kit: Kit) -> dict[str, int]:
    """Where each channel and bus goes in the end, by itself and not by its sends: 1 is main's."""
    return {name: outputs[0] for name, outputs in outputs_by_lane(kit.routing).items()}


def _verdict(
    kit: Kit,
    piece: Piece,
    stroke: Articulation,
    outputs: tuple[LineOutput, ...],
    planned: tuple[int, ...],
    *,
    over: bool,
) -> Verdict:
    arriving = [output for output in outputs if output.arrives]
    if not arriving:
        return Verdict.NOWHERE
    if any(_one_sided(output) and _in_the_middle(kit, piece, stroke, output.number) for output in arriving):
        return Verdict.ONE_SIDE
    if any(output.number not in planned for output in arriving):
        return Verdict.ELSEWHERE
    if any(_twice(dry) for dry in dry_levels_db(kit, piece).values()):
        return Verdict.TWICE
    return Verdict.CLIPS if over else Verdict.AS_PLANNED


def _one_sided(output: LineOutput) -> bool:
    if len(output.peaks_dbfs) < 2:
        return False
    heard = [ARRIVES_DBFS - APART_DB if peak is None else peak for peak in output.peaks_dbfs]
    return max(heard) - min(heard) >= APART_DB


def _in_the_middle(kit: Kit, piece: Piece, stroke: Articulation, number: int) -> bool:
    """Whether something mono of a piece goes to an output that is meant to stand in the middle."""
    fed = {feed.channel for feed in heard_feeds(kit) if feed.piece == piece.id}
    ends = outputs_by_lane(kit.routing)
    there = (c for c in kit.routing.channels if c.id in fed and number in ends[c.id])
    middle = (c.pan == 0.0 and c.side is Side.BOTH and channel_width(kit, c.id) is Width.MONO for c in there)
    return any(middle) and not any(take.pan for take in stroke.takes)


def dry_levels_db(kit: Kit, piece: Piece) -> dict[str, dict[int, float]]:
    """By microphone, how loud a piece is at each output by ways without a space: levels along the loudest way, in dB, as
    they are set; what treatments do to it is not in it."""
    all_lanes = lanes(kit.routing)
    order = in_order(all_lanes)
    main_db = -np.inf if kit.routing.main.muted else kit.routing.main.level_db
    found: dict[str, dict[int, float]] = {}
    for feed in heard_feeds(kit):
        if feed.piece != piece.id:
            continue
        entering = {feed.channel: feed.level_db}
        at = found.setdefault(feed.mic, {})
        for place in order:
            lane = all_lanes[place]
            level = entering.get(lane.id)
            if level is None or lane.muted or (lane.space is not None and lane.space.on):
                continue
            for send in lane.sends:
                sent = level + send.level_db + (0.0 if send.early else lane.level_db)
                entering[send.bus] = max(entering.get(send.bus, -np.inf), sent)
            left = level + lane.level_db
            if lane.bus:
                entering[lane.bus] = max(entering.get(lane.bus, -np.inf), left)
            else:
                number = lane.output or 1
                at[number] = max(at.get(number, -np.inf), left + (main_db if lane.output is None else 0.0))
    return found


def _twice(levels_db: Mapping[int, float]) -> bool:
    """Whether the two loudest copies of one microphone are nearly as loud as one another."""
    loud = sorted((level for level in levels_db.values() if level > ARRIVES_DBFS), reverse=True)
    return len(loud) > 1 and loud[0] - loud[1] < APART_DB
