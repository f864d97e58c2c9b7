"""Whether a piece reaches an output, and what silences it if not."""

from drumcore.kit.flow import channels_and_buses, in_order
from drumcore.kit.memoization import remembered
from drumcore.kit.values import MAIN, Channel, Kit, Piece, Routing
from drumcore.routing.default_routing import heard_feeds

NOTHING_DB = -100.0
"""A level at or under this plays nothing that could be heard."""


def is_heard(kit: Kit, piece_id: str) -> bool:
    """Whether a strike of the piece is heard: some path to an output exists on which nothing is off."""
    arriving = reaching_outputs(kit.routing)
    quiet = {mic.id for mic in kit.mics if mic.gain_db <= NOTHING_DB}
    level_db = next(piece.level_db for piece in kit.pieces if piece.id == piece_id)
    return level_db > NOTHING_DB and any(
        feed.piece == piece_id and feed.channel in arriving and feed.mic not in quiet and feed.level_db > NOTHING_DB
        for feed in heard_feeds(kit)
    )


@remembered(limit=64)
def reaching_outputs(routing: Routing) -> frozenset[str]:
    """The channels and buses from which sound reaches an output: directly, by main, or through buses."""
    there = {o.number for o in routing.outputs}
    main = routing.main
    all_channels = channels_and_buses(routing)
    found = {MAIN} if not main.muted and main.level_db > NOTHING_DB else set()
    # In reverse order each channel comes before everything that flows into it, so its result is known by then.
    for place in reversed(in_order(all_channels)):
        channel = all_channels[place]
        loud = channel.level_db > NOTHING_DB
        goes = (
            channel.bus in found
            if channel.bus
            else channel.output in there
            if channel.output is not None
            else MAIN in found
        )
        sent = any(s.bus in found and s.level_db > NOTHING_DB and (s.pre_fader or loud) for s in channel.sends)
        if not channel.muted and ((loud and goes) or sent):
            found.add(channel.id)
    return frozenset(found)


def why_silent(kit: Kit, piece: Piece) -> str:
    """The first point on its path that silences all of it."""
    feeds = [feed for feed in kit.routing.feeds if feed.piece == piece.id]
    channels = [c for c in kit.routing.channels if c.id in {feed.channel for feed in feeds}]
    if piece.level_db <= NOTHING_DB:
        return f"The level of {piece.name} is at −∞ dB; it is silent."
    if channels and all(c.muted or c.level_db <= NOTHING_DB for c in channels):
        names = " and ".join(c.name for c in channels)
        return f"{names} {'is' if len(channels) == 1 else 'are'} muted or at −∞ dB; {piece.name} is silent."
    main = kit.routing.main
    if channels and (main.muted or main.level_db <= NOTHING_DB) and all(_by_main_alone(c) for c in channels):
        why = "muted" if main.muted else "at −∞ dB"
        return f"The main mix is {why}, and {piece.name} goes nowhere else; it is silent."
    heard = reaching_outputs(kit.routing)
    silent = [bus.name for bus in kit.routing.buses if bus.id not in heard and any(c.bus == bus.id for c in channels)]
    if silent and all(c.bus for c in channels):
        return f"{piece.name} goes into {' and '.join(silent)}, none of which is heard; it is silent."
    return f"No microphone of {piece.name} feeds a channel that reaches an output; it is silent."


def _by_main_alone(channel: Channel) -> bool:
    return channel.output is None and not channel.bus and not channel.sends


def silent_pieces(kit: Kit) -> dict[str, str]:
    """The pieces that are not heard, by id, each with the reason."""
    return {p.id: why_silent(kit, p) for p in kit.pieces if p.articulations and not is_heard(kit, p.id)}
