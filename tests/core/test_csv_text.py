"""A name in a CSV file is text, whatever it begins with, and comes back as it was."""

import csv
import io

import pytest

from drumcore.formats.csv_text import as_named, defused
from drumcore.formats.map_file import map_to_csv, read_map
from drumcore.kit.values import Family, MapEntry, SavedMap


@pytest.mark.parametrize("name", ["=1+1", "+4", "-5", "@SUM(A1)", "\t=1", "'=1", "Snare", "'Tis", ""])
def test_no_cell_begins_a_formula_and_every_name_comes_back(name):
    assert not defused(name).startswith(("=", "+", "-", "@", "\t", "\r"))
    assert as_named(defused(name)) == name


def test_a_map_goes_out_and_comes_back_with_its_names():
    entries = (MapEntry(note=38, family=Family.SNARE, number=1, piece="=cmd()", articulation="@edge"),)
    text = map_to_csv(SavedMap(name="Mine", entries=entries))
    row = next(csv.DictReader(io.StringIO(text)))
    assert (row["piece"], row["articulation"]) == ("'=cmd()", "'@edge")
    assert read_map(text.encode(), "mine.csv").map.entries == entries
