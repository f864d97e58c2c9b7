"""Whatever is done to a kit, it stays a kit: it is kept and read back, it plays what its layers say, its findings fix."""

from typing import get_args

from hypothesis import given, settings

from drumcore.edits.apply import MEANINGS, apply
from drumcore.edits.values import OneEdit
from drumcore.findings.rules import notice
from drumcore.kit.json_form import from_json, to_json
from drumcore.kit.lookup import all_articulations, pieces_of
from drumcore.playing.compiler import compile_kit
from drumcore.playing.striker import Striker
from tests.changes import messages, one_edit, several

whatever = settings(max_examples=150)


def test_every_edit_there_is_is_drawn():
    drawn: set[str] = set()

    @settings(max_examples=1500, database=None)
    @given(one_edit)
    def draw(edit):
        drawn.add(edit.kind)

    draw()
    every = {kind.model_fields["kind"].default for kind in get_args(get_args(OneEdit)[0])}
    assert drawn == every
    assert {kind.model_fields["kind"].default for kind in MEANINGS} == every | {"several"}


@whatever
@given(several)
def test_a_changed_kit_is_read_back_as_it_was_and_points_at_nothing_that_is_gone(after, changes):
    kit = after(changes)
    assert from_json(to_json(kit)) == kit
    articulations = {articulation.id for _, articulation in all_articulations(kit)}
    pieces = {piece.id for piece in pieces_of(kit)}
    assert {placed.articulation for placed in kit.notes.placed} <= articulations
    assert {
        choke.articulation for _, articulation in all_articulations(kit) for choke in articulation.chokes
    } <= articulations
    assert {feed.piece for feed in kit.routing.feeds} <= pieces
    mics = {mic.id for mic in kit.mics}
    assert {feed.mic for feed in kit.routing.feeds} <= mics
    assert {feed.channel for feed in kit.routing.feeds} <= {channel.id for channel in kit.routing.channels}
    assert len(articulations) == sum(len(piece.articulations) for piece in pieces_of(kit)) and len(pieces) == len(
        kit.pieces
    )
    for _, articulation in all_articulations(kit):
        assert all(take.recordings and {r.mic for r in take.recordings} <= mics for take in articulation.takes)
        placed = [take for layer in articulation.layers for take in layer.takes]
        assert len(placed) == len(set(placed)) and set(placed) <= {take.id for take in articulation.takes}
        assert all(1 <= layer.low <= layer.high <= 127 for layer in articulation.layers)


@whatever
@given(several, messages)
def test_what_sounds_is_what_the_layers_and_curves_say(after, changes, played):
    kit = after(changes)
    enabled = {
        (articulation.id, take.id)
        for _, articulation in all_articulations(kit)
        for take in articulation.takes
        if take.enabled
    }
    striker = Striker(compile_kit(kit))
    at = 0.0
    for kind, source, note, value, since_ms in played:
        at += since_ms / 1000
        if kind != "note":
            striker.pedal(value, at, source)
            continue
        found = striker.strike(note, max(1, value), at, source)
        assert bool(found) != bool(striker.why)
        placed = {p.articulation for p in kit.notes.placed if p.note == note}
        for sounding in found:
            layer = sounding.articulation.layers[sounding.layer]
            assert layer.low <= sounding.velocity <= layer.high
            assert (sounding.articulation.id, sounding.take.id) in enabled
            assert sounding.articulation.id in placed and sounding.gain >= 0.0


@whatever
@given(several)
def test_every_fix_that_is_offered_can_be_made_and_fixes(after, changes):
    """What was noticed is noticed no more, or at fewer places, or is less: a layer of 30 dB divided spreads over 15."""
    kit = after(changes)
    compile_kit(kit)
    found = [f for f in notice(kit) if not f.ignored]
    for finding in found:
        for fix in finding.fixes:
            left = {f.key: f for f in notice(apply(kit, fix.edit)) if not f.ignored}
            still = left.get(finding.key)
            fewer = sum(f.rule == finding.rule for f in left.values()) < sum(f.rule == finding.rule for f in found)
            assert not still or fewer or still.title != finding.title, f"{finding.rule}: {fix.label}"
