"""Pieces taken from another kit, sounds dropped on notes and recordings read anew end as they did (tests/kept)."""

import itertools
from collections.abc import Iterator
from pathlib import Path

import pytest

from drumcore.edits import values as e
from drumcore.edits.applying import apply
from drumcore.edits.differing import differences
from drumcore.edits.of_taking import Entering, OnNote
from drumcore.edits.placing_by_sound import made_and_placed
from drumcore.edits.saying import said_of
from drumcore.edits.taking_said import (
    compared,
    consequences,
    mics_coming,
    places_for,
    strokes_coming,
    strokes_lost,
    treatments_coming,
    tried,
    tried_one_by_one,
    undone,
)
from drumcore.kit.values import Family, Kit, Mic, MicKind, Origin, Width
from drumcore.refusals import Refusal
from drumcore.shelf.kept_piece import kept_piece
from tests.core.clean_session import kit_of
from tests.kept import same_as_kept, short, some, told


@pytest.fixture(scope="module")
def clean(clean_recordings: Path) -> Kit:
    return kit_of(clean_recordings).but(name="Lantern")


def outcome(before: Kit, edit: e.Edit) -> Iterator[str]:
    yield f"# {said_of(before, edit)}"
    try:
        after = apply(before, edit)
    except Refusal as refusal:
        yield f"  refused: {refusal}"
        return
    yield f"  told: {' | '.join(differences(before, after))}"
    yield from some((f"    {line}" for line in told(before.model_dump(mode="json"), after.model_dump(mode="json"))), 24)


ASKED: list[dict[str, object]] = [
    {},
    {"strokes": ()},
    {"strokes": ("hats/closed", "hats/pedal", "snare/centre", "crash/choke")},
    {"treatment": False, "touch": False},
    {"balance": True, "gain_db": 3.0},
    {"gain_db": -2.5, "rest_to_main": True},
    {"notes": (OnNote(stroke="snare/centre", note=36), OnNote(stroke="hats/open", note=90))},
    {"notes": ()},
    {"origin": Origin(kind="kits", id="lantern", name="Lantern", version=4), "apart_db": 2.0},
    {"mics": (Entering(mic="overheads", taken=False),)},
    {"mics": (Entering(mic="overheads", channel="room-channel"), Entering(mic="snare-bottom", own=True))},
    {"mics": (Entering(mic="overheads", joins="room"), Entering(mic="hats", joins="hat-mic"))},
    {"mics": (Entering(mic="nobody"), Entering(mic="overheads", joins="nobody"))},
    {"mics": (Entering(mic="snare-top", taken=False), Entering(mic="hats", channel="nobody"))},
]


def test_pieces_are_taken_as_they_were(rich: Kit, clean: Kit):
    lines: list[str] = []
    theirs = clean
    for edit in (
        e.SetTracking(piece="snare", brightness=2.0),
        e.MakeBus(name="Air"),
        e.MakeBus(name="Cellar"),
        e.SetSend(channel="snare-channel", bus="air-bus", level_db=-6.0),
        e.SetSend(channel="snare-channel", bus="cellar-bus", level_db=-6.0),
        e.SetChannel(channel="snare-channel", level_db=-5.0, pan=0.3),
    ):
        theirs = apply(theirs, edit)
    beside_ours: list[dict[str, str]] = [
        {},
        {"instead_of": "snare"},
        {"instead_of": "hats"},
        {"together_with": "snare"},
    ]
    for (number, asked), beside in itertools.product(enumerate(ASKED), beside_ours):
        piece = ("snare", "hats", "crash")[number % 3]
        edit = e.TakePiece(alone=kept_piece(theirs, piece).kit, of="Lantern", **beside, **asked)
        lines.append(f"# {said_of(rich, edit)}: {short({key: str(value) for key, value in asked.items()})}")
        try:
            trial = tried(rich, edit)
        except Refusal as refusal:
            lines.append(f"  refused: {refusal}")
            continue
        lines += [f"  {'!' if one.warns else '-'} {one.said}" for one in consequences(trial)]
        lines.append(f"  strokes: {' | '.join(short(one.model_dump(mode='json')) for one in strokes_coming(trial))}")
        lines.append(f"  heard by: {' | '.join(short(one.model_dump(mode='json')) for one in mics_coming(trial))}")
        lines.append(f"  lost: {[s.id for s in strokes_lost(trial)]}, treated: {treatments_coming(edit)}")
        changed = told(rich.model_dump(mode="json"), trial.after.model_dump(mode="json"))
        lines += some((f"    {line}" for line in changed), 20)
    levels = {"snare": -20.0, "kick": -12.34, "hats": None}
    for as_loud, beside in itertools.product((True, False), ("kick", "snare", "hats", "")):
        edit = e.TakePiece(alone=kept_piece(theirs, "crash").kit, instead_of=beside)
        found = compared(
            rich, edit, lambda kit, piece: levels.get(piece, -30.0) if kit is rich else -31.26, as_loud=as_loud
        )
        lines.append(
            f"compared {as_loud} {beside}: {found.edit.gain_db} {found.edit.apart_db} {found.theirs_db} {found.its_db}"
        )
    same_as_kept("taken", lines)


def test_several_are_taken_as_they_were(rich: Kit, clean: Kit):
    lines: list[str] = []
    newcomers = list(clean.pieces)
    lines.append(f"places: {[*places_for(rich, newcomers)]}")
    for places in ([*places_for(rich, newcomers)], [""] * len(newcomers), ["kick", "snare", "", "", ""]):
        several = e.TakePieces(
            taken=tuple(
                e.TakePiece(alone=kept_piece(clean, piece.id).kit, of="Lantern", instead_of=place)
                for piece, place in zip(newcomers, places, strict=True)
            )
        )
        trials = tried_one_by_one(rich, several)
        for trial in trials:
            lines += [f"  {one.said}" for one in consequences(trial, by_itself=False)]
        lines += [f"  {undone(trials).said}", *outcome(rich, several)]
    same_as_kept("several", lines)


def test_sounds_are_dropped_and_recordings_read_anew_as_they_were(rich: Kit, clean: Kit):
    lines: list[str] = []
    one = clean.pieces[0]
    single = one.but(
        id="drop",
        name="Tin",
        family=Family.OTHER,
        articulations=(one.articulations[0].but(takes=one.articulations[0].takes[:1], layers=()),),
    )
    for note, count, occupied in ((60, 1, None), (38, 1, None), (38, 2, "stack"), (49, 1, "take_over"), (127, 3, None)):
        pieces = tuple(single.but(id=f"drop-{n}", name=f"Tin {n}") for n in range(count))
        lines += outcome(rich, e.AddSounds(mics=clean.mics, pieces=pieces, note=note, when_occupied=occupied))
    built = apply(Kit(id="new", name="New"), e.BuildPieces(mics=clean.mics, pieces=clean.pieces))
    lines += outcome(Kit(id="new", name="New"), e.BuildPieces(mics=clean.mics, pieces=clean.pieces))
    lines += outcome(Kit(id="new", name="New"), e.BuildPieces(mics=(), pieces=()))
    # Read anew: a stroke that now belongs to another piece, some takes fewer, some takes more, another microphone.
    snare, hats = clean.pieces[1], clean.pieces[2]
    half = snare.articulations[0].but(takes=snare.articulations[0].takes[:8], layers=snare.articulations[0].layers[:2])
    fewer = snare.but(id="side-drum", name="Side drum", articulations=(half,))
    lines += outcome(built, e.BuildPieces(mics=clean.mics, pieces=(fewer, hats.but(name="Hats"))))
    lines += outcome(
        built,
        e.BuildPieces(
            mics=(*clean.mics, Mic(id="far", name="Far", kind=MicKind.ROOM, width=Width.MONO)), pieces=(snare,)
        ),
    )
    begun = apply(
        Kit(id="new", name="New"), e.BuildPieces(mics=clean.mics, pieces=(fewer.but(id="snare", name="Snare"),))
    )
    for target, strokes in (
        ("snare", snare.articulations),
        ("snare", hats.articulations),
        ("nobody", snare.articulations),
        ("snare", (half,)),
    ):
        lines += outcome(begun, e.AddToPiece(piece=target, mics=clean.mics, articulations=strokes))
    unnamed = [
        piece.but(family=Family.OTHER, name=f"Thing {n}", id=f"thing-{n}") for n, piece in enumerate(clean.pieces)
    ]
    edit, proposed = made_and_placed(Kit(id="new", name="New"), e.BuildPieces(mics=clean.mics, pieces=tuple(unnamed)))
    lines += [short(each.model_dump(mode="json")) for each in proposed] + [*outcome(Kit(id="new", name="New"), edit)]
    same_as_kept("dropped", lines)
