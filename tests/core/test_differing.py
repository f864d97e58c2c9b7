"""Two values of a kit held against one another: every field that differs is said, with names and figures."""

from collections.abc import Callable

import pytest
from hypothesis import given

from drumcore.describing import differences as described
from drumcore.describing.differences import differences
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.kit import values as v
from drumcore.kit.lookup import articulation_of, with_articulation, with_piece
from drumcore.kit.values import (
    Choke,
    CrossTalk,
    Curve,
    Family,
    Input,
    Kit,
    MicKind,
    Node,
    Order,
    Origin,
    Output,
    SavedMap,
    Send,
    Side,
    Variation,
    Width,
)
from drumcore.spaces.echo import Echo
from drumcore.spaces.hall import Hall
from drumcore.treatments.eq import Eq
from tests.changes import several

SNARE = "snare/centre"
LINE = Curve(nodes=(Node(x=0, y=0), Node(x=127, y=90)))


class Made:
    """The small kit, and kits that differ from it in fields of one thing."""

    def __init__(self, kit: Kit) -> None:
        self.kit = kit
        self.own, self.snare = articulation_of(kit, SNARE)
        self.pads = kit.but(inputs=(Input(id="d", name="Pads"),))

    def articulation(self, **fields) -> Kit:
        return with_articulation(self.kit, SNARE, lambda articulation: articulation.but(**fields))

    def piece(self, **fields) -> Kit:
        return with_piece(self.kit, "snare", lambda piece: piece.but(**fields))

    def notes(self, **fields) -> Kit:
        return self.kit.but(notes=self.kit.notes.but(**fields))

    def routing(self, **fields) -> Kit:
        return self.kit.but(routing=self.kit.routing.but(**fields))

    def channel(self, **fields) -> Kit:
        channels = self.kit.routing.channels
        return self.routing(channels=tuple(c.but(**fields) if c.id == "snare-channel" else c for c in channels))

    def routed(self, *edits: e.Edit) -> Kit:
        kit = self.kit
        for edit in edits:
            kit = apply(kit, edit)
        return kit


MUCH: dict[str, object] = {
    "muted": True, "output": 2, "side": Side.LEFT, "treatments": (Eq(),), "treated": False, "group": "g", "gathers": MicKind.ROOM,
}  # fmt: skip
"""Much of a channel set otherwise."""
TOLD: list[tuple[Callable[[Made], tuple[Kit, Kit]], tuple[str, ...]]] = [
    (
        lambda m: (m.kit, m.kit.but(description="Dry.", tags=("dry",), rate_hz=44100, curve=LINE)),
        ("The kit another description, at 44,100 Hz and with another curve", "Tagged dry"),
    ),
    (
        lambda m: (m.kit.but(description="Dry.", tags=("dry",)), m.kit),
        ("The kit without a description", "No longer tagged dry"),
    ),
    (lambda m: (m.kit, m.kit.but(ignored=("a", "b"))), ("2 findings ignored",)),
    (lambda m: (m.kit.but(ignored=("a",)), m.kit), ("1 finding no longer ignored",)),
    (lambda m: (m.kit, m.kit.but(pieces=m.kit.pieces[::-1])), ("Pieces in another order",)),
    (
        lambda m: (
            m.kit,
            m.piece(family=Family.TOM, level_db=-3.0, curve=LINE, own_mics=("room", "snare-mic"), hand_stop_ms=40.0),
        ),
        (
            "Snare family tom, has 2 microphones of its own, at −3.0 dB in all microphones, with another curve and choked by hand in 40 ms",
        ),
    ),
    (
        lambda m: (m.piece(curve=LINE, hand_stop_ms=40.0), m.piece(curve=None, hand_stop_ms=None)),
        ("Snare without a curve of its own and not choked by hand",),
    ),
    (lambda m: (m.piece(origin=Origin(kind="kits", id="m", name="March")), m.kit), ("Snare of its own",)),
    (lambda m: (m.kit, m.piece(origin=Origin(kind="kits", id="m", name="March"))), ("Snare from March",)),
    (
        lambda m: (
            m.kit,
            m.piece(
                tracking=m.own.tracking.but(
                    level=1.2, whole=not m.own.tracking.whole, attack_soft_ms=4.0, attack_hard_ms=1.0
                )
            ),
        ),
        ("Tracking of Snare: level by 120 %, over the whole range, soft attack 4.0 ms and hard attack 1.0 ms",),
    ),
    (
        lambda m: (m.kit, apply(m.kit, e.MakeArticulation(piece="snare", name="rimshot"))),
        ("New articulation Snare · rimshot",),
    ),
    (
        lambda m: (m.kit, apply(m.kit, e.RemoveArticulation(articulation="hats/open"))),
        ("Articulation Hats · open removed", "Hats · closed chokes 0 articulations", "Hats · open off 46 (A♯1)"),
    ),
    (
        lambda m: (m.kit, apply(m.kit, e.MoveArticulation(articulation="hats/open", place=0))),
        ("Articulations in another order",),
    ),
    (
        lambda m: (
            m.kit,
            m.articulation(
                name="middle",
                curve=LINE,
                variation=Variation(level_db=1.0, tune_cents=5.0, brightness=0.5),
                whole=True,
                label_note=38,
            ),
        ),
        (
            "Snare · centre is called middle, varies by 1.0 dB, 5 cents and 0.5 octaves, follows velocity over the whole range, with another curve and with another label",
        ),
    ),
    (
        lambda m: (m.articulation(whole=True), m.articulation(whole=None)),
        ("Snare · centre follows velocity like its piece",),
    ),
    (
        lambda m: (m.articulation(whole=True), m.articulation(whole=False)),
        ("Snare · centre follows velocity inside its layers",),
    ),
    (
        lambda m: (m.kit, m.articulation(chokes=(Choke(articulation="hats/open", fade_ms=10.0),))),
        ("Snare · centre chokes 1 articulation",),
    ),
    (lambda m: (m.kit, m.articulation(takes=m.snare.takes[1:])), ("1 take fewer in Snare · centre",)),
    (lambda m: (m.articulation(takes=m.snare.takes[2:]), m.kit), ("2 takes more in Snare · centre",)),
    (lambda m: (m.kit, m.articulation(takes=m.snare.takes[::-1])), ("Takes of Snare · centre in another order",)),
    (
        lambda m: (m.kit, m.articulation(takes=(m.snare.takes[0].but(gain_db=-1.0), *m.snare.takes[1:]))),
        ("Snare · centre 1-1 changed",),
    ),
    (
        lambda m: (
            m.kit,
            m.articulation(takes=tuple(t.but(gain_db=-1.0) for t in m.snare.takes[:2]) + m.snare.takes[2:]),
        ),
        ("2 takes of Snare · centre changed",),
    ),
    (lambda m: (m.kit, m.articulation(layers=m.snare.layers[:1])), ("Snare · centre in 1 layer instead of 4",)),
    (
        lambda m: (
            m.kit,
            m.articulation(
                layers=(
                    m.snare.layers[0].but(low=2, high=30, order=Order.RANDOM, gain_db=-2.0, blend=3),
                    *m.snare.layers[1:],
                )
            ),
        ),
        ("Layer 1 of Snare · centre from 2, up to 30, random, by −2.0 dB and blended over 3",),
    ),
    (
        lambda m: (
            m.kit,
            m.articulation(layers=(m.snare.layers[0].but(takes=m.snare.layers[0].takes[:1]), *m.snare.layers[1:])),
        ),
        ("Layer 1 of Snare · centre plays 1 take, different ones",),
    ),
    (
        lambda m: (
            m.kit,
            m.kit.but(
                mics=tuple(
                    m.but(name="Far", kind=MicKind.CLOSE, inverted=True, gain_db=-2.0, muted=True)
                    if m.id == "room"
                    else m
                    for m in m.kit.mics
                )
            ),
        ),
        ("Room is called Far, is close, flipped, by −2.0 dB and muted",),
    ),
    (
        lambda m: (
            m.kit.but(mics=tuple(m.but(inverted=True, muted=True) if m.id == "room" else m for m in m.kit.mics)),
            m.kit,
        ),
        ("Room not flipped and unmuted",),
    ),
    (lambda m: (m.kit, m.kit.but(mics=m.kit.mics[:-1])), ("Microphone Room removed",)),
    (
        lambda m: (m.kit, m.notes(middle_c=4, openness_blend=6, pedal_sounds=True)),
        ("Notes count middle C as C4, blend over 6 of the pedal and with a pedal sound of its own",),
    ),
    (lambda m: (m.notes(pedal_sounds=True), m.kit), ("Notes without a pedal sound",)),
    (lambda m: (m.kit, m.notes(base=SavedMap(name="Quay", entries=()))), ("Notes by the map Quay",)),
    (lambda m: (m.notes(base=SavedMap(name="Quay", entries=())), m.kit), ("Notes by the map of standard percussion",)),
    (lambda m: (m.kit, m.notes(placed=m.kit.notes.placed[::-1])), ("Notes in another order",)),
    (
        lambda m: (
            m.kit,
            m.notes(placed=tuple(p.but(gain_db=-3.0, open_to=100) if p.note == 38 else p for p in m.kit.notes.placed)),
        ),
        ("Snare · centre on 38 (D1) at −3.0 dB, pedal 0 to 100",),
    ),
    (lambda m: (m.kit, m.pads), ("New input Pads",)),
    (lambda m: (m.pads, m.kit), ("Input Pads removed",)),
    (
        lambda m: (
            m.pads,
            m.kit.but(
                inputs=(
                    Input(
                        id="d",
                        name="Drums",
                        curve=LINE,
                        cross_talk=(CrossTalk(after=36, note=38, up_to=20, within_ms=10.0),),
                        doubles_ms=20.0,
                        controller=1,
                        closed_at=5,
                        open_at=90,
                    ),
                )
            ),
        ),
        (
            "Pads is called Drums, with another curve, with 1 pad with cross-talk, doubles within 20 ms, pedal on controller 1, closed at 5 and open at 90",
        ),
    ),
    (lambda m: (m.kit, m.routing(host="Raft", treated=False)), ("The kit routed for Raft and all treatment bypassed",)),
    (lambda m: (m.routing(treated=False), m.kit), ("The kit treatment enabled",)),
    (
        lambda m: (m.kit, m.routing(outputs=(*m.kit.routing.outputs, Output(number=9, name="Nine")))),
        ("17 outputs instead of 16", "Output 9 is called Nine and is nameless to the host"),
    ),
    (
        lambda m: (
            m.routing(outputs=(*m.kit.routing.outputs, Output(number=9, name="Nine"))),
            m.routing(outputs=(*m.kit.routing.outputs, Output(number=10, name="", track="T", width=Width.MONO))),
        ),
        (
            "Output 9 is called Output 9 and is 17/18 to the host",
            "Output 10 has no name of its own, is mono, is nameless to the host and has the track T",
            "Other outputs",
        ),
    ),
    (
        lambda m: (
            m.routing(outputs=(*m.kit.routing.outputs, Output(number=9, name="Nine", track="T", called="x"))),
            m.routing(outputs=(*m.kit.routing.outputs, Output(number=9, name="", width=Width.MONO))),
        ),
        (
            "Output 9 is called Output 9, is 17/18 to the host and has a track without a name",
            "Output 9 has no name of its own, is mono, is nameless to the host and has a track without a name",
        ),
    ),
    (
        lambda m: (
            m.kit,
            m.channel(
                level_db=-120.0,
                **MUCH,
                space=Hall(),
            ),
        ),
        (
            "Snare to −∞ dB, muted, to output 2 Output 2, on the left, treatment changed, treatment bypassed, collects room, grouped and through a hall, changed",
        ),
    ),
    (
        lambda m: (
            m.channel(
                **MUCH,
                space=Echo(),
            ),
            m.kit,
        ),
        (
            "Snare unmuted, on both sides, without treatment, treated, collects no microphones, in no group and without reverb or echo",
            "Snare to main",
        ),
    ),
    (lambda m: (m.channel(space=None), m.channel(space=Echo())), ("Snare through an echo, changed",)),
    (
        lambda m: (m.kit, m.channel(bus="room-channel", sends=(Send(bus="room-channel", level_db=-9.0),))),
        ("Snare into Room and sent to Room at −9.0 dB",),
    ),
    (lambda m: (m.channel(bus="room-channel"), m.kit), ("Snare to main",)),
    (lambda m: (m.kit, m.routing(channels=m.kit.routing.channels[::-1])), ("Channels in another order",)),
    (lambda m: (m.kit, m.routing(main=m.kit.routing.main.but(level_db=-3.0, output=None))), ("Main to −3.0 dB",)),
    (
        lambda m: (m.kit, m.kit.but(mics=tuple(m.but(width=Width.MONO) for m in m.kit.mics))),
        ("Overheads changed (width)", "Room changed (width)"),
    ),
    (
        lambda m: (
            m.channel(bus="room-channel", sends=(Send(bus="room-channel", level_db=-9.0),)),
            m.channel(bus="room-channel"),
        ),
        ("Snare sent to nothing",),
    ),
    (lambda m: (m.kit, m.kit.but(name="Big")), ("The kit is called Big",)),
    (lambda m: (m.kit, m.piece(name="Sharp")), ("Snare is called Sharp",)),
    (lambda m: (m.routed(e.MakeBus(name="Air")), m.kit), ("Bus Air removed",)),
    (
        lambda m: (
            m.routed(e.MakeBus(name="Air"), e.MakeBus(name="Hall")),
            m.routed(e.MakeBus(name="Hall"), e.MakeBus(name="Air")),
        ),
        ("Buses in another order",),
    ),
    (lambda m: (m.kit, m.routing(feeds=m.kit.routing.feeds[::-1])), ("Feeds in another order",)),
    (
        lambda m: (
            m.kit,
            m.routing(feeds=(m.kit.routing.feeds[0].but(level_db=-4.0, on=False), *m.kit.routing.feeds[2:])),
        ),
        ("Kick in Kick mic into Kick at −4.0 dB, off", "Kick in Overheads out of Overheads"),
    ),
]


@pytest.mark.parametrize(("two", "said"), TOLD, ids=[said[0] for _, said in TOLD])
def test_what_differs_is_told_field_by_field(
    small_kit: Kit, two: Callable[[Made], tuple[Kit, Kit]], said: tuple[str, ...]
):
    assert differences(*two(Made(small_kit))) == said


CHANGED = {
    "Snare to −3.0 dB": e.SetChannel(channel="snare-channel", level_db=-3.0),
    "Snare panned to left 50 % and muted": e.SetChannel(channel="snare-channel", pan=-0.5, muted=True),
    "Snare to output 2 Output 2": e.SetChannel(channel="snare-channel", output=2),
    "Snare treatment changed": e.SetTreatment(channel="snare-channel", treatment=Eq()),
    "Snare is called Sharp": e.SetPiece(piece="snare", name="Sharp"),
    "Piece Snare removed": e.RemovePiece(piece="snare"),
    "Snare · centre in 2 layers instead of 4": e.MakeLayers(articulation=SNARE, count=2),
    "Snare · centre off 38 (D1)": e.RemoveFromNote(note=38, articulation=SNARE),
    "Snare · centre on 99 (D♯6)": e.PutOnNote(note=99, articulation=SNARE),
    "Tagged dry": e.DescribeKit(tags=("dry",)),
    "The kit is called Other": e.RenameKit(name="Other"),
    "Snare in Snare mic out of Snare": e.SetFeed(
        piece="snare", mic="snare-mic", channel="snare-channel", level_db=None
    ),
    "New bus Air": e.MakeBus(name="Air"),
    "Tracking of Snare: brightness by 1.5 octaves": e.SetTracking(piece="snare", brightness=1.5),
    "Overheads by 2.0 dB": e.SetMic(mic="overheads", gain_db=2.0),
}


@pytest.mark.parametrize("sentence", CHANGED)
def test_two_values_of_a_kit_are_told_apart_in_sentences(small_kit, sentence):
    said = differences(small_kit, apply(small_kit, CHANGED[sentence]))
    assert said.count(sentence) == 1


@given(several)
def test_a_difference_is_never_silent_and_no_difference_says_nothing(after, small_kit, changes):
    changed = after(changes)
    there, back = differences(small_kit, changed), differences(changed, small_kit)
    assert bool(there) == bool(back) == (changed != small_kit)
    assert all(len(said) == len(said.strip()) > 0 and not said.endswith(".") and "None" not in said for said in there)


def test_every_field_of_a_kit_has_words_of_its_own():
    told = {
        v.Kit: described.KIT,
        v.Piece: described.PIECE,
        v.Articulation: described.ARTICULATION,
        v.Layer: described.LAYER,
        v.Mic: described.MIC,
        v.NoteMap: described.NOTES,
        v.Input: described.INPUT,
        v.Routing: described.ROUTING,
        v.Output: described.OUTPUT,
        v.Tracking: described.TRACKING,
    }
    left = {
        f"{kind.__name__}.{field}"
        for kind, says in told.items()
        for field in kind.model_fields
        if field not in says and field not in described.ELSEWHERE
    }
    # Its width follows from its recordings, which say so themselves; a number is what an output is known by.
    assert left == {"Mic.width", "Output.number"}
