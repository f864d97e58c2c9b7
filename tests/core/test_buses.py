"""Buses and sends: what is shared. Sound flows along them by hand-worked gains, never in circles, and what is silent is said."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.rules import notice
from drumcore.grooves.values import Groove, Strike
from drumcore.kit.flow import channels_and_buses, circle, in_order, may_enter, next_of
from drumcore.kit.json_form import from_json, to_json
from drumcore.kit.lookup import channel_of
from drumcore.kit.values import MAIN, Channel, Kit, Send
from drumcore.listening.figures import OfChannel, OfKit, depends_on
from drumcore.playing.compiler import compile_head, compile_kit
from drumcore.playing.renderer import render
from drumcore.refusals import Refusal
from drumcore.routing.reachability import is_heard, reaching_outputs, why_silent
from drumcore.routing.signal_paths import outputs_reached
from drumcore.treatments.compressor import Compressor
from drumcore.treatments.drive import Drive

SNARE, KICK, CRUSH, AIR = "snare-channel", "kick-channel", "crush-bus", "air-bus"
STRUCK = [Strike(time_s=0.0, note=38, velocity=120), Strike(time_s=0.3, note=36, velocity=110)]


def with_buses(kit: Kit, *edits: e.Edit) -> Kit:
    for edit in (e.MakeBus(name="Crush"), e.MakeBus(name="Air"), *edits):
        kit = apply(kit, edit)
    return kit


def sent(channel: str, bus: str = CRUSH, level_db: float | None = -6.0, pre_fader: bool | None = None) -> e.SetSend:
    return e.SetSend(channel=channel, bus=bus, level_db=level_db, pre_fader=pre_fader)


def to_output(channel: str, number: int) -> e.SetChannel:
    return e.SetChannel(channel=channel, output=number)


def played(kit: Kit, sounds, number: int) -> np.ndarray:
    blocks = list(render(compile_kit(kit), STRUCK, sounds, length_s=1, block_frames=4096))
    return np.concatenate([block.outputs[number] for block in blocks], axis=1).astype(float)


def reaching(kit: Kit) -> frozenset[str]:
    return reaching_outputs(kit.routing)


def key_of(asked, kit: Kit, groove: Groove | None) -> str:
    return depends_on(kit, asked, groove)


def db(gain: float) -> float:
    return 10 ** (gain / 20)


def test_a_send_is_a_copy_at_a_level_taken_after_or_before_the_channels_own(small_kit: Kit, sounds):
    moved = e.SetChannel(channel=SNARE, level_db=-4.0, pan=-0.5, output=3)
    alone = played(apply(small_kit, e.SetChannel(channel=SNARE, output=3)), sounds, 3)
    kit = with_buses(
        small_kit, moved, sent(SNARE), sent(SNARE, AIR, -10.0, True), to_output(CRUSH, 5), to_output(AIR, 6)
    )
    late, pre_fader = played(kit, sounds, 5), played(kit, sounds, 6)
    # A mono channel in the middle: `alone` holds it at cos 45° on both sides.
    mono = alone[0] / np.cos(np.pi / 4)
    angle = 0.25 * np.pi / 2
    np.testing.assert_allclose(late[0], mono * np.cos(angle) * db(-4.0 - 6.0), atol=1e-6)
    np.testing.assert_allclose(late[1], mono * np.sin(angle) * db(-4.0 - 6.0), atol=1e-6)
    np.testing.assert_allclose(pre_fader, alone * db(-10.0), atol=1e-6)
    # What is sent goes where it went all the same.
    np.testing.assert_allclose(played(kit, sounds, 3)[1], mono * np.sin(angle) * db(-4.0), atol=1e-6)
    muted = apply(kit, e.SetChannel(channel=SNARE, muted=True))
    assert not played(muted, sounds, 5).any() and not played(muted, sounds, 6).any()


def test_a_bus_has_a_channels_whole_way_and_goes_into_another(small_kit: Kit, sounds):
    driven = Drive(drive_db=20.0, asymmetry=0.2)
    whole = with_buses(
        small_kit,
        e.GoIntoBus(channels=(SNARE, KICK), bus=CRUSH),
        e.SetChannel(channel=CRUSH, level_db=-3.0),
        e.GoIntoBus(channels=(CRUSH,), bus=AIR),
        to_output(AIR, 4),
    )
    for channel in ("overheads-channel", "room-channel"):
        whole = apply(whole, e.SetChannel(channel=channel, muted=True))
    plain = played(whole, sounds, 4)
    separate = apply(apply(whole, to_output(SNARE, 4)), to_output(KICK, 4))
    separate = apply(separate, to_output(AIR, 7))
    np.testing.assert_allclose(plain, played(separate, sounds, 4) * db(-3.0), atol=1e-6)
    # It is the sum that is treated.
    treated = played(apply(whole, e.SetTreatments(channel=CRUSH, treatments=(driven,))), sounds, 4)
    sides = plain / db(-3.0)
    push, rest = db(20.0), np.tanh(0.2)
    good = 1 / (push * (1 - rest**2))
    np.testing.assert_allclose(treated, (np.tanh(push * sides + 0.2) - rest) * good * db(-3.0), atol=2e-6)
    bypassed = apply(
        apply(whole, e.SetTreatments(channel=CRUSH, treatments=(driven,))), e.BypassTreatment(bypassed=True)
    )
    np.testing.assert_allclose(played(bypassed, sounds, 4), plain, atol=1e-6)


channels = st.lists(
    st.tuples(st.lists(st.integers(0, 7), max_size=3, unique=True), st.integers(-1, 7)), min_size=1, max_size=8
)


@given(channels)
def test_order_puts_each_behind_what_flows_into_it_or_a_circle_is_named(drawn):
    there = range(len(drawn))
    made = [
        Channel(
            id=str(n),
            name=f"Bus {n}",
            sends=tuple(Send(bus=str(to)) for to in sends if to in there),
            bus=str(into) if into in there else "",
        )
        for n, (sends, into) in enumerate(drawn)
    ]
    if way := circle(made):
        assert way[0] == way[-1] and len({channel.id for channel in way}) == len(way) - 1
        for one, other in pairwise(way):
            assert other.id in next_of(one)
        return
    order = in_order(tuple(made))
    assert sorted(order) == list(there)
    for place, n in enumerate(order):
        assert not {int(to) for to in next_of(made[n]) if to != MAIN} & set(order[: place + 1])


def test_a_way_round_in_circles_is_refused_by_name(small_kit: Kit):
    kit = with_buses(small_kit, sent(CRUSH, AIR))
    for edit in (sent(AIR, CRUSH), e.GoIntoBus(channels=(AIR,), bus=CRUSH), sent(CRUSH, CRUSH)):
        with pytest.raises(Refusal, match=r"feedback loop: .*Crush.* into .*Crush|into Air into Crush into Air"):
            apply(kit, edit)
    # What is offered is what would not be refused.
    offered = may_enter(kit.routing)
    assert offered[CRUSH] == (AIR,) and offered[AIR] == () and offered[SNARE] == (CRUSH, AIR)
    # With the one way out, the other may be.
    assert apply(apply(kit, sent(CRUSH, AIR, None)), sent(AIR, CRUSH))


def test_buses_are_made_named_ordered_and_removed_with_what_went_into_them(small_kit: Kit):
    kit = with_buses(small_kit, sent(SNARE), sent(SNARE, AIR), e.GoIntoBus(channels=(KICK,), bus=CRUSH), sent(AIR))
    assert [bus.name for bus in kit.routing.buses] == ["Crush", "Air"]
    assert channel_of(kit, KICK).bus == CRUSH and channel_of(kit, KICK).output is None
    kit = apply(kit, e.NameBus(bus=AIR, name="Hall"))
    kit = apply(kit, e.MoveBus(bus=AIR, to=0))
    assert [bus.name for bus in kit.routing.buses] == ["Hall", "Crush"]
    assert from_json(to_json(kit)) == kit
    without = apply(kit, e.RemoveBus(bus=CRUSH))
    assert [send.bus for send in channel_of(without, SNARE).sends] == [AIR]
    assert channel_of(without, KICK).bus == "" and not channel_of(without, AIR).sends
    # A send that is set again keeps where it is taken.
    pre_fader = apply(kit, sent(SNARE, CRUSH, -6.0, True))
    assert channel_of(apply(pre_fader, sent(SNARE, CRUSH, -20.0)), SNARE).sends[0] == Send(
        bus=CRUSH, level_db=-20.0, pre_fader=True
    )
    assert channel_of(apply(kit, to_output(KICK, 3)), KICK).bus == ""
    assert channel_of(apply(kit, e.ApplyPlan(plan="one-output-a-piece")), KICK).bus == ""
    both = e.SetChannels(channels=(SNARE, CRUSH), level_db=-5.0)
    moved = apply(kit, both)
    assert channel_of(moved, CRUSH).level_db == channel_of(moved, SNARE).level_db == -5.0


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (e.MakeBus(name="Crush"), "There is a bus called Crush"),
        (e.NameBus(bus=AIR, name="Crush"), "There is a bus called Crush"),
        (e.NameBus(bus=AIR, name=" "), "needs a name"),
        (e.RemoveBus(bus="gone"), "no bus “gone”"),
        (sent(SNARE, KICK), "no bus “kick-channel”"),
        (sent(MAIN), "The main mix cannot be sent"),
        (e.GoIntoBus(channels=(MAIN,), bus=CRUSH), "The main mix goes to output 1"),
    ],
)
def test_what_cannot_be_done_with_a_bus_says_so(small_kit: Kit, edit, said):
    with pytest.raises(Refusal, match=said):
        apply(with_buses(small_kit), edit)


def test_what_is_sent_where_nothing_is_heard_is_found_and_fixed(small_kit: Kit):
    kit = with_buses(small_kit, sent(SNARE))
    found = {f.rule: f for f in notice(kit)}
    assert found["bus_without_feeders"].title == "No inputs in Air"
    assert not any(bus.name == "Air" for bus in apply(kit, found["bus_without_feeders"].fixes[0].edit).routing.buses)
    assert "sent_into_silence" not in found
    muted = apply(kit, e.SetChannel(channel=CRUSH, muted=True))
    (silent,) = [f for f in notice(muted) if f.rule == "sent_into_silence"]
    assert silent.sentence == "Snare is sent to Crush, which is muted."
    assert CRUSH in reaching(apply(muted, silent.fixes[0].edit))
    # A piece that goes only there is silent with it, and is heard again by the same.
    alone = apply(muted, e.GoIntoBus(channels=tuple(c.id for c in muted.routing.channels), bus=CRUSH))
    assert not is_heard(alone, "snare")
    snare = next(p for p in alone.pieces if p.id == "snare")
    assert why_silent(alone, snare) == "Snare goes into Crush, none of which is heard; it is silent."
    (finding,) = [f for f in notice(alone) if f.rule == "reaches_no_output" and f.where.piece == "snare"]
    assert is_heard(apply(alone, finding.fixes[0].edit), "snare")
    # Taken before the level, a send is heard of a channel that is at nothing.
    low = e.SetChannel(channel=SNARE, level_db=-120.0)
    assert SNARE not in reaching(apply(kit, low))
    assert SNARE in reaching(apply(apply(kit, low), sent(SNARE, pre_fader=True)))


def test_a_piece_leaves_by_the_outputs_of_its_buses_too(small_kit: Kit):
    kit = with_buses(
        small_kit, to_output(SNARE, 3), sent(SNARE), to_output(CRUSH, 8), sent(CRUSH, AIR), to_output(AIR, 9)
    )
    snare = next(p for p in kit.pieces if p.id == "snare")
    assert outputs_reached(kit, snare) == (3, 8, 9, 1)
    into = apply(kit, e.GoIntoBus(channels=(SNARE,), bus=CRUSH))
    assert outputs_reached(into, snare)[:2] == (8, 9)
    head = compile_head(kit)
    assert [head.channels[n].id for n in head.order][-2:] == [CRUSH, AIR]
    assert {c.id for c in channels_and_buses(kit.routing)} == {c.id for c in head.channels}


def test_a_bus_is_compared_with_itself_by_what_flows_into_it(small_kit: Kit, sounds):
    groove = Groove(name="Two", bpm=120, beats_a_bar=4, length_s=1.0, events=tuple(STRUCK))
    louder = Compressor(ratio=1.0, make_up_db=5.0)
    kit = with_buses(
        small_kit,
        sent(SNARE),
        sent(CRUSH, AIR),
        e.SetTreatments(channel=CRUSH, treatments=(louder,)),
        to_output(AIR, 9),
    )

    def of(kit: Kit, channel: str):
        return OfChannel(channel=channel, groove=1).measure(kit, groove, sounds, lambda *_: None)

    crush = of(kit, CRUSH)
    assert crush.louder_db == 5.0
    # Into Air it comes 6 dB softer, treated; and the kit is heard with both ways through it.
    assert of(kit, AIR).plain_db == pytest.approx(crush.db - 6.0, abs=0.01)
    assert of(apply(kit, e.SetTreatments(channel=AIR, treatments=(louder,))), AIR).louder_db == 5.0
    main = of(kit, MAIN)
    assert main.louder_db == 0.0
    whole = OfKit(groove=1).measure(kit, groove, sounds, lambda *_: None)
    assert 0 < whole.louder_db < 5
    asked = OfChannel(channel=CRUSH, groove=1)
    now = key_of(asked, kit, groove)
    assert key_of(asked, apply(kit, e.SetTreatments(channel=KICK, treatments=(louder,))), groove) == now
    assert key_of(asked, apply(kit, e.SetChannel(channel=AIR, level_db=-3.0)), groove) == now
    assert key_of(asked, apply(kit, e.SetTreatments(channel=SNARE, treatments=(louder,))), groove) != now
    assert key_of(asked, apply(kit, sent(SNARE, CRUSH, -9.0)), groove) != now


def test_a_bus_goes_where_the_channel_goes_that_it_was_made_from(small_kit: Kit):
    kit = apply(small_kit, to_output(SNARE, 5))
    kit = apply(apply(kit, e.MakeBus(name="Crush", like=SNARE)), e.MakeBus(name="Air"))
    assert [(bus.id, bus.output) for bus in kit.routing.buses] == [(CRUSH, 5), (AIR, None)]
