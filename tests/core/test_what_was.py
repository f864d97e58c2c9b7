"""What was and what would be: versions read back by days, the mix as it stood, what a fix would bring, a kit in figures."""

from datetime import UTC, date, datetime

import pytest

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.edits.restore import with_routing_of
from drumcore.findings.rules import notice
from drumcore.findings.side_effects import brought, foreseen
from drumcore.kit.invariants import faults
from drumcore.kit.lookup import piece_of
from drumcore.kit.summary import PieceSummary, summary
from drumcore.kit.values import Kit
from drumcore.recordings.guidance import Ruling, SavedReading, saved_reading
from drumcore.refusals import Refusal
from drumcore.shelf.entries import counted, sized
from drumcore.shelf.history import Step, read_back


def step(version: int, day: int, hour: int, **fields: str) -> Step:
    made = datetime(2031, 5, day, hour, 30, tzinfo=UTC)
    return Step(version=version, said=f"Step {version}", made=made, **fields)


def read(steps: list[Step], minutes: int = 0) -> list[tuple[date, list[int]]]:
    return [(some.day, [one.version for one in some.steps]) for some in read_back(steps, minutes)]


def test_a_drag_is_one_step_and_steps_stand_under_their_days_the_newest_first():
    steps = [
        step(9, 4, 12, gesture="b"),
        step(8, 4, 12, gesture="b"),
        step(7, 4, 11),
        step(6, 4, 11, gesture="a"),
        step(5, 3, 23, gesture="a"),
        step(4, 3, 22),
    ]
    assert read(steps) == [(date(2031, 5, 4), [9, 7, 6]), (date(2031, 5, 3), [4])]
    # Two hours further east the third is the fourth already; half an hour west of that it is not.
    assert read(steps, 120) == [(date(2031, 5, 4), [9, 7, 6, 4])]
    assert read(steps, 89) == [(date(2031, 5, 4), [9, 7, 6]), (date(2031, 5, 3), [4])]
    assert read([]) == []


def test_what_has_a_name_stands_alone_and_ends_a_stretch():
    steps = [step(5, 4, 12), step(4, 4, 12, name="Dry", gesture="a"), step(3, 4, 11, gesture="a"), step(2, 4, 10)]
    day = date(2031, 5, 4)
    assert read(steps) == [(day, [5]), (day, [4]), (day, [2])]
    # A name within a drag is kept, though the drag went on after it.
    named_within = [
        step(4, 4, 12, gesture="a"),
        step(3, 4, 11, gesture="a", name="Half way"),
        step(2, 4, 10, gesture="a"),
    ]
    assert read(named_within) == [(day, [4]), (day, [3])]
    # Steps without a gesture are never one drag.
    assert read([step(2, 4, 12), step(1, 4, 12)]) == [(day, [2, 1])]


@pytest.mark.parametrize(
    ("size", "said"), [(0, "0.0 MB"), (49_999_999, "50.0 MB"), (999_999_999, "1,000.0 MB"), (10**9, "1.00 GB"), (12_345_678_901, "12.35 GB")]
)  # fmt: skip
def test_sizes_are_said_in_the_unit_that_reads_best(size: int, said: str):
    assert sized(size) == said


def test_numbers_are_said_with_what_they_count():
    assert [counted(number, "take") for number in (0, 1, 2, 1224)] == ["0 takes", "1 take", "2 takes", "1,224 takes"]


def test_the_mix_goes_back_and_everything_else_stays(small_kit: Kit):
    then = small_kit
    now = apply(then, e.SetChannel(channel="snare-channel", level_db=-9.0, pan=0.5))
    for edit in (
        e.MakeBus(name="Air"),
        e.SetMic(mic="room", name="Far", gain_db=-6.0, muted=True),
        e.FlipPolarity(mic="snare-mic"),
        e.SetPiece(piece="snare", name="Sharp", level_db=-4.0),
        e.SetFeed(piece="kick", mic="room", channel="room-channel", level_db=None),
        e.MakePiece(name="Cowbell"),
        e.SetTracking(piece="hats", brightness=2.0),
    ):
        now = apply(now, edit)
    back = with_routing_of(now, then)
    assert back.routing == then.routing and not list(faults(back))
    assert [(m.name, m.gain_db, m.muted, m.inverted) for m in back.mics if m.id in ("room", "snare-mic")] == [
        ("Far" if m.id == "room" else m.name, 0.0, False, False) for m in then.mics if m.id in ("room", "snare-mic")
    ]
    assert piece_of(back, "snare").name == "Sharp" and piece_of(back, "snare").level_db == 0.0
    assert piece_of(back, "hats").tracking.brightness == 2.0 and piece_of(back, "cowbell").name == "Cowbell"


def test_what_came_since_keeps_its_way_where_that_is_there_and_what_has_gone_is_left_out(small_kit: Kit):
    then = apply(small_kit, e.RemovePiece(piece="snare"))
    back = with_routing_of(small_kit, then)
    channels = {channel.id for channel in then.routing.channels}
    since = [f for f in small_kit.routing.feeds if f.piece == "snare" and f.channel in channels]
    assert since and [f for f in back.routing.feeds if f.piece == "snare"] == since and not list(faults(back))
    # So does a microphone that came since, at a piece that was there.
    deaf = small_kit.but(
        mics=tuple(mic for mic in small_kit.mics if mic.id != "room"),
        routing=small_kit.routing.but(feeds=tuple(f for f in small_kit.routing.feeds if f.mic != "room")),
    )
    heard = {(f.piece, f.mic, f.channel) for f in with_routing_of(small_kit, deaf).routing.feeds}
    assert heard == {(f.piece, f.mic, f.channel) for f in small_kit.routing.feeds}
    gone = with_routing_of(then, small_kit)
    assert not [f for f in gone.routing.feeds if f.piece == "snare"] and not list(faults(gone))
    assert [channel.id for channel in gone.routing.channels] == [c.id for c in small_kit.routing.channels]


def test_a_fix_says_what_it_would_bring(small_kit: Kit):
    gap = apply(small_kit, e.SetRange(articulation="snare/centre", layer=1, low=40, high=50))
    found = next(f for f in notice(gap) if f.rule == "gap")
    said = foreseen(gap, found.key, notice(gap))
    assert [each.label for each in said] == [m.label for m in found.fixes if m.label != "Ignore"]
    assert {each.brings for each in said} == {()}
    # Taking the snare's only note off brings an articulation without one, and nothing that was there before.
    before = {f.key for f in notice(small_kit)}
    off = e.RemoveFromNote(articulation="snare/centre", note=38)
    brings = brought(small_kit, off, before)
    after = [f for f in notice(apply(small_kit, off)) if f.key not in before]
    assert brings == tuple(f.title for f in after) and brings[0].startswith("No note plays Snare")
    ignored = apply(apply(small_kit, off), e.IgnoreFinding(finding=after[0].key))
    back = apply(ignored, e.PutOnNote(articulation="snare/centre", note=38))
    assert after[0].title not in brought(back, off, before)
    # An edit that is refused brings nothing.
    assert brought(small_kit, off.but(note=99), before) == ()
    with pytest.raises(Refusal, match="That finding no longer exists; the kit has changed"):
        foreseen(small_kit, "nothing", notice(small_kit))


def test_a_kit_is_summed_up_by_its_fullest_articulations(small_kit: Kit):
    said = summary(apply(small_kit, e.DescribeKit(description="Dry.", tags=("dry",))))
    assert (said.takes, said.mics, said.description, said.tags) == (
        sum(len(a.takes) for p in small_kit.pieces for a in p.articulations),
        tuple(mic.name for mic in small_kit.mics),
        "Dry.",
        ("dry",),
    )
    snare = next(piece for piece in said.pieces if piece.id == "snare")
    assert snare == PieceSummary(id="snare", name="Snare", family="snare", layers=4, takes=3)
    assert summary(apply(small_kit, e.MakePiece(name="Cowbell"))).pieces[-1].layers == 0
    assert summary(Kit(id="bare", name="Bare")).takes == 0


def test_a_reading_that_was_kept_fits_sessions_with_half_of_its_groups():
    rulings = [Ruling(group="b", column=1, meaning="repeat"), Ruling(group="a", column=0, meaning="mic")]
    kept = saved_reading(rulings, "c")
    assert kept == SavedReading(rulings=tuple(rulings), groups=("a", "b", "c"))
    assert kept.fits({"a", "b"}) and not kept.fits({"a", "x", "y"}) and not SavedReading().fits({"a"})
    assert saved_reading(rulings[:1], "c").fits(["c", "z"])
    with pytest.raises(Refusal, match="there is nothing to save"):
        saved_reading([], "c")
