"""What is wrong with notes, touch and routing."""

import itertools
from collections import defaultdict
from collections.abc import Iterator

from drumcore.edits.values import PutOnNote, SetChannel, SetCurve, SetFeed, SetSilence
from drumcore.findings.finding import Finding, FindingLevel, Mend, Where, stroke_place, stroke_where
from drumcore.kit.lookup import articulation_of, articulations, full_name, pieces_of
from drumcore.kit.values import STRAIGHT, Curve, Family, Kit
from drumcore.notes.names import note_name
from drumcore.notes.standard import standard_notes
from drumcore.touch.curves import curve_table

WRONG, LOOK, INFO = FindingLevel.WRONG, FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION


def without_note(kit: Kit) -> Iterator[Finding]:
    placed = {p.articulation for p in kit.notes.placed}
    taken = {p.note for p in kit.notes.placed}
    for piece, stroke in articulations(kit):
        if stroke.id in placed:
            continue
        wanted = [n for n in (*standard_notes(piece, stroke.name), *range(82, 128)) if n not in taken][:1]
        mends = tuple(
            Mend(
                label=f"Put it on {note_name(note, kit.notes.middle_c)}",
                edit=PutOnNote(articulation=stroke.id, note=note),
            )
            for note in wanted
        )
        yield Finding(
            rule="without_note",
            level=LOOK,
            title=f"Nothing can reach {full_name(piece, stroke)}",
            sentence=f"It has {len(stroke.layers)} layers and no note.",
            place=stroke_place(piece, stroke),
            where=stroke_where("notes", piece, stroke),
            mends=mends,
        )


def stacked_note(kit: Kit) -> Iterator[Finding]:
    by_note: dict[int, list[str]] = defaultdict(list)
    for placed in kit.notes.placed:
        by_note[placed.note].append(placed.articulation)
    for note, ids in by_note.items():
        pieces = list(dict.fromkeys(articulation_of(kit, i)[0].name for i in ids))
        if len(pieces) > 1:
            name = note_name(note, kit.notes.middle_c)
            yield Finding(
                rule="stacked_note",
                level=INFO,
                title=f"{name} plays {len(pieces)} pieces",
                sentence=f"{' and '.join(pieces)} sound together on {name}.",
                place=name,
                where=Where(step="notes", note=note),
            )


def open_hat_rings_on(kit: Kit) -> Iterator[Finding]:
    for piece in pieces_of(kit):
        if piece.family is not Family.HATS:
            continue
        stopped = {s.articulation for a in piece.articulations for s in a.silences}
        closing = [a for a in piece.articulations if "open" not in a.name]
        for stroke in piece.articulations:
            if "open" in stroke.name and closing and stroke.id not in stopped:
                yield Finding(
                    rule="open_hat_rings_on",
                    level=LOOK,
                    title=f"Nothing stops {full_name(piece, stroke)}",
                    sentence="Closing the hats should stop an open stroke; none of their other strokes silences it.",
                    place=stroke_place(piece, stroke),
                    where=stroke_where("notes", piece, stroke),
                    mends=tuple(
                        Mend(
                            label=f"Let {a.name} stop it",
                            edit=SetSilence(articulation=a.id, stopped=stroke.id, fade_ms=12.0),
                        )
                        for a in closing[:2]
                    ),
                )


def _reached(kit: Kit, own: Curve) -> set[int]:
    """The velocities that can play through the curve of everything coming in and a stroke's own."""
    first, second = curve_table(kit.curve), curve_table(own)
    return {second[first[v]] for v in range(1, 128) if first[v]} - {0}


def layer_never_reached(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        reached = _reached(kit, stroke.curve or piece.curve or STRAIGHT)
        for number, layer in enumerate(stroke.layers):
            if reached and not any(layer.low <= v <= layer.high for v in reached):
                yield Finding(
                    rule="layer_never_reached",
                    level=LOOK,
                    title=f"Layer {number + 1} is never reached",
                    sentence=f"The curves of {full_name(piece, stroke)} give no velocity from {layer.low} to {layer.high}; its "
                    f"{len(layer.takes)} takes never play.",
                    place=stroke_place(piece, stroke, f"layer {number + 1}"),
                    where=stroke_where("touch", piece, stroke, number),
                )


def everything_ignored(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        if not _reached(kit, stroke.curve or piece.curve or STRAIGHT):
            target = None if not any(curve_table(kit.curve)) else piece.id if stroke.curve is None else stroke.id
            yield Finding(
                rule="everything_ignored",
                level=WRONG,
                title=f"{full_name(piece, stroke)} ignores every strike",
                sentence="Its curve gives 0 for every velocity; nothing will sound.",
                place=stroke_place(piece, stroke),
                where=stroke_where("touch", piece, stroke),
                mends=(Mend(label="Make the curve straight", edit=SetCurve(target=target, curve=STRAIGHT)),),
            )


def curve_falls(kit: Kit) -> Iterator[Finding]:
    curves: list[tuple[str, str | None, Curve]] = [("Everything coming in", None, kit.curve)]
    curves += [(p.name, p.id, p.curve) for p in pieces_of(kit) if p.curve]
    for name, target, curve in curves:
        table = curve_table(curve)
        if any(b < a for a, b in itertools.pairwise(table)):
            yield Finding(
                rule="curve_falls",
                level=LOOK,
                title=f"The curve of {name.lower() if target is None else name} falls",
                sentence="Somewhere a harder strike plays softer; raise the later nodes if that is not meant.",
                place=name,
                where=Where(step="touch", piece=target),
            )


def reaches_no_output(kit: Kit) -> Iterator[Finding]:
    there = {o.number for o in kit.routing.outputs}
    arriving = {c.id for c in kit.routing.channels if c.output is None or c.output in there}
    fed = {f.piece for f in kit.routing.feeds if f.channel in arriving}
    for piece in pieces_of(kit):
        if piece.id not in fed:
            channel = next((c.id for c in kit.routing.channels if c.id == piece.id), None)
            mics = piece.own_mics or tuple({r.mic for a in piece.articulations for t in a.takes for r in t.recordings})
            mends = tuple(
                Mend(label="Feed its channel", edit=SetFeed(piece=piece.id, mic=mic, channel=channel, level_db=0.0))
                for mic in mics[:1]
                if channel
            )
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


RULES = (
    reaches_no_output,
    beyond_the_host,
    everything_ignored,
    without_note,
    open_hat_rings_on,
    layer_never_reached,
    curve_falls,
    stacked_note,
    empty_channel,
)
