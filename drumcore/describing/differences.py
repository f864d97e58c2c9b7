"""Two values of a kit compared in sentences: what the later has that the earlier had not.

For versions that no edit is known of, and for any two that somebody holds against one another. Of two kits that differ
there is always a sentence; of two that are equal there is none.
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
    """What changed from one value of a kit to another, in sentences without full stops, from pieces to routing."""
    # A piece and its channel that are called the same are called otherwise in one sentence.
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
    if more := len(set(after.settled) - set(before.settled)):
        yield f"{_count(more, 'finding')} meant so"
    if fewer := len(set(before.settled) - set(after.settled)):
        yield f"{_count(fewer, 'finding')} brought back"


def _count(number: int, noun: str) -> str:
    return f"{number} {noun}{'' if number == 1 else 's'}"


def _fields(what: str, before: Value, after: Value, says: Says) -> Iterator[str]:
    """Fields that differ, each as its sentence says; of any other field that it is set otherwise."""
    if before is after or before == after:
        return
    changed = [f for f in type(after).model_fields if getattr(before, f) != getattr(after, f)]
    told = [f"{said}" for field in changed if field in says and (said := says[field](getattr(after, field)))]
    if told:
        yield f"{what} {as_list(told)}"
    if left := [field for field in changed if field not in says and field not in ELSEWHERE]:
        yield f"{what} set otherwise ({as_list([field.removesuffix('_db').replace('_', ' ') for field in left])})"


ELSEWHERE = {
    *("format", "id", "tags", "mics", "pieces", "notes", "inputs", "routing", "settled"),
    *("articulations", "takes", "layers", "silences"),
    *("placed", "channels", "buses", "feeds", "outputs", "main"),
}
"""Fields that hold more than one thing: those are compared by themselves."""


def _each(
    noun: str, before: Sequence[Any], after: Sequence[Any], both: Callable[[Any, Any], Iterable[str]]
) -> Iterator[str]:
    """What is new, what is gone, what changed of each, and whether the rest stands in another order."""
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
    "description": lambda said: "described otherwise" if said else "without a description",
    "rate_hz": lambda rate: f"at {rate:,} Hz",
    "curve": _curve,
}


def _pieces(before: Kit, after: Kit) -> Iterator[str]:
    yield from _each("piece", pieces_of(before), pieces_of(after), _piece)


def _piece(before: Piece, after: Piece) -> Iterator[str]:
    yield from _fields(before.name, before, after, PIECE)
    yield from _tracking(before.name, before.tracking, after.tracking)
    then, now = before.articulations, after.articulations
    named = {stroke.id: full_name(before, stroke) for stroke in then}
    yield from _each("stroke", _named(before, then), _named(after, now), lambda a, b: ())
    by_id = {stroke.id: stroke for stroke in then}
    for stroke in now:
        was = by_id.get(stroke.id)
        if was is not None and was is not stroke:
            yield from _stroke(named[stroke.id], was, stroke)


def _named(piece: Piece, strokes: Iterable[Articulation]) -> list[Articulation]:
    """Strokes under their full names; without their takes, because only names and order are looked at."""
    return [stroke.but(name=full_name(piece, stroke), takes=(), layers=()) for stroke in strokes]


PIECE: Says = {
    "name": lambda name: f"is called {name}",
    "family": lambda family: f"filed under {family.value}",
    "level_db": lambda level: f"at {db(level)} everywhere",
    "curve": _curve,
    "own_mics": lambda mics: f"has {_count(len(mics), 'microphone')} of its own",
    "hand_stop_ms": lambda ms: "let ring by a hand" if ms is None else f"stopped by a hand in {signed(ms, 'ms', 0)}",
    "tracking": lambda _: "",
    "origin": lambda origin: f"taken from {origin.name}" if origin else "of its own",
}


def _tracking(piece: str, before: Tracking, after: Tracking) -> Iterator[str]:
    yield from _fields(f"Harder on {piece}:", before, after, TRACKING)


TRACKING: Says = {
    "level": lambda share: f"louder by {percent(share)}",
    "whole": lambda whole: "over the whole range" if whole else "inside its layers",
    "brightness": lambda octaves: f"brighter by {octaves:.1f} octaves",
    "attack_soft_ms": lambda ms: f"soft attack {signed(ms, 'ms')}",
    "attack_hard_ms": lambda ms: f"hard attack {signed(ms, 'ms')}",
}


def _stroke(name: str, before: Articulation, after: Articulation) -> Iterator[str]:
    yield from _fields(name, before, after, STROKE)
    yield from _takes(name, before.takes, after.takes)
    yield from _layers(name, before.layers, after.layers)
    if before.silences != after.silences:
        yield f"{name} silences {_count(len(after.silences), 'stroke')}"


STROKE: Says = {
    "name": lambda name: f"is called {name}",
    "curve": _curve,
    "variation": lambda v: (
        f"varies by {signed(v.level_db, 'dB')}, {signed(v.tune_cents, 'cents', 0)} and {v.brightness:.1f} octaves"
    ),
    "whole": lambda whole: (
        "follows strength as its piece says"
        if whole is None
        else "follows strength over the whole range"
        if whole
        else "follows strength inside its layers"
    ),
    "label_note": lambda _: "labelled otherwise",
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
            f"{name} {changed[0].label} set otherwise"
            if len(changed) == 1
            else (f"{len(changed)} takes of {name} set otherwise")
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
            yield f"Layer {number} of {name} plays {_count(len(layer.takes), 'take')}, other ones"


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
    "inverted": lambda inverted: "turned over" if inverted else "as it was recorded",
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
        where = f"{names.stroke(placed.articulation)} on {names.note(placed.note)}"
        if key not in was:
            yield where
        elif was[key] != placed:
            open_ = f", pedal {placed.open_from} to {placed.open_to}"
            yield f"{where} at {db(placed.gain_db)}{open_}"
    for key, placed in was.items():
        if key not in stands:
            yield f"{names_then.stroke(placed.articulation)} off {names_then.note(placed.note)}"
    if was == stands and then.placed != now.placed:
        yield "Notes in another order"


def _by_place(placed: Iterable[Placed]) -> dict[tuple[int, str, int], Placed]:
    """By note and stroke; one that is there more than once, by the zone it begins with too."""
    found: dict[tuple[int, str, int], Placed] = {}
    for each in placed:
        key = (each.note, each.articulation, 0)
        found[key if key not in found else (each.note, each.articulation, each.open_from + 1)] = each
    return found


NOTES: Says = {
    "middle_c": lambda octave: f"count middle C as C{octave}",
    "base": lambda base: f"by the map {base.name if base else 'of standard percussion'}",
    "openness_blend": lambda blend: f"blend over {blend} of the pedal",
    "pedal_sounds": lambda sounds: "with a pedal that sounds by itself" if sounds else "with a pedal that waits",
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

    def lane(then: Channel, now: Channel) -> Iterator[str]:
        return _channel(names, then, now)

    yield from _each("channel", before.channels, after.channels, lane)
    yield from _each("bus", before.buses, after.buses, lane)
    yield from lane(before.main, after.main)
    yield from _feeds(before.feeds, after.feeds, names_then, names)


ROUTING: Says = {
    "host": lambda host: f"routed for {host}",
    "treated": lambda treated: "treated again" if treated else "past all treatment",
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
        "treatments": lambda treatments: "treated otherwise" if treatments else "without treatment",
        "treated": lambda treated: "treated" if treated else "past its treatment",
        "group": lambda group: "grouped" if group else "in no group",
        "bus": lambda bus: f"into {names.lane(bus)}" if bus else "",
        "sends": lambda sends: f"sent to {as_list([f'{names.lane(s.bus)} at {db(s.level_db)}' for s in sends])}",
        "space": lambda space: (
            f"through {'an' if space.kind == 'echo' else 'a'} {space.kind}, set otherwise"
            if space
            else "through no space"
        ),
        "gathers": lambda kind: f"gathers {kind.value}" if kind else "gathers nothing",
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
            yield f"{what} into {names.lane(feed.channel)} at {db(feed.level_db)}{'' if feed.on else ', off'}"
    for key, feed in then.items():
        if key not in now:
            what = f"{names_then.piece(feed.piece)} in {names_then.mic(feed.mic)}"
            yield f"{what} out of {names_then.lane(feed.channel)}"
    if then == now and [*then] != [*now]:
        yield "Feeds in another order"
