"""Any edit somebody might make to the small kit, all of them, and anything they might play on it."""

from hypothesis import strategies as st
from pydantic import TypeAdapter

from drumcore.edits import values as e
from drumcore.edits.bring_piece_values import Entering, OnNote
from drumcore.kit.values import (
    Articulation,
    Choke,
    CrossTalk,
    Curve,
    Family,
    Kit,
    Layer,
    Mic,
    MicKind,
    Node,
    Order,
    Piece,
    Recording,
    ReferenceComparison,
    Side,
    Take,
    Variation,
    Width,
)
from drumcore.refusals import OccupiedNote, Refusal
from drumcore.routing.hosts import FERRY, RAFT, SKIFF
from drumcore.spaces.echo import Echo
from drumcore.spaces.hall import Hall
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive
from drumcore.treatments.eq import BandKind, Eq, EqBand

PIECES = ("kick", "snare", "hats", "crash-left")
ARTICULATIONS = ("kick/centre", "snare/centre", "hats/closed", "hats/open", "crash-left/edge")
MICS = ("kick-mic", "snare-mic", "hat-mic", "overheads", "room")
CHANNELS = ("kick-channel", "snare-channel", "hats-channel", "crash-left-channel", "overheads-channel", "room-channel")
NOTES = (36, 38, 42, 44, 46, 49, 60)
INPUTS = ("pads", "groove")

piece, articulation, note, channel = (st.sampled_from(of) for of in (PIECES, ARTICULATIONS, NOTES, CHANNELS))
bus = st.sampled_from(["crush-bus", "air-bus", "hall-bus"])
level = st.integers(-240, 60).map(lambda tenths: tenths / 10)
layer = st.integers(0, 4)
velocity = st.integers(1, 127)
openness = st.integers(0, 127)
fade = st.one_of(st.none(), st.floats(1.0, 400.0).map(lambda ms: round(ms, 1)))
occupied = st.sampled_from([None, "stack", "take_over"])


@st.composite
def curves(draw: st.DrawFn) -> Curve:
    """A curve of two to five nodes, anywhere and bent anyhow; it may fall, and may give nothing but zeros."""
    between = sorted(draw(st.sets(st.integers(1, 126), max_size=3)))
    heights = draw(st.lists(openness, min_size=len(between) + 2, max_size=len(between) + 2))
    bends = st.integers(-10, 10).map(lambda tenths: tenths / 10)
    return Curve(
        nodes=tuple(Node(x=x, y=y, bend=draw(bends)) for x, y in zip((0, *between, 127), heights, strict=True))
    )


cross_talk = st.builds(
    CrossTalk, after=note, note=note, up_to=st.integers(1, 40), within_ms=st.sampled_from([4.0, 12.0, 30.0])
).filter(lambda talk: talk.after != talk.note)
variations = st.builds(
    Variation,
    level_db=st.sampled_from([0.0, 1.5]),
    tune_cents=st.sampled_from([0.0, 8.0]),
    brightness=st.sampled_from([0.0, 2.0]),
)

of_notes = st.one_of(
    st.builds(
        e.PutOnNote, articulation=articulation, note=note, from_note=st.one_of(st.none(), note), when_occupied=occupied
    ),
    st.builds(e.MoveNote, note=note, to=note, when_occupied=occupied),
    st.builds(e.RemoveFromNote, articulation=articulation, note=note),
    st.builds(e.SetPlaced, note=note, articulation=articulation, gain_db=level),
    st.builds(
        e.TeachNote,
        articulation=articulation,
        note=note,
        openness=st.one_of(st.none(), openness),
        when_occupied=occupied,
    ),
    st.builds(e.SpreadOpenness, piece=piece, note=note),
    st.builds(e.MoveOpennessLimit, note=note, limit=st.integers(0, 2), openness=st.integers(0, 126)),
    st.builds(e.NoteEach, note=note),
    st.builds(e.SetOpenness, blend=st.integers(0, 64), pedal_sounds=st.booleans()),
    st.builds(e.SetChoke, articulation=articulation, stopped=articulation, fade_ms=fade),
    st.builds(e.ChokeAsUsual, piece=piece),
    st.builds(e.SetHandStop, piece=piece, fade_ms=fade),
    st.builds(e.ApplyMap),
)
of_touch = st.one_of(
    st.builds(e.SetCurve, curve=curves()),
    st.builds(e.SetCurve, target=st.one_of(piece, articulation), curve=st.one_of(st.none(), curves())),
    st.builds(e.SetCurve, input=st.sampled_from(INPUTS), curve=st.one_of(st.none(), curves())),
    st.builds(
        e.SetInput,
        input=st.sampled_from(INPUTS),
        name=st.just("Pads"),
        cross_talk=st.lists(cross_talk, max_size=3).map(tuple),
        doubles_ms=st.sampled_from([0.0, 12.0, 40.0]),
        closed_at=openness,
        open_at=openness,
    ),
    st.builds(
        e.SetTracking,
        piece=piece,
        level=st.sampled_from([0.0, 0.5, 1.5]),
        whole=st.booleans(),
        brightness=st.sampled_from([0.0, 3.0]),
        attack_soft_ms=st.sampled_from([0.0, 20.0]),
        attack_hard_ms=st.sampled_from([0.0, 2.0]),
    ),
)
of_layers = st.one_of(
    st.builds(e.MoveBoundary, articulation=articulation, layer=layer, velocity=velocity, linked=st.booleans()),
    st.builds(e.SetRange, articulation=articulation, layer=layer, low=velocity, high=velocity, linked=st.booleans()),
    st.builds(e.SetLayer, articulation=articulation, layer=layer, gain_db=level, blend=st.integers(0, 32)),
    st.builds(e.SetOrder, articulation=articulation, order=st.sampled_from(Order)),
    st.builds(e.SetVariation, articulation=articulation, variation=variations),
    st.builds(e.MakeLayers, articulation=articulation, count=st.integers(1, 8)),
    st.builds(e.SplitEvenly, articulation=articulation),
    st.builds(e.SplitByLoudness, articulation=articulation),
    st.builds(e.CloseGaps, articulation=articulation),
    st.builds(e.EndOverlaps, articulation=articulation),
    st.builds(e.AddLayer, articulation=articulation, above=layer),
    st.builds(e.MergeLayers, articulation=articulation, layer=layer),
    st.builds(e.RemoveLayer, articulation=articulation, layer=layer),
    st.builds(e.SplitLayer, articulation=articulation, layer=layer),
    st.builds(e.MatchTakeLevels, articulation=articulation, layer=st.one_of(st.none(), layer)),
    st.builds(e.EvenOutLayers, articulation=articulation),
)
eq_bands = st.builds(
    EqBand,
    kind=st.sampled_from(BandKind),
    hz=st.floats(20.0, 20_000.0),
    gain_db=st.floats(-18.0, 18.0),
    q=st.floats(0.1, 18.0),
    resonance_db=st.floats(-12.0, 18.0),
)
eqs = st.builds(Eq, on=st.booleans(), bands=st.lists(eq_bands, max_size=8).map(tuple))
# How a treatment of each kind is drawn; the twin test asks both sides with all of them.
compressors = st.builds(
    Compressor,
    on=st.booleans(),
    threshold_db=st.floats(-60.0, 0.0),
    ratio=st.floats(1.0, 20.0),
    knee_db=st.one_of(st.just(0.0), st.floats(0.0, 24.0)),
    attack_ms=st.floats(0.3, 200.0),
    release_ms=st.floats(5.0, 2000.0),
    make_up_db=st.floats(-12.0, 24.0),
    mix=st.floats(0.0, 1.0),
    low_cut_hz=st.one_of(st.none(), st.floats(20.0, 1000.0)),
)
drives = st.builds(
    Drive,
    on=st.booleans(),
    drive_db=st.floats(0.0, 36.0),
    asymmetry=st.floats(0.0, 1.0),
    level_matched=st.booleans(),
    mix=st.floats(0.0, 1.0),
)
TREATMENTS = {"eq": eqs, "compressor": compressors, "drive": drives}
treatments = st.one_of(*TREATMENTS.values())
spaces = st.one_of(
    st.none(),
    st.builds(
        Hall,
        on=st.booleans(),
        length_s=st.sampled_from([0.2, 0.6]),
        size_m=st.sampled_from([3.0, 12.0]),
        damping=st.floats(0, 1),
        pre_delay_ms=st.sampled_from([0.0, 30.0]),
        width=st.floats(0, 1),
    ),
    st.builds(
        Echo,
        every_ms=st.sampled_from([5.0, 180.0]),
        beats=st.none() | st.sampled_from([0.25, 0.75]),
        repeats=st.integers(1, 4),
        softer_db=st.floats(0, 40),
        darker=st.floats(0, 3),
        sides=st.floats(0, 1),
    ),
)
of_routing = st.one_of(
    st.builds(e.SetSpace, bus=bus, space=spaces),
    st.builds(
        e.LetIn, piece=piece, mic=st.sampled_from(MICS), level_db=st.none() | level, on=st.none() | st.booleans()
    ),
    st.builds(e.LetInto, piece=piece, mic=st.sampled_from(MICS), channel=channel | bus),
    st.builds(e.CloseOnly),
    st.builds(e.AllAsRecorded),
    st.builds(e.SetTreatment, channel=channel, treatment=treatments),
    st.builds(
        e.SetChannels,
        channels=st.lists(channel, min_size=1, max_size=4).map(tuple),
        level_db=st.none() | level,
        pan=st.none() | st.floats(-1, 1),
        muted=st.none() | st.booleans(),
        output=st.none() | st.integers(0, 20),
    ),
    st.builds(e.GroupChannels, channels=st.lists(channel, min_size=2, max_size=4).map(tuple)),
    st.builds(e.Ungroup, channel=channel),
    st.builds(e.MakeBus, name=st.sampled_from(["Crush", "Air", "Hall"])),
    st.builds(e.NameBus, bus=bus, name=st.sampled_from(["Crush", "Air", "Hall"])),
    st.builds(e.MoveBus, bus=bus, to=st.integers(0, 3)),
    st.builds(e.RemoveBus, bus=bus),
    st.builds(
        e.SetSend,
        channel=channel | bus,
        bus=bus,
        level_db=st.none() | level,
        pre_fader=st.none() | st.booleans(),
    ),
    st.builds(e.GoIntoBus, channels=st.lists(channel | bus, min_size=1, max_size=3).map(tuple), bus=bus),
    st.builds(e.RemoveTreatment, channel=channel, treatment=st.sampled_from(["eq", "compressor", "drive", "echo"])),
    st.builds(
        e.SetChannel,
        channel=channel,
        level_db=level,
        muted=st.booleans(),
        output=st.integers(0, 20),
        side=st.sampled_from(Side),
    ),
    st.builds(
        e.SetFeed,
        piece=piece,
        mic=st.sampled_from(MICS),
        channel=channel,
        level_db=st.one_of(st.none(), level),
        on=st.booleans(),
    ),
    st.builds(e.ApplyPlan, plan=st.sampled_from(["pairs", "one-output-a-piece", "close-and-ambience"])),
    st.builds(e.SetHost, host=st.sampled_from([SKIFF, RAFT, FERRY])),
    st.builds(e.ClearOutputs),
    st.builds(e.CopyOutputNames),
    st.builds(e.KeepPlace, channel=channel),
    st.builds(e.RemoveChannel, channel=channel),
    st.builds(
        e.NameOutput,
        output=st.integers(0, 20),
        name=st.none() | st.text(max_size=9),
        track=st.none() | st.text(max_size=9),
    ),
)
of_pieces = st.one_of(
    st.builds(e.DuplicatePiece, piece=piece),
    st.builds(e.RemovePiece, piece=piece),
    st.builds(e.RemoveArticulation, articulation=articulation),
    st.builds(e.SetPiece, piece=piece, family=st.sampled_from(["tom", "hats", "crash"]), level_db=level),
)
take_ids = st.integers(1, 13).map(lambda n: f"t{n}")
some_takes = st.lists(take_ids, min_size=1, max_size=3).map(tuple)
names = st.sampled_from(["Snare", "centre", "Tom", "hats", "half open", "Crash left", "  ", "Side \u201cstick\u201d"])
of_takes = st.one_of(
    st.builds(
        e.TrimTakes,
        articulation=articulation,
        takes=some_takes,
        gain_db=st.one_of(st.none(), level),
        pan=st.sampled_from([None, -1.0, 0.5]),
        tune_cents=st.sampled_from([None, -1200.0, 30.0]),
        start_trim_ms=st.sampled_from([None, -500.0, 4.0]),
        end_ms=st.sampled_from([None, 0.0, 50.0]),
        fade_in_ms=st.sampled_from([None, 5.0]),
        fade_out_ms=st.sampled_from([None, 90.0]),
        enabled=st.sampled_from([None, None, True, False]),
    ),
    st.builds(
        e.MoveTakes,
        articulation=articulation,
        takes=some_takes,
        layer=st.one_of(st.none(), layer),
        place=st.one_of(st.none(), layer),
        to=st.one_of(st.none(), articulation),
    ),
    st.builds(e.SwapTakes, articulation=articulation, take=take_ids, other=take_ids),
    st.builds(
        e.BorrowRecording, articulation=articulation, take=take_ids, mic=st.sampled_from(MICS), from_take=take_ids
    ),
    st.builds(e.CentreRecording, articulation=articulation, take=take_ids),
    st.builds(
        e.FlipRecordings,
        mic=st.sampled_from(MICS),
        side=st.sampled_from(Side),
        piece=st.none() | piece,
        articulation=st.none() | articulation,
        take=st.none() | take_ids,
    ),
    st.builds(
        e.MoveRecording,
        articulation=articulation,
        take=take_ids,
        mic=st.sampled_from(MICS),
        by_ms=st.sampled_from([0.0, 40.0, -5.0]),
    ),
    st.builds(e.ForgetLabel, articulation=articulation, take=take_ids),
    st.builds(e.FlipPolarity, mic=st.sampled_from((*MICS, "gone"))),
    st.builds(
        e.SetMic, mic=st.sampled_from(MICS), name=st.one_of(st.none(), names), gain_db=level, muted=st.booleans()
    ),
)


SILENT = Articulation(id="tom/silent", name="silent", takes=(), layers=())


@st.composite
def read_pieces(draw: st.DrawFn) -> tuple[tuple[Mic, ...], tuple[Piece, ...]]:
    """Microphones and pieces as a reading might hand them over, some of them contradicting themselves."""
    mics = tuple(
        Mic(id=name, name=name, kind=MicKind.CLOSE, width=Width.MONO)
        for name in draw(st.lists(st.sampled_from(["tom-mic", "kick-mic", "bell"]), max_size=2))
    )
    heard = draw(st.lists(st.sampled_from(["tom-mic", "kick-mic", "overheads", "nowhere"]), max_size=3))
    takes = tuple(
        Take(
            id=draw(st.sampled_from([f"t{n}", "t1"])),
            label=f"{n}",
            level_db=draw(st.sampled_from([-120.0, -30.0, -6.0])),
            start_ms=10.0,
            recordings=tuple(recording(mic, f"{n}{mic}") for mic in heard),
        )
        for n in range(1, draw(st.integers(1, 4)))
    )
    layers = tuple(
        Layer(low=1, high=127, takes=tuple(draw(st.lists(take_ids, max_size=2))))
        for _ in range(draw(st.integers(0, 2)))
    )
    articulations = tuple(
        Articulation(
            id=f"tom/{name}",
            name=name,
            takes=takes,
            layers=layers,
            chokes=tuple(Choke(articulation=s) for s in draw(st.lists(st.sampled_from(["tom/rim", "x"]), max_size=1))),
        )
        for name in draw(st.lists(st.sampled_from(["centre", "rim"]), max_size=2))
    )
    made = draw(st.sampled_from(["tom", "kick"]))
    own = draw(st.sampled_from([(), ("tom-mic",), ("nowhere",)]))
    piece = Piece(id=made, name=made, family=Family.TOM, articulations=articulations, own_mics=own)
    return mics, (piece,) * draw(st.integers(1, 2))


def recording(mic: str, name: str) -> Recording:
    return Recording(
        mic=mic,
        path=f"{mic}/{name}.wav",
        content=name,
        rate_hz=48000,
        frames=9600,
        width=Width.MONO,
        level_db=-20.0,
        peak_dbfs=-3.0,
        start_ms=10.0,
        length_ms=200.0,
        against=(ReferenceComparison(delay_ms=1.0, polarity=-1, sure=0.5),),
    )


of_making = st.one_of(
    read_pieces().map(lambda read: e.BuildPieces(mics=read[0], pieces=read[1])),
    st.builds(
        lambda wanted, read: e.AddToPiece(piece=wanted, mics=read[0], articulations=read[1][0].articulations),
        piece,
        read_pieces(),
    ),
    st.builds(e.MakePiece, name=names, family=st.sampled_from([None, Family.KICK])),
    st.builds(e.MakeArticulation, piece=piece, name=names),
    st.builds(e.RenameArticulation, articulation=articulation, name=names),
    st.builds(e.DuplicateArticulation, articulation=articulation),
    st.builds(e.MoveArticulation, articulation=articulation, place=layer),
    st.builds(e.MovePiece, piece=piece, place=layer),
    st.builds(e.RenameKit, name=names),
    st.builds(e.DescribeKit, description=st.sampled_from([None, "", "Dry."]), tags=st.sampled_from([None, ("dry",)])),
)
newcomers = read_pieces().map(
    lambda read: Kit(id="other", name="Other", mics=tuple({m.id: m for m in read[0]}.values()), pieces=read[1][:1])
)
adding_sounds = st.builds(
    lambda read, note, when: e.AddSounds(
        mics=read[0],
        pieces=tuple(p.but(articulations=(p.articulations * 2)[:1] or (SILENT,)) for p in read[1]),
        note=note,
        when_occupied=when,
    ),
    read_pieces(),
    st.sampled_from([36, 60, 127]),
    st.sampled_from([None, "stack", "take_over"]),
)
taking = st.builds(
    e.BringPiece,
    alone=newcomers,
    of=st.sampled_from(["", "Other"]),
    instead_of=st.sampled_from(["", "", "kick", "snare", "none"]),
    notes=st.sampled_from([(), (OnNote(articulation="tom/centre", note=60),)]),
    mics=st.lists(
        st.builds(
            Entering,
            mic=st.sampled_from(["tom-mic", "kick-mic"]),
            taken=st.booleans(),
            own=st.booleans(),
            channel=st.sampled_from(["", "room-channel", "gone"]),
            joins=st.sampled_from(["", "snare-mic", "room"]),
        ),
        max_size=2,
    ).map(tuple),
    treatment=st.booleans(),
    touch=st.booleans(),
    balance=st.booleans(),
    rest_to_main=st.booleans(),
    gain_db=st.sampled_from([0.0, 6.0, -120.0]),
    apart_db=st.sampled_from([None, -3.0, 9.0, 200.0]),
)
of_the_rest = st.one_of(
    taking,
    st.lists(taking, min_size=1, max_size=3).map(lambda some: e.BringPieces(taken=tuple(some))),
    adding_sounds,
    st.builds(e.FollowStrength, articulation=articulation, whole=st.sampled_from([None, True, False])),
    st.builds(e.SortLayers, articulation=articulation),
    st.builds(e.SetChannel, channel=st.just("main"), level_db=level, muted=st.booleans()),
    st.builds(e.SetTreatments, channel=channel, treatments=st.lists(treatments, max_size=3).map(tuple)),
    st.builds(e.BypassTreatment, bypassed=st.booleans()),
    st.builds(e.SetMiddleC, octave=st.integers(3, 5)),
    st.builds(e.IgnoreFinding, finding=st.sampled_from(["gap", "narrow"]), ignored=st.booleans()),
)
one_edit = st.one_of(of_notes, of_touch, of_layers, of_takes, of_routing, of_pieces, of_making, of_the_rest)
bundle = st.lists(one_edit, min_size=1, max_size=4).map(lambda some: e.Several(said="Several", edits=tuple(some)))
edits = st.one_of(of_notes, of_touch, of_layers, of_takes, of_routing, of_pieces, of_making, of_the_rest, bundle)
several = st.lists(edits, min_size=1, max_size=8)

values = st.one_of(st.sampled_from([0, 7, 8, 9, 20, 40, 47, 48, 64, 64, 90, 127]), st.integers(0, 127))
messages = st.lists(
    st.tuples(
        st.sampled_from(["note", "note", "note", "controller", "pressure"]),
        st.sampled_from(("pads", "pads", "groove", "unknown")),
        st.sampled_from((38, 46, 46, 49, *NOTES)),
        values,
        st.sampled_from([0.0, 7.8125, 15.625, 31.25, 125.0]),
    ),
    min_size=12,
    max_size=40,
)
"""What comes in: kind, input, note, value (a velocity, a controller's or pressure), milliseconds after the one before.

The times are whole shares of a second in binary, so that some fall on a rule's limit exactly.
"""

played_on: tuple[e.Edit, ...] = (
    e.SetInput(
        input="pads",
        name="Pads",
        cross_talk=(
            CrossTalk(after=38, note=46, up_to=64, within_ms=15.625),
            CrossTalk(after=46, note=38, up_to=64, within_ms=31.25),
        ),
        doubles_ms=15.625,
    ),
    e.SetOpenness(blend=24, pedal_sounds=True),
    e.ChokeAsUsual(piece="crash-left"),
    e.SetTracking(piece="snare", brightness=3.0, attack_soft_ms=20.0, attack_hard_ms=1.0),
    e.SetVariation(articulation="snare/centre", variation=Variation(level_db=1.5, tune_cents=8.0, brightness=2.0)),
)
"""Makes of the small kit one in which everything that a strike can meet is met: cross-talk, doubles, a pedal, a hand."""


def edit_of(raw: object) -> e.Edit:
    """The edit a JSON value describes."""
    return TypeAdapter(e.Edit).validate_python(raw)


def made(kit: Kit, changes: list[e.Edit]) -> Kit:
    """The kit after those of the edits that are not refused."""
    from drumcore.edits.apply import apply

    for change in changes:
        try:
            kit = apply(kit, change)
        except (Refusal, OccupiedNote) as refusal:
            assert str(refusal).endswith("."), f"{change.kind}: {refusal}"
    return kit
