"""The differences between two versions of a kit as sentences.

Used for versions that no single edit explains, and for any two that are compared. Two different kits always give at
least one sentence; two equal kits give none.
"""

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from typing import Any

from drumcore.describing.edits import Names, as_list, db, muted, on_track, output_called, pan, percent, shaken, signed
from drumcore.kit.lookup import full_name, pieces_of
from drumcore.kit.values import (
    MAIN,
    Articulation,
    Channel,
    Feed,
    Kit,
    Layer,
    Mic,
    Output,
    Piece,
    Placed,
    Routing,
    Side,
    Take,
    Tracking,
)
from drumcore.value import Value

Says = Mapping[str, Callable[[Any], str]]


def differences(before: Kit, after: Kit) -> tuple[str, ...]:
    """The changes from one kit to another as sentences without full stops, from pieces to routing."""
    # A piece and a channel of the same name that are renamed alike make one sentence.
    said = tuple(dict.fromkeys(_differences(before, after)))
    return said or (() if before == after else ("Something small changed",))


def _differences(before: Kit, after: Kit) -> Iterator[str]:
    names_then, names = Names(before), Names(after)
    yield from _fields("The kit", before, after, KIT)
    yield from (f"Tagged {tag}" for tag in after.tags if tag not in before.tags)
    yield from (f"No longer tagged {tag}" for tag in before.tags if tag not in after.tags)
    yield from _pieces(before, after)
    yield from _each("microphone", before.mics, after.mics, _mic)
    yield from _notes(before, after, names_then, names)
    yield from _each("input", before.inputs, after.inputs, lambda a, b: _fields(a.name, a, b, INPUT))
    yield from _routing(before.routing, after.routing, names_then, names)
    if more := len(set(after.ignored) - set(before.ignored)):
        yield f"{_count(more, 'finding')} ignored"
    if fewer := len(set(before.ignored) - set(after.ignored)):
        yield f"{_count(fewer, 'finding')} no longer ignored"


def _count(number: int, noun: str) -> str:
    return f"{number} {noun}{'' if number == 1 else 's'}"


def _fields(what: str, before: Value, after: Value, says: Says) -> Iterator[str]:
    """A sentence for each changed field; a field without a sentence of its own is said to have changed."""
    if before is after or before == after:
        return
    changed = [f for f in type(after).model_fields if getattr(before, f) != getattr(after, f)]
    told = [f"{said}" for field in changed if field in says and (said := says[field](getattr(after, field)))]
    if told:
        yield f"{what} {as_list(told)}"
    if left := [field for field in changed if field not in says and field not in ELSEWHERE]:
        yield f"{what} changed ({as_list([field.removesuffix('_db').replace('_', ' ') for field in left])})"


ELSEWHERE = {
    *("format", "id", "tags", "mics", "pieces", "notes", "inputs", "routing", "ignored"),
    *("articulations", "takes", "layers", "chokes"),
    *("placed", "channels", "buses", "feeds", "outputs", "main"),
}
"""Fields that hold more than one thing: those are compared by themselves."""


def _each(
    noun: str, before: Sequence[Any], after: Sequence[Any], both: Callable[[Any, Any], Iterable[str]]
) -> Iterator[str]:
    """Items added, items removed, changes within each, and a changed order of the rest."""
    then, now = {value.id: value for value in before}, {value.id: value for value in after}
    yield from (f"New {noun} {value.name}" for key, value in now.items() if key not in then)
    yield from (f"{noun.capitalize()} {value.name} removed" for key, value in then.items() if key not in now)
    for key in now if before is not after else ():
        if key in then and then[key] is not now[key]:
            yield from both(then[key], now[key])
    if [key for key in then if key in now] != [key for key in now if key in then]:
        yield f"{noun.capitalize()}{'es' if noun.endswith('s') else 's'} in another order"


def _curve(curve: Any) -> str:
    return "with another curve" if curve is not None else "without a curve of its own"


KIT: Says = {
    "name": lambda name: f"is called {name}",
    "description": lambda said: "another description" if said else "without a description",
    "rate_hz": lambda rate: f"at {rate:,} Hz",
    "curve": _curve,
}


def _pieces(before: Kit, after: Kit) -> Iterator[str]:
    yield from _each("piece", pieces_of(before), pieces_of(after), _piece)


def _piece(before: Piece, after: Piece) -> Iterator[str]:
    yield from _fields(before.name, before, after, PIECE)
    yield from _tracking(before.name, before.tracking, after.tracking)
    then, now = before.articulations, after.articulations
    named = {articulation.id: full_name(before, articulation) for articulation in then}
    yield from _each("articulation", _named(before, then), _named(after, now), lambda a, b: ())
    by_id = {articulation.id: articulation for articulation in then}
    for articulation in now:
        was = by_id.get(articulation.id)
        if was is not None and was is not articulation:
            yield from _articulation(named[articulation.id], was, articulation)


def _named(piece: Piece, articulations: Iterable[Articulation]) -> list[Articulation]:
    """Articulations by full name, without their takes, because only names and order are compared."""
    return [
        articulation.but(name=full_name(piece, articulation), takes=(), layers=()) for articulation in articulations
    ]


PIECE: Says = {
    "name": lambda name: f"is called {name}",
    "family": lambda family: f"family {family.value}",
    "level_db": lambda level: f"at {db(level)} in all microphones",
    "curve": _curve,
    "own_mics": lambda mics: f"has {_count(len(mics), 'microphone')} of its own",
    "hand_stop_ms": lambda ms: "not choked by hand" if ms is None else f"choked by hand in {signed(ms, 'ms', 0)}",
    "tracking": lambda _: "",
    "origin": lambda origin: f"from {origin.name}" if origin else "of its own",
}


def _tracking(piece: str, before: Tracking, after: Tracking) -> Iterator[str]:
    yield from _fields(f"Tracking of {piece}:", before, after, TRACKING)


TRACKING: Says = {
    "level": lambda share: f"level by {percent(share)}",
    "whole": lambda whole: "over the whole range" if whole else "inside its layers",
    "brightness": lambda octaves: f"brightness by {octaves:.1f} octaves",
    "attack_soft_ms": lambda ms: f"soft attack {signed(ms, 'ms')}",
    "attack_hard_ms": lambda ms: f"hard attack {signed(ms, 'ms')}",
}


def _articulation(name: str, before: Articulation, after: Articulation) -> Iterator[str]:
    yield from _fields(name, before, after, ARTICULATION)
    yield from _takes(name, before.takes, after.takes)
    yield from _layers(name, before.layers, after.layers)
    if before.chokes != after.chokes:
        yield f"{name} chokes {_count(len(after.chokes), 'articulation')}"


ARTICULATION: Says = {
    "name": lambda name: f"is called {name}",
    "curve": _curve,
    "variation": lambda v: (
        f"varies by {signed(v.level_db, 'dB')}, {signed(v.tune_cents, 'cents', 0)} and {v.brightness:.1f} octaves"
    ),
    "whole": lambda whole: (
        "follows velocity like its piece"
        if whole is None
        else "follows velocity over the whole range"
        if whole
        else "follows velocity inside its layers"
    ),
    "label_note": lambda _: "with another label",
}


def _takes(name: str, before: Sequence[Take], after: Sequence[Take]) -> Iterator[str]:
    if before is after or before == after:
        return
    then, now = {take.id: take for take in before}, {take.id: take for take in after}
    if more := len(now.keys() - then.keys()):
        yield f"{_count(more, 'take')} more in {name}"
    if fewer := len(then.keys() - now.keys()):
        yield f"{_count(fewer, 'take')} fewer in {name}"
    if changed := [take for key, take in now.items() if key in then and then[key] != take]:
        yield (
            f"{name} {changed[0].label} changed" if len(changed) == 1 else (f"{len(changed)} takes of {name} changed")
        )
    if [key for key in then if key in now] != [key for key in now if key in then]:
        yield f"Takes of {name} in another order"


def _layers(name: str, before: Sequence[Layer], after: Sequence[Layer]) -> Iterator[str]:
    if before == after:
        return
    if len(before) != len(after):
        yield f"{name} in {_count(len(after), 'layer')} instead of {len(before)}"
        return
    for number, (was, layer) in enumerate(zip(before, after, strict=True), start=1):
        yield from _fields(f"Layer {number} of {name}", was, layer, LAYER)
        if was.takes != layer.takes:
            yield f"Layer {number} of {name} plays {_count(len(layer.takes), 'take')}, different ones"


LAYER: Says = {
    "low": lambda low: f"from {low}",
    "high": lambda high: f"up to {high}",
    "order": lambda order: order.value.replace("_", " "),
    "gain_db": lambda gain: f"by {db(gain)}",
    "blend": lambda blend: f"blended over {blend}",
}


def _mic(before: Mic, after: Mic) -> Iterator[str]:
    return _fields(before.name, before, after, MIC)


MIC: Says = {
    "name": lambda name: f"is called {name}",
    "kind": lambda kind: f"is {kind.value}",
    "inverted": lambda inverted: "flipped" if inverted else "not flipped",
    "gain_db": lambda gain: f"by {db(gain)}",
    "muted": lambda is_muted: muted(is_muted) or "",
}


def _notes(before: Kit, after: Kit, names_then: Names, names: Names) -> Iterator[str]:
    then, now = before.notes, after.notes
    if then == now:
        return
    yield from _fields("Notes", then, now, NOTES)
    was, stands = _by_place(then.placed), _by_place(now.placed)
    for key, placed in stands.items():
        where = f"{names.articulation(placed.articulation)} on {names.note(placed.note)}"
        if key not in was:
            yield where
        elif was[key] != placed:
            open_ = f", pedal {placed.open_from} to {placed.open_to}"
            yield f"{where} at {db(placed.gain_db)}{open_}"
    for key, placed in was.items():
        if key not in stands:
            yield f"{names_then.articulation(placed.articulation)} off {names_then.note(placed.note)}"
    if was == stands and then.placed != now.placed:
        yield "Notes in another order"


def _by_place(placed: Iterable[Placed]) -> dict[tuple[int, str, int], Placed]:
    """By note and articulation; duplicates are told apart by the start of their zone."""
    found: dict[tuple[int, str, int], Placed] = {}
    for each in placed:
        key = (each.note, each.articulation, 0)
        found[key if key not in found else (each.note, each.articulation, each.open_from + 1)] = each
    return found


NOTES: Says = {
    "middle_c": lambda octave: f"count middle C as C{octave}",
    "base": lambda base: f"by the map {base.name if base else 'of standard percussion'}",
    "openness_blend": lambda blend: f"blend over {blend} of the pedal",
    "pedal_sounds": lambda sounds: "with a pedal sound of its own" if sounds else "without a pedal sound",
}
INPUT: Says = {
    "name": lambda name: f"is called {name}",
    "curve": _curve,
    "cross_talk": lambda pads: shaken(len(pads)),
    "doubles_ms": lambda ms: f"doubles within {signed(ms, 'ms', 0)}",
    "controller": lambda number: f"pedal on controller {number}",
    "closed_at": lambda value: f"closed at {value}",
    "open_at": lambda value: f"open at {value}",
}


def _routing(before: Routing, after: Routing, names_then: Names, names: Names) -> Iterator[str]:
    if before == after:
        return
    yield from _fields("The kit", before, after, ROUTING)
    if before.outputs != after.outputs:
        yield from _outputs(before.outputs, after.outputs)

    def channel(then: Channel, now: Channel) -> Iterator[str]:
        return _channel(names, then, now)

    yield from _each("channel", before.channels, after.channels, channel)
    yield from _each("bus", before.buses, after.buses, channel)
    yield from channel(before.main, after.main)
    yield from _feeds(before.feeds, after.feeds, names_then, names)


ROUTING: Says = {
    "host": lambda host: f"routed for {host}",
    "treated": lambda treated: "treatment enabled" if treated else "all treatment bypassed",
    "plan": lambda plan: f"routed by the plan {plan.name or 'without a name'}" if plan else "by no plan any more",
}


def _outputs(before: Sequence[Output], after: Sequence[Output]) -> Iterator[str]:
    then = {output.number: output for output in before}
    if len(before) != len(after):
        yield f"{_count(len(after), 'output')} instead of {len(before)}"
    for output in after:
        was = then.get(output.number)
        if was is not None:
            yield from _fields(f"Output {output.number}", was, output, OUTPUT)
    if len(before) == len(after) and [o.number for o in before] != [o.number for o in after]:
        yield "Other outputs"


OUTPUT: Says = {
    "name": output_called,
    "width": lambda width: f"is {width.value}",
    "called": lambda called: f"is {called or 'nameless'} to the host",
    "track": on_track,
}


def _channel(names: Names, before: Channel, after: Channel) -> Iterator[str]:
    says: Says = {
        "name": lambda name: f"is called {name}",
        "level_db": lambda level: f"to {db(level)}",
        "pan": lambda side: f"panned to {pan(side)}",
        "muted": lambda is_muted: muted(is_muted) or "",
        "output": lambda number: "" if number is None else f"to output {names.output(number)}",
        "side": lambda side: "on both sides" if side is Side.BOTH else f"on the {side.value}",
        "treatments": lambda treatments: "treatment changed" if treatments else "without treatment",
        "treated": lambda treated: "treated" if treated else "treatment bypassed",
        "group": lambda group: "grouped" if group else "in no group",
        "bus": lambda bus: f"into {names.channel(bus)}" if bus else "",
        "sends": lambda sends: f"sent to {as_list([f'{names.channel(s.bus)} at {db(s.level_db)}' for s in sends])}",
        "space": lambda space: (
            f"through {'an' if space.kind == 'echo' else 'a'} {space.kind}, changed"
            if space
            else "without reverb or echo"
        ),
        "gathers": lambda kind: f"collects {kind.value}" if kind else "collects no microphones",
    }
    yield from _fields(before.name, before, after, says)
    goes_to_main = after.output is None and not after.bus and after.id != MAIN
    if goes_to_main and (before.output is not None or before.bus):
        yield f"{after.name} to main"


def _feeds(before: Iterable[Feed], after: Iterable[Feed], names_then: Names, names: Names) -> Iterator[str]:
    then = {(f.piece, f.mic, f.channel): f for f in before}
    now = {(f.piece, f.mic, f.channel): f for f in after}
    for key, feed in now.items():
        if then.get(key) != feed:
            what = f"{names.piece(feed.piece)} in {names.mic(feed.mic)}"
            yield f"{what} into {names.channel(feed.channel)} at {db(feed.level_db)}{'' if feed.on else ', off'}"
    for key, feed in then.items():
        if key not in now:
            what = f"{names_then.piece(feed.piece)} in {names_then.mic(feed.mic)}"
            yield f"{what} out of {names_then.channel(feed.channel)}"
    if then == now and [*then] != [*now]:
        yield "Feeds in another order"
