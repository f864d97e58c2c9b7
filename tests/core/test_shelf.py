"""The library's rules: what is found by which words, versions compared, pieces kept by themselves, previews."""

from datetime import UTC, datetime

import numpy as np
import pytest
import soundfile

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.grooves.values import Groove, Strike
from drumcore.kit import values as v
from drumcore.kit.invariants import faults
from drumcore.listening.integrated_loudness import Integrated
from drumcore.listening.previews import LOUDNESS_LUFS, climb, depends_on, of_kit, write_preview
from drumcore.shelf.entries import Entry
from drumcore.shelf.kept_piece import KeptPiece, kept_piece
from drumcore.shelf.search import Sort, find
from drumcore.spaces.hall import Hall
from drumcore.treatments.eq import Eq


def entry(name: str, day: int = 1, **fields) -> Entry:
    changed = datetime(2031, 5, day, tzinfo=UTC)
    return Entry(kind="kits", id=name.lower(), name=name, changed=changed, **fields)


THERE = [
    entry("Quay street", 3, tags=("dry", "touring"), words=("snare", "Room")),
    entry("Kitchen", 5, tags=("dry",), description="Bread tin and a cheese grater.", words=("percussion",)),
    entry("Café Matinée", 4, words=("snare", "brushes")),
    entry("Snare tin", 1, tags=("loud",)),
]


@pytest.mark.parametrize(
    ("asked", "tags", "sort", "names"),
    [
        ("", (), Sort.CHANGED, ["Kitchen", "Café Matinée", "Quay street", "Snare tin"]),
        ("", (), Sort.NAME, ["Café Matinée", "Kitchen", "Quay street", "Snare tin"]),
        ("snare", (), Sort.CHANGED, ["Snare tin", "Café Matinée", "Quay street"]),
        ("matinee cafe", (), Sort.CHANGED, ["Café Matinée"]),
        ("TIN", (), Sort.CHANGED, ["Snare tin", "Kitchen"]),
        ("in", (), Sort.CHANGED, []),
        ("ro", ("dry",), Sort.CHANGED, ["Quay street"]),
        ("", ("dry", "touring"), Sort.CHANGED, ["Quay street"]),
        ("dry", (), Sort.NAME, ["Kitchen", "Quay street"]),
    ],
)
def test_every_word_begins_a_word_of_what_is_found_and_names_come_first(asked, tags, sort, names):
    assert [found.name for found in find(THERE, asked, tags, sort).entries] == names


def test_a_stretch_is_given_of_all_that_were_counted_with_the_tags_that_would_narrow_them():
    found = find(THERE, sort=Sort.NAME, start=1, count=2)
    assert (found.total, [x.name for x in found.entries]) == (4, ["Kitchen", "Quay street"])
    assert [(t.tag, t.count) for t in found.tags] == [("dry", 2), ("loud", 1), ("touring", 1)]


def test_a_kept_piece_is_a_kit_of_it_alone_with_all_that_is_its_own(small_kit):
    def made(kit: v.Kit, *edits) -> v.Kit:
        for edit in edits:
            kit = apply(kit, edit)
        return kit

    kit = made(
        small_kit,
        e.MakeBus(name="Hall"),
        e.SetSpace(bus="hall-bus", space=Hall()),
        e.SetSend(channel="snare-channel", bus="hall-bus", level_db=-9.0),
        e.MakeBus(name="Unused"),
        e.SetTreatment(channel="snare-channel", treatment=Eq()),
        e.SetChannel(channel="snare-channel", output=3),
        e.SetChannel(channel="room-channel", level_db=-2.0),
    )
    kept = kept_piece(kit, "snare")
    alone = kept.kit
    assert (alone.name, kept.of, [p.id for p in alone.pieces]) == ("Snare", "Small", ["snare"])
    assert {mic.name for mic in alone.mics} == {"Snare mic", "Overheads", "Room"}
    channels = {channel.id: channel for channel in alone.routing.channels}
    assert channels["snare-channel"].treatments == (Eq(),) and channels["snare-channel"].output is None
    assert "kick-channel" not in channels and [bus.name for bus in alone.routing.buses] == ["Hall"]
    assert {p.note for p in alone.notes.placed} == {38} and not list(faults(alone))
    assert KeptPiece.model_validate(kept.model_dump(mode="json")) == kept
    older = kept.model_dump(mode="json")
    older["kit"] |= {"format": 11}
    assert KeptPiece.model_validate(older) == kept


def groove_of(*notes: int) -> Groove:
    strikes = tuple(Strike(time_s=0.25 * i, note=note, velocity=90) for i, note in enumerate(notes))
    return Groove(name="March", bpm=120.0, beats_a_bar=4.0, length_s=0.25 * len(notes), events=strikes)


def test_a_preview_plays_the_first_bars_or_climbs_where_nothing_of_them_sounds(small_kit):
    phrase = of_kit(small_kit, groove_of(*[36, 38] * 40))
    # Four bars of four beats at 120 are eight seconds, thirty-two strikes; then it rings.
    assert len(phrase.events) == 32 and phrase.length_s == 9.5
    silent = of_kit(small_kit, groove_of(1, 2))
    assert silent == climb(small_kit) and len(silent.events) > 8


def test_previews_are_equally_loud_and_their_name_follows_what_they_sound_of(small_kit, sounds, tmp_path):
    quiet = apply(small_kit, e.SetChannel(channel="main", level_db=-18.0))
    groove = groove_of(*[36, 38] * 8)
    heard = []
    for name, kit in (("a", small_kit), ("b", quiet)):
        made = write_preview(of_kit(kit, groove), sounds, tmp_path / f"{name}.flac")
        sound, rate = soundfile.read(tmp_path / f"{name}.flac")
        meter = Integrated(rate, 2)
        meter.add(sound.T)
        heard.append(meter.loudness_db)
        assert np.abs(sound).max() <= 0.9 and len(sound) == round(made.seconds * rate)
        assert max(made.outline) == pytest.approx(np.abs(sound).max(), abs=1e-3) and len(made.outline) == 160
        # The last quarter of a second fades: a little softer than it was brought to, never louder.
        assert made.loudness_db == pytest.approx(LOUDNESS_LUFS, abs=0.01)
    assert heard == pytest.approx([LOUDNESS_LUFS] * 2, abs=0.1)
    named = [depends_on(of_kit(kit, groove)) for kit in (small_kit, quiet, small_kit.but(description="Dry."))]
    assert named[0] == named[2] != named[1]
