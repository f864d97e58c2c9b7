"""Where each piece arrives, and by which path: the one answer for the line check, the track sheet, the host and findings.

A path follows the settings: feeds on and off, mutes of microphones and channels, levels, sends, buses and main. Treatments
do not count; a reverb or echo makes a path wet.
"""

import math
from collections.abc import Iterator
from typing import NamedTuple

from drumcore.kit.flow import channels_and_buses, in_order
from drumcore.kit.memoization import remembered
from drumcore.kit.values import MAIN, Channel, Kit, Piece
from drumcore.routing.default_routing import heard_feeds, own_channel

ARRIVES_DB = -60.0
"""What is set lower than this is not heard at the end of its path."""
MAIN_OUTPUT = 1


class SignalPath(NamedTuple):
    """The loudest path from a microphone of a piece to an output, dry or wet. `level_db` is the level of the path alone,
    without the piece's and the microphone's; `channels` are the ids of the channels passed, main included.
    """

    mic: str
    output: int
    level_db: float
    wet: bool
    channels: tuple[str, ...]


def wet(channel: Channel) -> bool:
    """Whether a bus has a reverb or echo."""
    return channel.space is not None and channel.space.on


@remembered(limit=256)
def signal_paths(kit: Kit, piece_id: str) -> tuple[SignalPath, ...]:
    """The loudest dry and the loudest wet path of each microphone of a piece to each output."""
    all_channels = channels_and_buses(kit.routing)
    order = in_order(all_channels)
    found: dict[tuple[str, int, bool], SignalPath] = {}
    for feed in heard_feeds(kit):
        if feed.piece != piece_id:
            continue
        entering: dict[tuple[str, bool], tuple[float, tuple[str, ...]]] = {}
        entering[feed.channel, False] = (feed.level_db, (feed.channel,))
        for place in order:
            channel = all_channels[place]
            for before in (False, True):
                came = entering.get((channel.id, before))
                if came is None or channel.muted:
                    continue
                level, through = came
                after = before or wet(channel)
                for send in channel.sends:
                    sent = level + send.level_db + (0.0 if send.pre_fader else channel.level_db)
                    _keep_louder(entering, (send.bus, after), sent, (*through, send.bus))
                left = level + channel.level_db
                if channel.bus:
                    _keep_louder(entering, (channel.bus, after), left, (*through, channel.bus))
                    continue
                number = channel.output or MAIN_OUTPUT
                if channel.output is None:
                    main = kit.routing.main
                    left, through = (-math.inf if main.muted else left + main.level_db), (*through, MAIN)
                path = SignalPath(feed.mic, number, left, after, through)
                known = found.get((feed.mic, number, after))
                if known is None or known.level_db < left:
                    found[feed.mic, number, after] = path
    return tuple(found.values())


def _keep_louder(
    entering: dict[tuple[str, bool], tuple[float, tuple[str, ...]]],
    at: tuple[str, bool],
    level_db: float,
    through: tuple[str, ...],
) -> None:
    if at not in entering or entering[at][0] < level_db:
        entering[at] = (level_db, through)


def dry_levels_db(kit: Kit, piece: Piece) -> dict[str, dict[int, float]]:
    """For each microphone, the level of its loudest dry path to each output, in dB."""
    found: dict[str, dict[int, float]] = {feed.mic: {} for feed in heard_feeds(kit) if feed.piece == piece.id}
    for path in signal_paths(kit, piece.id):
        if not path.wet:
            found[path.mic][path.output] = path.level_db
    return found


def copies_db(kit: Kit, piece: Piece) -> dict[str, dict[int, float]]:
    """As `dry_levels_db`, without what was sent on purpose to a bus that has an output of its own."""
    apart = {bus.id for bus in kit.routing.buses if bus.output is not None}
    found: dict[str, dict[int, float]] = {}
    for path in signal_paths(kit, piece.id):
        if not path.wet and apart.isdisjoint(path.channels[1:]):
            found.setdefault(path.mic, {})[path.output] = path.level_db
    return found


def arriving(kit: Kit, piece: Piece) -> Iterator[SignalPath]:
    """The paths by which a piece is heard at an output that the host has."""
    gains = {mic.id: mic.gain_db for mic in kit.mics}
    there = {output.number for output in kit.routing.outputs}
    for path in signal_paths(kit, piece.id):
        if path.output in there and path.level_db + gains[path.mic] + piece.level_db > ARRIVES_DB:
            yield path


def outputs_reached(kit: Kit, piece: Piece) -> tuple[int, ...]:
    """The outputs a piece is heard at: its own channel's first, then the others in order."""
    own = own_channel(kit, piece)
    paths = list(arriving(kit, piece))
    by_own = sorted({path.output for path in paths if own and own.id in path.channels and not path.wet})
    first = by_own if own is None or own.output not in by_own else [own.output, *by_own]
    return tuple(dict.fromkeys([*first, *sorted(path.output for path in paths)]))


def channels_heard(kit: Kit) -> frozenset[str]:
    """The channels and buses that sound of some piece passes on its way to an output."""
    return frozenset(channel for piece in kit.pieces for path in arriving(kit, piece) for channel in path.channels)
