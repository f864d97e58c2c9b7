"""Rules of layers, touch, notes and routing give today what they gave when somebody read it over (tests/kept)."""

import dataclasses
import itertools
from pathlib import Path

import numpy as np
import pytest

from drumcore.demo.electronic_kits import ELECTRONIC_KITS, map_of
from drumcore.demo.grooves import demo_grooves
from drumcore.demo.performing import beat, every_pad, strokes
from drumcore.edits import values as e
from drumcore.edits.applying import apply
from drumcore.edits.teaching import teach
from drumcore.findings.of_touch import noticed_of_strikes
from drumcore.formats.map_file import map_to_csv
from drumcore.formats.track_sheet_file import sheet_to_csv, sheet_to_html
from drumcore.kit.json_form import to_parts
from drumcore.kit.lookup import articulation_of, articulations, pieces_of
from drumcore.kit.values import Curve, Family, Kit, Layer, Node, Order, Side, Tracking, Variation, Width
from drumcore.layers.breaks import fits, goodness_of_fit, natural_breaks
from drumcore.layers.dynamics import greatest_fall, layers_at, played_db, playing_of, target_of
from drumcore.layers.orders import order_sequence
from drumcore.layers.splits import even_split, split_by_loudness, spread_db
from drumcore.layers.unevenness import doubled, unanswered
from drumcore.notes.by_sound import USUAL, Sounding, near, propose
from drumcore.notes.maps import compare, customised, saved_map
from drumcore.notes.names import note_name
from drumcore.notes.sheet import sheet
from drumcore.notes.silences import sentence, stopped_by_themselves
from drumcore.notes.standard import filed_on, standard_notes
from drumcore.notes.teaching import Message, Taught, lessons, without_note
from drumcore.playing.counting import struck_by
from drumcore.playing.fitting import fit_stroke
from drumcore.playing.varying import turns
from drumcore.refusals import Refusal
from drumcore.routing.by_plan import route
from drumcore.routing.from_kit import plan_of_kit
from drumcore.routing.hosts import HOSTS, host_outputs
from drumcore.routing.pan import pan_matrix, side_matrix
from drumcore.routing.reaching import silent_pieces
from drumcore.routing.shipped import PLANS
from drumcore.routing.together import moved
from drumcore.routing.track_sheet import track_sheet
from drumcore.touch.bending import heard_from, lifted_to_reach, never_falling
from drumcore.touch.fitting import Strokes, fit
from drumcore.touch.gating import CrossTalkRule, Gate
from drumcore.touch.in_force import of_everything, of_input, of_piece, of_stroke
from drumcore.touch.misbehaving import PadStrike, judged, learn
from drumcore.touch.pedal import Move, calibrate, openness_table
from drumcore.touch.reaching import Struck, reach
from drumcore.touch.tracking import harder
from tests.core.clean_session import kit_of
from tests.core.test_every_rule import PLANTED
from tests.kept import figure, same_as_kept, short

SNARE = "snare/centre"


@pytest.fixture(scope="module")
def clean(clean_recordings: Path) -> Kit:
    return kit_of(clean_recordings)


def said(value: object) -> str:
    if hasattr(value, "model_dump"):
        return short(value.model_dump(mode="json"))
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        return short(dataclasses.asdict(value))
    return short([*value] if isinstance(value, tuple | list) else value)


def test_layers_are_made_and_played_as_they_were(clean: Kit):
    lines = []
    rng = np.random.default_rng(8)
    for size in (1, 2, 3, 7, 24, 60):
        levels = [float(round(v, 2)) for v in np.cumsum(rng.gamma(0.6, 2.5, size)) - 60.0]
        lines.append(f"# {levels if size < 8 else size}: fits {said(fits(levels))}")
        for count in (None, 1, 2, 4):
            if count is None or count <= size:
                groups = natural_breaks(levels, count)
                lines.append(f"  {count}: {[len(g) for g in groups]} {figure(goodness_of_fit(levels, groups))}")
        lines.append(f"  split {split_by_loudness(levels)} even {even_split(size)} spread {figure(spread_db(levels))}")
    for order, count in itertools.product(Order, (1, 2, 3, 5)):
        lines.append(f"{order.value} {count}: {said(order_sequence(order, count, 'quay'))}")
    for variation in (Variation(level_db=1.0), Variation(tune_cents=20.0, brightness=1.0)):
        lines += [f"varies: {said(turn)}" for turn in turns(variation, "quay")[:8]]
    for rule, plant in PLANTED.items():
        stroke = articulation_of(plant(clean), SNARE)[1]
        if rule != "gap" and stroke == articulation_of(clean, SNARE)[1]:
            continue
        target = target_of(stroke)
        lines.append(f"# {rule}: target {target and said(target.points)} {target and figure(target.lowest_centre)}")
        for tracking in (Tracking(level=1.0), Tracking(level=0.4), Tracking(level=1.2, whole=True)):
            played = played_db(stroke, tracking)
            at = [played[v - 1] for v in (1, 5, 20, 40, 41, 60, 80, 100, 126, 127)]
            lines.append(f"  {said(at)} fall {said(greatest_fall(played))}")
            lines.append(f"  at {[layers_at(stroke, tracking, v) for v in (1, 30, 50, 70, 100, 127)]}")
            lines += [
                f"  {one.low}–{one.high}: {said(one.gains_db)} {said(one.powers)}"
                for one in playing_of(stroke, tracking)
            ]
        lines.append(f"  unanswered {said(unanswered(stroke.layers))} doubled {said(doubled(stroke.layers))}")
    same_as_kept("layers", lines)


def curve(*nodes: tuple[int, int]) -> Curve:
    return Curve(nodes=tuple(Node(x=x, y=y) for x, y in nodes))


def heard(messages: list[Message]) -> list[PadStrike]:
    return [PadStrike(time_ms=m.time_ms, note=m.number, velocity=m.value) for m in messages if m.kind == "note"]


def test_touch_is_learned_and_fitted_as_it_was(rich: Kit):
    lines = []
    for tracking in (Tracking(), Tracking(level=0.7, brightness=2.0, attack_soft_ms=12.0, attack_hard_ms=1.0)):
        lines += [f"harder: {key} {short(value)}" for key, value in harder(tracking).model_dump(mode="json").items()]
    for soft, medium, hard in (
        ((20, 24, 30), (50, 55, 62), (90, 100, 110)), ((20, 20, 40), (20, 45, 52), (38, 50, 60)),
        ((1, 1, 2, 3), (4, 90, 91, 92), (126, 127, 127)), ((60, 61, 99), (62, 63, 64), (10, 20, 30)),
    ):  # fmt: skip
        asked = Strokes(soft=soft, medium=medium, hard=hard)
        for count, centre in ((0, None), (1, 9.6), (2, 30.0), (4, 9.6), (5, 100.0), (12, 3.2)):
            layers = [Layer(low=low, high=high, takes=()) for low, high in even_split(count)] if count else []
            found = fit(asked, layers, centre)
            nodes = " ".join(f"{node.x},{node.y},{node.bend:g}" for node in found.curve.nodes)
            lines.append(
                f"fit {soft} {count}: {nodes} | {found.soft} {found.medium} {found.hard} {found.reached} {found.note}"
            )
        for everything in (True, False):
            lines.append(f"  {said(fit_stroke(rich, SNARE, asked, everything=everything, input_id='d'))}")
    for bent in (
        curve((0, 0), (127, 60)),
        curve((0, 0), (60, 127), (90, 40), (127, 100)),
        curve((0, 0), (50, 0), (127, 127)),
    ):
        lines += [
            f"bent: {said(lifted_to_reach(bent, 90))} | {said(never_falling(bent))} | {said(heard_from(bent, 20))}"
        ]
    for kit in ELECTRONIC_KITS:
        for seed in (1, 2):
            played = heard(beat(kit, seed=seed))
            found = learn(played)
            lines += [f"learned {kit.name} {seed}: {said(found)}", f"  {said(judged(played, found.cross_talk, 15.0))}"]
            lines.append(f"  pads: {said(learn(heard(every_pad(kit, seed))))}")
            for strength in ("soft", "hard"):
                lines.append(
                    f"  {strength}: {[(m.number, m.value) for m in strokes(kit, 'Snare', strength, seed=seed)][:12]}"
                )
    for moves in (((4, 0), (4, 127)), ((4, 120), (4, 10)), ((1, 60), (4, 3), (4, 99), (1, 70)), ((4, 50), (4, 60)), ()):
        try:
            lines.append(
                f"pedal {moves}: {said(calibrate([Move(time_ms=n, controller=c, value=v) for n, (c, v) in enumerate(moves)]))}"
            )
        except Refusal as refusal:
            lines.append(f"pedal {moves}: {refusal}")
    lines += [f"openness {a} {b}: {said(openness_table(a, b))}" for a, b in ((0, 127), (10, 90), (100, 20))]
    piece, stroke = articulation_of(rich, SNARE)
    lines += [
        said(of_everything(rich)),
        said(of_input(rich, "d")),
        said(of_input(rich, "x")),
        said(of_piece(piece)),
        said(of_stroke(piece, stroke)),
    ]
    strikes = [
        Struck(articulation=SNARE, velocity=v, input=i, times=t)
        for v, i, t in ((1, "d", 2), (60, "x", 3), (127, "d", 40))
    ]
    lines += [said(reach(rich, strikes, stroke)), *(said(one) for one in noticed_of_strikes(rich, SNARE, strikes)[1])]
    same_as_kept("touch", lines)


def test_notes_are_placed_taught_and_told_as_they_were(clean: Kit, rich: Kit):
    lines = [f"{note}: {note_name(note)} {note_name(note, 4)} {said(filed_on(note))}" for note in range(0, 128)]
    for kit in (clean, rich):
        lines += [said(one) for one in sheet(kit.notes)]
        for piece, stroke in articulations(kit):
            lines.append(f"{stroke.id}: {standard_notes(piece, stroke.name)}")
        for piece in pieces_of(kit):
            lines.append(f"{piece.id} {sentence(piece)} {said(tuple(stopped_by_themselves(piece).items()))}")
            for family in Family:
                other = piece.but(family=family, name=family.value)
                lines.append(
                    f"  {family.value}: {[standard_notes(other, s) for s in ('centre', 'edge', 'bell', 'choke', 'open')]}"
                )
        maps = [None, saved_map(kit, "Own"), *(map_of(electronic) for electronic in ELECTRONIC_KITS)]
        for saved in maps:
            lines += [f"# {saved and saved.name}", said(compare(kit, saved)), f"  customised {[*customised(kit)]}"]
            after = apply(kit, e.ApplyMap(map=saved))
            lines += [f"  {said(one)}" for one in after.notes.placed]
            lines.append(f"  without: {without_note(after)}")
        lines += map_to_csv(saved_map(kit, "Own")).splitlines()
        lines.append(f"lessons: {said([lesson.model_dump(mode='json') for lesson in lessons(kit)])}")
        taught: list[Taught] = []
        for number, (_, stroke) in enumerate(articulations(kit)):
            played = [
                Message(time_ms=0, kind="controller", number=4, value=9 * number % 128),
                Message(time_ms=10, kind="note", number=40 + number // 2, value=30 + number),
                Message(time_ms=14, kind="note", number=44, value=31),
                Message(time_ms=700, kind="note", number=61, value=9),
            ]
            found = teach(kit, stroke.id, played, taught, "d")
            lines.append(f"taught {stroke.id}: {said(found)}")
            taught += [found.taught] if found.taught else []
    strikes = [
        (80, 200),
        (90, 250),
        (300, 800),
        (500, 700),
        (2000, 320),
        (9000, 90),
        (8000, 2500),
        (6000, 300),
        (220, 1500),
        (250, 900),
        (1000, 100),
    ]
    sounds = [Sounding(float(hz), float(ms)) for hz, ms in strikes]
    lines += [f"near: {near(sounds[:n], taken)}" for n in (1, 4, 11) for taken in ((), (36, 38, 42))]
    lines += [f"{one}: {one.said()}" for one in sounds]
    lines += [
        f"usually {place.note}: {place.sounding.hz:g} Hz, {place.sounding.ms:g} ms, spared {place.spared:g}"
        for place in USUAL
    ]
    bare = rich.but(notes=rich.notes.but(placed=()), pieces=tuple(p.but(family=Family.OTHER) for p in rich.pieces))
    lines += [said(one) for one in propose(bare, [p.id for p in bare.pieces])]
    same_as_kept("notes", lines)


def test_routing_is_planned_and_panned_as_it_was(clean: Kit, rich: Kit):
    lines = []
    for host in HOSTS.values():
        lines += [f"# {host.name}", *(said(output) for output in host_outputs(host))]
    for kit in (clean, rich):
        for host, shipped in itertools.product(HOSTS.values(), PLANS):
            there = apply(kit, e.SetHost(host=host))
            found = route(there, shipped.plan)
            lines.append(f"# {host.name}, {shipped.name}")
            lines += [
                f"  {said(value)}" if not isinstance(value, tuple) else f"  {[*map(said, value)]}"
                for key, value in vars(found).items()
                if key not in {"kit", "routing"}
            ]
            routed = apply(there, e.ApplyPlan(plan=shipped.plan))
            lines += [
                f"  {c.name} {c.output} {c.side.value} {c.bus}"
                for c in (*routed.routing.channels, *routed.routing.buses)
            ]
            lines.append(f"  back: {said(plan_of_kit(routed))}")
            lines.append(f"  silent: {silent_pieces(routed)}")
        lines += sheet_to_csv(track_sheet(kit)).splitlines()
        lines.append(said({"html": sheet_to_html(track_sheet(kit))}))
    for source, target in itertools.product(Width, Width):
        lines += [
            f"pan {source.value} {target.value} {at}: {said(pan_matrix(source, target, at))}"
            for at in (-1.0, -0.3, 0.0, 0.5, 1.0)
        ]
    lines += [
        f"side {source.value} {side.value}: {said(side_matrix(source, side))}"
        for source, side in itertools.product(Width, Side)
    ]
    lines += [
        f"moved {by}: {moved({'a': 0.0, 'b': -12.0, 'c': -120.0, 'd': 20.0}, by)}" for by in (3.0, -6.0, 30.0, -200.0)
    ]
    lines.append(f"parts: {[*to_parts(rich)[1]][:3]}")
    same_as_kept("routing", lines)


def test_grooves_are_counted_as_they_were(rich: Kit):
    lines = []
    for groove in demo_grooves():
        lines.append(f"# {groove.name}: {groove.bpm} {groove.beats_a_bar} {groove.length_s} {groove.strikes}")
        counted = struck_by(rich, groove.events)
        lines += [f"  {said(one)}" for one in counted[:40]]
    same_as_kept("counted", lines)


def strikes_at_random(seed: int) -> list[PadStrike]:
    """Pads played by hand, of which some shake others and some bounce."""
    rng = np.random.default_rng([37, seed])
    pads = [36, 38, 42, 46, 49][: int(rng.integers(2, 6))]
    shaken = {pad: int(rng.choice(pads)) for pad in pads if rng.random() < 0.5}
    bouncing = {pad for pad in pads if rng.random() < 0.3}
    found, time = [], 0.0
    for _ in range(int(rng.integers(10, 70))):
        time += float(rng.choice([8.0, 60.0, 250.0])) + float(rng.uniform(0.0, 20.0))
        # Half of the players never mean the pads that others shake.
        meant = [pad for pad in pads if seed % 2 or pad not in shaken.values()] or pads
        pad, velocity = int(rng.choice(meant)), int(rng.integers(8, 128))
        found.append(PadStrike(time_ms=round(time, 1), note=pad, velocity=velocity))
        other = shaken.get(pad)
        if other is not None and rng.random() < 0.8:
            late, soft = float(rng.uniform(-3.0, 14.0)), max(1, int(velocity * rng.uniform(0.05, 0.3)))
            found.append(PadStrike(time_ms=round(max(0.0, time + late), 1), note=other, velocity=soft))
        if pad in bouncing and rng.random() < 0.5:
            found.append(
                PadStrike(
                    time_ms=round(time + float(rng.uniform(5.0, 30.0)), 1), note=pad, velocity=max(1, velocity // 2)
                )
            )
    return sorted(found, key=lambda strike: strike.time_ms)


def test_pads_at_random_are_learned_as_they_were():
    lines = []
    for seed in range(120):
        played = strikes_at_random(seed)
        found = learn(played)
        gone = [(one.place, one.why, one.note, one.after) for one in found.removed]
        lines += [f"{seed}: {said(found.cross_talk)} doubles {found.doubles_ms} removed {said(gone)}"]
        gate = Gate([CrossTalkRule(after=36, note=38, up_to=40, within_s=0.012)], doubles_s=0.015)
        lines.append(
            f"  gate {''.join((gate.judge(s.note, s.velocity, s.time_ms / 1000.0) or '-')[0] for s in played)}"
        )
    same_as_kept("pads", lines)


def test_curves_at_random_are_fitted_and_bent_as_they_were():
    lines = []
    for seed in range(60):
        rng = np.random.default_rng([43, seed])
        low, high = sorted(int(v) for v in rng.integers(1, 128, 2))
        groups = [
            tuple(int(v) for v in np.clip(rng.normal(low + (high - low) * at, 6.0, int(rng.integers(2, 9))), 1, 127))
            for at in (0.1, 0.5, 0.9)
        ]
        layers = [Layer(low=a, high=b, takes=()) for a, b in even_split(int(rng.integers(1, 20)))]
        try:
            found = fit(
                Strokes(soft=groups[0], medium=groups[1], hard=groups[2]), layers, float(rng.uniform(1.0, 40.0))
            )
            nodes = " ".join(f"{node.x},{node.y}" for node in found.curve.nodes)
            lines.append(f"{seed}: {nodes} | {found.soft} {found.medium} {found.hard} {found.reached} {found.note}")
        except Refusal as refusal:
            lines.append(f"{seed}: {refusal}")
        xs = sorted({0, 127, *(int(x) for x in rng.integers(1, 127, 3))})
        bent = Curve(
            nodes=tuple(Node(x=x, y=int(rng.integers(0, 128)), bend=round(float(rng.uniform(-1, 1)), 2)) for x in xs)
        )
        for change, at in ((lifted_to_reach, int(rng.integers(1, 128))), (heard_from, int(rng.integers(1, 128)))):
            try:
                lines.append(f"  {change.__name__} {at}: {said(change(bent, at))}")
            except ValueError as error:
                lines.append(f"  {change.__name__} {at}: {str(error)[:60]}")
        lines.append(f"  never falling: {said(never_falling(bent))}")
        moves = [
            Move(time_ms=float(n), controller=int(rng.choice([1, 4])), value=int(rng.integers(0, 128)))
            for n in range(int(rng.integers(1, 6)))
        ]
        try:
            lines.append(f"  pedal: {said(calibrate(moves))}")
        except Refusal as refusal:
            lines.append(f"  pedal: {refusal}")
    same_as_kept("curves", lines)
