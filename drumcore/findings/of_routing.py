"""What is wrong with routing."""

from collections.abc import Iterator

from drumcore.edits.of_routing import SetChannel, SetFeed
from drumcore.findings.finding import Finding, FindingLevel, Mend, Where
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import Kit
from drumcore.routing.lanes import heard_feeds

WRONG, INFO = FindingLevel.WRONG, FindingLevel.INFORMATION


def reaches_no_output(kit: Kit) -> Iterator[Finding]:
    there = {o.number for o in kit.routing.outputs}
    arriving = {c.id for c in kit.routing.channels if c.output is None or c.output in there}
    fed = {f.piece for f in heard_feeds(kit) if f.channel in arriving}
    for piece in pieces_of(kit):
        if piece.id not in fed:
            channel = next((c.id for c in kit.routing.channels if c.id == piece.id), None)
            mics = piece.own_mics or tuple({r.mic for a in piece.articulations for t in a.takes for r in t.recordings})
            mends = tuple(
                Mend(label="Feed its channel", edit=SetFeed(piece=piece.id, mic=mic, channel=channel, level_db=0.0))
                for mic in mics[:1]
                if channel
            )
            off = next((f for f in kit.routing.feeds if f.piece == piece.id and not f.on), None)
            if off is not None:
                on = SetFeed(piece=off.piece, mic=off.mic, channel=off.channel, level_db=off.level_db)
                mends = (Mend(label="Switch its feed on", edit=on), *mends)
            yield Finding(
                rule="reaches_no_output",
                level=WRONG,
                title=f"{piece.name} reaches no output",
                sentence=f"No microphone of {piece.name} enters a channel that goes anywhere; it is silent.",
                place=piece.name,
                where=Where(step="routing", piece=piece.id),
                mends=mends,
            )


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
