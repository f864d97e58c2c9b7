"""What a kit is made of, edit by edit: made, copied, moved, renamed and taken out; the notes things come on; how a
channel reaches outputs of either width."""

import numpy as np
import pytest

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.kit.lookup import articulation_of, piece_of, pieces_of, take_of, with_take
from drumcore.kit.values import Articulation, Family, Kit, Mic, NoteMap, Output, Piece, Width
from drumcore.notes.names import note_name
from drumcore.notes.standard import GENERAL_MIDI, place_by_standard
from drumcore.playing.compiler import compile_kit
from drumcore.playing.renderer import frame_of
from drumcore.playing.sounds import plays_as_it_is, prepare
from drumcore.recordings.audio_files import read_audio
from drumcore.refusals import Refusal
from drumcore.touch.curve_changes import heard_from, lifted_to_reach, never_falling
from drumcore.touch.curves import curve_table
from drumcore.touch.pedal import Move, calibrate
from tests.changes import edit_of
from tests.conftest import RATE, strike_sound, write_sound


def ids(kit: Kit) -> list[str]:
    return [piece.id for piece in pieces_of(kit)]


def test_pieces_are_made_of_the_kind_their_name_speaks_of_and_never_share_an_identifier(small_kit: Kit):
    kit = apply(small_kit, e.MakePiece(name="  Floor   tom "))
    kit = apply(apply(kit, e.MakePiece(name="Floor tom")), e.MakePiece(name="Snare", family=Family.OTHER))
    made = pieces_of(kit)[4:]
    assert [(p.id, p.name, p.family, p.articulations) for p in made] == [
        ("floor-tom", "Floor tom", Family.TOM, ()),
        ("floor-tom-2", "Floor tom", Family.TOM, ()),
        ("snare-2", "Snare", Family.OTHER, ()),
    ]
    with pytest.raises(Refusal, match=r"^A piece needs a name\.$"):
        apply(kit, e.MakePiece(name="   "))


def test_a_piece_is_copied_beside_itself_with_what_it_stops_and_where_it_goes_but_no_notes(small_kit: Kit):
    kit = apply(small_kit, e.ChokeAsUsual(piece="hats"))
    kit = apply(apply(kit, e.DuplicatePiece(piece="hats")), e.DuplicatePiece(piece="hats"))
    assert ids(kit) == ["kick", "snare", "hats", "hats-3", "hats-2", "crash-left"]
    original, copy = piece_of(kit, "hats"), piece_of(kit, "hats-2")
    assert (copy.name, piece_of(kit, "hats-3").name) == ("Hats 2", "Hats 3")
    assert [a.id for a in copy.articulations] == ["hats-2/closed", "hats-2/open"]
    assert [[s.articulation for s in a.chokes] for a in original.articulations] == [["hats/open"], []]
    assert [[s.articulation for s in a.chokes] for a in copy.articulations] == [["hats-2/open"], []]
    assert [a.takes for a in copy.articulations] == [a.takes for a in original.articulations]

    def fed(piece: str) -> list:
        return [(f.mic, f.channel, f.level_db) for f in kit.routing.feeds if f.piece == piece]

    assert fed("hats-2") == fed("hats") != []
    assert not [p for p in kit.notes.placed if p.articulation.startswith("hats-")]


def test_an_articulation_is_copied_beside_itself_and_moved_and_renamed(small_kit: Kit):
    kit = apply(small_kit, e.DuplicateArticulation(articulation="hats/closed"))
    assert [(a.id, a.name) for a in piece_of(kit, "hats").articulations] == [
        ("hats/closed", "closed"),
        ("hats/closed-2", "closed 2"),
        ("hats/open", "open"),
    ]
    kit = apply(kit, e.MoveArticulation(articulation="hats/closed", place=2))
    assert [a.id for a in piece_of(kit, "hats").articulations] == ["hats/closed-2", "hats/open", "hats/closed"]
    kit = apply(kit, e.RenameArticulation(articulation="hats/closed-2", name=" half  open "))
    assert articulation_of(kit, "hats/closed-2")[1].name == "half open"
    assert apply(kit, e.RenameArticulation(articulation="hats/open", name="open")) == kit
    with pytest.raises(Refusal, match="Hats has an articulation called open already"):
        apply(kit, e.RenameArticulation(articulation="hats/closed", name="open"))
    with pytest.raises(Refusal, match="called open already"):
        apply(kit, e.MakeArticulation(piece="hats", name="open"))
    kit = apply(kit, e.MakeArticulation(piece="hats", name="Closed"))
    assert piece_of(kit, "hats").articulations[-1].id == "hats/closed-3"
    gone = apply(apply(small_kit, e.ChokeAsUsual(piece="hats")), e.RemoveArticulation(articulation="hats/open"))
    assert [(a.id, a.chokes) for a in piece_of(gone, "hats").articulations] == [("hats/closed", ())]
    assert {p.articulation for p in gone.notes.placed if p.note == 46} == {"hats/closed"}


def test_pieces_move_and_a_channel_follows_a_name_until_it_has_its_own(small_kit: Kit):
    assert ids(apply(small_kit, e.MovePiece(piece="kick", place=2))) == ["snare", "hats", "kick", "crash-left"]
    assert ids(apply(small_kit, e.MovePiece(piece="crash-left", place=0)))[0] == "crash-left"
    kit = apply(small_kit, e.SetPiece(piece="snare", name="Old snare"))
    assert next(c.name for c in kit.routing.channels if c.id == "snare-channel") == "Old snare"
    channels = tuple(c.but(name="Backbeat") if c.id == "snare-channel" else c for c in kit.routing.channels)
    named = kit.but(routing=kit.routing.but(channels=channels))
    again = apply(named, e.SetPiece(piece="snare", name="Snare", family="percussion"))
    assert next(c.name for c in again.routing.channels if c.id == "snare-channel") == "Backbeat"
    assert piece_of(again, "snare").family is Family.PERCUSSION


def test_a_borrowed_recording_keeps_its_place_behind_its_own_take(small_kit: Kit):
    lender, taker = articulation_of(small_kit, "kick/centre")[1].takes[:2]
    without = taker.but(recordings=tuple(r for r in taker.recordings if r.mic != "room"))
    piece, articulation = articulation_of(small_kit, "kick/centre")
    kit = small_kit.but(
        pieces=tuple(
            p.but(
                articulations=(articulation.but(takes=(lender.but(start_ms=12.5), without, *articulation.takes[2:])),)
            )
            if p.id == piece.id
            else p
            for p in pieces_of(small_kit)
        )
    )
    lend = e.BorrowRecording(articulation="kick/centre", take="t2", mic="room", from_take="t1")
    lent = take_of(articulation_of(apply(kit, lend), "kick/centre")[1], "t2").recordings[-1]
    assert (lent.mic, lent.cut_ms) == ("room", 12.5)
    sound = next(v.sound for v in compile_kit(apply(kit, lend)).pieces[0].articulations[0].takes[1].voices[-1:])
    assert sound.start_frame == 600
    with pytest.raises(Refusal, match="has a recording from that microphone already"):
        apply(apply(kit, lend), lend)
    with pytest.raises(Refusal, match="has no recording from that microphone either"):
        apply(kit, lend.but(from_take="t2", take="t1", mic="snare-mic"))


def matrix(kit: Kit, channel: str) -> list:
    found = next(c for c in compile_kit(kit).head.channels if c.id == channel)
    return [[round(cell, 6) for cell in row] for row in found.matrix]


def test_a_channel_reaches_mono_and_stereo_outputs_by_hand(small_kit: Kit):
    mono = (Output(number=1, name="Main"), Output(number=2, name="Mono", width=Width.MONO))
    kit = small_kit.but(routing=small_kit.routing.but(outputs=mono))
    for channel in ("kick-channel", "overheads-channel"):
        kit = apply(kit, e.SetChannel(channel=channel, output=2, pan=-1.0))
    assert matrix(kit, "kick-channel") == [[1.0]]  # pan says nothing where there is one side
    assert matrix(kit, "overheads-channel") == [[0.5, 0.5]]
    half = round(np.sqrt(0.5), 6)
    assert matrix(small_kit, "kick-channel") == [[half], [half]]
    assert matrix(small_kit, "overheads-channel") == [[1.0, 0.0], [0.0, 1.0]]
    left = apply(small_kit, e.SetChannel(channel="snare-channel", pan=-1.0, level_db=-6.0))
    assert matrix(left, "snare-channel") == [[round(10 ** (-6 / 20), 6)], [0.0]]
    with pytest.raises(Refusal, match="Ferry 16 has no output 3; choose one it has for Kick"):
        apply(kit, e.SetChannel(channel="kick-channel", output=3))


def test_a_recording_is_centred_side_by_side_and_not_otherwise(tmp_path):
    sound = np.stack([strike_sound(-12, 1) + 0.1, strike_sound(-12, 2) - 0.05], axis=1)
    audio = read_audio(write_sound(tmp_path / "leaning.wav", sound))
    plain, centred = (prepare(audio, RATE, Width.STEREO, centred=c) for c in (False, True))
    np.testing.assert_allclose(plain, sound, atol=2e-7)
    np.testing.assert_allclose(centred, sound - sound.mean(axis=0), atol=2e-7)


STANDARD = {
    (Family.KICK, "centre"): 36, (Family.SNARE, "centre"): 38, (Family.SNARE, "rimshot"): 40,
    (Family.SNARE, "side stick"): 37, (Family.HATS, "closed"): 42, (Family.HATS, "pedal"): 44, (Family.HATS, "open"): 46,
    (Family.CRASH, "edge"): 49, (Family.RIDE, "bow"): 51, (Family.RIDE, "bell"): 53, (Family.SPLASH, "edge"): 55,
    (Family.CHINA, "edge"): 52,
}  # fmt: skip
NAMED = {"Cowbell": 56, "Tambourine": 54, "Hand clap": 39, "Claves": 75, "Cabasa": 69, "Maracas": 70, "Woodblock": 76}


def made_of(*articulations: tuple[str, Family, str]) -> tuple[Piece, ...]:
    return tuple(
        Piece(
            id=f"p{n}",
            name=name,
            family=family,
            articulations=(Articulation(id=f"p{n}/{articulation}", name=articulation, takes=(), layers=()),),
        )
        for n, (name, family, articulation) in enumerate(articulations)
    )


def placed(*articulations: tuple[str, Family, str]) -> list[int | None]:
    found = {p.articulation: p.note for p in place_by_standard(made_of(*articulations), NoteMap()).placed}
    return [found.get(f"p{n}/{articulation}") for n, (_, _, articulation) in enumerate(articulations)]


def test_articulations_stand_on_the_notes_general_midi_gives_them():
    for (family, articulation), note in STANDARD.items():
        assert placed(("X", family, articulation)) == [note], (family, articulation)
    for name, note in NAMED.items():
        assert placed((name, Family.PERCUSSION, "hit")) == [note], name
    crash, kick = (Family.CRASH, "edge"), (Family.KICK, "centre")
    assert placed(("L", *crash), ("R", *crash), ("Third", *crash)) == [49, 57, None]
    assert placed(("A", *kick), ("B", *kick)) == [36, 35]
    for count, notes in ((1, [48]), (2, [48, 43]), (3, [48, 47, 43]), (4, [50, 48, 45, 43]), (5, [50, 48, 47, 45, 43])):
        assert placed(*[("T", Family.TOM, "centre")] * count) == notes
    for note, said in ((35, "Bass drum 2"), (38, "Snare"), (42, "Closed hat"), (57, "Crash 2"), (81, "Open triangle")):
        assert GENERAL_MIDI[note] == said
    assert len(GENERAL_MIDI) == 47
    assert [note_name(n, c) for n, c in ((60, 3), (60, 4), (61, 5), (0, 3), (127, 3))] == [
        "C3",
        "C4",
        "C♯5",
        "C−2",
        "G8",
    ]


def test_the_open_hats_note_follows_the_pedal_where_there_is_more_than_one_articulation():
    hats = Piece(
        id="h",
        name="Hats",
        family=Family.HATS,
        articulations=tuple(
            Articulation(id=f"h/{n}", name=n, takes=(), layers=()) for n in ("tight", "closed", "open")
        ),
    )
    zones = [p for p in place_by_standard((hats,), NoteMap()).placed if p.note == 46]
    assert [(z.articulation, z.open_from, z.open_to) for z in zones] == [
        ("h/tight", 0, 15),
        ("h/closed", 16, 47),
        ("h/open", 48, 127),
    ]


def curve(*nodes: tuple[int, int]):
    asked = {"kind": "set_curve", "curve": {"nodes": [{"x": x, "y": y} for x, y in nodes]}}
    return edit_of(asked).curve


def test_curves_a_finding_offers_by_hand():
    """Lifted in proportion so that 100 plays 127: what played 50 of its 80 plays 50 · 127 / 80 = 79."""
    lifted = lifted_to_reach(curve((0, 0), (50, 50), (127, 100)), 100)
    top = 50 + 50 * 50 / 77  # the curve at 100
    assert [(n.x, n.y) for n in lifted.nodes] == [(0, 0), (50, round(50 * 127 / top)), (100, 127), (127, 127)]
    straight = curve((0, 0), (127, 127))
    assert lifted_to_reach(straight, 127) == straight and lifted_to_reach(curve((0, 0), (127, 0)), 90).nodes[1].y == 0
    assert [(n.x, n.y) for n in never_falling(curve((0, 20), (40, 10), (90, 60), (127, 50))).nodes] == [
        (0, 20),
        (40, 20),
        (90, 60),
        (127, 60),
    ]
    deaf = curve((0, 0), (60, 0), (127, 127))
    table = curve_table(heard_from(deaf, 16))
    assert (table[15], table[16]) == (0, 1) and table[127] == 127 and list(table) == sorted(table)
    assert heard_from(straight, 16) == straight


def test_a_strike_starts_on_the_nearest_frame_half_up():
    assert [frame_of(frames / RATE, RATE) for frames in (0, 1.49, 1.5, 2.49, 480.5)] == [0, 1, 2, 2, 481]


@pytest.mark.parametrize(("subtype", "rate", "sides", "plays"), [
    ("PCM_16", RATE, 1, True), ("PCM_24", RATE, 1, True), ("FLOAT", RATE, 1, False), ("PCM_24", 44100, 1, False),
    ("PCM_24", RATE, 2, False),
])  # fmt: skip
def test_a_file_plays_as_it_is_where_it_holds_what_would_be_made_of_it(tmp_path, subtype, rate, sides, plays):
    sound = np.repeat(strike_sound(-6, 3)[:, None], sides, axis=1)
    path = write_sound(tmp_path / "s.wav", sound, rate, subtype)
    assert plays_as_it_is(path, RATE, Width.MONO) is plays
    if plays:
        made = prepare(read_audio(path), RATE, Width.MONO)
        np.testing.assert_array_equal(made, read_audio(path).samples)


@pytest.mark.parametrize(
    ("moves", "ends"), [((0, 60, 127), (4, 123)), ((127, 60, 0), (123, 4)), ((20, 127, 40), (107 + 17, 20 + 3))]
)
def test_a_pedal_is_calibrated_from_shut_to_wide_by_where_it_ends(moves, ends):
    found = calibrate([Move(time_ms=10.0 * n, controller=4, value=value) for n, value in enumerate(moves)])
    assert (found.closed_at, found.open_at) == ends


def test_pieces_made_again_leave_nothing_of_a_wrong_reading(small_kit: Kit):
    """Names were misread at first: the snare was two pieces heard by a microphone of its own invention."""
    snare = piece_of(small_kit, "snare")

    def read_as(identifier: str, name: str, takes: slice) -> Piece:
        articulation = snare.articulations[0]
        part = tuple(
            t.but(recordings=tuple(r.but(mic="wrong") if r.mic == "snare-mic" else r for r in t.recordings))
            for t in articulation.takes[takes]
        )
        ids = {t.id for t in part}
        layers = tuple(x.but(takes=tuple(i for i in x.takes if i in ids)) for x in articulation.layers)
        articulation = articulation.but(id=f"{identifier}/centre", takes=part, layers=layers, chokes=())
        return snare.but(id=identifier, name=name, articulations=(articulation,), own_mics=("wrong",))

    mics = (*small_kit.mics, Mic(id="wrong", name="Wrong", kind="close", width="mono"))
    wrong = (read_as("snare-a", "Snare A", slice(0, 6)), read_as("snare", "Snare", slice(6, None)))
    others = tuple(p for p in small_kit.pieces if p.id != "snare")
    misread = apply(Kit(id="k", name="K"), e.BuildPieces(mics=mics, pieces=(*others, *wrong)))
    assert {c.name for c in misread.routing.channels} >= {"Snare", "Snare A"}
    misread = apply(misread, e.PutOnNote(articulation="snare-a/centre", note=90))
    again = apply(misread, e.BuildPieces(mics=small_kit.mics, pieces=small_kit.pieces))
    assert [p.name for p in again.pieces] == [p.name for p in small_kit.pieces]
    assert {m.id for m in again.mics} == {m.id for m in small_kit.mics}
    assert {(f.piece, f.mic) for f in again.routing.feeds} == {(f.piece, f.mic) for f in small_kit.routing.feeds}
    assert {c.name for c in again.routing.channels} == {c.name for c in small_kit.routing.channels}
    assert not {p.articulation for p in again.notes.placed} - {a.id for p in again.pieces for a in p.articulations}


def test_pieces_of_other_recordings_stay_when_pieces_are_made(small_kit: Kit):
    tom = piece_of(small_kit, "kick").but(id="tom", name="Tom", family=Family.TOM)
    other = tom.articulations[0]
    other = other.but(
        id="tom/centre",
        takes=tuple(
            t.but(recordings=tuple(r.but(content=f"{k}{i}") for i, r in enumerate(t.recordings)))
            for k, t in enumerate(other.takes)
        ),
    )
    with_tom = apply(small_kit, e.BuildPieces(mics=small_kit.mics, pieces=(tom.but(articulations=(other,)),)))
    again = apply(with_tom, e.BuildPieces(mics=small_kit.mics, pieces=small_kit.pieces))
    assert {p.name for p in again.pieces} == {p.name for p in with_tom.pieces}


def test_a_copy_of_a_piece_and_a_spare_microphone_stay_when_pieces_are_made_again(small_kit: Kit):
    spare = Mic(id="spare", name="Spare", kind="close", width="mono")
    kit = apply(small_kit.but(mics=(*small_kit.mics, spare)), e.DuplicatePiece(piece="snare"))
    again = apply(kit, e.BuildPieces(mics=small_kit.mics, pieces=small_kit.pieces))
    assert {p.name for p in again.pieces} == {p.name for p in kit.pieces} >= {"Snare", "Snare 2"}
    assert spare in again.mics


def test_a_borrowed_recording_keeps_its_own_cut(small_kit: Kit):
    taker, *_ = articulation_of(small_kit, "kick/centre")[1].takes[1:]
    without = taker.but(recordings=tuple(r for r in taker.recordings if r.mic != "room"))
    kit = with_take(small_kit, "kick/centre", taker.id, lambda _: without)
    lent = apply(kit, e.BorrowRecording(articulation="kick/centre", take=taker.id, mic="room", from_take="t1"))
    with pytest.raises(Refusal, match="shares its recording"):
        apply(lent, e.MoveRecording(articulation="kick/centre", take=taker.id, mic="room", by_ms=0.0))


def test_every_articulation_gets_a_note_while_one_is_free(small_kit: Kit):
    """Forty pieces that no standard note is for: each gets a note of its own, above the standard map first, then below."""
    snare = piece_of(small_kit, "snare")
    odd = tuple(
        snare.but(
            id=f"odd-{n}",
            name=f"Odd {n}",
            family=Family.OTHER,
            articulations=tuple(a.but(id=f"odd-{n}/{i}") for i, a in enumerate(snare.articulations)),
        )
        for n in range(40)
    )
    kit = apply(Kit(id="odd", name="Odd"), e.BuildPieces(mics=small_kit.mics, pieces=(snare, *odd)))
    notes = {placed.articulation: placed.note for placed in kit.notes.placed}
    assert notes["snare/centre"] == 38
    assert set(notes) == {a.id for piece in pieces_of(kit) for a in piece.articulations}
    assert len(set(notes.values())) == len(notes)
    assert notes["odd-0/0"] == max(GENERAL_MIDI) + 1


def test_there_are_no_more_notes_than_there_are(small_kit: Kit):
    snare = piece_of(small_kit, "snare")
    many = tuple(
        snare.but(
            id=f"odd-{n}",
            name=f"Odd {n}",
            family=Family.OTHER,
            articulations=(snare.articulations[0].but(id=f"odd-{n}/0"),),
        )
        for n in range(140)
    )
    kit = apply(Kit(id="odd", name="Odd"), e.BuildPieces(mics=small_kit.mics, pieces=many))
    assert sorted(placed.note for placed in kit.notes.placed) == list(range(128))
