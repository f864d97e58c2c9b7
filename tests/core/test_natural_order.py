"""Names in the order people expect."""

from drumcore.natural_order import natural_key


def test_numbers_count_by_value_and_case_does_not():
    names = ["Tom 10", "tom 2", "Tom 1", "Kick", "Tom", "Snare 3b", "Snare 3a", "Snare 12"]
    wanted = ["Kick", "Snare 3a", "Snare 3b", "Snare 12", "Tom", "Tom 1", "tom 2", "Tom 10"]
    assert sorted(names, key=natural_key) == wanted
