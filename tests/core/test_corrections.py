"""What a correction changed is told in sentences."""

from drumcore.kit.values import Mic, MicKind, Width
from drumcore.recordings.corrections import MOST_SENTENCES, what_changed
from drumcore.recordings.session import SessionReading


def reading(kit, **changes) -> SessionReading:
    return SessionReading(mics=kit.mics, pieces=kit.pieces, unread=(), reasons=(), files=50).but(**changes)


def of_piece(kit, number: int, change) -> tuple:
    return tuple(change(piece) if n == number else piece for n, piece in enumerate(kit.pieces))


def test_what_stays_is_not_told(small_kit):
    assert what_changed(reading(small_kit), reading(small_kit, files=60)) == ()


def test_pieces_microphones_and_strengths_that_read_otherwise_are_told_once_for_all(small_kit):
    before = reading(small_kit)
    snare = small_kit.pieces[1]
    takes = snare.articulations[0].takes
    heard = sum(len(take.recordings) for take in takes)

    renamed = reading(small_kit, pieces=of_piece(small_kit, 1, lambda p: p.but(name="Side snare")))
    assert what_changed(before, renamed) == (f"{heard} recordings are Side snare · centre now, not Snare · centre.",)

    without = reading(small_kit, pieces=of_piece(small_kit, 1, lambda p: p.but(articulations=())))
    assert what_changed(before, without) == (f"{heard} recordings of Snare · centre are not read any more.",)
    assert what_changed(without, before) == (f"{heard} recordings that were not read are Snare · centre now.",)

    top = Mic(id="snare-mic", name="Snare top", kind=MicKind.CLOSE, width=Width.MONO)
    other = reading(small_kit, mics=tuple(top if mic.id == top.id else mic for mic in small_kit.mics))
    assert what_changed(before, other) == (f"{len(takes)} recordings are from Snare top now, not Snare mic.",)

    def in_one(piece):
        articulation = piece.articulations[0]
        layer = articulation.layers[0].but(takes=tuple(take.id for take in articulation.takes))
        return piece.but(articulations=(articulation.but(layers=(layer,)),))

    one = reading(small_kit, pieces=of_piece(small_kit, 1, in_one))
    assert what_changed(before, one) == (
        "Snare · centre has 1 velocity layer of 12 takes now, not 4 velocity layers of 3 takes.",
    )


def test_no_more_is_told_than_can_be_read(small_kit):
    snare = small_kit.pieces[1]
    (articulation,) = snare.articulations
    apart = tuple(
        snare.but(id=f"s{n}", name=f"Snare {n}", articulations=(articulation.but(takes=(take,)),))
        for n, take in enumerate(articulation.takes)
    )
    told = what_changed(reading(small_kit, pieces=(snare,)), reading(small_kit, pieces=apart))
    assert (
        len(told) == MOST_SENTENCES + 1
        and told[-1] == f"And {len(articulation.takes) - MOST_SENTENCES} more like these."
    )
