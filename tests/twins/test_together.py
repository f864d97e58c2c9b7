"""Levels that are moved together end in the browser, while a hand moves them, where the core leaves them."""

from collections.abc import Callable, Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from drumcore.kit.values import LEAST_DB, MOST_DB
from drumcore.routing.level_groups import moved
from tests.twins.asking import answering


@pytest.fixture(scope="module")
def browser(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Callable]:
    with answering("together", tmp_path_factory.mktemp("together")) as ask:
        yield ask


@given(
    st.dictionaries(st.sampled_from("abcd"), st.floats(LEAST_DB, MOST_DB) | st.just(LEAST_DB), min_size=1),
    st.floats(-200, 200),
)
def test_both_move_levels_alike(browser, levels, by):
    ends = {"least": LEAST_DB, "most": MOST_DB}
    assert browser({"levels": levels, "by": by, "ends": ends}) == moved(levels, by)
