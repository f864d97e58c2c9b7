"""Where each piece arrives, and by which path: the one answer for the line check, the track sheet, the host and findings.

A path follows the settings: feeds on and off, mutes of microphones and channels, levels, sends, buses and main. Treatments
do not count; a reverb or echo makes a path wet.
"""

import math
from collections.abc import Iterator
from typing import NamedTuple

from drumcore.kit.flow import channels_and_buses, in_order
from drumcore.kit.memoization import remembered
from drumcore.kit.values import MAIN, Channel, Kit, Mic, Piece, Routing
from drumcore.routing.default_routing import feeds_let_in, heard_feeds, own_channel

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


def signal_paths(kit: Kit, piece_id: str) -> tuple[SignalPath, ...]:
    """The loudest dry and the loudest wet path of each microphone of a piece to each output."""
    return _by_piece(kit.routing, kit.mics).get(piece_id, ())


@remembered(limit=16)
def _by_piece(routing: Routing, mics: tuple[Mic, ...]) -> dict[str, tuple[SignalPath, ...]]:
    """The paths of every piece. Edits of takes and layers leave routing and microphones as they are, and this with them."""
    all_channels = channels_and_buses(routing)
    order = in_order(all_channels)
    found: dict[str, dict[tuple[str, int, bool], SignalPath]] = {}
    for feed in feeds_let_in(routing, mics):
        paths = found.setdefault(feed.piece, {})
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
                    main = routing.main
                    left, through = (-math.inf if main.muted else left + main.level_db), (*through, MAIN)
                path = SignalPath(feed.mic, number, left, after, through)
                known = paths.get((feed.mic, number, after))
                if known is None or known.level_db < left:
                    paths[feed.mic, number, after] = path
    return {piece: tuple(paths.values()) for piece, paths in found.items()}


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


def own_outputs(kit: Kit, piece: Piece) -> tuple[int, ...]:
    """The outputs a piece is heard at by its own channel: where the channel goes first, then the others in order."""
    own = own_channel(kit, piece)
    if own is None:
        return ()
    reached = {path.output for path in arriving(kit, piece) if own.id in path.channels}
    goes = own.output or MAIN_OUTPUT
    return tuple(sorted(reached, key=lambda number: (number != goes, number)))


def outputs_reached(kit: Kit, piece: Piece) -> tuple[int, ...]:
    """The outputs a piece is heard at: by its own channel first, then the others in order."""
    return tuple(dict.fromkeys([*own_outputs(kit, piece), *sorted(path.output for path in arriving(kit, piece))]))


def channels_heard(kit: Kit) -> frozenset[str]:
    """The channels and buses that sound of some piece passes on its way to an output."""
    return frozenset(channel for piece in kit.pieces for path in arriving(kit, piece) for channel in path.channels)
