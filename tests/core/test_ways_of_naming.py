"""How many takes are read right of names written by many hands, counted; and asked about where nothing tells."""

from collections import defaultdict
from pathlib import Path

import pytest

from drumcore.edits.apply import apply
from drumcore.edits.values import BuildPieces
from drumcore.kit.values import Kit
from drumcore.recordings.files import Measured
from drumcore.recordings.guidance import NO_GUIDANCE, Guidance, Ruling
from drumcore.recordings.measurement import Measurements
from drumcore.recordings.mics_by_sound import FileTiming, microphones_apart
from drumcore.recordings.session import SessionReading, read_session
from tests.core.ways_of_naming import TUNED, UNSEEN, Meant, Way, files, sounds_like


def read(way: Way, guidance: Guidance = NO_GUIDANCE) -> tuple[SessionReading, dict[str, Meant]]:
    meant = dict(files(way))
    measured = []
    for number, (path, what) in enumerate(meant.items()):
        level, start, centroid, length, frames = sounds_like(what, way)
        sizes = Measurements(level, level + 6, start, length, -90.0, 0, 0.0, centroid, "0" * 96, "")
        measured.append(Measured(path, f"{number:040x}", 48_000, frames, 1, sizes))
    return read_session(measured, [], lambda recording: Path("/nowhere"), guidance), meant


def score(way: Way) -> tuple[int, int, str]:
    """How many takes of a way are read right, of how many, and what was made of it.

    A take is right when its files, and no others, are a take of a piece of the family that was struck, of that articulation,
    in the layer of its strength, each file at a microphone of its own; and when pieces that are two were read as two.
    """
    reading, meant = read(way)
    takes: dict[tuple[object, ...], set[str]] = defaultdict(set)
    for path, what in meant.items():
        takes[what.struck, what.strength, what.repeat].add(path)
    found: dict[frozenset[str], tuple[str, str, str, int]] = {}
    for piece in reading.pieces:
        for articulation in piece.articulations:
            layer_of = {take: number for number, layer in enumerate(articulation.layers) for take in layer.takes}
            for take in articulation.takes:
                paths = frozenset(r.path for r in take.recordings)
                found[paths] = (piece.name, piece.family.value, articulation.name, layer_of[take.id])
    named: dict[object, set[str]] = defaultdict(set)
    right = 0
    for (struck, strength, _), paths in takes.items():
        there = found.get(frozenset(paths))
        if there is None:
            continue
        name, family, articulation, layer = there
        named[struck.family, struck.piece].add(name)
        ours = {n for key, names in named.items() for n in names if key == (struck.family, struck.piece)}
        others = {n for key, names in named.items() for n in names if key != (struck.family, struck.piece)}
        apart = len(ours) == 1 and name not in others
        right += family == struck.family and articulation == struck.articulation and layer == strength and apart
    said = ", ".join(
        f"{p.name}·{a.name} {[len(y.takes) for y in a.layers]}" for p in reading.pieces for a in p.articulations
    )
    return right, len(takes), f"{said} | mics {[m.name for m in reading.mics]} | unread {len(reading.unread)}"


def share(ways: tuple[Way, ...]) -> float:
    counted = [score(way)[:2] for way in ways]
    return sum(right for right, _ in counted) / sum(of for _, of in counted)


def test_there_are_enough_of_them():
    assert len(TUNED) >= 30 and len(UNSEEN) >= 30 and len({w.name for w in TUNED + UNSEEN}) == len(TUNED) + len(UNSEEN)


@pytest.mark.parametrize(("ways", "wanted"), [(TUNED, 0.9), (UNSEEN, 0.8)], ids=["tuned", "unseen"])
def test_most_takes_are_read_right(ways: tuple[Way, ...], wanted: float):
    right = share(ways)
    print(f"{100 * right:.1f} % of takes read right")
    assert right >= wanted


def test_a_mark_of_microphones_is_a_column_and_can_be_overruled():
    way = next(way for way in TUNED if way.name == "microphones by letters")
    reading, _ = read(way)
    (group,) = reading.groups
    assert [c.meaning for c in group.columns] == ["piece", "mic", "strength", "repeat"]
    assert group.columns[1].reason == "begin together and end together" and {m.name for m in reading.mics} == {
        "Microphone A",
        "Microphone B",
    }
    said = Guidance(rulings=(Ruling(group=group.key, column=1, meaning="repeat"),))
    overruled, _ = read(way, said)
    column = overruled.groups[0].columns[1]
    assert (column.meaning, column.reason) == ("repeat", "you said so")
    assert [m.name for m in overruled.mics] == ["Microphone"]
    # What is said of another column of such names leaves the mark as it is.
    other = Guidance(rulings=(Ruling(group=group.key, column=3, meaning="ignored"),))
    kept, _ = read(way, other)
    assert {m.name for m in kept.mics} == {"Microphone A", "Microphone B"}
    assert kept.groups[0].columns[3].ruling == "ignored"


def test_short_words_for_microphones_keep_their_meaning():
    """“OH” and “RM” end together as unknown marks would, and are overheads and a room all the same."""
    articulations = next(way for way in TUNED if way.name == "microphones by letters").articulations
    for path in ("{m}/{p}_{v}_{r}.wav", "{p}_{v}_{r}_{m}.wav"):
        reading, _ = read(Way("", path, articulations, mics=("in", "oh", "rm")))
        assert sorted(m.kind.value for m in reading.mics)[-2:] == ["overhead", "room"], path
        assert {len(t.recordings) for p in reading.pieces for a in p.articulations for t in a.takes} == {3}


@pytest.mark.parametrize(
    ("name", "piece", "mic"),
    [
        ("T2_a{v}.wav", "Tom 2", "Microphone"),
        ("Snare/t{v}_v1.wav", "Snare", "Microphone"),
        ("t{v} snare.wav", "Snare", "Microphone"),
        ("tom top {v}.wav", "Tom", "Tom top"),
        ("tom upper {v}.wav", "Tom", "Tom top"),
        ("upper tom {v}.wav", "High tom", "Microphone"),
        ("hi tom {v}.wav", "High tom", "Microphone"),
    ],
)
def test_words_mean_what_stands_beside_them(name: str, piece: str, mic: str):
    reading = read_sounds({name.format(v=v): (-20.0 - v, 900.0) for v in (1, 2, 3)})
    assert [p.name for p in reading.pieces] == [piece] and [m.name for m in reading.mics] == [mic]


def test_files_all_of_one_length_are_not_taken_for_microphones():
    """Padded to one length, takes end together too: then letters count takes, as they do."""
    paths = [f"kick_{mark}_{v}.wav" for mark in "ab" for v in (1, 2, 3)]
    assert microphones_apart(paths, {path: FileTiming(48_000, 5.0) for path in paths}) == {}
    assert microphones_apart(paths, {path: FileTiming(40_000 + int(path[-5]), 5.0) for path in paths}).keys() == set(
        paths
    )
    late = {path: FileTiming(40_000 + int(path[-5]), 5.0 + 40.0 * ("_b_" in path)) for path in paths}
    assert microphones_apart(paths, late) == {}


def named(
    words: tuple[str, ...], centroids: tuple[float, ...], levels: tuple[float, ...]
) -> dict[str, tuple[float, ...]]:
    """Files of a tom named by words nobody knows, with a brightness and a level a word."""
    return {
        f"tom {word} {r}.wav": (levels[k] + 0.2 * r, centroids[k] * (1 + 0.01 * r))
        for k, word in enumerate(words)
        for r in (1, 2, 3)
    }


def read_sounds(files_: dict[str, tuple[float, ...]], guidance: Guidance = NO_GUIDANCE) -> SessionReading:
    measured = [
        Measured(path, f"{k:040x}", 48_000, 20_000 + k, 1, Measurements(level, level + 6, 5.0, 400.0, -90.0, 0, 0.0, centroid, "0" * 96, ""))
        for k, (path, (level, centroid)) in enumerate(files_.items())
    ]  # fmt: skip
    return read_session(measured, [], lambda recording: Path("/nowhere"), guidance)


def test_what_nothing_tells_apart_is_read_by_its_sound_and_asked_about():
    words = ("walnut", "larch")
    unlike = read_sounds(named(words, (300.0, 520.0), (-20.0, -20.0)))
    assert sorted(p.name for p in unlike.pieces) == ["Tom Larch", "Tom Walnut"]
    assert [q.guess for q in unlike.questions] == ["piece"] and "sound unlike" in unlike.questions[0].sentence
    alike = read_sounds(named(words, (300.0, 310.0), (-20.0, -20.0)))
    assert [p.name for p in alike.pieces] == ["Tom"] and [q.guess for q in alike.questions] == ["repeat"]
    assert alike.sure < 0.6 and "“larch” and “walnut” of Tom" in alike.questions[0].sentence
    rising = read_sounds(named(words, (300.0, 310.0), (-30.0, -12.0)))
    assert [q.guess for q in rising.questions] == ["strength"]
    assert [len(x.takes) for x in rising.pieces[0].articulations[0].layers] == [3, 3]
    # The answer settles it: nothing is asked twice.
    (question,) = alike.questions
    said = Guidance(rulings=(Ruling(group=question.group, column=question.column, meaning="piece"),))
    answered = read_sounds(named(words, (300.0, 310.0), (-20.0, -20.0)), said)
    assert answered.questions == () and answered.sure > 0.6 and len(answered.pieces) == 2


def test_a_correction_goes_with_other_kinds_of_names_that_say_the_same():
    files_ = {f"{p} zork {v} {r}.wav": (v * 6.0 - 30, 900.0) for p in ("kick",) for v in (1, 2, 3) for r in (1, 2)}
    files_ |= {f"snare rim zork {v} {r}.wav": (v * 6.0 - 30, 900.0) for v in (1, 2, 3) for r in (1, 2)}
    reading = read_sounds(files_)
    first, second = reading.groups
    column = next(c for c in first.columns if c.text == "zork")
    (there,) = column.elsewhere
    assert there[0] == second.key and second.columns[there[1]].text == "zork"
    said = Guidance(rulings=(Ruling(group=first.key, column=first.columns.index(column), meaning="mic"),))
    ruled = read_sounds(files_, said)
    shown = next(c for g in ruled.groups for c in g.columns if c.ruling == "mic")
    assert shown.elsewhere == (there,), "what was said here still fits there"


SINGLES = {
    "Kick": [36], "Snare": [38], "Snare Rimshot": [40], "Sidestick": [37], "HH Closed": [42], "HH Open": [46],
    "HH Pedal": [44], "Hi Tom": [48], "Mid Tom": [47], "Floor Tom": [43], "Crash 1": [49], "Crash 2": [57], "Ride": [51],
    "Ride Bell": [53], "Splash": [55], "China": [52], "Cowbell": [56], "Tambourine": [54], "Clap": [39], "Shaker": [70],
}  # fmt: skip
OTHERWISE = {
    "BD": [36], "SD": [38], "SD_xstick": [37], "closed hat": [42], "open hat": [46], "foot hat": [44], "tom1": [48],
    "tom2": [47], "tom3": [43], "crashL": [49], "crashR": [57], "ride cym": [51], "ride cym bell": [53],
    "splash cymbal": [55], "china cymbal": [52], "cowbell": [56], "tamb": [54], "claps": [39],
}  # fmt: skip


@pytest.mark.parametrize("wanted", [SINGLES, OTHERWISE], ids=["words", "abbreviations"])
def test_single_hits_of_a_whole_kit_play_right_on_the_standard_map(wanted: dict[str, list[int]]):
    reading = read_sounds({f"{name}.wav": (-20.0 - k % 3, 900.0) for k, name in enumerate(wanted)})
    assert reading.questions == () and reading.unread == ()
    kit = apply(Kit(id="k", name="K"), BuildPieces(mics=reading.mics, pieces=reading.pieces))
    plays: dict[str, list[int]] = defaultdict(list)
    for piece in kit.pieces:
        for articulation in piece.articulations:
            (take,) = articulation.takes
            name = take.recordings[0].path.removesuffix(".wav")
            # Note 46 also follows the pedal through the hats; what counts is where an articulation stands open.
            plays[name] += [p.note for p in kit.notes.placed if p.articulation == articulation.id and p.open_to == 127]
    assert plays == wanted
