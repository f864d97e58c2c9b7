"""Who is flipped, from comparisons alone: the fewest turns after which most of them agree."""

from collections.abc import Sequence

import pytest

from drumcore.kit.values import (
    Articulation,
    Family,
    Mic,
    MicKind,
    Piece,
    Recording,
    ReferenceComparison,
    Side,
    Take,
    Width,
)
from drumcore.recordings.mic_comparison import ITSELF
from drumcore.recordings.polarity import opposed
from drumcore.recordings.time_alignment import out_of_time

OVERHEADS = Mic(id="oh", name="OH", kind=MicKind.OVERHEAD, width=Width.STEREO)
ROOM = Mic(id="room", name="Room", kind=MicKind.ROOM, width=Width.STEREO)
MICS = [
    *(Mic(id=name, name=name, kind=MicKind.CLOSE, width=Width.MONO) for name in ("kick", "snare", "bottom", "tom")),
    OVERHEADS,
    ROOM,
]
DELAYS = {"oh": 3.0, "room": 9.0, "bottom": 0.4}


def recording(mic: str, name: str, signs: Sequence[int], delay_ms: float | None = None, **fields) -> Recording:
    """`signs` of its sides: 9 stands for the reference itself."""
    at = DELAYS.get(mic, 0.0) if delay_ms is None else delay_ms
    against = tuple(
        ITSELF if s == 9 else ReferenceComparison(delay_ms=at, polarity=s, sure=0.6 if s else 0.0) for s in signs
    )
    return Recording(
        mic=mic,
        path=f"{mic}/{name}.wav",
        content=f"{mic} {name}",
        rate_hz=48000,
        frames=9600,
        width=Width.STEREO if len(signs) == 2 else Width.MONO,
        level_db=-20.0,
        peak_dbfs=-3.0,
        start_ms=10.0,
        length_ms=200.0,
        against=against,
        **fields,
    )


def take(number: int, **signs: Sequence[int]) -> Take:
    heard = tuple(recording(mic, f"{number}", each) for mic, each in signs.items())
    return Take(id=f"t{number}", label=f"{number}", level_db=-20.0, start_ms=10.0, recordings=heard)


def piece(name: str, own: tuple[str, ...], *articulations: Sequence[Take]) -> Piece:
    return Piece(
        id=name,
        name=name.capitalize(),
        family=Family.OTHER,
        own_mics=own,
        articulations=tuple(
            Articulation(id=f"{name}/{n}", name=str(n), takes=tuple(takes), layers=())
            for n, takes in enumerate(articulations)
        ),
    )


def takes(count: int, first: int = 1, **signs: Sequence[int]) -> list[Take]:
    return [take(number, **signs) for number in range(first, first + count)]


def told(*pieces: Piece, mics: Sequence[Mic] = MICS) -> list[tuple]:
    return [(t.mic, t.side.value, t.piece, t.articulation, t.take) for t in opposed(pieces, mics)]


def test_a_shared_microphone_is_turned_rather_than_every_drum():
    kit = [piece(name, (name,), takes(5, **{name: (9,), "oh": (-1, -1)})) for name in ("kick", "snare", "tom")]
    assert told(*kit) == [("oh", "both", None, None, None)]
    inverted = [mic.but(inverted=mic.id == "oh") for mic in MICS]
    assert told(*kit, mics=inverted) == []
    kit[0] = piece("kick", ("kick",), takes(5, kick=(9,), oh=(1, 1)))
    assert told(*kit[:1]) == [] and told(*kit, mics=inverted) == [("kick", "both", None, None, None)]


def test_of_two_alone_with_one_another_the_first_is_believed():
    assert told(piece("snare", ("snare", "bottom"), takes(4, snare=(9,), bottom=(-1,)))) == [
        ("bottom", "both", None, None, None)
    ]


@pytest.mark.parametrize(("side", "signs"), [("left", (-1, 1)), ("right", (1, -1))])
def test_one_side_is_turned_where_the_other_agrees(side: str, signs: tuple[int, int]):
    everywhere = [piece(name, (name,), takes(4, **{name: (9,), "oh": signs})) for name in ("kick", "snare")]
    assert told(*everywhere) == [("oh", side, None, None, None)]
    good = takes(4, 11, snare=(9,), oh=(1, 1))
    one = piece("snare", ("snare",), takes(4, snare=(9,), oh=signs), good)
    others = [piece(name, (name,), takes(4, **{name: (9,), "oh": (1, 1)})) for name in ("kick", "tom")]
    assert told(one, *others) == [("oh", side, "snare", "snare/0", None)]
    whole = piece("snare", ("snare",), takes(4, snare=(9,), oh=signs))
    assert told(whole, *others) == [("oh", side, "snare", None, None)]


@pytest.mark.parametrize(("reference", "found"), [((9, -1), "right"), ((-1, 9), "left")])
def test_of_the_two_sides_of_a_reference_the_one_that_is_opposed_is_turned(reference, found: str):
    others = [piece(name, (name,), takes(4, **{name: (9,), "oh": (1, 1)})) for name in ("kick", "tom")]
    crash = piece("crash", (), takes(4, oh=reference, room=(1, 1)))
    assert told(crash, *others) == [("oh", found, "crash", None, None)]
    # Where the room opposes the reference too, it is the reference's own side.
    itself = piece("crash", (), takes(4, oh=reference, room=(-1, -1)))
    kit = [
        piece(name, (name,), takes(4, **{name: (9,), "oh": (1, 1), "room": (1, 1)}))
        for name in ("kick", "tom", "snare")
    ]
    assert told(itself, *kit)[0] == ("oh", {"right": "left", "left": "right"}[found], "crash", None, None)


def test_a_single_take_is_found_among_four_and_who_of_it_was_turned():
    def one_of(**signs: Sequence[int]) -> list[tuple]:
        usual = takes(3, snare=(9,), bottom=(1,), oh=(1, 1))
        return told(piece("snare", ("snare", "bottom"), [*usual, take(4, **signs)]))

    assert one_of(snare=(9,), bottom=(1,), oh=(1, 1)) == []
    assert one_of(snare=(9,), bottom=(-1,), oh=(1, 1)) == [("bottom", "both", "snare", "snare/0", "t4")]
    assert one_of(snare=(9,), bottom=(1,), oh=(1, -1)) == [("oh", "right", "snare", "snare/0", "t4")]
    assert one_of(snare=(9,), bottom=(1,), oh=(-1, -1)) == [("oh", "both", "snare", "snare/0", "t4")]
    assert one_of(snare=(9,), bottom=(-1,), oh=(-1, -1)) == [("snare", "both", "snare", "snare/0", "t4")]
    assert one_of(snare=(9,), bottom=(0,), oh=(0, 0)) == [], "nothing is said of what was not heard clearly"


def test_a_reference_of_two_sides_says_which_of_them_was_turned():
    def one_of(**signs: Sequence[int]) -> list[tuple]:
        return told(piece("crash", (), [*takes(5, oh=(1, 9), room=(1, 1)), take(6, **signs)]))

    assert one_of(oh=(-1, 9), room=(1, 1)) == [("oh", "left", "crash", "crash/0", "t6")]
    assert one_of(oh=(1, 9), room=(1, -1)) == [("room", "right", "crash", "crash/0", "t6")]


def test_votes_at_odds_and_votes_of_another_delay_say_nothing():
    half = [*takes(4, snare=(9,), oh=(1, 1)), *takes(4, 5, snare=(9,), oh=(-1, -1))]
    assert told(piece("snare", ("snare",), half)) == []
    elsewhere = take(6, snare=(9,)).but(recordings=(recording("snare", "6", (9,)), recording("oh", "6", (-1, -1), 7.0)))
    assert told(piece("snare", ("snare",), [*takes(5, snare=(9,), oh=(1, 1)), elsewhere])) == []


def test_what_was_turned_over_counts_as_it_plays():
    over = [
        t.but(recordings=tuple(r.but(flipped=Side.RIGHT) if r.mic == "oh" else r for r in t.recordings))
        for t in takes(4, snare=(9,), oh=(1, -1))
    ]
    assert told(piece("snare", ("snare",), over)) == []
    mono = takes(4, snare=(9,), bottom=(1,))
    odd = [t.but(recordings=tuple(r.but(flipped=Side.RIGHT) for r in t.recordings)) for t in mono]
    assert told(piece("snare", ("snare",), odd)) == [], "a mono recording has no side to turn"


@pytest.mark.parametrize("late_ms", [4.0, -4.0])
def test_how_late_a_recording_is_is_told_against_the_usual_delay(late_ms: float):
    def heard(number: int, **late: float) -> Take:
        made = take(number, snare=(9,), bottom=(1,), oh=(1, 1))
        return made.but(
            recordings=tuple(
                recording(
                    r.mic,
                    str(number),
                    (9,) if r.mic == "snare" else (1,),
                    DELAYS.get(r.mic, 0.0) + late.get(r.mic, 0.0),
                )
                for r in made.recordings
            )
        )

    usual = [heard(n) for n in range(1, 5)]
    one = piece("snare", ("snare", "bottom"), [*usual, heard(5, oh=late_ms)])
    assert out_of_time(one) == {("snare/0", "t5", "oh"): late_ms}
    # All of them moved alike against the first: it is the first.
    first = piece("snare", ("snare", "bottom"), [*usual, heard(5, oh=late_ms, bottom=late_ms)])
    assert out_of_time(first) == {("snare/0", "t5", "snare"): -late_ms}
    little = piece("snare", ("snare", "bottom"), [*usual, heard(5, oh=1.5)])
    assert out_of_time(little) == {}
    assert out_of_time(piece("snare", ("snare", "bottom"), [*usual[:2], heard(5, oh=late_ms)])) == {}
