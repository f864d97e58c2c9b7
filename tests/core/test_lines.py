"""The line check: what was planted is named, and nothing else is."""

from collections.abc import Sequence

import numpy as np
import pytest

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.line_check import findings_of
from drumcore.findings.rules import notice
from drumcore.kit.lookup import channel_of
from drumcore.kit.values import MAIN, Kit, Side
from drumcore.listening.line_check import (
    Line,
    LineOutput,
    Verdict,
    changed,
    check_lines,
    planned_outputs,
)
from drumcore.routing.hosts import SKIFF, Host
from drumcore.routing.shipped import PLANS
from drumcore.routing.signal_paths import copies_db, dry_levels_db
from drumcore.routing.track_sheet import track_sheet
from drumcore.spaces.hall import Hall

KICK, SNARE, OVERHEADS, ROOM = "kick-channel", "snare-channel", "overheads-channel", "room-channel"
PLAN = e.ApplyPlan(plan="one-output-a-piece")


def made(kit: Kit, *edits: e.Edit) -> Kit:
    for edit in edits:
        kit = apply(kit, edit)
    return kit


def checked(kit: Kit, sounds, *articulations: str) -> dict[str, Line]:
    """The lines of some articulations: the others are taken out, which changes nothing of these."""
    for piece in kit.pieces:
        for articulation in piece.articulations:
            if articulation.id not in articulations:
                kit = apply(kit, e.RemoveArticulation(articulation=articulation.id))
    told: list[tuple[int, int]] = []
    found = list(check_lines(kit, sounds, lambda done, total: told.append((done, total))))
    assert told == [(n, len(found)) for n in range(1, len(found) + 1)]
    return {line.articulation: line for line in found}


def verdicts(kit: Kit, sounds, *articulations: str) -> dict[str, Verdict]:
    return {name: line.verdict for name, line in checked(kit, sounds, *articulations).items()}


def test_a_kit_on_a_plan_arrives_as_planned_and_nowhere_else(small_kit: Kit, sounds):
    lines = checked(made(small_kit, PLAN), sounds, "kick/centre", "hats/open")
    assert {line.verdict for line in lines.values()} == {Verdict.AS_PLANNED}
    kick = lines["kick/centre"]
    assert kick.planned == (2, 5, 6)
    arriving = {output.number for output in kick.outputs if output.arrives_dbfs is not None}
    assert arriving == {2, 5, 6}
    silent = next(output for output in kick.outputs if output.number == 3)
    assert silent.peaks_dbfs == (None, None)


PLANTED: dict[str, tuple[Sequence[e.Edit], Verdict]] = {
    "muted": ([e.SetChannel(channel=c, muted=True) for c in (KICK, OVERHEADS, ROOM)], Verdict.NOWHERE),
    "at −∞ dB": ([e.SetPiece(piece="kick", level_db=-120.0)], Verdict.NOWHERE),
    "main turned to one side": (
        [e.ClearOutputs(), e.SetChannel(channel=MAIN, pan=1.0)],
        Verdict.ONE_SIDE,
    ),
    "sent dry where nobody planned it": (
        [e.MakeBus(name="Crush"), e.SetSend(channel=KICK, bus="crush-bus", level_db=-6.0)],
        Verdict.ELSEWHERE,
    ),
    "one microphone in two channels": (
        [e.SetFeed(piece="kick", mic="kick-mic", channel=SNARE, level_db=-6.0)],
        Verdict.TWICE,
    ),
    "over full scale": ([e.SetChannel(channel=KICK, level_db=24.0)], Verdict.CLIPS),
    "over full scale together with a bus": (
        [
            e.SetChannel(channel=KICK, level_db=18.0),
            e.MakeBus(name="Crush"),
            e.SetSend(channel=KICK, bus="crush-bus", level_db=6.0, pre_fader=True),
            e.SetChannel(channel="crush-bus", output=2, level_db=18.0),
        ],
        Verdict.CLIPS,
    ),
}
PLANTED |= {
    # The overheads hear it all the same.
    "its own channel muted": ([e.SetChannel(channel=KICK, muted=True)], Verdict.NOWHERE),
    "its own channel too low": ([e.SetChannel(channel=KICK, level_db=-80.0)], Verdict.NOWHERE),
    "its own channel too low into a muted main": (
        [e.ClearOutputs(), e.SetChannel(channel=KICK, level_db=-80.0), e.SetChannel(channel=MAIN, muted=True)],
        Verdict.NOWHERE,
    ),
    "its microphone muted": ([e.SetMic(mic="kick-mic", muted=True)], Verdict.NOWHERE),
    "beyond the host": (
        [e.SetChannel(channel=KICK, output=16), e.SetHost(host=Host(name="Dinghy", runs=SKIFF.runs[:1]))],
        Verdict.NOWHERE,
    ),
    "its bus turned to one side": (
        [
            e.MakeBus(name="Drums"),
            e.GoIntoBus(channels=(KICK,), bus="drums-bus"),
            e.SetChannel(channel="drums-bus", pan=-1.0, output=2),
        ],
        Verdict.ONE_SIDE,
    ),
}
FINE: dict[str, Sequence[e.Edit]] = {
    "panned by hand": [e.SetChannel(channel=KICK, pan=-1.0)],
    "one side of an output": [e.SetChannel(channel=KICK, side=Side.LEFT)],
    "sent to a space": [
        e.MakeBus(name="Air"),
        e.SetSpace(bus="air-bus", space=Hall(length_s=0.4)),
        e.SetSend(channel=KICK, bus="air-bus", level_db=0.0),
    ],
    "a copy far under the other": [e.SetFeed(piece="kick", mic="kick-mic", channel=SNARE, level_db=-24.0)],
    "taken out of its own channel": [
        e.SetFeed(piece="kick", mic="kick-mic", channel=KICK, level_db=0.0, on=False),
    ],
    "the other parts muted": [e.SetChannel(channel=c, muted=True) for c in (OVERHEADS, ROOM)],
}


@pytest.mark.parametrize("name", PLANTED)
def test_what_was_planted_is_named(small_kit: Kit, sounds, name: str):
    edits, verdict = PLANTED[name]
    assert verdicts(made(small_kit, PLAN, *edits), sounds, "kick/centre") == {"kick/centre": verdict}


@pytest.mark.parametrize("name", PLANTED)
def test_every_fix_offered_puts_the_line_right(small_kit: Kit, sounds, name: str):
    kit = made(small_kit, PLAN, *PLANTED[name][0])
    lines = list(checked(kit, sounds, "kick/centre").values())
    (finding,) = findings_of(kit, lines, kit)
    assert finding.rule == f"line_{PLANTED[name][1].value}" and finding.place == "Kick"
    fixes = [m for m in finding.fixes if m.edit.kind != "ignore_finding"]
    assert fixes and len({m.label for m in fixes}) == len(fixes)
    for fix in fixes:
        after = apply(kit, fix.edit)
        assert verdicts(after, sounds, "kick/centre") == {"kick/centre": Verdict.AS_PLANNED}, fix.label
        # What was put right since the check is not said any more.
        assert findings_of(after, lines, kit) == ()
    meant = [m for m in finding.fixes if m.edit.kind == "ignore_finding"]
    for fix in meant:
        (ignored,) = findings_of(apply(kit, fix.edit), lines, kit)
        assert ignored.ignored


def test_what_the_check_found_of_this_very_kit_is_said_though_nothing_set_explains_it(small_kit: Kit, sounds):
    """Takes so quiet that nothing arrives: every level is as it should be, and no fix that changes nothing is offered."""
    kit = made(small_kit, PLAN, e.SetMic(mic="kick-mic", gain_db=-20.0), e.SetChannel(channel=KICK, level_db=-3.9))
    kit = made(kit, e.TrimTakes(articulation="kick/centre", takes=tuple(f"t{n}" for n in range(1, 7)), gain_db=-24.0))
    kit = made(kit, e.SetLayer(articulation="kick/centre", layer=2, gain_db=-24.0))
    lines = list(checked(kit, sounds, "kick/centre").values())
    assert lines[0].verdict is Verdict.NOWHERE
    (finding,) = findings_of(kit, lines, kit)
    assert finding.title == "Kick arrives nowhere"
    assert all(apply(kit, fix.edit) != kit for fix in finding.fixes)


def test_sentences_say_which_way_and_why(small_kit: Kit, sounds):
    def said(name: str) -> str:
        kit = made(small_kit, PLAN, *PLANTED[name][0])
        (finding,) = findings_of(kit, list(checked(kit, sounds, "kick/centre").values()), kit)
        return f"{finding.title}: {finding.sentence} {[m.label for m in finding.fixes]}"

    assert said("its own channel too low") == (
        "Kick does not arrive at output 2, Kick: Kick goes to output 2, Kick, and it is at −80.0 dB. ['Turn Kick up']"
    )
    assert said("beyond the host") == (
        "Kick arrives nowhere: Kick goes to output 16, which Dinghy does not have. "
        "['Use stereo output 2', 'Send it to main']"
    )
    assert said("sent dry where nobody planned it") == (
        "Kick also arrives elsewhere: It also arrives at output 1, Main, through Crush, which was not planned. "
        "['Send Crush to output 2, Kick', 'Stop sending Kick to Crush', 'Ignore']"
    )
    assert "arrives on the left side alone. Drums is panned to that side." in said("its bus turned to one side")
    assert said("one microphone in two channels").startswith(
        "Kick arrives twice: The microphone Kick mic also arrives at output 2, Kick and at output 3, Snare, nearly as loud."
    )


@pytest.mark.parametrize("name", FINE)
def test_what_was_meant_is_not(small_kit: Kit, sounds, name: str):
    kit = made(small_kit, PLAN, *FINE[name])
    assert verdicts(kit, sounds, "kick/centre") == {"kick/centre": Verdict.AS_PLANNED}


def test_peaks_are_of_all_takes_and_of_each_side(small_kit: Kit, sounds):
    kit = made(small_kit, PLAN, e.SetChannel(channel=KICK, pan=-0.5, level_db=-6.0))
    panned = next(o for o in checked(kit, sounds, "kick/centre")["kick/centre"].outputs if o.number == 2)
    kit = made(small_kit, PLAN)
    middle = next(o for o in checked(kit, sounds, "kick/centre")["kick/centre"].outputs if o.number == 2)
    left, right = panned.peaks_dbfs
    angle = 0.25 * np.pi / 2
    assert left is not None and right is not None and middle.peaks_dbfs[0] is not None
    # Equal power: the middle is at cos 45°.
    alone = middle.peaks_dbfs[0] + 20 * np.log10(np.sqrt(2))
    assert left == pytest.approx(alone - 6.0 + 20 * np.log10(np.cos(angle)), abs=0.01)
    assert right == pytest.approx(alone - 6.0 + 20 * np.log10(np.sin(angle)), abs=0.01)


def test_dry_ways_are_followed_by_their_levels_and_spaces_are_no_copies(small_kit: Kit):
    kit = made(
        small_kit,
        PLAN,
        e.MakeBus(name="Crush"),
        e.MakeBus(name="Air"),
        e.SetChannel(channel=KICK, level_db=-3.0),
        e.SetSend(channel=KICK, bus="crush-bus", level_db=-6.0),
        e.SetSend(channel="crush-bus", bus="air-bus", level_db=-2.0, pre_fader=True),
        e.SetChannel(channel="crush-bus", level_db=-1.0, output=14),
        e.SetChannel(channel="air-bus", output=15),
        e.SetChannel(channel=MAIN, level_db=-4.0),
    )
    kick = next(piece for piece in kit.pieces if piece.id == "kick")
    assert dry_levels_db(kit, kick)["kick-mic"] == pytest.approx({2: -3.0, 14: -10.0, 15: -11.0})
    roomy = apply(kit, e.SetSpace(bus="air-bus", space=Hall()))
    assert dry_levels_db(roomy, kick)["kick-mic"] == pytest.approx({2: -3.0, 14: -10.0})
    # A bus with an output of its own is planned, whatever it holds; what is sent there is no copy by mistake.
    assert planned_outputs(kit, kick) == planned_outputs(roomy, kick) == (2, 5, 6, 14, 15)
    assert copies_db(kit, kick)["kick-mic"] == pytest.approx({2: -3.0})
    to_main = apply(kit, e.SetChannel(channel="air-bus", output=0))
    assert dry_levels_db(to_main, kick)["kick-mic"][1] == pytest.approx(-15.0)


def test_many_ways_through_buses_are_walked_once(small_kit: Kit):
    """Thirty buses, each sent into all that follow: two to the thirtieth ways, and one answer at once."""
    kit = made(small_kit, PLAN, *(e.MakeBus(name=f"B{n}") for n in range(30)))
    ids = [bus.id for bus in kit.routing.buses]
    sends = [e.SetSend(channel=a, bus=b, level_db=-3.0) for n, a in enumerate(ids) for b in ids[n + 1 :]]
    kit = made(kit, e.SetSend(channel=KICK, bus=ids[0], level_db=0.0), *sends, e.SetSpace(bus=ids[-1], space=Hall()))
    kick = next(piece for piece in kit.pieces if piece.id == "kick")
    assert planned_outputs(kit, kick) == (1, 2, 5, 6)
    assert set(dry_levels_db(kit, kick)["kick-mic"]) == {1, 2}


def test_what_changed_between_two_checks_is_told_and_what_wavers_is_not():
    def line(articulation: str, *arriving: tuple[int, float]) -> Line:
        outputs = tuple(
            LineOutput(number=n, name="-", peaks_dbfs=(db, db), arrives_dbfs=db if db > -60 else None, only=None)
            for n, db in arriving
        )
        return Line(
            piece="-", articulation=articulation, verdict=Verdict.AS_PLANNED, outputs=outputs, planned=(), astray=()
        )

    before = [line("kick", (2, -8.2), (3, -90.0), (8, -18.0)), line("snare", (3, -6.0))]
    now = [line("kick", (2, -6.1), (3, -30.0), (8, -18.2)), line("snare", (3, -70.0)), line("ride", (6, -12.0))]
    found = [(c.articulation, c.output, c.from_dbfs, c.to_dbfs) for c in changed(before, now)]
    assert found == [("kick", 2, -8.2, -6.1), ("kick", 3, None, -30.0), ("snare", 3, -6.0, None)]


def test_the_plan_is_the_reference_until_a_place_is_kept(small_kit: Kit, sounds):
    """The snare moved by hand to the hats' output: the check names the output that gets nothing; kept, it is right."""
    kit = made(small_kit, PLAN)
    planned, hats = channel_of(kit, SNARE).output, channel_of(kit, "hats-channel").output
    moved = apply(kit, e.SetChannel(channel=SNARE, output=hats))
    line = checked(moved, sounds, "snare/centre")["snare/centre"]
    assert (line.verdict, line.own) == (Verdict.NOWHERE, planned)
    (finding,) = [f for f in notice(moved) if f.rule == "not_as_planned"]
    assert f"sends Snare to {planned}" in finding.sentence and f"goes to {hats}" in finding.sentence
    back, keep = finding.fixes[:2]
    assert apply(moved, back.edit) == kit
    kept = apply(moved, keep.edit)
    assert not [f for f in notice(kept) if f.rule == "not_as_planned"]
    assert verdicts(kept, sounds, "snare/centre") == {"snare/centre": Verdict.AS_PLANNED}
    assert apply(kept, e.ClearOutputs()).routing.plan is None
    (nowhere,) = findings_of(moved, [line], moved)
    assert nowhere.fixes[0].label == "Put Snare back" and apply(moved, nowhere.fixes[0].edit) == kit
    # A channel led into a bus by hand can be put back or kept as well.
    bus = made(kit, e.MakeBus(name="Drums"), e.GoIntoBus(channels=(SNARE,), bus="drums-bus"))
    (finding,) = [f for f in notice(bus) if f.rule == "not_as_planned"]
    for fix in finding.fixes[:2]:
        assert not [f for f in notice(apply(bus, fix.edit)) if f.rule == "not_as_planned"], fix.label


def test_a_plan_of_one_s_own_is_remembered_by_its_name(small_kit: Kit):
    mine = e.ApplyPlan(plan=next(p.plan for p in PLANS if p.id == PLAN.plan), called="Boat")
    kit = made(small_kit, mine, e.SetChannel(channel=KICK, output=9))
    (finding,) = [f for f in notice(kit) if f.rule == "not_as_planned"]
    assert finding.sentence.startswith("“Boat” sends Kick to")


def test_the_sheet_lists_only_what_arrives(small_kit: Kit):
    """A feed that is off, a muted channel and a piece turned down are not on the sheet; a silent piece says why."""
    kit = made(small_kit, PLAN)

    def reached(kit: Kit, name: str) -> tuple[int | None, list[int], str]:
        piece = next(piece for piece in track_sheet(kit).pieces if piece.name == name)
        return piece.own.number if piece.own else None, [other.number for other in piece.others], piece.silent

    assert reached(kit, "Kick") == (2, [5, 6], "")
    no_room = apply(kit, e.SetFeed(piece="kick", mic="room", channel=ROOM, level_db=0.0, on=False))
    assert reached(no_room, "Kick") == (2, [5], "")
    muted = apply(kit, e.SetChannel(channel=KICK, muted=True))
    assert reached(muted, "Kick") == (None, [5, 6], "")
    assert "Kick" not in [name for track in track_sheet(muted).tracks for name in track.arrives]
    assert reached(muted, "Snare") == (3, [5, 6], "")
    # A channel that is muted is not its piece's own output, wherever a bus would have led it.
    into_bus = made(kit, e.MakeBus(name="Drums"), e.GoIntoBus(channels=(KICK,), bus="drums-bus"))
    assert reached(into_bus, "Kick") == (1, [5, 6], "")
    assert reached(apply(into_bus, e.SetChannel(channel=KICK, muted=True)), "Kick") == (None, [5, 6], "")
    low = apply(kit, e.SetPiece(piece="kick", level_db=-80.0))
    assert reached(low, "Kick") == (None, [], "Kick is set below −60 dB at every output; it is silent.")
    silent = apply(kit, e.SetPiece(piece="kick", level_db=-120.0))
    own, others, why = reached(silent, "Kick")
    assert (own, others) == (None, []) and "−∞ dB" in why
    # A track without a name is called what the host's page calls it.
    assert all(track.track == f"Track {track.number}" for track in track_sheet(kit).tracks)
