"""What is wrong with routing."""

from collections.abc import Iterator
from itertools import islice

from drumcore.edits.of_routing import SetChannel, SetFeed
from drumcore.edits.of_takes import SetMic
from drumcore.findings.finding import Finding, FindingLevel, Mend, Where, mend, that_help
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit, Piece
from drumcore.routing.lanes import heard_feeds, mics_heard, own_channel

WRONG, INFO = FindingLevel.WRONG, FindingLevel.INFORMATION


def reaches_no_output(kit: Kit) -> Iterator[Finding]:
    for piece in pieces_of(kit):
        if not _is_heard(kit, piece.id):
            yield Finding(
                rule="reaches_no_output",
                level=WRONG,
                title=f"{piece.name} reaches no output",
                sentence=f"No microphone of {piece.name} enters a channel that goes anywhere; it is silent.",
                place=piece.name,
                where=Where(step="routing", piece=piece.id),
                mends=_letting_it_be_heard(kit, piece),
            )


def _is_heard(kit: Kit, piece_id: str) -> bool:
    there = {o.number for o in kit.routing.outputs}
    arriving = {c.id for c in kit.routing.channels if c.output is None or c.output in there}
    return any(feed.piece == piece_id and feed.channel in arriving for feed in heard_feeds(kit))


def _letting_it_be_heard(kit: Kit, piece: Piece) -> tuple[Mend, ...]:
    mics = {mic.id: mic for mic in kit.mics}
    tries = []
    for feed in kit.routing.feeds:
        if feed.piece != piece.id:
            continue
        on = SetFeed(piece=feed.piece, mic=feed.mic, channel=feed.channel, level_db=feed.level_db)
        unmuted, name = SetMic(mic=feed.mic, muted=False), mics[feed.mic].name
        tries += [mend("Switch its feed on", on), mend(f"Let {name} be heard again", unmuted)]
        tries.append(mend(f"Switch its feed on and let {name} be heard again", on, unmuted))
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
