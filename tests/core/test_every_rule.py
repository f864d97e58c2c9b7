"""Every rule: its fault is planted alone in a kit that has none, found, fixed, and leaves nothing new."""

import inspect
import re
from collections.abc import Callable
from pathlib import Path

import pytest

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings import rules
from drumcore.findings.inputs import SentNotes
from drumcore.findings.rules import RULES, notice
from drumcore.findings.side_effects import foreseen
from drumcore.findings.touch import noticed_of_strikes
from drumcore.kit.lookup import articulation_of, channel_of, with_articulation, with_piece, with_take
from drumcore.kit.values import Articulation, Channel, Kit, Origin, Recording, Take, Width
from drumcore.routing.hosts import SKIFF
from drumcore.simulated.electronic_kits import DECKHAND_5, map_of
from drumcore.touch.layer_reach import StrikeCount
from tests.changes import edit_of
from tests.core.clean_session import kit_of

SNARE, KICK, CRASH = "snare/centre", "kick/centre", "crash/edge"
Plant = Callable[[Kit], Kit]


@pytest.fixture(scope="module")
def clean(clean_recordings: Path) -> Kit:
    return kit_of(clean_recordings)


def does(*edits) -> Plant:
    def plant(kit: Kit) -> Kit:
        for edit in edits:
            kit = apply(kit, edit_of(edit) if isinstance(edit, dict) else edit)
        return kit

    return plant


def in_articulation(change: Callable[[Articulation], Articulation], articulation: str = SNARE) -> Plant:
    return lambda kit: with_articulation(kit, articulation, change)


def in_take(change: Callable[[Take], Take], number: int = 5, articulation: str = SNARE) -> Plant:
    return lambda kit: with_take(kit, articulation, articulation_of(kit, articulation)[1].takes[number].id, change)


def of_mic(change: Callable[[Recording], Recording], mic: str = "snare-top", articulation: str = SNARE) -> Plant:
    def changed(take: Take) -> Take:
        return take.but(recordings=tuple(change(r) if r.mic == mic else r for r in take.recordings))

    return in_take(changed, articulation=articulation)


def has(**fields) -> Callable[[Recording], Recording]:
    return lambda recording: recording.but(**fields)


def copied(content: str = "") -> Plant:
    """The snare's fifth take is as its second is, in every microphone; at another level where its content is another."""

    def plant(articulation: Articulation) -> Articulation:
        heard = {r.mic: r for r in articulation.takes[1].recordings}
        later = articulation.takes[4]
        same = tuple(
            r.but(content=content + r.mic if content else heard[r.mic].content, grain=heard[r.mic].grain)
            for r in later.recordings
        )
        return articulation.but(
            takes=tuple(later.but(recordings=same) if t is later else t for t in articulation.takes)
        )

    return in_articulation(plant)


def levels(*of_layers_db: float) -> Plant:
    """The snare with layers that measure so, each take a little beside its layer."""

    def plant(articulation: Articulation) -> Articulation:
        wanted = {
            take: level + 0.1 * n
            for layer, level in zip(articulation.layers, of_layers_db, strict=True)
            for n, take in enumerate(layer.takes)
        }
        return articulation.but(takes=tuple(t.but(level_db=wanted[t.id]) for t in articulation.takes))

    return in_articulation(plant)


def spread(articulation: Articulation) -> Articulation:
    low, high = articulation.layers[1].takes[:2], articulation.layers[1].takes[2:]
    return articulation.but(
        takes=tuple(t.but(level_db=t.level_db + 2.0 * ((t.id in high) - (t.id in low))) for t in articulation.takes)
    )


def turned(kit: Kit) -> Kit:
    """Every comparison of the overheads with a close microphone the other way round."""

    def overheads(take: Take) -> Take:
        return take.but(recordings=tuple(_opposed(r) if r.mic == "overheads" else r for r in take.recordings))

    def within(articulation: Articulation) -> Articulation:
        return articulation.but(takes=tuple(overheads(t) for t in articulation.takes))

    for piece in kit.pieces:
        for articulation in piece.articulations if piece.own_mics else ():
            kit = with_articulation(kit, articulation.id, within)
    return kit


def _opposed(recording: Recording) -> Recording:
    return recording.but(against=tuple(a.but(polarity=-a.polarity) for a in recording.against))


def only_one_take(articulation: Articulation) -> Articulation:
    first, second, third = articulation.layers
    return articulation.but(layers=(first, second.but(takes=second.takes[:1]), third))


def curve(*nodes: tuple[int, int], **target) -> dict:
    return {"kind": "set_curve", "curve": {"nodes": [{"x": x, "y": y} for x, y in nodes]}, **target}


def _with_feeds(kit: Kit, changed) -> Kit:
    return kit.but(routing=kit.routing.but(feeds=tuple(changed(feed) for feed in kit.routing.feeds)))


PAD = {"input": "pads", "input_name": "Pads"}

PLANTED: dict[str, Plant] = {
    "polarity": turned,
    "microphone_out_of_time": of_mic(lambda r: r.but(start_ms=r.start_ms + 40.0), "snare-bottom"),
    "missing_microphone": in_take(lambda t: t.but(recordings=tuple(r for r in t.recordings if r.mic != "overheads"))),
    "wrong_width": of_mic(has(width=Width.MONO), "overheads"),
    "clipped": of_mic(has(clipped_runs=3)),
    "silent": of_mic(has(peak_dbfs=-90.0), "snare-bottom"),
    "late_start": in_take(lambda t: t.but(start_ms=t.start_ms + 30.0)),
    "same_content": copied(),
    "all_but_identical": copied(content="another"),
    "label_names_other_note": of_mic(has(label_note=61)),
    "other_rate": of_mic(has(rate_hz=44_100)),
    "lossy": of_mic(has(lossy="MP3")),
    "dc_offset": of_mic(has(dc_offset=0.05)),
    "odd_length": of_mic(lambda r: r.but(length_ms=r.start_ms + 20.0), "overheads"),
    "gap": does(e.MoveBoundary(articulation=SNARE, layer=0, velocity=20, linked=False)),
    "overlap": lambda kit: apply(
        kit,
        e.MoveBoundary(
            articulation=SNARE, layer=0, velocity=articulation_of(kit, SNARE)[1].layers[0].high + 6, linked=False
        ),
    ),
    "empty_layer": in_articulation(
        lambda a: a.but(takes=tuple(t.but(enabled=t.id not in a.layers[1].takes) for t in a.takes))
    ),
    "stands_out": in_take(lambda t: t.but(level_db=t.level_db + 5.0)),
    "spread": in_articulation(spread),
    "narrow_layer": lambda kit: apply(
        kit,
        e.MoveBoundary(articulation=SNARE, layer=0, velocity=articulation_of(kit, SNARE)[1].layers[1].high - 2),
    ),
    "harder_plays_softer": does(e.SetLayer(articulation=SNARE, layer=2, gain_db=-24.0)),
    "not_rising": levels(-40.0, -18.0, -18.1),
    "single_take": in_articulation(only_one_take),
    "quieter_than_what_it_replaced": lambda kit: with_piece(
        kit,
        "snare",
        lambda p: p.but(
            level_db=-9.0, origin=Origin(kind="kits", id="k", name="Quay", instead_of="Tin", as_loud_at_db=0.0)
        ),
    ),
    "reaches_no_output": does(e.SetPiece(piece="snare", level_db=-120.0)),
    "beyond_the_host": lambda kit: kit.but(
        routing=kit.routing.but(plan=None, channels=(kit.routing.channels[0].but(output=60), *kit.routing.channels[1:]))
    ),
    "stereo_into_one_side": does(
        e.SetHost(host=SKIFF),
        e.SetChannel(channel="overheads-channel", output=9),
    ),
    "one_sided": does(
        e.ClearOutputs(), e.SetHost(host=SKIFF), e.SetChannel(channel="snare-channel", output=2, side="left")
    ),
    "one_output": does(e.ClearOutputs()),
    "not_as_planned": does(e.SetChannel(channel="snare-channel", output=14)),
    "output_named_otherwise": lambda kit: does(
        e.SetChannel(channel="rack-tom-channel", output=channel_of(kit, "snare-channel").output),
        e.SetChannel(channel="snare-channel", output=14),
    )(kit.but(routing=kit.routing.but(plan=None))),
    "bus_without_feeders": does(e.MakeBus(name="Crush")),
    "sent_into_silence": does(
        e.MakeBus(name="Crush"),
        e.SetSend(channel="snare-channel", bus="crush-bus", level_db=0.0),
        e.SetChannel(channel="crush-bus", muted=True),
    ),
    "empty_channel": lambda kit: kit.but(
        routing=kit.routing.but(channels=(*kit.routing.channels, Channel(id="spare", name="Spare")))
    ),
    "own_feeds_off": lambda kit: _with_feeds(kit, lambda f: f.but(on=False) if f.mic == "rack-tom" else f),
    "fed_into_another": lambda kit: _with_feeds(
        kit,
        lambda f: f.but(channel={"kick": "rack-tom-channel", "rack-tom": "kick-channel"}.get(f.mic, f.channel)),
    ),
    "unused_microphone": lambda kit: kit.but(
        routing=kit.routing.but(feeds=tuple(f for f in kit.routing.feeds if f.mic != "snare-bottom"))
    ),
    "without_note": does(e.RemoveFromNote(articulation="rack-tom/centre", note=48)),
    "open_hat_rings_on": does(
        e.SetChoke(articulation="hats/closed", stopped="hats/open", fade_ms=None),
        e.SetChoke(articulation="hats/pedal", stopped="hats/open", fade_ms=None),
    ),
    "hand_stops_nothing": does(e.SetChoke(articulation="crash/choke", stopped=CRASH, fade_ms=None)),
    "openness_gap": lambda kit: kit.but(
        notes=kit.notes.but(placed=tuple(p for p in kit.notes.placed if (p.note, p.open_to) != (46, 47)))
    ),
    "standard_note_empty": does(e.MoveNote(note=36, to=90)),
    "stacked_note": does(e.PutOnNote(articulation=KICK, note=38, when_occupied="stack")),
    "everything_ignored": does(curve((0, 0), (127, 0), target=SNARE)),
    "layer_never_reached": does(curve((0, 0), (127, 30), target=SNARE)),
    "curve_falls": does(curve((0, 0), (60, 127), (127, 100), target=SNARE)),
    "curve_is_deaf": does(curve((0, 0), (60, 0), (127, 127), **PAD)),
    "dynamics_doubled": does(e.SetTracking(piece="snare", whole=True)),
    "hardly_louder": levels(-20.0, -19.0, -18.0),
    "follows_the_whole_range": lambda kit: does(e.SetTracking(piece="snare", whole=True))(
        levels(-20.0, -19.0, -18.0)(kit)
    ),
}


LISTED = {"strikes_never_reach", "unread", "damaged"}
"""Rules of what was played, of a session and of files: they look at something else than a kit, and are tested below."""


def test_a_clean_kit_finds_nothing_and_every_rule_is_planted(clean: Kit):
    assert notice(clean) == []
    source = "".join(inspect.getsource(inspect.getmodule(rule)) for rule in RULES) + inspect.getsource(rules)
    assert set(re.findall(r'rule="(\w+)"', source)) == set(PLANTED) | LISTED


@pytest.mark.parametrize("rule", PLANTED)
def test_a_planted_fault_is_found_alone_and_its_fixes_leave_nothing_new(clean: Kit, rule: str):
    kit = PLANTED[rule](clean)
    found = notice(kit)
    assert {f.rule for f in found} == {rule}, [(f.rule, f.title) for f in found]
    before = {f.key for f in found}
    for finding in found:
        labels = [m.label for m in finding.fixes]
        assert labels and len(set(labels)) == len(labels), "at least it can be ignored, and no button stands twice"
        told = {each.label: each.brings for each in foreseen(kit, finding.key, notice(kit))}
        for fix in finding.fixes:
            left = {f.key for f in notice(apply(kit, fix.edit)) if not f.ignored}
            assert finding.key not in left, f"{fix.label} does not fix"
            # What follows ";" says what it brings; so does what is foreseen.
            assert (left <= before) == ("; " not in fix.label) == (not told.get(fix.label)), f"{fix.label}: {left}"


def test_a_layer_out_of_reach_through_the_curve_of_one_input_is_found_and_fixed(clean: Kit):
    kit = does(curve((0, 0), (127, 70), **PAD))(clean)
    found = notice(kit)
    assert {f.rule for f in found} == {"layer_never_reached"} and all("from Pads" in f.title for f in found)
    assert notice(apply(kit, found[0].fixes[0].edit)) == []


def test_strikes_that_never_reach_a_layer_say_so_and_the_lifted_curve_reaches_it(clean: Kit):
    strikes = [StrikeCount(articulation=SNARE, velocity=20 + n % 40, input="pads", times=1) for n in range(60)]
    _, (finding,) = noticed_of_strikes(clean, SNARE, strikes)
    assert finding.rule == "strikes_never_reach" and "59" in finding.sentence
    for fix in finding.fixes:
        assert noticed_of_strikes(apply(clean, fix.edit), SNARE, strikes)[1] == (), fix.label


def test_notes_an_input_sends_that_play_nothing_are_named_and_filled(clean: Kit):
    """Deckhand 5's snare sends 40 on its edge; the clean kit's snare has no rimshot, so its main articulation takes it."""
    entries = map_of(DECKHAND_5).entries
    sent = SentNotes(name="Deckhand 5", notes=tuple({entry.note for entry in entries}), meant=entries)
    silent = set(sent.notes) - {placed.note for placed in clean.notes.placed}
    assert 40 in silent
    (finding,) = [f for f in notice(clean, sent=sent) if f.rule == "input_note_empty"]
    assert "40" in finding.sentence and "Deckhand 5" in finding.title
    after = apply(clean, finding.fixes[0].edit)
    assert "snare/centre" in {placed.articulation for placed in after.notes.placed if placed.note == 40}
    assert not any(f.rule == "input_note_empty" and "40" in f.sentence for f in notice(after, sent=sent))
    assert notice(clean, sent=SentNotes(name="Box", notes=(36,))) == []


def test_a_recording_whose_file_is_damaged_is_found_wherever_it_plays(clean: Kit):
    take = articulation_of(clean, SNARE)[1].takes[5]
    content = take.recordings[0].content
    (finding,) = notice(clean, damaged=frozenset({content}))
    assert (finding.rule, finding.level.value, finding.where.take) == ("damaged", "wrong", take.id)
    assert take.recordings[0].path in finding.sentence and "Add the file again" in finding.sentence
    without = apply(clean, finding.fixes[0].edit)
    assert not [f for f in notice(without, damaged=frozenset({content})) if f.rule == "damaged"]
