"""Plans and hosts: a track keeps its number, what does not fit is said, and nothing changes that was not asked for."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.formats.kept_file import HOST_FILE, PLAN_FILE, kept_to_json, read_kept
from drumcore.kit.lookup import channel_of
from drumcore.kit.values import Channel, Family, Kit, MicKind, Side, Width
from drumcore.refusals import Refusal
from drumcore.routing import plan_routing
from drumcore.routing.default_routing import own_channel
from drumcore.routing.host_moves import outputs_used
from drumcore.routing.hosts import FERRY, HOSTS, RAFT, SKIFF, Host, OutputRun, host_outputs
from drumcore.routing.plan_from_kit import plan_of_kit
from drumcore.routing.plan_routing import into_one_side, route
from drumcore.routing.plans import AssignedPlace, OutputPlace, PlanRule, RoutingPlan, places, remembering
from drumcore.routing.shipped import MONO_FOR_CLOSE, ONE_OUTPUT_A_PIECE, PAIRS, PLANS
from drumcore.spaces.hall import Hall

KICK, SNARE, HATS, CRASH, OVERHEADS, ROOM = (
    f"{name}-channel" for name in ("kick", "snare", "hats", "crash-left", "overheads", "room")
)


def on(kit: Kit, host: Host) -> Kit:
    return apply(kit, e.SetHost(host=host))


def goes(kit: Kit, plan: RoutingPlan) -> dict[str, tuple[int | None, Side]]:
    return {channel.id: (channel.output, channel.side) for channel in route(kit, plan).routing.channels}


def test_hosts_count_their_outputs_in_their_own_way():
    assert [o.called for o in host_outputs(FERRY)][:3] == ["1/2", "3/4", "5/6"] and len(host_outputs(FERRY)) == 16
    skiff = host_outputs(SKIFF)
    assert [(o.number, o.called, o.width.value) for o in (skiff[3], skiff[4], skiff[15])] == [
        (4, "St 4", "stereo"), (5, "M 1", "mono"), (16, "M 12", "mono"),
    ]  # fmt: skip
    assert [o.called for o in host_outputs(RAFT)] == ["Pair 0", "Pair 1"]
    both = Host(name="Pit", runs=(OutputRun(width="stereo", count=1, called="Ch", first=9, by_channel=True), OutputRun(width="mono", count=2, called="Ch", first=11)))  # fmt: skip
    assert [o.called for o in host_outputs(both)] == ["Ch 9/10", "Ch 11", "Ch 12"]
    with pytest.raises(ValueError, match="at most 64 outputs"):
        Host(name="Too many", runs=(OutputRun(width="mono", count=64), OutputRun(width="stereo", count=1)))


def test_mono_tracks_take_mono_outputs_and_pairs_only_where_asked(small_kit: Kit):
    assert goes(on(small_kit, SKIFF), ONE_OUTPUT_A_PIECE) == {
        KICK: (5, Side.BOTH), SNARE: (6, Side.BOTH), HATS: (7, Side.BOTH),
        OVERHEADS: (2, Side.BOTH), ROOM: (3, Side.BOTH), CRASH: (4, Side.BOTH),
    }  # fmt: skip
    raft = goes(on(small_kit, RAFT), PAIRS)
    assert raft[KICK] == (2, Side.LEFT) and raft[SNARE] == (2, Side.RIGHT) and raft[ROOM] == (None, Side.BOTH)
    # Without pairs the first takes it whole.
    assert goes(on(small_kit, RAFT), ONE_OUTPUT_A_PIECE)[KICK] == (2, Side.BOTH)
    ferry = goes(small_kit, MONO_FOR_CLOSE)
    assert ferry[KICK] == (2, Side.LEFT) and ferry[SNARE] == (2, Side.RIGHT) and ferry[HATS] == (3, Side.LEFT)
    named = {o.number: o.name for o in route(small_kit, MONO_FOR_CLOSE).routing.outputs}
    assert named[2] == "Kick, Snare" and named[3] == "Hats, Tom 1"


def test_what_finds_no_place_joins_its_group_or_goes_to_main_and_is_listed(small_kit: Kit):
    narrow = Host(name="Dinghy", runs=(OutputRun(width="stereo", count=3),))
    rules = (
        PlanRule(track="Overheads", gathers=(MicKind.OVERHEAD,), group="Ambience"),
        PlanRule(track="Kick", families=(Family.KICK,)),
        PlanRule(track="Room", gathers=(MicKind.ROOM,), group="Ambience"),
        PlanRule(track="Snare", families=(Family.SNARE,)),
        PlanRule(track="Hats", families=(Family.HATS,), group="Ambience"),
    )
    found = route(on(small_kit, narrow), RoutingPlan(rules=rules))
    went = {c.id: c.output for c in found.routing.channels}
    assert went == {OVERHEADS: 2, KICK: 3, ROOM: 2, SNARE: None, HATS: 2, CRASH: None}
    assert [o.name for o in found.routing.outputs] == ["Main", "Ambience", "Kick"]
    assert set(found.misfits) == {
        "Dinghy has no stereo output left for Room; Room joins Overheads on 2 Ambience.",
        "Dinghy has no stereo output left for Hats; Hats joins Overheads on 2 Ambience.",
        "Dinghy has no stereo output left for Snare; Snare goes to main.",
        "No rule of the plan matches Crash left; it goes to main.",
    }
    assert {(m.name, m.before, m.after) for m in found.moves} == {
        ("Kick", "main", "3 Kick"),
        ("Hats", "main", "2 Ambience"),
        ("Overheads", "main", "2 Ambience"),
        ("Room", "main", "2 Ambience"),
    }
    # With output 1 given out as well, one more finds a place.
    open_handed = places(RoutingPlan(rules=rules, keeps_main=False), "Dinghy", host_outputs(narrow))
    assert {track: place.output for track, place in open_handed.items()} == {
        "Overheads": 1,
        "Kick": 2,
        "Room": 3,
        "Hats": 3,
    }


def test_a_track_keeps_its_number_when_the_plan_grows_and_whatever_the_kit_holds(small_kit: Kit):
    plan = RoutingPlan(rules=(PlanRule(track="Snare", families=(Family.SNARE,)), PlanRule(track="Kick", families=(Family.KICK,))))  # fmt: skip
    known = remembering(plan, "Ferry 16", host_outputs(FERRY))
    assert {g.track: g.output for g in known.given} == {"Snare": 2, "Kick": 3}
    hats = PlanRule(track="Hats", families=(Family.HATS,))
    grown = known.but(rules=(hats, *known.rules))
    there = places(grown, "Ferry 16", host_outputs(FERRY))
    assert {track: place.output for track, place in there.items()} == {"Snare": 2, "Kick": 3, "Hats": 4}
    # On a host nobody has seen, importance alone counts.
    assert places(grown, "Skiff", host_outputs(SKIFF))["Hats"] == OutputPlace(2)
    without = apply(small_kit, e.RemovePiece(piece="kick"))
    assert goes(without, grown)[SNARE] == (2, Side.BOTH)
    # What was given and is no longer there is given anew.
    lost = grown.but(given=(AssignedPlace(host="Raft", track="Kick", output=9),))
    assert places(lost, "Raft", host_outputs(RAFT))["Hats"] == OutputPlace(2)


def test_bleed_does_not_make_a_channel_somebody_elses(small_kit: Kit):
    """The kick is heard in the snare's microphone, and comes first in the kit."""
    kit = apply(small_kit, e.SetFeed(piece="kick", mic="snare-mic", channel=SNARE, level_db=-3.0))
    kit = kit.but(routing=kit.routing.but(feeds=tuple(reversed(kit.routing.feeds))))
    assert goes(kit, ONE_OUTPUT_A_PIECE)[SNARE] == (3, Side.BOTH)
    roomy = apply(kit, e.SetFeed(piece="snare", mic="room", channel=SNARE, level_db=-3.0))
    assert goes(roomy, ONE_OUTPUT_A_PIECE)[SNARE] == (3, Side.BOTH)


def test_rules_take_by_name_by_number_by_microphone_and_buses(small_kit: Kit):
    kit = apply(apply(small_kit, e.MakeBus(name="Drums")), e.GoIntoBus(channels=(HATS,), bus="drums-bus"))
    plan = RoutingPlan(
        rules=(
            PlanRule(track="Bus", buses=("Drums",)),
            PlanRule(track="By name", pieces=("Kick",)),
            PlanRule(track="Rooms", mics=(MicKind.ROOM,)),
            PlanRule(track="First cymbal", families=(Family.CRASH,), number=1),
            PlanRule(track="Second cymbal", families=(Family.CRASH,), number=2),
        )
    )
    found = route(kit, plan).routing
    channel = {c.id: c for c in (*found.channels, *found.buses)}
    assert channel["drums-bus"].output == 2 and channel[HATS].bus == "drums-bus" and channel[HATS].output is None
    assert channel[KICK].output == 3 and channel[ROOM].output == 4 and channel[CRASH].output == 5
    assert channel[OVERHEADS].output is None
    with pytest.raises(ValueError, match="matches nothing"):
        PlanRule(track="Nothing")
    with pytest.raises(ValueError, match="two rules are called “A”"):
        RoutingPlan(rules=(PlanRule(track="A", mics=(MicKind.ROOM,)), PlanRule(track="A", mics=(MicKind.CLOSE,))))


def test_a_parallel_bus_stays_beside_what_it_is_fed_by_and_a_space_stays_in_main(small_kit: Kit):
    kit = small_kit
    for edit in (
        e.MakeBus(name="Crush"),
        e.MakeBus(name="Air"),
        e.SetSpace(bus="air-bus", space=Hall(length_s=0.5)),
        e.SetSend(channel=SNARE, bus="crush-bus", level_db=-6.0),
        e.SetSend(channel=SNARE, bus="air-bus", level_db=-6.0),
    ):
        kit = apply(kit, edit)
    buses = {bus.id: bus.output for bus in route(kit, ONE_OUTPUT_A_PIECE).routing.buses}
    assert buses == {"crush-bus": 3, "air-bus": None}
    # Fed from two places it belongs to neither.
    kit = apply(kit, e.SetSend(channel=KICK, bus="crush-bus", level_db=-6.0))
    assert {b.id: b.output for b in route(kit, ONE_OUTPUT_A_PIECE).routing.buses}["crush-bus"] is None


def test_a_kit_moved_to_another_host_keeps_what_fits_and_its_names(small_kit: Kit):
    kit = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    kit = apply(kit, e.SetChannel(channel=KICK, side=Side.LEFT))
    kit = apply(kit, e.SetChannel(channel=HATS, side=Side.RIGHT, output=5))
    kit = apply(kit, e.NameOutput(output=3, track="Sn"))
    moved = on(kit, SKIFF)
    assert channel_of(moved, KICK).output == 2 and channel_of(moved, KICK).side is Side.LEFT
    assert channel_of(moved, HATS).output == 5 and channel_of(moved, HATS).side is Side.BOTH
    third = moved.routing.outputs[2]
    assert (third.name, third.track, third.called, third.width) == ("Snare", "Sn", "St 3", Width.STEREO)
    small = on(kit, RAFT)
    assert channel_of(small, SNARE).output == 3 and len(small.routing.outputs) == 2
    assert on(small, FERRY).routing.channels == on(kit, FERRY).routing.channels
    # A host with a single output is kept when pieces come.
    one = on(kit, Host(name="Tape", runs=(OutputRun(width="stereo", count=1),)))
    more = apply(one, e.DuplicatePiece(piece="kick"))
    assert more.routing.host == "Tape" and len(more.routing.outputs) == 1


def test_tracks_are_named_alike_and_outputs_by_hand(small_kit: Kit):
    kit = apply(small_kit, e.ApplyPlan(plan="one-output-a-piece"))
    kit = apply(kit, e.NameOutput(output=7, track="old"))
    kit = apply(kit, e.NameOutput(output=3, name="  Side   snare "))
    assert kit.routing.outputs[2].name == "Side snare"
    alike = apply(kit, e.CopyOutputNames()).routing.outputs
    assert {o.number: o.track for o in alike if o.track} == {
        2: "Kick", 3: "Side snare", 4: "Hats", 5: "Overheads", 6: "Room", 10: "Crash 1",
    }  # fmt: skip
    assert apply(kit, e.NameOutput(output=3, name=" ")).routing.outputs[2].name == "Output 3"
    with pytest.raises(Refusal, match="Ferry 16 has no output 40"):
        apply(kit, e.NameOutput(output=40, name="x"))


@given(st.sampled_from(sorted(HOSTS)), st.sampled_from(PLANS), st.permutations(range(8)), st.booleans())
def test_whatever_plan_and_host_nobody_stands_where_another_is(host, shipped, order, keeps_main):
    rules = shipped.plan.rules
    mixed = tuple(rules[i] for i in order if i < len(rules))
    plan = shipped.plan.but(rules=mixed, keeps_main=keeps_main)
    outputs = host_outputs(HOSTS[host])
    found = places(plan, host, outputs)
    own = [(p.output, side) for p in found.values() if not p.joined for side in ((Side.LEFT, Side.RIGHT) if p.side is Side.BOTH else (p.side,))]  # fmt: skip
    assert len(own) == len(set(own))
    assert all(output <= len(outputs) and (output > 1 or not keeps_main) for output, _ in own)
    # AssignedPlace out once and remembered, it is given out the same.
    assert places(remembering(plan, host, outputs), host, outputs) == found


def test_a_plan_made_of_a_kits_routing_routes_it_as_it_is(small_kit: Kit):
    kit = on(apply(small_kit, e.MakeBus(name="Air")), SKIFF)
    for channel, output in ((KICK, 5), (SNARE, 9), (OVERHEADS, 2), (ROOM, 2), ("air-bus", 3)):
        kit = apply(kit, e.SetChannel(channel=channel, output=output))
    kit = apply(kit, e.NameOutput(output=2, name="Ambience"))
    plan = plan_of_kit(kit)
    assert {rule.track for rule in plan.rules} == {"Kick", "Snare", "Ambience", "Air"}
    by_track = {rule.track: rule for rule in plan.rules}
    # All the kit has of a family: another kit's, whatever it is called, is taken too.
    assert by_track["Kick"].families == (Family.KICK,) and by_track["Kick"].pieces == ()
    routed = route(apply(kit, e.ClearOutputs()), plan).routing
    assert routed.channels == kit.routing.channels and routed.buses == kit.routing.buses
    assert outputs_used(routed).keys() == outputs_used(kit.routing).keys()
    with pytest.raises(Refusal, match="Everything of this kit goes to main"):
        plan_of_kit(apply(kit, e.ClearOutputs()))


def test_plans_and_hosts_are_read_back_as_they_were_written_and_anything_else_gets_a_sentence():
    for kind, name, value in ((PLAN_FILE, "Tour", MONO_FOR_CLOSE), (HOST_FILE, "Skiff", SKIFF)):
        text = kept_to_json(kind, name, value)
        read = read_kept(kind, text.encode(), "x.json")
        assert (read.name, read.value) == (name, value)
    assert read_kept(PLAN_FILE, b'{"routing_plan": 1, "rules": [{"track": "A", "mics": ["room"]}]}', "a/My plan.json").name == "My plan"  # fmt: skip
    for data, sentence in {
        b"nonsense": "not valid JSON",
        b"[]": "does not describe a routing plan",
        b'{"routing_plan": 2}': "newer version",
        b'{"routing_plan": 1, "rules": [{"track": "A"}]}': "matches nothing; say which",
        b'{"routing_plan": 1, "rules": []}': "p.json, rules",
    }.items():
        with pytest.raises(Refusal, match=sentence):
            read_kept(PLAN_FILE, data, "p.json")


def test_a_bus_of_mono_sounds_in_the_middle_has_no_sides_to_lose(small_kit: Kit):
    def narrow(*edits: e.Edit) -> set[str]:
        kit = on(apply(small_kit, e.MakeBus(name="Crush")), SKIFF)
        for edit in (e.SetSend(channel=KICK, bus="crush-bus", level_db=0.0), *edits):
            kit = apply(kit, edit)
        kit = apply(kit, e.SetChannel(channel="crush-bus", output=9))
        return {channel.id for channel in into_one_side(kit)}

    assert narrow() == set()
    assert narrow(e.SetChannel(channel=KICK, pan=0.4)) == {"crush-bus"}
    assert narrow(e.SetSend(channel=OVERHEADS, bus="crush-bus", level_db=0.0)) == {"crush-bus"}
    assert narrow(e.SetSpace(bus="crush-bus", space=Hall(length_s=0.5))) == {"crush-bus"}


def test_a_side_is_left_behind_with_its_output(small_kit: Kit):
    kit = apply(small_kit, e.SetChannel(channel=KICK, output=2, side=Side.LEFT))
    assert channel_of(apply(kit, e.SetChannel(channel=KICK, output=2, pan=0.5)), KICK).side is Side.LEFT
    assert channel_of(apply(kit, e.SetChannel(channel=KICK, output=3)), KICK).side is Side.BOTH
    assert channel_of(apply(kit, e.SetChannel(channel=KICK, output=3, side=Side.RIGHT)), KICK).side is Side.RIGHT


def test_a_thousand_channels_are_routed_by_walking_each_once(small_kit: Kit, monkeypatch):
    many = tuple(Channel(id=f"c{n}", name=f"C{n}", output=9) for n in range(900))
    kit = on(small_kit.but(routing=small_kit.routing.but(channels=(*small_kit.routing.channels, *many))), SKIFF)
    asked: list[str] = []
    monkeypatch.setattr(
        plan_routing, "own_channel", lambda kit, piece: asked.append(piece.id) or own_channel(kit, piece)
    )
    found = route(kit, ONE_OUTPUT_A_PIECE)
    assert len(asked) == len(kit.pieces) and {c.output for c in found.routing.channels if c.id.startswith("c")} >= {
        None
    }
