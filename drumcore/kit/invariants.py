"""What holds for every kit: all references resolve, ids are unique, nothing exceeds what can be played. There is a
sentence for each fault. Parts that did not change are not checked again.
"""

from collections import Counter
from collections.abc import Iterable, Iterator
from operator import attrgetter

from drumcore.kit.flow import channels_and_buses, circle, next_of
from drumcore.kit.memoization import remembered
from drumcore.kit.values import MAIN, Articulation, Kit, Piece
from drumcore.refusals import Refusal

MOST_PIECES = 1000
MOST_ARTICULATIONS = 200
MOST_LAYERS = 127
MOST_TAKES = 20_000
MOST_MICS = 500
MOST_PLACED = 4096
MOST_CHANNELS = 1000
MOST_BUSES = 64
MOST_FEEDS = 50_000
MOST_IGNORED = 20_000
# The limits of a kit: what is counted in words, where it stands in the kit and in its file, and how many are allowed.
LIMITS = (
    ("pieces", "pieces", MOST_PIECES),
    ("microphones", "mics", MOST_MICS),
    ("places on notes", "notes.placed", MOST_PLACED),
    ("channels", "routing.channels", MOST_CHANNELS),
    ("buses", "routing.buses", MOST_BUSES),
    ("feeds", "routing.feeds", MOST_FEEDS),
    ("ignored findings", "ignored", MOST_IGNORED),
)


def hold(kit: Kit) -> None:
    """Raises Refusal with the first fault's sentence if a kit breaks an invariant."""
    for sentence in faults(kit):
        raise Refusal(sentence)


def faults(kit: Kit) -> Iterator[str]:
    """A sentence for each broken reference, duplicate id and exceeded limit. An empty piece and a layer without takes
    are allowed.
    """
    for what, where, most in LIMITS:
        yield from _too_many(what, len(attrgetter(where)(kit)), most)
    yield from _twice("Two microphones", (mic.id for mic in kit.mics))
    yield from _twice("Two pieces", (piece.id for piece in kit.pieces))
    all_channels = (kit.routing.main, *channels_and_buses(kit.routing))
    yield from _twice("Two channels", (channel.id for channel in all_channels))
    if kit.routing.main.id != MAIN:
        yield f"The main mix is called “{kit.routing.main.id}” and has to be “{MAIN}”."
    for channel in all_channels:
        yield from _twice(f"Two treatments of {channel.name}", (treatment.kind for treatment in channel.treatments))
    yield from _twice("Two outputs", (output.number for output in kit.routing.outputs))
    yield from _twice("Two inputs", (known.id for known in kit.inputs))
    yield from _twice(
        "Two articulations", (articulation.id for piece in kit.pieces for articulation in piece.articulations)
    )
    mics = frozenset(mic.id for mic in kit.mics)
    articulations = frozenset(articulation.id for piece in kit.pieces for articulation in piece.articulations)
    for piece in kit.pieces:
        yield from _of_piece(piece)
        for mic in mics_named(piece) - mics:
            yield f"{piece.name} uses a microphone that the kit does not have (“{mic}”)."
        for stopped in articulations_named(piece) - articulations:
            yield f"{piece.name} chokes an articulation that does not exist (“{stopped}”)."
    yield from _of_notes(kit, articulations)
    yield from _of_feeds(kit, mics)
    yield from _of_buses(kit)


def _too_many(what: str, count: int, most: int) -> Iterator[str]:
    if count > most:
        yield f"A kit holds at most {most:,} {what}; this one would have {count:,}."


def _twice(what: str, identifiers: Iterable[object]) -> Iterator[str]:
    for identifier, times in Counter(identifiers).items():
        if times > 1:
            yield f"{what} are both called “{identifier}”; each needs an identifier of its own."


@remembered(limit=4000)
def mics_named(piece: Piece) -> frozenset[str]:
    """Every microphone a piece refers to: those in its recordings, and its own."""
    return frozenset(piece.own_mics).union(*(_mics_of(articulation) for articulation in piece.articulations))


@remembered(limit=4000)
def _mics_of(articulation: Articulation) -> frozenset[str]:
    return frozenset(r.mic for take in articulation.takes for r in take.recordings)


@remembered(limit=4000)
def articulations_named(piece: Piece) -> frozenset[str]:
    """Every articulation that some choke of the piece stops."""
    return frozenset(choke.articulation for articulation in piece.articulations for choke in articulation.chokes)


@remembered(limit=4000)
def _of_piece(piece: Piece) -> tuple[str, ...]:
    found = [*_too_many(f"articulations in {piece.name}", len(piece.articulations), MOST_ARTICULATIONS)]
    return tuple(
        found + [sentence for articulation in piece.articulations for sentence in _of_articulation(articulation)]
    )


@remembered(limit=4000)
def _of_articulation(articulation: Articulation) -> tuple[str, ...]:
    """Faults inside an articulation: in its takes and in what its layers refer to."""
    found = [*_too_many(f"layers in {articulation.name}", len(articulation.layers), MOST_LAYERS)]
    found += _too_many(f"takes in {articulation.name}", len(articulation.takes), MOST_TAKES)
    known = {take.id for take in articulation.takes}
    if len(known) < len(articulation.takes):
        found += _twice(f"Two takes of {articulation.name}", (take.id for take in articulation.takes))
    for take in articulation.takes:
        if not take.recordings:
            found.append(f"Take {take.label} of {articulation.name} has no recording.")
        elif len({r.mic for r in take.recordings}) < len(take.recordings):
            found.append(f"Take {take.label} of {articulation.name} has two recordings from one microphone.")
    named: set[str] = set()
    for number, layer in enumerate(articulation.layers, start=1):
        for take_id in layer.takes:
            if take_id not in known:
                found.append(f"Layer {number} of {articulation.name} names a take that does not exist (“{take_id}”).")
            elif take_id in named:
                found.append(
                    f"Layer {number} of {articulation.name} names take “{take_id}”, which is already in a layer."
                )
            named.add(take_id)
    return tuple(found)


def _of_notes(kit: Kit, articulations: frozenset[str]) -> Iterator[str]:
    for placed in kit.notes.placed:
        if placed.articulation not in articulations:
            yield f"Note {placed.note} plays an articulation that does not exist (“{placed.articulation}”)."
        if placed.open_from > placed.open_to:
            yield f"Note {placed.note} is to play from openness {placed.open_from} down to {placed.open_to}."


def _of_feeds(kit: Kit, mics: frozenset[str]) -> Iterator[str]:
    pieces = {piece.id for piece in kit.pieces}
    channels = {channel.id for channel in kit.routing.channels}
    seen = set()
    for feed in kit.routing.feeds:
        for what, name, known in (
            ("piece", feed.piece, pieces),
            ("microphone", feed.mic, mics),
            ("channel", feed.channel, channels),
        ):
            if name not in known:
                yield f"A feed names a {what} that does not exist (“{name}”)."
        key = (feed.piece, feed.mic, feed.channel)
        if key in seen:
            yield f"“{feed.mic}” of “{feed.piece}” feeds the channel “{feed.channel}” twice."
        seen.add(key)


def _of_buses(kit: Kit) -> Iterator[str]:
    buses = {bus.id for bus in kit.routing.buses}
    if kit.routing.main.bus or kit.routing.main.sends:
        yield "The main mix goes into a bus; it leaves by output 1 alone."
    for channel in (kit.routing.main, *kit.routing.channels):
        if channel.space is not None:
            yield f"{channel.name} has a reverb or echo, but only buses can. Send it to a bus."
    for channel in channels_and_buses(kit.routing):
        if channel.bus and channel.output is not None:
            yield f"{channel.name} goes into a bus and to output {channel.output}; it goes to one place."
        for named in dict.fromkeys(next_of(channel)):
            if named not in buses:
                yield f"{channel.name} goes into a bus that does not exist (“{named}”)."
        yield from _twice(f"Two sends of {channel.name}", (send.bus for send in channel.sends))
    if way := circle(channels_and_buses(kit.routing)):
        yield f"That would be a feedback loop: {' into '.join(c.name for c in way)}. Remove one of these."
