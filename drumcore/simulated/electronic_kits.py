"""Simulated electronic kits: pads with their own note numbers and quirks. They ship with the product."""

from drumcore.kit.values import Family, MapEntry, MidiNote, SavedMap, Velocity
from drumcore.value import Value


class Plays(Value):
    """The articulation that a zone of a pad is meant for, as a note map describes it."""

    family: Family
    articulation: str
    number: int = 1


class Pad(Value):
    """A pad: the note it sends, the computer key that strikes it, and where it is drawn (0..1 across, 0..1 down).
    `edge_note` is sent for its rim. A `stoppable` pad sends pressure when a hand holds it.
    """

    name: str
    note: MidiNote
    plays: Plays
    edge_note: MidiNote | None = None
    edge_plays: Plays | None = None
    key: str
    x: float
    y: float
    size: float
    stoppable: bool = False


class PadCrossTalk(Value):
    """How one pad shakes another: strikes of `low`..`high`, after some ms, with a probability at every hard strike."""

    pad: str
    into: str
    low: Velocity
    high: Velocity
    soonest_ms: float
    latest_ms: float
    chance: float
    from_velocity: Velocity


class PadDouble(Value):
    """A pad that sends a second, softer strike after some ms."""

    pad: str
    soonest_ms: float
    latest_ms: float
    chance: float


class HatNote(Value):
    """The note the hi-hat pad sends while the pedal is open by `open_from` or more."""

    open_from: int
    note: MidiNote
    plays: Plays


class Chatter(Value):
    """Soft pedal notes that a pedal sends while it moves."""

    low: Velocity
    high: Velocity
    chance: float


class ElectronicKit(Value):
    """`pedal_note` is sent when the pedal closes; its position is sent on `openness_controller`, if there is one.
    `hat_pad` is the pad whose note follows the pedal by `hat_notes`, if any. The lightest touch gives velocity
    `softest`, the heaviest `hardest`, with a straight line between.
    """

    id: str
    name: str
    says: str
    pads: tuple[Pad, ...]
    hat_pad: str
    hat_notes: tuple[HatNote, ...] = ()
    pedal_note: MidiNote
    openness_controller: MidiNote | None
    softest: Velocity = 1
    hardest: Velocity = 127
    cross_talk: tuple[PadCrossTalk, ...] = ()
    doubles: tuple[PadDouble, ...] = ()
    chatter: Chatter | None = None


_CLOSED = Plays(family=Family.HATS, articulation="closed")
_HALF = Plays(family=Family.HATS, articulation="half open")
_OPEN = Plays(family=Family.HATS, articulation="open")
_PEDAL = Plays(family=Family.HATS, articulation="pedal")
_KICK = Plays(family=Family.KICK, articulation="centre")
_SNARE = Plays(family=Family.SNARE, articulation="centre")
_RIM = Plays(family=Family.SNARE, articulation="rimshot")
_TOM = Plays(family=Family.TOM, articulation="centre")
_CRASH = Plays(family=Family.CRASH, articulation="edge")

DECKHAND_5 = ElectronicKit(
    id="deckhand-5",
    name="Deckhand 5",
    says="Five pads close to the standard notes; hi-hat pedal on CC 4, hand choke on the crash.",
    pads=(
        Pad(name="Hats", note=46, plays=_OPEN, key="D", x=0.12, y=0.28, size=0.19),
        Pad(name="Snare", note=38, plays=_SNARE, edge_note=40, edge_plays=_RIM, key="S", x=0.33, y=0.66, size=0.22),
        Pad(name="Kick", note=36, plays=_KICK, key="A", x=0.62, y=0.7, size=0.22),
        Pad(name="Tom", note=48, plays=_TOM, key="F", x=0.47, y=0.22, size=0.19),
        Pad(name="Crash", note=49, plays=_CRASH, key="G", x=0.84, y=0.34, size=0.24, stoppable=True),
    ),
    hat_pad="Hats",
    pedal_note=44,
    openness_controller=4,
)
STOWAWAY = ElectronicKit(
    id="stowaway",
    name="Stowaway",
    says="A small practice kit with notes of its own: hats on three notes, a pedal that chatters, velocities from 28 to 112, a snare with cross-talk into the tom, a kick that sometimes triggers twice.",
    pads=(
        Pad(name="Hats", note=48, plays=_CLOSED, key="D", x=0.13, y=0.3, size=0.17),
        Pad(name="Snare", note=37, plays=_SNARE, edge_note=39, edge_plays=_RIM, key="S", x=0.32, y=0.7, size=0.2),
        Pad(name="Kick", note=33, plays=_KICK, key="A", x=0.6, y=0.76, size=0.16),
        Pad(name="Tom", note=42, plays=_TOM, key="F", x=0.5, y=0.26, size=0.2),
        Pad(name="Crash", note=46, plays=_CRASH, key="G", x=0.84, y=0.4, size=0.2),
    ),
    hat_pad="Hats",
    hat_notes=(
        HatNote(open_from=0, note=48, plays=_CLOSED),
        HatNote(open_from=40, note=49, plays=_HALF),
        HatNote(open_from=90, note=51, plays=_OPEN),
    ),
    pedal_note=41,
    openness_controller=None,
    softest=28,
    hardest=112,
    cross_talk=(
        PadCrossTalk(
            pad="Snare", into="Tom", low=8, high=15, soonest_ms=3.0, latest_ms=9.0, chance=0.8, from_velocity=60
        ),
    ),
    doubles=(PadDouble(pad="Kick", soonest_ms=9.0, latest_ms=16.0, chance=0.25),),
    chatter=Chatter(low=6, high=18, chance=0.6),
)
ELECTRONIC_KITS = (DECKHAND_5, STOWAWAY)


def map_of(kit: ElectronicKit) -> SavedMap:
    """The note map of a simulated kit: what each of its pads is meant for."""
    sent = [(pad.note, pad.plays) for pad in kit.pads if not (kit.hat_notes and pad.name == kit.hat_pad)]
    sent += [(pad.edge_note, pad.edge_plays) for pad in kit.pads if pad.edge_note is not None and pad.edge_plays]
    sent += [(hat.note, hat.plays) for hat in kit.hat_notes]
    sent.append((kit.pedal_note, _PEDAL))
    entries = [
        MapEntry(note=note, family=plays.family, articulation=plays.articulation, number=plays.number)
        for note, plays in sent
        if note is not None
    ]
    if kit.openness_controller is not None:
        hats = next(pad.note for pad in kit.pads if pad.name == kit.hat_pad)
        whole = [e for e in entries if not (e.note == hats and e.family is Family.HATS)]
        zones = ((0, 15, "tight"), (16, 47, "closed"), (48, 95, "half open"), (96, 127, "open"))
        entries = whole + [
            MapEntry(note=hats, family=Family.HATS, articulation=name, open_from=low, open_to=high)
            for low, high, name in zones
        ]
    return SavedMap(name=kit.name, entries=tuple(sorted(entries, key=lambda e: (e.note, e.open_from))))
