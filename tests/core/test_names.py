"""Reading sessions laid out in the ways recordists lay them out."""

from pathlib import Path

import pytest

from drumcore.kit.values import Family, Hand, MicKind
from drumcore.recordings.session import SessionReading, read_folder
from drumcore.recordings.tokens import tokens_of
from tests.conftest import strike_sound, write_sound


def laid_out(reading: SessionReading) -> dict[str, list[list[str]]]:
    """{"Snare · centre": [takes of a layer as their first file names, softest layer first]}."""
    return {
        f"{piece.name} · {articulation.name}": [
            [Path(next(t for t in articulation.takes if t.id == i).recordings[0].path).stem for i in layer.takes]
            for layer in articulation.layers
        ]
        for piece in reading.pieces
        for articulation in piece.articulations
    }


def levels(layers: int, step: float = 8.0) -> list[float]:
    return [-step * (layers - 1 - i) for i in range(layers)]


def test_folders_by_microphone_with_strength_before_repeat(session_of):
    files = {
        f"{mic}/kick_{s:02d}_{r}.wav": level - 12 * (mic == "Room")
        for mic in ("Kick In", "Kick Out", "OH", "Room")
        for s, level in enumerate(levels(4), 1)
        for r in (1, 2, 3)
    }
    reading = read_folder(session_of(files))
    assert [(m.name, m.kind) for m in reading.mics] == [
        ("Kick In", MicKind.CLOSE),
        ("Kick Out", MicKind.CLOSE),
        ("OH", MicKind.OVERHEAD),
        ("Room", MicKind.ROOM),
    ]
    assert laid_out(reading)["Kick · centre"] == [[f"kick_{s:02d}_{r}" for r in (1, 2, 3)] for s in (1, 2, 3, 4)]
    take = reading.pieces[0].articulations[0].takes[0]
    assert [r.path for r in take.recordings] == [f"{m}/kick_01_1.wav" for m in ("Kick In", "Kick Out", "OH", "Room")]
    assert reading.unread == ()


def test_folders_by_piece_with_repeat_before_strength(session_of):
    files = {
        f"{folder}/{prefix}_rr{r}_v{s}_{mic}.wav": level - 10 * (mic != "close")
        for folder, prefix in (("Snare/Rimshot", "snare_rimshot"), ("Toms/Floor Tom", "floor_tom"))
        for r in (1, 2)
        for s, level in enumerate(levels(3), 1)
        for mic in ("close", "overhead", "room")
    }
    reading = read_folder(session_of(files))
    found = laid_out(reading)
    assert found["Snare · rimshot"] == [[f"snare_rimshot_rr{r}_v{s}_close" for r in (1, 2)] for s in (1, 2, 3)]
    assert [p.family for p in reading.pieces] == [Family.SNARE, Family.TOM]
    assert {m.kind for m in reading.mics} == {MicKind.CLOSE, MicKind.OVERHEAD, MicKind.ROOM}
    assert all(len(t.recordings) == 3 for p in reading.pieces for a in p.articulations for t in a.takes)


def test_unmarked_numbers_are_told_apart_by_sound(session_of):
    files = {f"SD-{r}-{s}.wav": level for r in range(1, 5) for s, level in enumerate(levels(4), 1)}
    reading = read_folder(session_of(files))
    assert laid_out(reading)["Snare · centre"] == [[f"SD-{r}-{s}" for r in range(1, 5)] for s in range(1, 5)]
    assert "higher is louder" in reading.reasons[0]


def test_strengths_that_count_down_are_turned_round(session_of):
    files = {f"tom_{s}_{r}.wav": -7.0 * s for s in range(1, 5) for r in (1, 2)}
    found = laid_out(read_folder(session_of(files)))
    assert [layer[0] for layer in found["Tom · centre"]] == ["tom_4_1", "tom_3_1", "tom_2_1", "tom_1_1"]


@pytest.mark.parametrize(
    "words", [("soft", "medium", "hard"), ("pp", "mf", "ff"), ("Quiet", "Normal", "Loud"), ("p", "mp", "f")]
)
def test_words_for_strength(session_of, words):
    files = {
        f"Hi-Hat Closed/HH_closed_{word}_{r}.aiff".replace("aiff", "wav"): level
        for word, level in zip(words, levels(3), strict=True)
        for r in (1, 2, 3)
    }
    found = laid_out(read_folder(session_of(files)))
    assert found["Hats · closed"] == [[f"HH_closed_{word}_{r}" for r in (1, 2, 3)] for word in words]


def test_hand_letters_and_camel_case(session_of):
    files = {
        f"SnareTop_Rimshot{s}{hand}{r}.wav".replace(f"{s}{hand}{r}", f"_{s}_{r}_{hand}"): level
        for s, level in enumerate(levels(3), 1)
        for r in (1, 2)
        for hand in "LR"
    }
    reading = read_folder(session_of(files))
    takes = reading.pieces[0].articulations[0].takes
    assert len(takes) == 12
    assert [t.hand for t in takes[:4]] == [Hand.LEFT, Hand.RIGHT, Hand.LEFT, Hand.RIGHT]
    assert reading.mics[0].name == "Snare top"
    assert [len(layer.takes) for layer in reading.pieces[0].articulations[0].layers] == [4, 4, 4]


def test_no_strength_at_all_makes_layers_from_loudness(session_of):
    order = [2, 0, 1, 2, 1, 0, 0, 2, 1, 1, 2, 0]
    files = {f"Ride/ride_bell_take{n:02d}.wav": levels(3, 12)[step] for n, step in enumerate(order, 1)}
    found = laid_out(read_folder(session_of(files)))["Ride · bell"]
    assert [[order[int(name[-2:]) - 1] for name in layer] for layer in found] == [[0] * 4, [1] * 4, [2] * 4]


def test_numbered_toms_and_stereo_sides_in_names(session_of):
    files = {
        f"Tom{t}_{mic}_v{s}_rr{r}.wav": level - 8 * (mic != "Close")
        for t in (1, 2)
        for mic in ("Close", "OH_L", "OH_R")
        for s, level in enumerate(levels(3), 1)
        for r in (1, 2)
    }
    reading = read_folder(session_of(files))
    assert [p.name for p in reading.pieces] == ["Tom 1", "Tom 2"]
    assert {m.name for m in reading.mics} == {"Close", "OH L", "OH R"}
    assert all(t.hand is None for p in reading.pieces for a in p.articulations for t in a.takes)


def test_one_name_for_mono_and_stereo_pieces_is_two_microphones(session_of):
    import numpy as np

    root = session_of({f"Kick/kick_{s}_{r}.wav": level for s, level in enumerate(levels(3), 1) for r in (1, 2)})
    for strength, level in enumerate(levels(3), 1):
        sides = [strike_sound(level, 90 + strength * 2 + side) for side in (0, 1)]
        write_sound(root / "Crash" / f"crash_{strength}_1.wav", np.stack(sides, axis=1))
    reading = read_folder(root)
    assert [(m.name, m.width) for m in reading.mics] == [("Microphone", "mono"), ("Microphone stereo", "stereo")]
    assert {p.name: p.own_mics for p in reading.pieces} == {"Kick": ("microphone",), "Crash": ("microphone-stereo",)}


def test_what_cannot_be_read_is_listed_and_the_rest_kept(session_of):
    root = session_of({f"Kick/kick_{s}_{r}.wav": level for s, level in enumerate(levels(3), 1) for r in (1, 2)})
    (root / "Kick" / "shopping list.txt").write_text("lamp oil")
    (root / "Kick" / "kick_4_1.wav").write_text("not a sound")
    reading = read_folder(root)
    assert reading.takes == 6
    assert {u.path: u.why.split(";")[0] for u in reading.unread} == {
        "Kick/kick_4_1.wav": "Kick/kick_4_1.wav is not audio that can be read",
        "Kick/shopping list.txt": "Kick/shopping list.txt is not a WAV, AIFF or FLAC file",
    }


def test_abbreviations_written_together(session_of):
    files = {
        f"{articulation}_{word}{r}_{mic}.wav": level - 6 * (mic != "Close")
        for articulation in ("HHC", "HHO", "BD")
        for word, level in zip(("Soft", "Medium", "Hard"), levels(3), strict=True)
        for r in (1, 2)
        for mic in ("Close", "OHL", "OHR")
    }
    reading = read_folder(session_of(files))
    articulations = {
        f"{p.name} · {a.name}": [len(y.takes) for y in a.layers] for p in reading.pieces for a in p.articulations
    }
    assert articulations == {"Kick · centre": [2, 2, 2], "Hats · closed": [2, 2, 2], "Hats · open": [2, 2, 2]}
    assert [m.name for m in reading.mics] == ["Close", "OH L", "OH R"]


def test_tokens_cut_at_separators_cases_and_digits():
    assert [t.text for t in tokens_of("SnareTop_v04-rr2 L")] == ["snare", "top", "v", "04", "rr", "2", "l"]
    assert [(t.text, t.note) for t in tokens_of("cowbell_G#2")] == [("cowbell", None), ("g#2", 56)]


def test_the_demo_session_reads_as_it_was_recorded(demo_sessions):
    reading = read_folder(demo_sessions / "Boathouse No. 4")
    articulations = {
        f"{p.name} · {a.name}": [len(y.takes) for y in a.layers] for p in reading.pieces for a in p.articulations
    }
    assert articulations["Snare · centre"] == [4] * 6
    assert articulations["Snare · rimshot"] == [4, 4, 3, 2]
    assert articulations["Hats · half open"] == [3] * 4
    assert [p.name for p in reading.pieces] == [
        "Kick", "Snare", "Hats", "Rack tom", "Mid tom", "Floor tom", "Crash left", "Crash right", "Ride", "Cowbell",
        "Tambourine",
    ]  # fmt: skip
    assert {Path(u.path).name for u in reading.unread} == {"readme.rtf.wav", "keep this one maybe.wav"}
    own = {p.name: p.own_mics for p in reading.pieces}
    assert own["Kick"] == ("kick-in", "kick-out")
    assert own["Floor tom"] == ("floor-tom",)
    assert own["Crash left"] == ()
