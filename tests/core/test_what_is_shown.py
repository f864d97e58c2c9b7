"""What the interface draws is worked out here: gaps and doubles, takes that stand out, the sheet, curves in force."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from drumcore.describing.edits import said_of
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.notes import stacked_note
from drumcore.kit.lookup import articulation_of, piece_of
from drumcore.kit.trims import TRIMS, is_trimmed
from drumcore.kit.values import STRAIGHT, Curve, Kit, Layer, Node, Placed, Take, Width
from drumcore.layers.unevenness import (
    MOST_SPREAD_DB,
    Stretch,
    away_db,
    doubled,
    is_narrow,
    layer_spread_db,
    meets_neighbours,
    unanswered,
)
from drumcore.notes.sheet import sheet, sounding_together, usual_note
from drumcore.playing.compiler import compile_piece, compiled_anew
from drumcore.refusals import Refusal
from drumcore.routing.signal_paths import outputs_reached
from drumcore.touch.active_curves import of_articulation, of_everything, of_input, of_piece
from drumcore.touch.tracking import most_level

SNARE, CENTRE = "snare", "snare/centre"
LOWER = Curve(nodes=(Node(x=0, y=0), Node(x=127, y=90)))


def layers(*ranges: tuple[int, int]) -> tuple[Layer, ...]:
    return tuple(Layer(low=low, high=high, takes=()) for low, high in ranges)


def test_velocities_without_a_layer_and_with_two_are_found():
    row = layers((5, 40), (41, 43), (42, 90), (100, 120))
    assert unanswered(row) == (Stretch(low=1, high=4), Stretch(low=91, high=99), Stretch(low=121, high=127))
    assert doubled(row) == (Stretch(low=42, high=43),)
    assert [is_narrow(layer) for layer in row] == [False, True, False, False]
    assert [meets_neighbours(row, k) for k in range(4)] == [(False, False), (False, True), (True, True), (True, False)]
    assert unanswered(()) == (Stretch(low=1, high=127),)
    assert doubled(layers((1, 127), (127, 127))) == (Stretch(low=127, high=127),)


@given(st.lists(st.tuples(st.integers(1, 127), st.integers(0, 60)), max_size=5))
def test_every_velocity_is_unanswered_answered_or_doubled(ranges):
    row = layers(*[(low, min(127, low + width)) for low, width in ranges])
    inside = lambda stretches, v: any(s.low <= v <= s.high for s in stretches)  # noqa: E731
    for velocity in range(1, 128):
        playing = sum(layer.low <= velocity <= layer.high for layer in row)
        assert inside(unanswered(row), velocity) == (playing == 0)
        assert inside(doubled(row), velocity) == (playing > 1)


def test_a_take_far_from_its_layer_stands_out_and_spreads_it(small_kit: Kit):
    _, articulation = articulation_of(small_kit, CENTRE)
    layer, take = articulation.layers[0], articulation.takes[0]
    assert away_db(take, take.level_db - 1.5) == pytest.approx(1.5)
    louder = apply(small_kit, e.TrimTakes(articulation=CENTRE, takes=layer.takes[:1], gain_db=9.0))
    assert layer_spread_db(articulation, layer) < MOST_SPREAD_DB
    assert layer_spread_db(articulation_of(louder, CENTRE)[1], layer) > MOST_SPREAD_DB


@pytest.mark.parametrize(
    ("field", "value"), [("gain_db", 1.0), ("end_ms", 90.0), ("inverted", True), ("pan", -0.1), ("fade_in_ms", 2.0)]
)
def test_a_take_is_trimmed_by_any_of_its_trims(small_kit: Kit, field: str, value: object):
    take = articulation_of(small_kit, CENTRE)[1].takes[0]
    assert not is_trimmed(take) and not is_trimmed(take.but(enabled=False, label="x"))
    assert field in TRIMS and is_trimmed(take.but(**{field: value}))


def test_what_a_slider_offers_a_kit_can_hold(small_kit: Kit):
    take = articulation_of(small_kit, CENTRE)[1].takes[0]
    for field, trim in TRIMS.items():
        for end in (trim.least, trim.most) if trim.unit != "switch" else ():
            assert getattr(Take.model_validate({**take.model_dump(), field: end}), field) == end


def test_an_edit_sets_every_trim_there_is_and_says_what_it_did(small_kit: Kit):
    """What a trim is called and how it is said stands beside its field; only the edit's own field can be forgotten."""
    for field, trim in TRIMS.items():
        asked = e.TrimTakes(articulation=CENTRE, takes=("t1",), **{field: trim.most or True})
        take = articulation_of(apply(small_kit, asked), CENTRE)[1].takes[0]
        assert getattr(take, field) == (trim.most or True) and is_trimmed(take)
        assert said_of(small_kit, asked) != said_of(small_kit, e.TrimTakes(articulation=CENTRE, takes=("t1",)))


def test_a_range_is_typed_with_its_neighbours_or_alone(small_kit: Kit):
    ranges = lambda kit: [(x.low, x.high) for x in articulation_of(kit, CENTRE)[1].layers]  # noqa: E731
    even = apply(small_kit, e.SplitEvenly(articulation=CENTRE))
    (a, b), (c, d), *rest = ranges(even)
    typed = e.SetRange(articulation=CENTRE, layer=1, low=c + 3, high=d - 2, linked=True)
    assert ranges(apply(even, typed))[:2] == [(a, c + 2), (c + 3, d - 2)]
    if rest:
        assert ranges(apply(even, typed))[2] == (d - 1, rest[0][1])
    alone = ranges(apply(even, typed.but(linked=False)))
    assert alone == [(a, b), (c + 3, d - 2), *rest]
    with pytest.raises(Refusal, match="overlap its neighbour"):
        apply(even, typed.but(low=a))
    assert ranges(apply(even, typed.but(low=a, linked=False)))[0] == (a, b)


def notes_with(kit: Kit, *placed: Placed) -> Kit:
    return kit.but(notes=kit.notes.but(placed=placed))


def test_the_sheet_says_what_sounds_together_and_what_by_pedal(small_kit: Kit):
    shut, wide = (
        Placed(note=50, articulation="kick/centre", open_to=60),
        Placed(note=50, articulation=CENTRE, open_from=61),
    )
    parted = notes_with(small_kit, shut, wide)
    (shown,) = sheet(parted.notes)
    assert (shown.note, shown.together, shown.open_articulation) == (50, False, CENTRE)
    assert shown.by_pedal == ("kick/centre", CENTRE)
    assert list(stacked_note(parted)) == [], "what the pedal parts does not sound together"
    meeting = notes_with(small_kit, shut, wide.but(open_from=60))
    assert sounding_together(meeting.notes.placed) == {"kick/centre", CENTRE}
    (finding,) = stacked_note(meeting)
    assert "Kick and Snare" in finding.sentence and sheet(meeting.notes)[0].together


def test_the_note_that_stands_for_a_piece_is_a_standard_one(small_kit: Kit):
    piece = piece_of(small_kit, SNARE)
    at = lambda *notes: notes_with(small_kit, *[Placed(note=n, articulation=CENTRE) for n in notes]).notes  # noqa: E731
    assert usual_note(piece, at(100, 38, 20)) == 38
    assert usual_note(piece, at(100, 20)) == 20
    assert usual_note(piece, at()) is None


def test_which_curve_is_in_force_and_whose_it_is(small_kit: Kit):
    piece, articulation = articulation_of(small_kit, CENTRE)
    assert (of_articulation(piece, articulation).own, of_articulation(piece, articulation).curve) == (False, STRAIGHT)
    assert "no curve of its own" in of_articulation(piece, articulation).says and "no curve" in of_piece(piece).says
    own = piece.but(curve=LOWER)
    assert (
        of_articulation(own, articulation).says == "It follows the curve of Snare."
        and of_articulation(own, articulation).table[127] == 90
    )
    assert (of_piece(own).own, of_piece(own).says) == (True, "")
    assert of_input(small_kit, "anything").says == "It follows the curve of all inputs."
    pads = apply(small_kit, e.SetCurve(target=None, input="pads", input_name="Pads", curve=LOWER))
    assert of_input(pads, "pads").own and of_input(pads, "pads").line[127] == 90.0
    assert of_everything(pads).says == "Pads has a curve of its own." and of_everything(small_kit).says == ""


def test_level_follows_strength_further_over_the_whole_range(small_kit: Kit):
    tracking = piece_of(small_kit, SNARE).tracking
    assert most_level(tracking.but(whole=True)) == 1.5 and most_level(tracking.but(whole=False)) == 1.0


def test_a_piece_leaves_by_the_outputs_its_channels_go_to(small_kit: Kit):
    assert outputs_reached(small_kit, piece_of(small_kit, SNARE)) == (1,)
    apart = apply(small_kit, e.SetChannel(channel="snare-channel", output=3))
    assert outputs_reached(apart, piece_of(apart, SNARE))[0] == 3 and outputs_reached(
        apart, piece_of(apart, "kick")
    ) == (1,)


def test_what_an_edit_may_have_changed_is_compiled_again_and_nothing_else(small_kit: Kit):
    anew = lambda after: {piece.id for piece in compiled_anew(after, small_kit)}  # noqa: E731
    everything = {piece.id for piece in small_kit.pieces}
    assert anew(small_kit) == set()
    assert anew(apply(small_kit, e.SetTracking(piece=SNARE, brightness=2.0))) == {SNARE}
    assert anew(apply(small_kit, e.SetChannel(channel="main", level_db=-3.0))) == set()
    assert anew(small_kit.but(rate_hz=96_000)) == everything
    wider = small_kit.but(mics=tuple(m.but(width=Width.STEREO) for m in small_kit.mics))
    assert anew(wider) == everything
    # Whatever is not compiled again is as it was.
    for edit in (e.SetChannel(channel="main", level_db=-3.0), e.SetChannel(channel="snare-channel", muted=True)):
        after = apply(small_kit, edit)
        for piece in after.pieces:
            assert compile_piece(piece, after) == compile_piece(piece_of(small_kit, piece.id), small_kit)
