"""Channels moved together: distances of levels stay, for those chosen once and for a group that lasts; main stays apart."""

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.kit.lookup import channel_of
from drumcore.kit.values import LEAST_DB, MAIN, MOST_DB, Kit
from drumcore.refusals import Refusal
from drumcore.routing.level_groups import LOWEST_DB, groups, moved

KICK, SNARE, HATS = "kick-channel", "snare-channel", "hats-channel"
levels = st.dictionaries(st.sampled_from("abcdef"), st.floats(LEAST_DB, MOST_DB).map(lambda x: round(x, 2)), min_size=1)


@given(levels, st.floats(-200, 200))
def test_whatever_is_moved_keeps_its_distances_and_stays_within_its_ends(before: dict[str, float], by: float):
    after = moved(before, by)
    assert after.keys() == before.keys()
    steps = [after[name] - level for name, level in before.items() if level > LEAST_DB]
    for name, level in before.items():
        if level == LEAST_DB:
            assert after[name] == LEAST_DB
        else:
            assert min(level, LOWEST_DB) - 0.006 <= after[name] <= MOST_DB
    assume(steps)
    assert max(steps) - min(steps) <= 0.0101
    assert abs(steps[0]) <= abs(by) + 0.006 and steps[0] * by >= -0.006 * abs(by)


def test_by_hand():
    assert moved({"a": 0.0, "b": -6.5}, -3.0) == {"a": -3.0, "b": -9.5}
    # The loudest can rise by 4 only, so all do.
    assert moved({"a": 20.0, "b": -6.0, "c": LEAST_DB}, 10.0) == {"a": 24.0, "b": -2.0, "c": LEAST_DB}
    assert moved({"a": -100.0, "b": 0.0}, -60.0) == {"a": -119.0, "b": -19.0}
    assert moved({"a": LEAST_DB}, 5.0) == {"a": LEAST_DB}


def levels_of(kit: Kit, *channels: str) -> list[float]:
    return [channel_of(kit, channel).level_db for channel in channels]


def test_chosen_channels_move_their_levels_and_become_the_same_in_all_else(small_kit: Kit):
    kit = apply(small_kit, e.SetChannel(channel=KICK, level_db=-6.0, pan=-0.5))
    after = apply(kit, e.SetChannels(channels=(KICK, SNARE, KICK), level_db=-8.5, pan=0.25, muted=True, output=4))
    assert levels_of(after, KICK, SNARE, HATS) == [-8.5, -2.5, 0.0]
    for channel in (KICK, SNARE):
        found = channel_of(after, channel)
        assert (found.pan, found.muted, found.output) == (0.25, True, 4)
    assert channel_of(after, HATS) == channel_of(small_kit, HATS)
    assert apply(kit, e.SetChannels(channels=(KICK, SNARE))) == kit
    assert channel_of(apply(after, e.SetChannels(channels=(SNARE,), output=0)), SNARE).output is None


def test_a_group_moves_with_any_of_its_channels_until_it_is_taken_apart(small_kit: Kit):
    kit = apply(apply(small_kit, e.SetChannel(channel=KICK, level_db=-6.0)), e.GroupChannels(channels=(KICK, SNARE)))
    after = apply(kit, e.SetChannel(channel=SNARE, level_db=-4.0, pan=0.5))
    assert levels_of(after, KICK, SNARE, HATS) == [-10.0, -4.0, 0.0]
    # Nothing else of one is anything of the others.
    assert channel_of(after, KICK).pan == 0.0
    # One that is brought up from nothing, or taken there, has no distance to keep.
    gone = apply(after, e.SetChannel(channel=KICK, level_db=LEAST_DB))
    assert levels_of(gone, KICK, SNARE) == [LEAST_DB, -4.0]
    assert levels_of(apply(gone, e.SetChannel(channel=SNARE, level_db=0.0)), KICK, SNARE) == [LEAST_DB, 0.0]
    assert levels_of(apply(gone, e.SetChannel(channel=KICK, level_db=-6.0)), KICK, SNARE) == [-6.0, -4.0]
    # It comes along when another is moved that was chosen beside it.
    chosen = e.SetChannels(channels=(HATS, KICK), level_db=-1.0)
    assert levels_of(apply(kit, chosen), KICK, SNARE, HATS) == [-7, -1, -1]
    assert levels_of(apply(kit, chosen.but(level_db=LEAST_DB)), KICK, SNARE, HATS) == [-6, 0, LEAST_DB]
    # Who joins another group leaves this one.
    other = apply(kit, e.GroupChannels(channels=(SNARE, HATS)))
    # One that is left alone in its group is in none.
    assert groups(kit.routing) == ((KICK, SNARE),) and groups(other.routing) == ((SNARE, HATS),)
    assert levels_of(apply(other, e.SetChannel(channel=KICK, level_db=0.0)), KICK, SNARE) == [0.0, 0.0]
    assert levels_of(apply(other, e.SetChannel(channel=HATS, level_db=-3.0)), KICK, SNARE, HATS) == [-6.0, -3.0, -3.0]
    apart = apply(kit, e.Ungroup(channel=SNARE))
    assert {c.group for c in apart.routing.channels} == {""}
    assert levels_of(apply(apart, e.SetChannel(channel=SNARE, level_db=-4.0)), KICK) == [-6.0]


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (e.SetChannels(channels=(KICK, MAIN), level_db=1.0), "The main mix moves on its own"),
        (e.GroupChannels(channels=(KICK, MAIN)), "The main mix moves on its own"),
        (e.GroupChannels(channels=(KICK, KICK)), "A group needs two channels"),
        (e.Ungroup(channel=KICK), "Kick is in no group"),
        (e.SetChannels(channels=(KICK, "gong"), pan=0.0), "gong"),
        (e.SetChannels(channels=(KICK,), output=40), "has no output 40"),
    ],
)
def test_what_cannot_be_moved_together_says_so(small_kit: Kit, edit, said):
    with pytest.raises(Refusal, match=said):
        apply(small_kit, edit)
