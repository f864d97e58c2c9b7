"""What is wrong with routing."""

from collections.abc import Iterator
from itertools import islice

from drumcore.edits.of_pieces import SetPiece
from drumcore.edits.of_routing import SetChannel, SetFeed, SetMainLevel
from drumcore.edits.of_takes import SetMic
from drumcore.findings.finding import Finding, FindingLevel, Mend, Where, mend, that_help
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit, Piece
from drumcore.routing.lanes import heard_feeds, mics_heard, own_channel

NOTHING_DB = -100.0
"""A level at or under this plays nothing that could be heard."""
WRONG, INFO = FindingLevel.WRONG, FindingLevel.INFORMATION


def reaches_no_output(kit: Kit) -> Iterator[Finding]:
    """A piece that is silent however it is struck: nothing of it goes anywhere, or something on its way is off, muted or at
    nothing."""
    for piece in pieces_of(kit):
        if not piece.articulations or _is_heard(kit, piece.id):
            continue
        yield Finding(
            rule="reaches_no_output",
            level=WRONG,
            title=f"{piece.name} reaches no output",
            sentence=_why_silent(kit, piece),
            place=piece.name,
            where=Where(step="routing", piece=piece.id),
            mends=_letting_it_be_heard(kit, piece),
        )


def _is_heard(kit: Kit, piece_id: str) -> bool:
    there = {o.number for o in kit.routing.outputs}
    arriving = {
        c.id
        for c in kit.routing.channels
        if not c.muted
        and c.level_db > NOTHING_DB
        and (c.output in there or (c.output is None and kit.routing.main_level_db > NOTHING_DB))
    }
    quiet = {mic.id for mic in kit.mics if mic.gain_db <= NOTHING_DB}
    level_db = next(piece.level_db for piece in kit.pieces if piece.id == piece_id)
    return level_db > NOTHING_DB and any(
        feed.piece == piece_id and feed.channel in arriving and feed.mic not in quiet and feed.level_db > NOTHING_DB
        for feed in heard_feeds(kit)
    )


def _why_silent(kit: Kit, piece: Piece) -> str:
    """The first thing on its way that silences all of it."""
    feeds = [feed for feed in kit.routing.feeds if feed.piece == piece.id]
    channels = [c for c in kit.routing.channels if c.id in {feed.channel for feed in feeds}]
    if piece.level_db <= NOTHING_DB:
        return f"The level of {piece.name} is at nothing; it is silent."
    if channels and all(c.muted or c.level_db <= NOTHING_DB for c in channels):
        names = " and ".join(c.name for c in channels)
        return f"{names} {'is' if len(channels) == 1 else 'are'} muted or at nothing; {piece.name} is silent."
    if channels and kit.routing.main_level_db <= NOTHING_DB and all(c.output is None for c in channels):
        return f"The main mix is at nothing, and {piece.name} goes nowhere else; it is silent."
    return f"No microphone of {piece.name} enters a channel that goes anywhere; it is silent."


def _letting_it_be_heard(kit: Kit, piece: Piece) -> tuple[Mend, ...]:
    mics = {mic.id: mic for mic in kit.mics}
    channels = {channel.id: channel for channel in kit.routing.channels}
    tries = []
    if piece.level_db <= NOTHING_DB:
        tries.append(mend(f"Bring {piece.name} up", SetPiece(piece=piece.id, level_db=0.0)))
    if kit.routing.main_level_db <= NOTHING_DB:
        tries.append(mend("Bring the main mix up", SetMainLevel(level_db=0.0)))
    for feed in kit.routing.feeds:
        if feed.piece != piece.id:
            continue
        level_db = feed.level_db if feed.level_db > NOTHING_DB else 0.0
        on = SetFeed(piece=feed.piece, mic=feed.mic, channel=feed.channel, level_db=level_db)
        gain_db = 0.0 if mics[feed.mic].gain_db <= NOTHING_DB else None
        unmuted, name = SetMic(mic=feed.mic, muted=False, gain_db=gain_db), mics[feed.mic].name
        channel = channels[feed.channel]
        up = SetChannel(channel=channel.id, muted=False, level_db=0.0 if channel.level_db <= NOTHING_DB else None)
        tries += [
            mend(f"Let {channel.name} be heard again", up),
            mend("Switch its feed on", on),
            mend(f"Let {name} be heard again", unmuted),
            mend(f"Switch its feed on and let {name} be heard again", on, unmuted),
        ]
    fed = {feed.channel for feed in kit.routing.feeds}
    empty = [c for c in kit.routing.channels if c.id not in fed and c.gathers is None and c.name == piece.name]
    for channel in [own for own in (own_channel(kit, piece),) if own] or empty:
        for mic in piece.own_mics or mics_heard(piece):
            tries.append(mend("Feed its channel", SetFeed(piece=piece.id, mic=mic, channel=channel.id, level_db=0.0)))
    return tuple(islice(that_help(kit, tries, lambda after: _is_heard(after, piece.id)), 2))


def beyond_the_host(kit: Kit) -> Iterator[Finding]:
    there = {o.number for o in kit.routing.outputs}
    for channel in kit.routing.channels:
        if channel.output is not None and channel.output not in there:
            yield Finding(
                rule="beyond_the_host",
                level=WRONG,
                title=f"{channel.name} goes to an output that is not there",
                sentence=f"{channel.name} goes to output {channel.output}; {kit.routing.host} has {len(there)}.",
                place=channel.name,
                where=Where(step="routing", channel=channel.id),
                mends=(Mend(label="Send it to main", edit=SetChannel(channel=channel.id, output=0)),),
            )


def empty_channel(kit: Kit) -> Iterator[Finding]:
    fed = {f.channel for f in kit.routing.feeds}
    for channel in kit.routing.channels:
        if channel.id not in fed:
            yield Finding(
                rule="empty_channel",
                level=INFO,
                title=f"Nothing enters {channel.name}",
                sentence=f"No microphone feeds {channel.name}; it stays silent.",
                place=channel.name,
                where=Where(step="routing", channel=channel.id),
            )


RULES = (reaches_no_output, beyond_the_host, empty_channel)
