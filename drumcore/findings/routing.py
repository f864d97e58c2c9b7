"""Findings about routing."""

import functools
from collections.abc import Iterable, Iterator
from itertools import islice

from drumcore.edits.buses import RemoveBus
from drumcore.edits.channels import RemoveChannel, SetChannel, SetFeed
from drumcore.edits.outputs import ApplyPlan, KeepPlace, NameOutput
from drumcore.edits.pieces import SetPiece
from drumcore.edits.takes import SetMic
from drumcore.findings.finding import Finding, FindingLevel, Fix, Where, fix, that_help
from drumcore.kit.flow import channels_and_buses, next_of
from drumcore.kit.lookup import pieces_of
from drumcore.kit.values import MAIN, Channel, Kit, Piece, Side, Width
from drumcore.routing.default_routing import channel_width, mics_heard, own_channel
from drumcore.routing.host_moves import free_output, outputs_used
from drumcore.routing.plan_reference import moved_by_hand
from drumcore.routing.plan_routing import into_one_side, where_to
from drumcore.routing.reachability import NOTHING_DB, is_heard, reaching_outputs, why_silent
from drumcore.routing.shipped import PLANS

WRONG, INFO = FindingLevel.WRONG, FindingLevel.INFORMATION


def reaches_no_output(kit: Kit) -> Iterator[Finding]:
    """A piece that is never heard: nothing of it is routed anywhere, or something on its path is off, muted or at −∞
    dB.
    """
    for piece in pieces_of(kit):
        if not piece.articulations or is_heard(kit, piece.id):
            continue
        yield Finding(
            rule="reaches_no_output",
            level=WRONG,
            title=f"{piece.name} reaches no output",
            sentence=why_silent(kit, piece),
            place=piece.name,
            where=Where(step="routing", piece=piece.id),
            fixes=tuple(
                islice(that_help(kit, ways_to_be_heard(kit, piece), functools.partial(_is_heard, piece.id)), 2)
            ),
        )


QUIETER_DB = 6.0


def quieter_than_what_it_replaced(kit: Kit) -> Iterator[Finding]:
    """A piece that replaced another one and is much quieter than that was."""
    for piece in pieces_of(kit):
        origin = piece.origin
        if origin is None or origin.as_loud_at_db is None or not is_heard(kit, piece.id):
            continue
        quieter = origin.as_loud_at_db - piece.level_db
        if quieter >= QUIETER_DB:
            yield Finding(
                rule="quieter_than_what_it_replaced",
                level=FindingLevel.WORTH_A_LOOK,
                title=f"{piece.name} is much quieter than {origin.instead_of} was",
                sentence=f"{piece.name} replaced {origin.instead_of} and is {quieter:.1f} dB quieter.",
                place=piece.name,
                where=Where(step="routing", piece=piece.id),
                fixes=(
                    fix(
                        f"Turn {piece.name} up by {quieter:.1f} dB",
                        SetPiece(piece=piece.id, level_db=origin.as_loud_at_db),
                    ),
                ),
            )


def _is_heard(piece: str, kit: Kit) -> bool:
    return is_heard(kit, piece)


def ways_to_be_heard(kit: Kit, piece: Piece) -> Iterator[Fix]:
    """Edits that might make a silent piece heard: each corrects one point on its path, some correct two."""
    mics = {mic.id: mic for mic in kit.mics}
    channels = {channel.id: channel for channel in kit.routing.channels}
    tries: list[Fix] = []
    if piece.level_db <= NOTHING_DB:
        tries.append(fix(f"Turn {piece.name} up", SetPiece(piece=piece.id, level_db=0.0)))
    for channel in (*kit.routing.buses, kit.routing.main):
        if channel.muted or channel.level_db <= NOTHING_DB:
            name = "the main mix" if channel.id == MAIN else channel.name
            tries.append(fix(f"Turn {name} up", _brought_up(channel)))
    for feed in kit.routing.feeds:
        if feed.piece != piece.id:
            continue
        level_db = feed.level_db if feed.level_db > NOTHING_DB else 0.0
        on = SetFeed(piece=feed.piece, mic=feed.mic, channel=feed.channel, level_db=level_db)
        gain_db = 0.0 if mics[feed.mic].gain_db <= NOTHING_DB else None
        unmuted, name = SetMic(mic=feed.mic, muted=False, gain_db=gain_db), mics[feed.mic].name
        channel = channels[feed.channel]
        up = _brought_up(channel)
        tries += [
            fix(f"Unmute {channel.name}", up),
            fix("Turn its feed on", on),
            fix(f"Unmute {name}", unmuted),
            fix(f"Turn its feed on and unmute {name}", on, unmuted),
        ]
    fed = {feed.channel for feed in kit.routing.feeds}
    empty = [c for c in kit.routing.channels if c.id not in fed and c.gathers is None and c.name == piece.name]
    for channel in [own for own in (own_channel(kit, piece),) if own] or empty:
        for mic in piece.own_mics or mics_heard(piece):
            tries.append(
                fix("Add it to its channel", SetFeed(piece=piece.id, mic=mic, channel=channel.id, level_db=0.0))
            )
    yield from tries


def _brought_up(channel: Channel) -> SetChannel:
    """Makes a channel, bus or the main mix audible again, by correcting only what silenced it."""
    return SetChannel(channel=channel.id, muted=False, level_db=0.0 if channel.level_db <= NOTHING_DB else None)


def _of_channel(
    channel: Channel, level: FindingLevel, *, rule: str, title: str, sentence: str, fixes: Iterable[Fix] = ()
) -> Finding:
    where = Where(step="routing", channel=channel.id)
    return Finding(
        rule=rule, level=level, title=title, sentence=sentence, place=channel.name, where=where, fixes=tuple(fixes)
    )


def beyond_the_host(kit: Kit) -> Iterator[Finding]:
    there = {o.number for o in kit.routing.outputs}
    for channel in channels_and_buses(kit.routing):
        if channel.output is not None and channel.output not in there:
            yield _of_channel(
                channel,
                WRONG,
                rule="beyond_the_host",
                title=f"{channel.name} goes to an output that does not exist",
                sentence=f"{channel.name} goes to output {channel.output}; {kit.routing.host} has {len(there)}.",
                fixes=elsewhere(kit, channel),
            )


def elsewhere(kit: Kit, channel: Channel) -> Iterator[Fix]:
    """Where else a channel could go: a free output of its width, or main."""
    width = Width.STEREO if channel in kit.routing.buses else channel_width(kit, channel.id)
    free = free_output(kit.routing, width) or (width is Width.MONO and free_output(kit.routing, Width.STEREO)) or None
    if free is not None:
        to = SetChannel(channel=channel.id, output=free.number, side=Side.BOTH)
        yield fix(f"Use {free.width.value} output {free.number}", to)
    yield fix("Send it to main", SetChannel(channel=channel.id, output=0, side=Side.BOTH))


def stereo_into_one_side(kit: Kit) -> Iterator[Finding]:
    """A stereo channel or bus that leaves by one side only."""
    for channel in into_one_side(kit):
        output = next(o for o in kit.routing.outputs if o.number == channel.output)
        fixes = elsewhere(kit, channel)
        if output.width is Width.STEREO:
            both = fix("Take both sides", SetChannel(channel=channel.id, side=Side.BOTH))
            fixes = (each for each in (both, *fixes))
        yield _of_channel(
            channel,
            FindingLevel.WORTH_A_LOOK,
            rule="stereo_into_one_side",
            title=f"{channel.name} is stereo but goes to one side",
            sentence=f"{channel.name} goes to {where_to(kit.routing, channel)}; the average of both sides is sent there.",
            fixes=fixes,
        )


def one_sided(kit: Kit) -> Iterator[Finding]:
    """A mono channel on one side of a stereo output whose other side is unused."""
    narrow = {channel.id for channel in into_one_side(kit)}
    stereo = {o.number for o in kit.routing.outputs if o.width is Width.STEREO}
    for number, here in outputs_used(kit.routing).items():
        sides = {channel.side for channel in here}
        for channel in here:
            if channel.side is Side.BOTH or channel.id in narrow or number not in stereo or channel.output is None:
                continue
            if sides >= {Side.LEFT, Side.RIGHT}:
                continue
            free = free_output(kit.routing, Width.MONO)
            to_mono = SetChannel(channel=channel.id, output=free.number, side=Side.BOTH) if free else None
            yield _of_channel(
                channel,
                FindingLevel.WORTH_A_LOOK,
                rule="one_sided",
                title=f"{channel.name} arrives on the {channel.side.value} side only",
                sentence=f"{channel.name} goes to the {channel.side.value} side of stereo output {number}, and nothing goes to the other side.",
                fixes=(
                    *([fix(f"Use mono output {free.number}", to_mono)] if free and to_mono else []),
                    fix("Use both sides", SetChannel(channel=channel.id, side=Side.BOTH)),
                ),
            )


def empty_channel(kit: Kit) -> Iterator[Finding]:
    fed = {f.channel for f in kit.routing.feeds}
    for channel in kit.routing.channels:
        if channel.id not in fed:
            yield _of_channel(
                channel,
                INFO,
                rule="empty_channel",
                title=f"No inputs in {channel.name}",
                sentence=f"{channel.name} has no inputs, so it is silent.",
                fixes=[fix(f"Delete {channel.name}", RemoveChannel(channel=channel.id))],
            )


def bus_without_feeders(kit: Kit) -> Iterator[Finding]:
    """A bus that nothing enters."""
    entered = {name for channel in channels_and_buses(kit.routing) for name in next_of(channel)}
    for bus in kit.routing.buses:
        if bus.id not in entered:
            yield _of_channel(
                bus,
                FindingLevel.WORTH_A_LOOK,
                rule="bus_without_feeders",
                title=f"No inputs in {bus.name}",
                sentence=f"No channel is sent or routed to {bus.name}, so it is silent.",
                fixes=[fix(f"Delete {bus.name}", RemoveBus(bus=bus.id))],
            )


def sent_into_silence(kit: Kit) -> Iterator[Finding]:
    """A bus that channels send to but that is not heard."""
    heard = reaching_outputs(kit.routing)
    for bus in kit.routing.buses:
        senders = [c.name for c in channels_and_buses(kit.routing) if bus.id in next_of(c)]
        if bus.id in heard or not senders:
            continue
        why = "is muted" if bus.muted else "is at −∞ dB" if bus.level_db <= NOTHING_DB else "reaches no output"
        tries = [fix(f"Turn {bus.name} up", _brought_up(bus))]
        yield _of_channel(
            bus,
            FindingLevel.WORTH_A_LOOK,
            rule="sent_into_silence",
            title=f"The reverb or echo of {bus.name} reaches no output" if bus.space else f"{bus.name} is not heard",
            sentence=f"{', '.join(senders)} {'is' if len(senders) == 1 else 'are'} sent to {bus.name}, which {why}.",
            fixes=that_help(kit, tries, functools.partial(_arrives, bus.id)),
        )


def _arrives(bus: str, kit: Kit) -> bool:
    return bus in reaching_outputs(kit.routing)


def one_output(kit: Kit) -> Iterator[Finding]:
    """Every piece is sent to main although the host has more outputs."""
    routing = kit.routing
    pieces = [piece for piece in pieces_of(kit) if own_channel(kit, piece)]
    if len(pieces) < 2 or len(routing.outputs) < 2:
        return
    if set(outputs_used(routing)) - {1}:
        return
    tries = [Fix(label=f"Route by “{plan.name}”", edit=ApplyPlan(plan=plan.id)) for plan in PLANS]
    yield Finding(
        rule="one_output",
        level=FindingLevel.WORTH_A_LOOK,
        title="All pieces share one output",
        sentence=f"Everything goes to main, so {routing.host} gets the whole kit on one track. A routing plan gives "
        "each piece an output of its own.",
        place=routing.host,
        where=Where(step="routing"),
        fixes=tuple(that_help(kit, tries, lambda after: len(outputs_used(after.routing)) > 1)),
    )


def not_as_planned(kit: Kit) -> Iterator[Finding]:
    """A channel that goes elsewhere than the plan sent it."""
    plan = kit.routing.plan
    if plan is None:
        return
    for channel, place in moved_by_hand(kit):
        planned = channel.but(output=place.output, side=place.side, bus="")
        back = SetChannel(channel=channel.id, output=place.output or 0, side=place.side)
        yield _of_channel(
            channel,
            FindingLevel.WORTH_A_LOOK,
            rule="not_as_planned",
            title=f"{channel.name} is not where the plan has it",
            sentence=f"{f'“{plan.name}”' if plan.name else 'The plan'} sends {channel.name} to "
            f"{where_to(kit.routing, planned)}; it now goes to {where_to(kit.routing, channel)}.",
            fixes=(
                fix(f"Put {channel.name} back", back),
                fix(f"Keep {channel.name} where it is", KeepPlace(channel=channel.id)),
            ),
        )


def output_named_otherwise(kit: Kit) -> Iterator[Finding]:
    """An output in use that is named like a piece which does not go there, while something else does."""
    moved = {channel.id for channel, _ in moved_by_hand(kit)}
    outputs = {output.number: output for output in kit.routing.outputs}
    own = {piece.id: own_channel(kit, piece) for piece in pieces_of(kit)}
    for number, here in outputs_used(kit.routing).items():
        named = outputs[number].name.casefold() if number in outputs and number != 1 else ""
        if not named or named in {channel.name.casefold() for channel in here}:
            continue
        for piece in pieces_of(kit):
            channel = own[piece.id]
            if channel is None or named != piece.name.casefold() or channel in here or channel.id in moved:
                continue
            arrives = " and ".join(each.name for each in here)
            yield _of_channel(
                channel,
                FindingLevel.WORTH_A_LOOK,
                rule="output_named_otherwise",
                title=f"Output {number} is named {outputs[number].name}, but gets {arrives}",
                sentence=f"{piece.name} goes to {where_to(kit.routing, channel)}. Whoever records output {number} expects "
                f"{piece.name} there.",
                fixes=(
                    fix(f"Send {channel.name} to output {number}", SetChannel(channel=channel.id, output=number)),
                    fix(f"Name output {number} {here[0].name}", NameOutput(output=number, name=here[0].name)),
                ),
            )


RULES = (
    one_output,
    not_as_planned,
    output_named_otherwise,
    quieter_than_what_it_replaced,
    reaches_no_output,
    beyond_the_host,
    stereo_into_one_side,
    one_sided,
    empty_channel,
    bus_without_feeders,
    sent_into_silence,
)
