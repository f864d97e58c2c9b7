"""Small rules that other tests go by without looking at them."""

from pathlib import Path

import numpy as np
import pytest
import soundfile

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.progress import steps_made
from drumcore.findings.touch import DEAF_ABOVE, curve_is_deaf
from drumcore.kit.values import Curve, Family, Kit, Node
from drumcore.recordings.channels import microphones_of, split_channels
from drumcore.recordings.name_parts import NamedPiece
from drumcore.recordings.peaks import recording_peaks
from drumcore.recordings.rank_correlation import follows, rank_correlation, said_of_repeat, said_of_strength
from drumcore.refusals import Refusal
from drumcore.touch.curves import curve_table


def test_how_often_a_correlation_holds_is_said_in_words():
    assert said_of_strength(1.0) == "higher is louder, as good as always (1.00)"
    assert said_of_strength(0.949) == "higher is louder, nearly always (0.95)"
    assert said_of_strength(-0.8) == "higher is quieter, nearly always (0.80)"
    assert said_of_strength(0.6) == "higher is louder, mostly (0.60)"
    assert said_of_strength(-0.31) == "higher is quieter, more often than not (0.31)"
    assert said_of_strength(0.29) == "higher is louder, by chance (0.29)"
    assert said_of_repeat(-0.04) == "higher is no louder (0.04)"


def test_ranks_go_by_order_alone_and_series_count_by_their_length():
    assert rank_correlation([1, 2, 3], [10, 100, 1000]) == pytest.approx(1.0)
    assert rank_correlation([1, 2, 3], [3, 2, 1]) == pytest.approx(-1.0)
    assert rank_correlation([1, 1, 1], [3, 2, 1]) == 0.0
    assert follows([([1, 2, 3], [1, 2, 3]), ([1], [5])]) == pytest.approx(3 / 4)
    assert follows([]) is None


def test_a_step_has_made_something_when_its_work_is_there(small_kit: Kit):
    whole = ("recordings", "layers", "notes", "touch", "routing")
    assert steps_made(small_kit) == whole
    assert steps_made(Kit(id="empty", name="Empty")) == ()
    unmapped = small_kit.but(notes=small_kit.notes.but(placed=()))
    assert steps_made(unmapped) == ("recordings", "layers", "routing")
    unfed = small_kit.but(routing=small_kit.routing.but(feeds=()))
    assert steps_made(unfed) == whole[:-1]
    off = small_kit.routing.but(feeds=tuple(f.but(on=False) for f in small_kit.routing.feeds))
    assert "routing" not in steps_made(small_kit.but(routing=off))
    unused = apply(small_kit, e.MoveTakes(articulation="kick/centre", takes=tuple(_takes(small_kit)), layer=None))
    assert "layers" not in steps_made(unused) and "recordings" in steps_made(unused)


def _takes(kit: Kit) -> list[str]:
    return [take.id for take in kit.pieces[0].articulations[0].takes]


def test_a_curve_is_deaf_from_the_first_velocity_it_plays(small_kit: Kit):
    def ignoring(under: int) -> Kit:
        nodes = (Node(x=0, y=0), Node(x=under - 1, y=0), Node(x=under, y=20), Node(x=127, y=127))
        return apply(small_kit, e.SetCurve(curve=Curve(nodes=nodes)))

    assert list(curve_is_deaf(ignoring(DEAF_ABOVE))) == []
    (found,) = curve_is_deaf(ignoring(DEAF_ABOVE + 1))
    assert found.title.endswith(f"ignores velocities under {DEAF_ABOVE + 1}")
    (fix,) = found.fixes
    table = curve_table(apply(ignoring(60), fix.edit).curve)
    assert table[16] > 0 and table[15] == 0 and list(curve_is_deaf(apply(ignoring(60), fix.edit))) == []


def test_a_piece_with_a_number_or_two_words_is_named_closely():
    plain, numbered = NamedPiece("Tom", Family.TOM), NamedPiece("Tom", Family.TOM, 0)
    assert (plain.title, plain.specific) == ("Tom", False)
    assert (numbered.title, numbered.specific) == ("Tom 0", True)
    assert NamedPiece("Floor tom", Family.TOM).specific


def test_channels_become_microphones_by_their_names():
    assert microphones_of(["Kick", "OH", "OH", ""], 4) == [("Kick", (0,)), ("OH", (1, 2)), ("Channel 4", (3,))]
    # Three of one name: a pair, and one of a name of its own. What has no name is called by its number.
    assert microphones_of(["Room", "Room", "Room"], 3) == [("Room", (0, 1)), ("Room 2", (2,))]
    assert microphones_of([], 2) == [("Channel 1", (0,)), ("Channel 2", (1,))]
    assert microphones_of(["  Snare  ", "Hat", "Snare"], 3) == [("Snare", (0,)), ("Hat", (1,)), ("Snare 3", (2,))]


@pytest.mark.parametrize(("subtype", "kept"), [("PCM_16", "PCM_16"), ("PCM_24", "PCM_24"), ("DOUBLE", "FLOAT")])
def test_a_file_of_many_channels_is_split_to_the_sample(tmp_path: Path, subtype: str, kept: str):
    sound = np.round(np.random.default_rng(2).uniform(-0.9, 0.9, (70_000, 5)) * 2**15) / 2**15
    soundfile.write(tmp_path / "all.wav", sound, 44_100, subtype=subtype)
    made = split_channels(tmp_path / "all.wav", "all.wav", ["Kick", "OH", "OH", "Room"], tmp_path)
    assert [name for name, _ in made] == ["Kick", "OH", "Room", "Channel 5"]
    for (_, place), channels in zip(made, ([0], [1, 2], [3], [4]), strict=True):
        part, rate = soundfile.read(place, always_2d=True)
        assert rate == 44_100 and soundfile.info(place).subtype == kept
        np.testing.assert_array_equal(part, sound[:, channels])


def test_what_cannot_be_split_is_said(tmp_path: Path):
    (tmp_path / "no.wav").write_text("Rope, forty fathoms.")
    with pytest.raises(Refusal, match=r"no\.wav cannot be split; export it again as WAV"):
        split_channels(tmp_path / "no.wav", "no.wav", [], tmp_path)


def test_a_picture_has_the_lowest_and_highest_of_equal_stretches_of_both_sides(tmp_path: Path):
    left = np.array([0.0, 0.25, -0.5, 0.125, 0.75, -0.25, 0.0, 0.5])
    soundfile.write(tmp_path / "a.wav", np.stack([left, -left / 2], axis=1), 48_000, subtype="PCM_24")
    assert recording_peaks(tmp_path / "a.wav", 4) == ([-0.125, -0.5, -0.375, -0.25], [0.25, 0.25, 0.75, 0.5])
    assert recording_peaks(tmp_path / "a.wav", 2, first=2, frames=4) == ([-0.5, -0.375], [0.25, 0.75])
    # Fewer frames than points: one a frame. Beyond the end: none.
    low, high = recording_peaks(tmp_path / "a.wav", 100)
    assert len(low) == len(high) == 8 and high[4] == 0.75 and low[4] == -0.375
    assert recording_peaks(tmp_path / "a.wav", 10, first=8) == ([], [])
    assert recording_peaks(tmp_path / "a.wav", 1) == ([-0.5], [0.75])
