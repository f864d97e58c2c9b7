"""Harder is never softer: what an articulation plays at every velocity, by hand, for any layers that rise, and for the odd ones."""

import math
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.rules import notice
from drumcore.kit.lookup import articulation_of, with_articulation
from drumcore.kit.values import Articulation, Kit, Layer, Order, Recording, Take, Tracking, Width
from drumcore.layers.dynamics import MOST_LIFT_DB, greatest_fall, layers_at, played_db, playing_of, target_of
from drumcore.layers.orders import order_sequence, seed_of
from drumcore.layers.ranges import Span, blend_spans
from drumcore.playing.compiler import compile_piece
from drumcore.touch.tracking import articulation_tracking

INSIDE = Tracking()
SNARE = "snare/centre"


def take(name: str, level_db: float, gain_db: float = 0.0, *, enabled: bool = True) -> Take:
    heard = Recording(
        mic="close",
        path=f"{name}.wav",
        content=f"content of {name}",
        rate_hz=48000,
        frames=4800,
        width=Width.MONO,
        level_db=level_db,
        peak_dbfs=-1.0,
        start_ms=0.0,
        length_ms=100.0,
    )
    return Take(
        id=name, label=name, level_db=level_db, start_ms=0.0, recordings=(heard,), gain_db=gain_db, enabled=enabled
    )


def articulation(*layers: tuple[int, int, float], blends: tuple[int, ...] = (), gains: tuple[float, ...] = ()):
    """An articulation of layers (low, high, level in dB), each with one take."""
    return Articulation(
        id="drum/centre",
        name="centre",
        takes=tuple(take(f"t{n}", level) for n, (_, _, level) in enumerate(layers, 1)),
        layers=tuple(
            Layer(
                low=low,
                high=high,
                takes=(f"t{n}",),
                blend=blends[n - 1] if n <= len(blends) else 0,
                gain_db=gains[n - 1] if n <= len(gains) else 0.0,
            )
            for n, (low, high, _) in enumerate(layers, 1)
        ),
    )


def test_the_target_by_hand():
    """Levels −24, −12, 0: centres 127·10^(−24/40) = 31.90 and 127·10^(−12/40) = 63.65, and 127 for the last."""
    target = target_of(articulation((1, 48, -24.0), (49, 95, -12.0), (96, 127, 0.0)))
    assert target is not None
    assert [round(c, 2) for c, _ in target.points] == [31.90, 63.65, 127.0]
    assert target.level_db(63.65) == pytest.approx(-12.0, abs=0.01)
    # 40 · log10(16 / 31.90) = −11.99 under the lowest point; half way in log v between two points half the level.
    assert target.level_db(16) == pytest.approx(-35.99, abs=0.02)
    assert target.level_db(math.sqrt(31.90 * 63.65)) == pytest.approx(-18.0, abs=0.01)
    # A centre that its own range does not hold is brought into it.
    moved = target_of(articulation((1, 20, -24.0), (21, 100, -12.0), (101, 127, 0.0)))
    assert moved is not None and moved.points[0][0] == 20.0
    # One layer falls by 40 dB a decade from 127, where it plays as it was recorded.
    one = played_db(articulation((1, 127, -6.0)), INSIDE)
    assert one[126] == pytest.approx(-6.0) and one[63] == pytest.approx(-6.0 + 40 * math.log10(64 / 127))


def test_a_layer_is_lifted_by_no_more_than_6_db_and_follows_as_much_as_it_is_asked_to():
    """A soft recording stretched up to 120 plays 6 dB over itself there; half of it at an amount of a half."""
    wide = articulation((1, 120, -40.0), (121, 127, 0.0))
    soft, hard = playing_of(wide, INSIDE)
    assert soft.gains_db[119] == MOST_LIFT_DB and hard.gains_db[-1] == 0.0
    half, _ = playing_of(wide, Tracking(level=0.5))
    assert half.gains_db[119] == MOST_LIFT_DB / 2
    assert playing_of(wide, Tracking(level=1.5)) == playing_of(wide, INSIDE)
    whole, _ = playing_of(wide, Tracking(level=1.5, whole=True))
    assert whole.gains_db[63] == pytest.approx(60 * math.log10(64 / 127))


@st.composite
def rising(draw: st.DrawFn) -> tuple[Articulation, Tracking]:
    """Layers that rise, anywhere, with gaps and blends of any width, several takes a layer, some of them left out."""
    count = draw(st.integers(1, 9))
    edges = sorted(draw(st.sets(st.integers(1, 127), min_size=2 * count, max_size=2 * count)))
    levels = sorted(draw(st.lists(st.floats(-90.0, 0.0), min_size=count, max_size=count)))
    layers, takes = [], []
    for n in range(count):
        low, high = edges[2 * n], edges[2 * n + 1]
        if n + 1 < count and draw(st.booleans()):
            high = edges[2 * n + 2] - 1  # meets next
        spread = draw(st.lists(st.floats(0.0, 2.0), max_size=3))
        names = [f"{n}.{k}" for k in range(2 * len(spread) + 1)]
        sides = [0.0, *spread, *(-s for s in spread)]
        takes += [take(name, levels[n] + 1.0 + s, -1.0) for name, s in zip(names, sides, strict=True)]
        takes.append(take(f"{n}.left-out", 20.0, enabled=False))
        names.append(f"{n}.left-out")
        layers.append(Layer(low=low, high=high, takes=tuple(names), blend=draw(st.integers(0, 64))))
    tracking = Tracking(level=draw(st.floats(0.0, 1.0)), whole=draw(st.booleans()))
    return Articulation(id="drum/centre", name="centre", takes=tuple(takes), layers=tuple(layers)), tracking


@given(rising())
@settings(max_examples=400)
def test_harder_is_never_softer_where_layers_rise(made):
    articulation, tracking = made
    assert greatest_fall(played_db(articulation, tracking)) is None
    for layer, playing in zip(articulation.layers, playing_of(articulation, tracking), strict=True):
        assert playing.low <= layer.low <= layer.high <= playing.high
        assert max(playing.gains_db) <= MOST_LIFT_DB + 1e-9
    for v in range(1, 128):
        sharing = [p.powers[v - p.low] for p in playing_of(articulation, tracking) if p.low <= v <= p.high]
        assert not sharing or sum(sharing) == pytest.approx(1.0)


@st.composite
def odd(draw: st.DrawFn) -> Articulation:
    """Falling, nested, overlapping, equal, silent and empty layers, with gains of their own."""
    layers, takes = [], []
    for n in range(draw(st.integers(0, 6))):
        low, high = sorted((draw(st.integers(1, 127)), draw(st.integers(1, 127))))
        held = draw(st.integers(0, 2))
        level = draw(st.sampled_from([-120.0, -60.0, -24.0, -12.0, 0.0, 3.0]))
        takes += [take(f"{n}.{k}", level, enabled=draw(st.booleans())) for k in range(held)]
        layers.append(
            Layer(
                low=low,
                high=high,
                takes=tuple(f"{n}.{k}" for k in range(held)),
                gain_db=draw(st.sampled_from([0.0, -120.0, 24.0])),
                blend=draw(st.integers(0, 64)),
            )
        )
    layers.sort(key=lambda y: draw(st.sampled_from([0, y.low])))
    return Articulation(id="drum/centre", name="centre", takes=tuple(takes), layers=tuple(layers))


@given(odd(), st.floats(0.0, 1.5), st.booleans())
@settings(max_examples=300)
def test_whatever_the_layers_are_what_plays_is_defined_and_finite(articulation, level, whole):
    tracking = Tracking(level=level, whole=whole)
    playing = playing_of(articulation, tracking)
    assert all(math.isfinite(gain) for layer in playing for gain in layer.gains_db)
    for v, db in enumerate(played_db(articulation, tracking), start=1):
        sounding = layers_at(articulation, tracking, v)
        assert (db is not None) == bool(sounding) and (db is None or math.isfinite(db))
        assert not sounding or sum(playing[n].powers[v - playing[n].low] for n in sounding) == pytest.approx(1.0)


def test_overlaps_and_three_fold_blends_keep_their_power():
    over = playing_of(articulation((1, 80, -12.0), (40, 127, -12.0)), INSIDE)
    assert over[0].powers[59] == over[1].powers[60 - 40] == pytest.approx(0.5)
    assert over[0].powers[10] == 1.0
    spans = [Span(1, 60, 16), Span(61, 66, 16), Span(67, 127, 0)]
    answers = blend_spans(spans)
    for v in range(1, 128):
        assert sum(a.gains[v - a.low] ** 2 for a in answers if a.low <= v <= a.high) == pytest.approx(1.0)
    # An empty layer takes no part: what it shares with its neighbour is its neighbour's.
    emptied = articulation((1, 64, -12.0), (65, 127, 0.0), blends=(32,))
    emptied = emptied.but(layers=(emptied.layers[0], emptied.layers[1].but(takes=())))
    assert set(playing_of(emptied, INSIDE)[0].powers) == {1.0}


def changed(kit: Kit, **fields: object) -> Kit:
    return with_articulation(kit, SNARE, lambda a: a.but(**fields))


@pytest.mark.parametrize(
    ("change", "label"),
    [
        (lambda a: a.layers[::-1], "Sort the layers by loudness"),
        (lambda a: tuple(y.but(gain_db=12.0 * (n == 1)) for n, y in enumerate(a.layers)), "Reset the layers’ levels"),
        (lambda a: (a.layers[0].but(high=127), a.layers[3].but(low=60, high=80)), "End the overlap"),
        (
            lambda a: tuple(
                place.but(takes=y.takes, gain_db=20.0 * (n == 3))
                for n, (place, y) in enumerate(zip(a.layers, a.layers[::-1], strict=True))
            ),
            "Sort the layers and reset their levels",
        ),
    ],
)
def test_where_harder_plays_softer_is_said_and_fixed(small_kit: Kit, change, label):
    """Falling layers, gains of their own and nested ranges: the layers are named, what is offered makes them rise."""

    def said(kit):
        return [f for f in notice(kit) if f.rule == "harder_plays_softer" and f.where.articulation == SNARE]

    assert not said(small_kit)
    before = articulation_of(small_kit, SNARE)[1].layers
    layers = change(articulation_of(small_kit, SNARE)[1])
    if layers == before[::-1]:
        layers = tuple(y.but(low=p.low, high=p.high) for y, p in zip(layers, before, strict=True))
    kit = changed(changed(small_kit, layers=layers), whole=False)
    kit = apply(kit, e.SetTracking(piece="snare", level=0.5))
    (finding,) = said(kit)
    piece, found = articulation_of(kit, SNARE)
    fall = greatest_fall(played_db(found, articulation_tracking(piece, found)))
    assert fall and f"{fall.by_db:.1f} dB softer than one at {fall.at}" in finding.sentence
    assert label in " ".join(fix.label for fix in finding.fixes)
    for fix in finding.fixes[:-1]:  # the last settles it
        assert not said(apply(kit, fix.edit)), fix.label


def test_a_silent_piece_is_offered_what_lets_it_be_heard_and_nothing_else(small_kit: Kit):
    """Off, muted, or both at once: one change alone is offered only where it is enough."""

    def offered(kit: Kit) -> list[str]:
        (finding,) = [f for f in notice(kit) if f.rule == "reaches_no_output"]
        for fix in finding.fixes:
            assert not [f for f in notice(apply(kit, fix.edit)) if f.rule == "reaches_no_output"], fix.label
        return [fix.label for fix in finding.fixes]

    feeds = [f for f in small_kit.routing.feeds if f.piece == "crash-left"]
    off = small_kit
    for f in feeds:
        off = apply(off, e.SetFeed(piece=f.piece, mic=f.mic, channel=f.channel, level_db=f.level_db, on=False))
    assert offered(off) == ["Turn its feed on", "Turn its feed on and unmute Overheads"]
    muted = small_kit
    for mic in ("overheads", "room"):
        muted, off = (apply(kit, e.SetMic(mic=mic, muted=True)) for kit in (muted, off))
    assert offered(muted)[0] == "Unmute Overheads"
    assert offered(off)[0] == "Turn its feed on and unmute Overheads"


def test_recordings_that_are_equally_loud_follow_strength_over_the_whole_range(small_kit: Kit):
    piece, snare = articulation_of(small_kit, SNARE)
    level = snare.takes[0].level_db
    flat = snare.but(takes=tuple(t.but(level_db=level) for t in snare.takes))
    built = apply(
        Kit(id="k", name="K"),
        e.BuildPieces(mics=small_kit.mics, pieces=(piece.but(articulations=(flat,)),)),
    )
    piece, made = articulation_of(built, SNARE)
    assert made.whole and not piece.tracking.whole
    heard = played_db(made, articulation_tracking(piece, made))
    assert heard[126] is not None and heard[31] is not None and heard[126] - heard[31] == pytest.approx(23.95, abs=0.01)
    (said,) = [f for f in notice(built) if f.rule == "follows_the_whole_range"]
    other = apply(built, said.fixes[0].edit)
    assert [f.rule for f in notice(other) if f.where.articulation == SNARE and f.where.step == "touch"] == [
        "hardly_louder"
    ]
    # What a piece is told holds for all its articulations.
    piece, made = articulation_of(apply(other, e.SetTracking(piece="snare", whole=True)), SNARE)
    assert made.whole is None and articulation_tracking(piece, made).whole
    added = apply(small_kit, e.AddToPiece(piece="kick", mics=(), articulations=(flat.but(name="rim"),)))
    assert articulation_of(added, "kick/rim")[1].whole and articulation_of(added, "kick/centre")[1].whole is None


def test_a_copy_plays_in_the_order_of_what_it_copies(small_kit: Kit):
    kit = apply(small_kit, e.SetOrder(articulation=SNARE, order=Order.RANDOM))
    kit = apply(kit, e.DuplicatePiece(piece="snare"))
    elsewhere = kit.but(id="another", rate_hz=44100)
    (one, other), borrowed = (
        [compile_piece(p, kit) for p in kit.pieces if p.id.startswith("snare")],
        compile_piece(articulation_of(elsewhere, SNARE)[0], elsewhere),
    )
    steps = [layer.steps for layer in one.articulations[0].layers]
    assert steps == [layer.steps for layer in other.articulations[0].layers]
    assert steps == [layer.steps for layer in borrowed.articulations[0].layers]
    assert len(set(steps)) > 1  # layers of other takes go another way


@pytest.mark.parametrize("count", [3, 5, 32, 64, 100])
@pytest.mark.parametrize("order", [Order.RANDOM, Order.SHUFFLED])
def test_every_take_plays_equally_often_and_none_twice_in_a_row(order, count):
    seed = seed_of([take(f"t{n}", 0.0) for n in range(count)])
    steps = [step[0] for step in order_sequence(order, count, seed)]
    assert {steps.count(n) for n in range(count)} == {len(steps) // count}
    assert all(a != b for a, b in pairwise([*steps, steps[0]]))
    if order is Order.RANDOM:
        assert sorted(steps[:count]) != list(range(count))  # no row of permutations
