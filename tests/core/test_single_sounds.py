"""Single sounds: pieces named by their files, on the notes they were dropped on, or placed by how they sound."""

from pathlib import Path

import numpy as np
import pytest
import soundfile

from drumcore.describing.edits import said_of
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.edits.placement_by_sound import made_and_placed
from drumcore.edits.single_sounds import held_to_the_notes, notes_beside
from drumcore.grooves.values import Strike
from drumcore.kit.values import Kit, MicKind
from drumcore.notes.by_sound import SoundCharacter, near
from drumcore.notes.standard import filed_on
from drumcore.playing.compiler import compile_kit
from drumcore.playing.sounds import FileSounds
from drumcore.recordings.guidance import Guidance
from drumcore.recordings.session import SessionReading, read_folder
from drumcore.refusals import OccupiedNote, Refusal
from tests.conftest import whole

RATE = 48000


def sound(path: Path, hz: float, ms: float, sides: int = 1) -> None:
    """A struck thing that rings at a height for about so long."""
    at = np.arange(round(RATE * (ms + 150) / 1000)) / RATE
    ringing = 0.5 * np.sin(2 * np.pi * hz * at) * np.exp(-at * 6900 / ms)
    quiet = np.zeros(480)
    samples = np.concatenate([quiet, ringing])
    path.parent.mkdir(parents=True, exist_ok=True)
    soundfile.write(path, np.tile(samples[:, None], sides), RATE, subtype="PCM_24")


@pytest.fixture
def kitchen(tmp_path: Path) -> Path:
    folder = tmp_path / "Kitchen"
    for name, hz, ms in (
        ("oven door", 90, 250),
        ("pan_low", 220, 1800),
        ("Pan 2", 280, 1500),
        ("egg timer", 8200, 200),
        ("lid", 6800, 1500),
    ):
        sound(folder / f"{name}.wav", hz, ms)
    sound(folder / "shelf" / "Pan 2.wav", 330, 1400, sides=2)
    return folder


def alone(folder: Path) -> SessionReading:
    return read_folder(folder, guidance=Guidance(each_alone=True))


def dropped(reading: SessionReading, note: int, *names: str, when=None) -> e.AddSounds:
    by_name = {piece.name: piece for piece in reading.pieces}
    pieces = tuple(by_name[name] for name in names)
    return e.AddSounds(mics=reading.mics, pieces=pieces, note=note, when_occupied=when)


def test_every_file_is_a_piece_named_by_it_whatever_its_name_says(kitchen: Path):
    reading = alone(kitchen)
    # One was recorded by two sides; the second of a name says that it is.
    assert sorted(p.name for p in reading.pieces) == ["Egg timer", "Lid", "Oven door", "Pan 2", "Pan 2 2", "Pan low"]
    assert not reading.unread and not reading.questions and reading.single_hits
    # By their names nothing is said of them: without being told so none is read.
    plain = read_folder(kitchen)
    assert not plain.pieces and len(plain.nameless) == 6 and plain.single_hits


def test_sounds_on_neighbouring_notes_are_filed_by_the_standard_map_and_heard_there(
    small_kit: Kit, kitchen: Path, sounds
):
    reading = alone(kitchen)
    edit = dropped(reading, 41, "Oven door", "Egg timer", "Lid", "Pan low")
    assert said_of(small_kit, edit) == "Oven door on 41 (F1) and 3 more next to it"
    after = apply(small_kit, edit)
    taken = {p.note for p in small_kit.notes.placed}
    added = after.pieces[len(small_kit.pieces) :]
    on = {p.articulation: p.note for p in after.notes.placed}
    notes = [on[piece.articulations[0].id] for piece in added]
    assert [p.name for p in added] == ["Oven door", "Egg timer", "Lid", "Pan low"]
    assert notes == [n for n in range(41, 60) if n not in taken][:4] and notes[0] == 41
    for piece, note in zip(added, notes, strict=True):
        assert (piece.family, piece.articulations[0].name) == (filed_on(note) or ("other", "hit"))
    # What was there is as it was, and every newcomer sounds alone on its note, out of a channel of its own.
    assert after.pieces[: len(small_kit.pieces)] == small_kit.pieces
    places = {r.content: kitchen / r.path for p in added for t in p.articulations[0].takes for r in t.recordings}
    heard = whole(
        compile_kit(after), [Strike(time_s=0.0, note=41, velocity=127)], FileSounds(lambda c: places[c]), length_s=0.5
    )
    spectrum = np.abs(np.fft.rfft(heard.mean(axis=0)[4800:14400]))
    assert np.fft.rfftfreq(9600, 1 / RATE)[int(np.argmax(spectrum))] == pytest.approx(90, abs=10)
    assert [c.name for c in after.routing.channels if c.name in {p.name for p in added}] == [p.name for p in added]


def test_a_note_that_is_taken_is_asked_about_and_the_same_sound_may_come_twice(small_kit: Kit, kitchen: Path):
    reading = alone(kitchen)
    with pytest.raises(OccupiedNote, match="C1 plays Kick · centre; say whether to stack or replace"):
        apply(small_kit, dropped(reading, 36, "Oven door"))
    both = apply(small_kit, dropped(reading, 36, "Oven door", when="stack"))
    over = apply(small_kit, dropped(reading, 36, "Oven door", when="take_over"))
    on = lambda kit: [p.articulation for p in kit.notes.placed if p.note == 36]  # noqa: E731
    assert on(both) == ["kick/centre", "oven-door/centre"] and on(over) == ["oven-door/centre"]
    twice = apply(over, dropped(reading, 60, "Oven door"))
    assert [p.name for p in twice.pieces[-2:]] == ["Oven door", "Oven door 2"]
    # What was heard by one microphone of no particular name goes on being so; two sides are another.
    assert len(twice.mics) == len(over.mics) == len(small_kit.mics) + 1
    wide = apply(twice, dropped(reading, 61, "Pan 2 2"))
    assert len({mic.id for mic in wide.mics}) == len(wide.mics) == len(twice.mics) + 1
    assert wide.mics[-1].kind is MicKind.CLOSE and wide.mics[-1].width == "stereo"


def test_more_sounds_than_free_notes_are_refused_whole(small_kit: Kit, kitchen: Path):
    reading = alone(kitchen)
    piece = reading.pieces[0]
    many = e.AddSounds(mics=reading.mics, pieces=(piece,) * 128, note=60)
    with pytest.raises(Refusal, match=r"128 sounds do not fit: [0-9]+ notes are free"):
        apply(small_kit, many)
    with pytest.raises(Refusal, match="129 sounds are more than there are notes"):
        held_to_the_notes(129)
    assert len(apply(small_kit, many.but(pieces=(piece,) * 40)).notes.placed) == len(small_kit.notes.placed) + 40


def test_low_and_long_stands_near_the_toms_and_bright_and_short_near_the_hats():
    low, high = SoundCharacter(210, 1600), SoundCharacter(8000, 240)
    thump, crack, wash = SoundCharacter(85, 200), SoundCharacter(2400, 330), SoundCharacter(6000, 2900)
    assert near([low, high, thump, crack, wash]) == [43, 42, 36, 38, 49]
    assert (low.said(), high.said()) == ("low and long", "bright and short")
    # Toms from high to low, as their heights go, whatever the order they came in.
    toms = [SoundCharacter(hz, 1300) for hz in (190, 260, 230)]
    found = near(toms)
    assert found[1] > found[2] > found[0] and set(found) <= {50, 48, 47, 45, 43, 41}
    # What is taken is left alone, and nothing stands twice; beyond the map there is no place.
    many = near([SoundCharacter(1000, 300)] * 40, taken={36, 38})
    placed = [note for note in many if note is not None]
    assert len(set(placed)) == len(placed) == 23 and not {36, 38} & set(placed)


def test_as_many_sounds_go_on_free_notes_as_there_are_upwards_first_and_one_more_is_refused(small_kit: Kit):
    taken = {p.note for p in small_kit.notes.placed}
    free = [note for note in range(128) if note not in taken]
    last = free[-1]
    assert notes_beside(small_kit, last, 1) == [last]
    assert notes_beside(small_kit, 127, 3)[:2] == [127, free[-2]]
    assert notes_beside(small_kit, free[0], len(free)) == free
    assert sorted(notes_beside(small_kit, last, len(free))) == free
    with pytest.raises(Refusal, match=f"^{len(free) + 1} sounds do not fit: {len(free)} notes are free"):
        notes_beside(small_kit, last, len(free) + 1)


def test_a_folder_of_household_sounds_is_made_and_placed_as_one_edit_that_says_so(kitchen: Path):
    reading = alone(kitchen)
    kit = Kit(id="kitchen", name="Kitchen")
    edit, proposed = made_and_placed(kit, e.BuildPieces(mics=reading.mics, pieces=reading.pieces))
    where = {each.name: each.note for each in proposed}
    assert (where["Oven door"], where["Egg timer"]) == (36, 42)
    assert {where["Pan low"], where["Pan 2"], where["Pan 2 2"]} <= {50, 48, 47, 45, 43, 41}
    assert where["Pan 2 2"] > where["Pan 2"] > where["Pan low"]
    said = next(each.said for each in proposed if each.name == "Pan low")
    assert (said, where["Pan low"]) == ("low and long, like the floor tom", 43)
    after = apply(kit, edit)
    assert said_of(kit, edit) == "6 pieces made, 6 placed by sound"
    assert {p.name: (p.family, p.articulations[0].name) for p in after.pieces}["Egg timer"] == ("hats", "closed")
    assert {p.note for p in after.notes.placed} == set(where.values())
