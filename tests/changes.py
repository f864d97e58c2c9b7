"""Any edit somebody might make to the small kit's notes, touch, layers and routing, and anything they might play on it."""

from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.kit.values import Bleed, Curve, Kit, Node, Order, Variation
from drumcore.refusals import OccupiedNote, Refusal

PIECES = ("kick", "snare", "hats", "crash-left")
STROKES = ("kick/centre", "snare/centre", "hats/closed", "hats/open", "crash-left/edge")
MICS = ("kick-mic", "snare-mic", "hat-mic", "overheads", "room")
CHANNELS = ("kick", "snare", "hats", "crash-left", "overheads", "room")
NOTES = (36, 38, 42, 44, 46, 49, 60)
INPUTS = ("pads", "groove")

piece, stroke, note, channel = (st.sampled_from(of) for of in (PIECES, STROKES, NOTES, CHANNELS))
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


bleeds = st.builds(
    Bleed, after=note, note=note, up_to=st.integers(1, 40), within_ms=st.sampled_from([4.0, 12.0, 30.0])
).filter(lambda bleed: bleed.after != bleed.note)
variations = st.builds(
    Variation,
    level_db=st.sampled_from([0.0, 1.5]),
    tune_cents=st.sampled_from([0.0, 8.0]),
    brightness=st.sampled_from([0.0, 2.0]),
)

of_notes = st.one_of(
    st.builds(
        e.PutOnNote, articulation=stroke, note=note, from_note=st.one_of(st.none(), note), when_occupied=occupied
    ),
    st.builds(e.MoveNote, note=note, to=note, when_occupied=occupied),
    st.builds(e.TakeOffNote, articulation=stroke, note=note),
    st.builds(e.SetPlaced, note=note, articulation=stroke, gain_db=level),
    st.builds(
        e.TeachNote, articulation=stroke, note=note, openness=st.one_of(st.none(), openness), when_occupied=occupied
    ),
    st.builds(e.SpreadOpenness, piece=piece, note=note),
    st.builds(e.MoveOpennessLimit, note=note, limit=st.integers(0, 2), openness=st.integers(0, 126)),
    st.builds(e.NoteEach, note=note),
    st.builds(e.SetOpenness, blend=st.integers(0, 64), pedal_sounds=st.booleans()),
    st.builds(e.SetSilence, articulation=stroke, stopped=stroke, fade_ms=fade),
    st.builds(e.SilenceByItself, piece=piece),
    st.builds(e.SetHandStop, piece=piece, fade_ms=fade),
    st.builds(e.ApplyMap),
)
of_touch = st.one_of(
    st.builds(e.SetCurve, curve=curves()),
    st.builds(e.SetCurve, target=st.one_of(piece, stroke), curve=st.one_of(st.none(), curves())),
    st.builds(e.SetCurve, input=st.sampled_from(INPUTS), curve=st.one_of(st.none(), curves())),
    st.builds(
        e.SetInput,
        input=st.sampled_from(INPUTS),
        name=st.just("Pads"),
        bleeds=st.lists(bleeds, max_size=3).map(tuple),
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
    st.builds(e.MoveBoundary, articulation=stroke, layer=layer, velocity=velocity, linked=st.booleans()),
    st.builds(e.SetRange, articulation=stroke, layer=layer, low=velocity, high=velocity),
    st.builds(e.SetLayer, articulation=stroke, layer=layer, gain_db=level, blend=st.integers(0, 32)),
    st.builds(e.SetOrder, articulation=stroke, order=st.sampled_from(Order)),
    st.builds(e.SetVariation, articulation=stroke, variation=variations),
    st.builds(e.MakeLayers, articulation=stroke, count=st.integers(1, 8)),
    st.builds(e.SplitEvenly, articulation=stroke),
    st.builds(e.SplitByLoudness, articulation=stroke),
    st.builds(e.CloseGaps, articulation=stroke),
    st.builds(e.EndOverlaps, articulation=stroke),
    st.builds(e.AddLayer, articulation=stroke, above=layer),
    st.builds(e.MergeLayers, articulation=stroke, layer=layer),
    st.builds(e.RemoveLayer, articulation=stroke, layer=layer),
    st.builds(e.DivideLayer, articulation=stroke, layer=layer),
    st.builds(e.LevelTakes, articulation=stroke, layer=st.one_of(st.none(), layer)),
    st.builds(e.ClimbEvenly, articulation=stroke),
)
of_routing = st.one_of(
    st.builds(e.SetChannel, channel=channel, level_db=level, muted=st.booleans(), output=st.integers(0, 20)),
    st.builds(e.SetFeed, piece=piece, mic=st.sampled_from(MICS), channel=channel, level_db=st.one_of(st.none(), level)),
    st.builds(e.ApplyPlan, plan=st.sampled_from(["everything-to-main", "one-output-a-piece"])),
)
of_pieces = st.one_of(
    st.builds(e.DuplicatePiece, piece=piece),
    st.builds(e.TakeOutPiece, piece=piece),
    st.builds(e.TakeOutArticulation, articulation=stroke),
    st.builds(e.SetPiece, piece=piece, family=st.sampled_from(["tom", "hats", "crash"])),
)
edits = st.one_of(of_notes, of_notes, of_touch, of_layers, of_routing, of_pieces)
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
        bleeds=(
            Bleed(after=38, note=46, up_to=64, within_ms=15.625),
            Bleed(after=46, note=38, up_to=64, within_ms=31.25),
        ),
        doubles_ms=15.625,
    ),
    e.SetOpenness(blend=24, pedal_sounds=True),
    e.SilenceByItself(piece="crash-left"),
    e.SetTracking(piece="snare", brightness=3.0, attack_soft_ms=20.0, attack_hard_ms=1.0),
    e.SetVariation(articulation="snare/centre", variation=Variation(level_db=1.5, tune_cents=8.0, brightness=2.0)),
)
"""Makes of the small kit one in which everything that a strike can meet is met: bleed, doubles, a pedal, a hand."""


def made(kit: Kit, changes: list[e.Edit]) -> Kit:
    """The kit after those of the edits that are not refused."""
    from drumcore.edits.applying import apply

    for change in changes:
        try:
            kit = apply(kit, change)
        except (Refusal, OccupiedNote) as refusal:
            assert str(refusal).endswith("."), f"{change.kind}: {refusal}"
    return kit
