"""Findings from a line check: what is wrong with where a piece arrives, and the edits that fix it.

A fix is offered if its effect on routing, levels and sides can be told without striking again. The next check says
whether it worked.
"""

import math
from collections.abc import Iterable, Iterator, Sequence
from itertools import islice

from drumcore.edits.buses import SetSend
from drumcore.edits.channels import SetChannel, SetFeed
from drumcore.edits.values import Several
from drumcore.findings.finding import Finding, FindingLevel, Fix, Where, fix, that_help
from drumcore.findings.routing import elsewhere, ways_to_be_heard
from drumcore.findings.rules import marked_ignored
from drumcore.kit.flow import channels_and_buses, in_order, next_of
from drumcore.kit.lookup import piece_of, pieces_of
from drumcore.kit.values import LEAST_DB, MAIN, MOST_DB, Channel, Kit, Piece, Side, Width
from drumcore.listening.line_check import (
    ARRIVES_DBFS,
    Line,
    Verdict,
    is_twice,
    own_output,
    planned_outputs,
)
from drumcore.routing.default_routing import outputs_by_channel, own_channel
from drumcore.routing.host_moves import free_output
from drumcore.routing.plan_reference import moved_by_hand, planned_places
from drumcore.routing.plan_routing import where_to
from drumcore.routing.reachability import NOTHING_DB
from drumcore.routing.signal_paths import copies_db, dry_levels_db

MOST_FIXES = 3
HEARD_DB = -24.0
"""A way that is set louder than this is taken to be heard at its end, whatever the recording."""
TO_ONE_SIDE = 0.85
"""As far as a stereo channel is panned before its other side is 20 dB softer, nearly: (1 + cos x) / sin x is 10 at 0.873."""
ROOM_DB = 0.5
LEVELS = {Verdict.NOWHERE: FindingLevel.WRONG, Verdict.ONE_SIDE: FindingLevel.WRONG}


def findings_of(kit: Kit, lines: Sequence[Line], checked: Kit) -> tuple[Finding, ...]:
    """One finding per piece and verdict, the worst first, ignored ones last. `checked` is the kit as it was struck;
    items that no longer exist or have been corrected since are left out.
    """
    there = {articulation.id: piece.id for piece in pieces_of(kit) for articulation in piece.articulations}
    alike: dict[tuple[str, Verdict], list[Line]] = {}
    for line in lines:
        if line.verdict is not Verdict.AS_PLANNED and there.get(line.articulation) == line.piece:
            alike.setdefault((line.piece, line.verdict), []).append(line)
    ignored = set(kit.ignored)
    order = list(Verdict)
    found = [
        (order.index(verdict), marked_ignored(_finding(kit, piece_of(kit, piece), verdict, struck), ignored))
        for (piece, verdict), struck in alike.items()
        # For the kit that was struck, the check itself is the truth.
        if kit == checked or _stands(kit, piece_of(kit, piece), verdict, struck, checked)
    ]
    return tuple(finding for _, finding in sorted(found, key=lambda item: (item[1].ignored, item[0])))


def _finding(kit: Kit, piece: Piece, verdict: Verdict, lines: list[Line]) -> Finding:
    own = own_channel(kit, piece)
    title, sentence = _SAID[verdict](kit, piece, lines)
    tries = list(_TRIES[verdict](kit, piece, lines))

    def helped(after: Kit) -> bool:
        return after != kit and not _stands(after, piece_of(after, piece.id), verdict, lines, kit)

    fixes = tuple(islice(that_help(kit, tries, helped), MOST_FIXES))
    if not fixes and verdict is Verdict.NOWHERE:
        fixes = tuple(that_help(kit, _together(tries), helped))
    return Finding(
        rule=f"line_{verdict.value}",
        level=LEVELS.get(verdict, FindingLevel.WORTH_A_LOOK),
        title=title,
        sentence=sentence,
        place=piece.name,
        where=Where(step="routing", piece=piece.id, channel=own.id if own else None),
        fixes=fixes,
    )


def _stands(kit: Kit, piece: Piece, verdict: Verdict, lines: list[Line], checked: Kit) -> bool:
    """Whether a verdict still holds, as far as the settings tell."""
    match verdict:
        case Verdict.NOWHERE:
            return not _is_let_through(kit, piece)
        case Verdict.ONE_SIDE:
            return any(abs(channel.pan) >= TO_ONE_SIDE for channel in _way(kit, piece)[1:])
        case Verdict.ELSEWHERE:
            return bool(_astray(kit, piece))
        case Verdict.TWICE:
            return any(is_twice(levels) for levels in copies_db(kit, piece).values())
        case _:
            return not all(_lowered(kit, piece, number, by_db, checked) for number, by_db in _over(lines).items())


def _is_let_through(kit: Kit, piece: Piece) -> bool:
    """Whether a piece's settings let it be heard at its own channel's output; without a channel of its own, anywhere."""
    gains = {mic.id: mic.gain_db for mic in kit.mics}
    there = {output.number for output in kit.routing.outputs}
    own = own_output(kit, piece)
    return any(
        number in there and (own is None or number == own) and level + gains[mic] + piece.level_db > HEARD_DB
        for mic, levels in dry_levels_db(kit, piece).items()
        for number, level in levels.items()
    )


def _way(kit: Kit, piece: Piece) -> list[Channel]:
    """A piece's own channel and everything its sound passes afterwards."""
    by_id = {channel.id: channel for channel in (*channels_and_buses(kit.routing), kit.routing.main)}
    own = own_channel(kit, piece)
    found = [own] if own else []
    while found and (found[-1].bus or (found[-1].output is None and found[-1].id != MAIN)):
        found.append(by_id[found[-1].bus or MAIN])
    return found


def _astray(kit: Kit, piece: Piece) -> set[int]:
    """Outputs where a piece is heard dry by its settings although the plan does not send it there."""
    planned = planned_outputs(kit, piece)
    levels = [level for each in dry_levels_db(kit, piece).values() for level in each.items()]
    return {number for number, level_db in levels if number not in planned and level_db > ARRIVES_DBFS}


def _leaving_at(kit: Kit, piece: Piece, number: int) -> list[Channel]:
    """The channels and buses by which a piece leaves at an output; for output 1 that includes main."""
    if number == 1:
        return [kit.routing.main]
    all_channels = channels_and_buses(kit.routing)
    reached = {feed.channel for feed in kit.routing.feeds if feed.piece == piece.id and feed.on}
    for place in in_order(all_channels):
        if all_channels[place].id in reached:
            reached.update(next_of(all_channels[place]))
    return [channel for channel in all_channels if channel.id in reached and channel.output == number]


def _lowered(kit: Kit, piece: Piece, number: int, by_db: float, checked: Kit) -> bool:
    """Whether everything leaving at an output has been lowered by that much since the check."""
    before = {channel.id: channel.level_db for channel in _leaving_at(checked, piece, number)}
    return all(before.get(c.id, MOST_DB) - c.level_db > by_db for c in _leaving_at(kit, piece, number))


def _where_said(kit: Kit, number: int) -> str:
    output = next((o for o in kit.routing.outputs if o.number == number), None)
    return f"output {number}" + (f", {output.name}" if output else "")


def _is_moved(kit: Kit, channel: Channel) -> bool:
    """Whether a channel goes elsewhere than the plan has it."""
    return any(moved.id == channel.id for moved, _ in moved_by_hand(kit))


def _nowhere_said(kit: Kit, piece: Piece, lines: list[Line]) -> tuple[str, str]:
    own, number = own_channel(kit, piece), own_output(kit, piece)
    if own is None or number is None:
        return (
            f"{piece.name} arrives nowhere",
            f"No microphone of {piece.name} feeds a channel, so nothing of it arrives.",
        )
    where = _where_said(kit, number)
    elsewhere_too = any(o.arrives_dbfs is not None for line in lines for o in line.outputs)
    title = f"{piece.name} does not arrive at {where}" if elsewhere_too else f"{piece.name} arrives nowhere"
    outputs = {output.number for output in kit.routing.outputs}
    if _is_moved(kit, own):
        lacks = f", which {kit.routing.host} does not have" if own.output and own.output not in outputs else ""
        goes = _where_said(kit, own.output) if own.output else where_to(kit.routing, own)
        return title, f"The plan has {own.name} at {where}; it goes to {goes}{lacks}."
    if number not in outputs:
        return title, f"{own.name} goes to output {number}, which {kit.routing.host} does not have."
    silent = next((channel for channel in _way(kit, piece) if channel.muted or channel.level_db <= HEARD_DB), None)
    if silent is not None:
        why = "is muted" if silent.muted else f"is at {_db(silent.level_db)}"
        return title, f"{own.name} goes to {where}, and {'it' if silent is own else silent.name} {why}."
    if piece.level_db <= HEARD_DB:
        return title, f"The level of {piece.name} is at {_db(piece.level_db)}."
    return title, f"{own.name} goes to {where}, but its feeds are off, muted or turned down."


def _db(level_db: float) -> str:
    return "nothing" if level_db <= LEAST_DB else f"{level_db:.1f} dB".replace("-", "−")


def _nowhere_tries(kit: Kit, piece: Piece, lines: list[Line]) -> Iterator[Fix]:
    own, number = own_channel(kit, piece), own_output(kit, piece)
    if own is not None and _is_moved(kit, own):
        place = planned_places(kit)[own.id]
        yield fix(f"Put {own.name} back", SetChannel(channel=own.id, output=place.output or 0, side=place.side))
    elif own is not None and number is not None and all(number != output.number for output in kit.routing.outputs):
        yield from elsewhere(kit, own)
    tries = list(ways_to_be_heard(kit, piece))
    # A level far above the lowest possible one counts as silence here.
    lifted = [
        fix(f"Turn {channel.name} up", SetChannel(channel=channel.id, level_db=0.0, muted=False))
        for channel in _way(kit, piece)
        if NOTHING_DB < channel.level_db <= HEARD_DB
    ]
    yield from (*lifted, *tries)


def _together(tries: Iterable[Fix]) -> Iterator[Fix]:
    """All edits as one: where several things are wrong, none of them helps alone."""
    edits = dict.fromkeys(
        edit for each in tries for edit in (each.edit.edits if isinstance(each.edit, Several) else (each.edit,))
    )
    if len(edits) > 1:
        yield fix("Fix everything on its way", *edits)


def _one_side_said(kit: Kit, piece: Piece, lines: list[Line]) -> tuple[str, str]:
    side = next((o.only for line in lines for o in line.outputs if o.only), None) or Side.LEFT
    turned = [channel for channel in _way(kit, piece)[1:] if abs(channel.pan) >= TO_ONE_SIDE]
    why = f"{turned[0].name} is panned to that side." if turned else "Something on its way is panned to that side."
    return (
        f"{piece.name} arrives on the {side.value} side only",
        f"{piece.name} is mono and panned to the middle, but arrives on the {side.value} side alone. {why}",
    )


def _one_side_tries(kit: Kit, piece: Piece, lines: list[Line]) -> Iterator[Fix]:
    for channel in _way(kit, piece)[1:]:
        if channel.pan:
            yield fix(f"Pan {channel.name} to the middle", SetChannel(channel=channel.id, pan=0.0))
    own, free = own_channel(kit, piece), free_output(kit.routing, Width.MONO)
    if own is not None and free is not None:
        yield fix(f"Use mono output {free.number}", SetChannel(channel=own.id, output=free.number))


def _elsewhere_said(kit: Kit, piece: Piece, lines: list[Line]) -> tuple[str, str]:
    numbers = sorted({number for line in lines for number in line.astray})
    through = [bus.name for bus, _ in _leading_astray(kit, piece)]
    where = " and ".join(_where_said(kit, number) for number in numbers)
    by = f", through {' and '.join(dict.fromkeys(through))}" if through else ""
    return f"{piece.name} also arrives elsewhere", f"It also arrives at {where}{by}, which was not planned."


def _leading_astray(kit: Kit, piece: Piece) -> Iterator[tuple[Channel, Channel]]:
    """The buses without a reverb by which a piece goes astray, each with a channel or bus that feeds it."""
    ends = outputs_by_channel(kit.routing)
    astray = _astray(kit, piece)
    reached = {feed.channel for feed in kit.routing.feeds if feed.piece == piece.id and feed.on}
    buses = {bus.id: bus for bus in kit.routing.buses}
    waiting = [channel for channel in channels_and_buses(kit.routing) if channel.id in reached]
    while waiting:
        channel = waiting.pop(0)
        for entered in (buses[name] for name in next_of(channel) if name in buses):
            if entered.space is None or not entered.space.on:
                if astray & set(ends[entered.id]):
                    yield entered, channel
                if entered.id not in reached:
                    reached.add(entered.id)
                    waiting.append(entered)


def _elsewhere_tries(kit: Kit, piece: Piece, lines: list[Line]) -> Iterator[Fix]:
    own = own_output(kit, piece)
    for bus, sender in _leading_astray(kit, piece):
        if own is not None:
            to = SetChannel(channel=bus.id, output=0 if own == 1 else own)
            yield fix(f"Send {bus.name} to {_where_said(kit, own)}", to)
        yield fix(f"Stop sending {sender.name} to {bus.name}", SetSend(channel=sender.id, bus=bus.id, level_db=None))


def _twice_said(kit: Kit, piece: Piece, lines: list[Line]) -> tuple[str, str]:
    names = {mic.id: mic.name for mic in kit.mics}
    twice = next((m, levels) for m, levels in copies_db(kit, piece).items() if is_twice(levels))
    loud = sorted(twice[1], key=lambda number: -twice[1][number])[:2]
    where = " and at ".join(_where_said(kit, number) for number in sorted(loud))
    return f"{piece.name} arrives twice", f"The microphone {names[twice[0]]} also arrives at {where}, nearly as loud."


def _twice_tries(kit: Kit, piece: Piece, lines: list[Line]) -> Iterator[Fix]:
    own = own_channel(kit, piece)
    names = {mic.id: mic.name for mic in kit.mics}
    by_id = {channel.id: channel for channel in channels_and_buses(kit.routing)}
    doubled = [mic for mic, levels in copies_db(kit, piece).items() if is_twice(levels)]
    for feed in kit.routing.feeds:
        if feed.piece == piece.id and feed.mic in doubled and feed.on and (own is None or feed.channel != own.id):
            off = SetFeed(piece=feed.piece, mic=feed.mic, channel=feed.channel, level_db=feed.level_db, on=False)
            yield fix(f"Remove {names[feed.mic]} from {by_id[feed.channel].name}", off)
    for channel in (by_id[f.channel] for f in kit.routing.feeds if f.piece == piece.id and f.mic in doubled):
        for send in channel.sends:
            out = SetSend(channel=channel.id, bus=send.bus, level_db=None)
            yield fix(f"Remove {channel.name} from {by_id[send.bus].name}", out)


def _clips_said(kit: Kit, piece: Piece, lines: list[Line]) -> tuple[str, str]:
    over = _over(lines)
    where = " and ".join(f"{_where_said(kit, number)} ({by:.1f} dB over)" for number, by in sorted(over.items()))
    return f"{piece.name} clips", f"At the hardest strike it clips at {where}."


def _over(lines: Iterable[Line]) -> dict[int, float]:
    found: dict[int, float] = {}
    for line in lines:
        for output in line.outputs:
            if output.over_db is not None:
                found[output.number] = max(found.get(output.number, 0.0), output.over_db)
    return found


def _clips_tries(kit: Kit, piece: Piece, lines: list[Line]) -> Iterator[Fix]:
    edits = []
    for number, by_db in _over(lines).items():
        down = math.ceil((by_db + ROOM_DB) * 10.0) / 10.0
        for channel in _leaving_at(kit, piece, number):
            edits.append(SetChannel(channel=channel.id, level_db=max(LEAST_DB, round(channel.level_db - down, 2))))
    names = {channel.id: channel.name for channel in (*channels_and_buses(kit.routing), kit.routing.main)}
    if edits:
        said = " and ".join(dict.fromkeys(names[edit.channel] for edit in edits))
        yield fix(f"Turn {said} down", *edits)


_SAID = {
    Verdict.NOWHERE: _nowhere_said,
    Verdict.ONE_SIDE: _one_side_said,
    Verdict.ELSEWHERE: _elsewhere_said,
    Verdict.TWICE: _twice_said,
    Verdict.CLIPS: _clips_said,
}
_TRIES = {
    Verdict.NOWHERE: _nowhere_tries,
    Verdict.ONE_SIDE: _one_side_tries,
    Verdict.ELSEWHERE: _elsewhere_tries,
    Verdict.TWICE: _twice_tries,
    Verdict.CLIPS: _clips_tries,
}
