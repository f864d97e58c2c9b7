"""Curves, splits, orders and tracking: values worked by hand and what must always hold."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from drumcore.kit.values import Curve, Node, Order
from drumcore.layers.breaks import natural_breaks
from drumcore.layers.orders import order_sequence
from drumcore.layers.splits import even_split, split_by_loudness, spread_db
from drumcore.touch.curves import curve_table
from drumcore.touch.shapes import SHAPES
from drumcore.touch.tracking import level_gain_db


def test_a_straight_curve_changes_nothing():
    assert curve_table(SHAPES[0].curve) == tuple(range(128))


@pytest.mark.parametrize(
    ("shape", "played"),
    [
        ("straight", (1, 15, 16, 32, 64, 96, 127)),
        ("quiet-floor", (0, 0, 14, 30, 63, 95, 127)),
        ("one-level", (100, 100, 100, 100, 100, 100, 100)),
        ("narrow", (48, 55, 56, 64, 80, 96, 112)),
        ("lift", (19, 55, 56, 74, 97, 114, 127)),  # 127 · (x/127)^0.3923
        ("sag", (0, 1, 1, 4, 22, 62, 127)),  # 127 · (x/127)^2.5491
        ("three-steps", (40, 40, 40, 40, 80, 120, 120)),
        ("four-steps", (30, 30, 30, 30, 62, 124, 124)),
    ],
)
def test_a_shape_to_start_from_plays_what_it_says(shape: str, played: tuple[int, ...]):
    curve = next(s.curve for s in SHAPES if s.id == shape)
    table = curve_table(curve)
    assert tuple(table[x] for x in (1, 15, 16, 32, 64, 96, 127)) == played
    assert all(0 <= node.y <= 127 for node in curve.nodes)
    if shape.endswith("steps"):
        ends = [x for x in range(1, 127) if table[x] != table[x + 1]]
        assert ends == ([42, 85] if shape == "three-steps" else [32, 64, 95])


def test_a_bend_follows_its_formula():
    """y = 127 · (x/127)^(2^−1.5) for a bend of 0.5: at 32, 127 · 0.25197^0.35355 = 78.01."""
    table = curve_table(Curve(nodes=(Node(x=0, y=0, bend=0.5), Node(x=127, y=127))))
    assert table[32] == 78
    assert table[0] == 0 and table[127] == 127
    sagging = curve_table(Curve(nodes=(Node(x=0, y=0, bend=-0.5), Node(x=127, y=127))))
    assert sagging[64] == 18  # 127 · 0.50394^2.82843 = 18.29


def test_rounding_is_half_up_and_a_floor_ignores():
    table = curve_table(Curve(nodes=(Node(x=0, y=0), Node(x=2, y=1), Node(x=127, y=127))))
    assert table[1] == 1  # 0.5 rounds up
    floor = curve_table(next(s.curve for s in SHAPES if s.id == "quiet-floor"))
    assert floor[15] == 0 and floor[16] == 14


@given(
    st.lists(
        st.tuples(st.integers(1, 126), st.integers(0, 127), st.floats(-1, 1)), max_size=8, unique_by=lambda n: n[0]
    )
)
def test_a_curve_passes_through_its_nodes_and_stays_between_them(nodes):
    points = [(0, 0, 0.0), *sorted(nodes), (127, 127, 0.0)]
    curve = Curve(nodes=tuple(Node(x=x, y=y, bend=b) for x, y, b in points))
    table = curve_table(curve)
    for (x0, y0, _), (x1, y1, _) in itertools.pairwise(points):
        assert table[x0] == y0
        between = table[x0 : x1 + 1]
        assert list(between) == sorted(between, reverse=y1 < y0)


def test_split_by_loudness_by_hand():
    """Levels −24, −12, 0 have centres 127·10^(−0.6) = 31.9, 63.7 and 127; boundaries at 47.8 and 95.3."""
    assert split_by_loudness([-24.0, -12.0, 0.0]) == [(1, 48), (49, 95), (96, 127)]
    assert even_split(3) == [(1, 42), (43, 85), (86, 127)]


@given(st.lists(st.floats(-90, 0), min_size=1, max_size=60))
def test_every_split_covers_every_velocity_once(levels):
    for ranges in (split_by_loudness(levels), even_split(len(levels))):
        assert [v for low, high in ranges for v in range(low, high + 1)] == list(range(1, 128))
        if len(levels) <= 31:
            assert all(high - low + 1 >= 4 for low, high in ranges)


def test_natural_breaks_find_the_groups():
    levels = [-30.0, -10.2, -29.5, -20.0, -10.0, -20.4, -30.4, -19.8]
    assert [sorted(group) for group in natural_breaks(levels)] == [[0, 2, 6], [3, 5, 7], [1, 4]]
    assert natural_breaks([-10.0, -11.0, -10.5, -9.9]) == [[1, 2, 0, 3]]
    assert len(natural_breaks(levels, count=2)) == 2


@given(st.lists(st.floats(-60.0, 0.0), min_size=1, max_size=8, unique=True), st.integers(1, 4))
def test_natural_breaks_leave_the_least_variance_within_groups(levels: list[float], count: int):
    """Jenks's criterion, against every way there is to divide so few."""

    def within(groups: list[list[float]]) -> float:
        return sum((level - sum(group) / len(group)) ** 2 for group in groups for level in group)

    count = min(count, len(levels))
    ordered = sorted(levels)
    best = min(
        within([ordered[a:b] for a, b in itertools.pairwise((0, *cuts, len(ordered)))])
        for cuts in itertools.combinations(range(1, len(ordered)), count - 1)
    )
    found = natural_breaks(levels, count)
    assert sorted(number for group in found for number in group) == list(range(len(levels)))
    assert within([[levels[number] for number in group] for group in found]) == pytest.approx(best, abs=1e-6)


@given(st.sampled_from([Order.SHUFFLED, Order.RANDOM]), st.integers(2, 40), st.text(max_size=12))
def test_no_take_sounds_twice_in_a_row_and_none_is_forgotten(order, count, seed):
    steps = [step[0] for step in order_sequence(order, count, seed)]
    assert all(a != b for a, b in zip(steps, [*steps[1:], steps[0]], strict=True))
    assert order_sequence(order, count, seed) == order_sequence(order, count, seed)
    if order is Order.SHUFFLED:
        assert all(sorted(steps[i : i + count]) == list(range(count)) for i in range(0, len(steps), count))


def test_orders_in_turn_and_together():
    assert order_sequence(Order.IN_TURN, 3, "") == ((0,), (1,), (2,))
    assert order_sequence(Order.TOGETHER, 3, "") == ((0, 1, 2),)
    assert order_sequence(Order.RANDOM, 1, "") == ((0,),)
    assert order_sequence(Order.IN_TURN, 0, "") == ()


def test_tracking_is_40_db_a_decade_from_its_centre():
    assert level_gain_db(100, 100, 1.0) == 0.0
    assert level_gain_db(50, 100, 1.0) == pytest.approx(-12.04, abs=0.01)
    assert level_gain_db(50, 100, 0.5) == pytest.approx(-6.02, abs=0.01)
    assert spread_db([-10.0, -12.5, -11.0]) == 2.5
