"""Notes: put, moved, taught, spread along the pedal, kept as maps; chokes and what stops what."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.edits.teach import teach
from drumcore.findings.notes import openness_gap
from drumcore.formats.map_file import map_to_csv, map_to_json, read_map
from drumcore.kit.lookup import all_articulations, pieces_of
from drumcore.kit.values import Articulation, Family, Kit, Layer, MapEntry, Piece, Placed, SavedMap
from drumcore.notes.chokes import sentence, with_usual_chokes
from drumcore.notes.lessons import Message, Taught, hear, hit_again, lessons, same_note_by_openness, without_note
from drumcore.notes.maps import compare, customised, saved_map
from drumcore.notes.openness import zone_gains, zones_of
from drumcore.notes.standard import free_note, place_by_standard, standard_notes
from drumcore.refusals import OccupiedNote, Refusal
from drumcore.simulated.electronic_kits import DECKHAND_5, STOWAWAY, map_of

ARTICULATIONS = {
    "Kick": (Family.KICK, ["centre"]),
    "Snare": (Family.SNARE, ["centre", "rimshot"]),
    "Hats": (Family.HATS, ["closed", "half open", "open", "pedal"]),
    "Rack tom": (Family.TOM, ["centre"]),
    "Floor tom": (Family.TOM, ["centre"]),
    "Crash left": (Family.CRASH, ["edge", "choke"]),
}


@pytest.fixture(scope="module")
def kit() -> Kit:
    """A kit of articulations without recordings, on their standard notes."""
    pieces = tuple(
        with_usual_chokes(
            Piece(
                id=name.lower().replace(" ", "-"),
                name=name,
                family=family,
                articulations=tuple(
                    Articulation(
                        id=f"{name}/{articulation}".lower().replace(" ", "-"),
                        name=articulation,
                        takes=(),
                        layers=(Layer(low=1, high=127, takes=()),),
                    )
                    for articulation in articulations
                ),
            )
        )
        for name, (family, articulations) in ARTICULATIONS.items()
    )
    kit = Kit(id="k", name="K", pieces=pieces)
    return kit.but(notes=place_by_standard(pieces, kit.notes))


def on(kit: Kit, note: int) -> list[str]:
    return [p.articulation for p in kit.notes.placed if p.note == note]


def notes_of(kit: Kit, articulation: str) -> list[int]:
    return [p.note for p in kit.notes.placed if p.articulation == articulation]


def test_an_occupied_note_is_stacked_taken_over_or_changed_places_with(kit: Kit):
    asked = e.MoveNote(note=36, to=38)
    with pytest.raises(OccupiedNote, match="D1 plays Snare · centre; say whether to stack, replace or swap"):
        apply(kit, asked)
    assert set(on(apply(kit, asked.but(when_occupied="stack")), 38)) == {"kick/centre", "snare/centre"}
    taken = apply(kit, asked.but(when_occupied="take_over"))
    assert on(taken, 38) == ["kick/centre"] and notes_of(taken, "snare/centre") == []
    changed = apply(kit, asked.but(when_occupied="change_places"))
    assert on(changed, 38) == ["kick/centre"] and on(changed, 36) == ["snare/centre"]
    one = e.PutOnNote(articulation="kick/centre", note=38, from_note=36, when_occupied="change_places")
    assert apply(kit, one) == changed
    with pytest.raises(Refusal, match="no note to swap with"):
        apply(kit, one.but(from_note=None))


def test_a_moved_note_keeps_its_zones_and_levels(kit: Kit):
    loud = apply(kit, e.SetPlaced(note=46, articulation="hats/half-open", gain_db=-4.0))
    moved = apply(loud, e.MoveNote(note=46, to=90))
    assert [p.but(note=46) for p in zones_of(moved.notes, 90)] == list(zones_of(loud.notes, 46))
    assert on(moved, 46) == []


def test_zones_meet_wherever_limits_are_moved_and_neighbours_inherit(kit: Kit):
    limits = [z.open_to for z in zones_of(kit.notes, 46)]
    assert limits == [47, 95, 127]
    moved = apply(kit, e.MoveOpennessLimit(note=46, limit=0, openness=120))
    assert [(z.open_from, z.open_to) for z in zones_of(moved.notes, 46)] == [(0, 94), (95, 95), (96, 127)]
    without = apply(kit, e.RemoveFromNote(articulation="hats/half-open", note=46))
    assert [(z.open_from, z.open_to) for z in zones_of(without.notes, 46)] == [(0, 95), (96, 127)]
    away = apply(kit, e.PutOnNote(articulation="hats/half-open", note=90, from_note=46))
    assert zones_of(away.notes, 46) == zones_of(without.notes, 46) and on(away, 90) == ["hats/half-open"]
    each = apply(kit, e.NoteEach(note=46))
    assert zones_of(each.notes, 46) == () and on(each, 46) == ["hats/open"]
    assert all(notes_of(each, f"hats/{s}") for s in ("closed", "half-open", "open"))
    spread = apply(each, e.SpreadOpenness(piece="hats", note=46))
    assert zones_of(spread.notes, 46) == zones_of(kit.notes, 46)


@settings(max_examples=40)
@given(blend=st.integers(0, 64), limits=st.lists(st.integers(0, 126), max_size=3))
def test_blended_zones_keep_their_power_at_every_openness(kit: Kit, blend: int, limits: list[int]):
    for number, openness in enumerate(limits):
        kit = apply(kit, e.MoveOpennessLimit(note=46, limit=number % 2, openness=openness))
    kit = apply(kit, e.SetOpenness(blend=blend))
    answers = [answer for placed, answer in zone_gains(kit.notes) if placed in zones_of(kit.notes, 46)]
    narrow = any(z.open_to - z.open_from < blend for z in zones_of(kit.notes, 46))
    for openness in range(128):
        gains = [a.gains[openness - a.low] for a in answers if a.low <= openness <= a.high]
        assert gains
        if not narrow:
            assert sum(g * g for g in gains) == pytest.approx(1.0)


def message(time_ms: float, note: int, velocity: int) -> Message:
    return Message(time_ms=time_ms, kind="note", number=note, value=velocity)


def opened(time_ms: float, value: int) -> Message:
    return Message(time_ms=time_ms, kind="controller", number=4, value=value)


def test_the_stronger_of_two_notes_is_taught_and_the_other_shown(kit: Kit):
    heard = hear(kit, "snare/centre", [message(0, 61, 9), message(500, 62, 40), message(512, 60, 96)])
    assert (heard.note, heard.velocity) == (60, 96)
    assert {(a.note, a.why) for a in heard.ignored} == {(61, "too soft, ignored"), (62, "came with it, softer")}
    assert hear(kit, "snare/centre", [message(0, 61, 9)]).note is None


def test_what_was_heard_while_teaching_is_said_and_kept_by_one_edit(kit: Kit):
    nothing = teach(kit, "snare/centre", [], [], "")
    assert (nothing.said, nothing.taught, nothing.edit, nothing.ignored) == ("Nothing yet", None, None, ())
    soft = teach(kit, "snare/centre", [message(0, 61, 9), message(40, 60, 19)], [], "")
    assert (soft.said, soft.taught, len(soft.ignored)) == ("Too soft, ignored", None, 2)
    taught = [Taught(articulation="kick/centre", note=38)]
    kit = apply(kit, e.TeachNote(articulation="kick/centre", note=38, when_occupied="stack"))
    # Sixty milliseconds belong together; what comes later is another strike.
    heard = [message(0, 38, 20), message(60, 38, 90), message(61, 70, 127)]
    found = teach(kit, "hats/closed", [opened(0, 12), *heard], taught, "")
    assert (found.said, found.velocity) == ("38 · D1 · velocity 90", 90)
    assert found.taught == Taught(articulation="hats/closed", note=38, openness=12)
    assert found.plays == ("Snare · centre", "Kick · centre") and found.clash == ("Kick · centre",)
    assert found.edit == e.TeachNote(articulation="hats/closed", note=38, openness=12)
    assert without_note(apply(kit, e.RemoveFromNote(articulation="hats/open", note=46))) == ("Hats · open",)


def test_pedal_notes_and_openness_do_not_count_while_an_open_articulation_is_taught(kit: Kit):
    pedal = [opened(0, 90), message(5, 44, 90), opened(20, 120), message(400, 70, 88)]
    assert hear(kit, "hats/open", pedal).note == 70
    assert hear(kit, "hats/pedal", pedal).note == 44
    # A pedal taught in this round counts, whatever the kit's own map says: then 44 is a pad like any other.
    taught = [Taught(articulation="hats/pedal", note=41)]
    assert hear(kit, "hats/open", [message(0, 41, 100), *pedal[1:2]], taught).note == 44
    order = [lesson.articulation for lesson in lessons(kit)]
    assert order.index("hats/pedal") < order.index("hats/closed") < order.index("hats/open")


def test_a_pad_hit_again_names_what_it_was_taught_to(kit: Kit):
    taught = [Taught(articulation="kick/centre", note=38), Taught(articulation="hats/closed", note=42, openness=4)]
    kit = apply(kit, e.TeachNote(articulation="kick/centre", note=38, when_occupied="take_over"))
    heard = hear(kit, "snare/centre", [message(0, 38, 90)], taught)
    assert hit_again(kit, "snare/centre", heard, taught, ()) == ("Kick · centre",)
    # Taught to itself, or sharing the note by openness, is no clash; nor is what the kit had there before.
    assert hit_again(kit, "kick/centre", heard, taught, ()) == ()
    shared = hear(kit, "hats/open", [opened(0, 120), message(5, 42, 90)], taught)
    beside = same_note_by_openness(kit, "hats/open", shared, taught)
    assert beside and hit_again(kit, "hats/open", shared, taught, beside) == ()
    assert hit_again(kit, "snare/centre", hear(kit, "snare/centre", []), taught, ()) == ()


def test_articulations_taught_on_one_note_share_it_by_openness(kit: Kit):
    taught: list[Taught] = []
    for articulation, openness in (("closed", 4), ("open", 118), ("half-open", 60)):
        heard = hear(kit, f"hats/{articulation}", [opened(0, openness), message(50, 30, 90)], taught)
        beside = same_note_by_openness(kit, f"hats/{articulation}", heard, taught)
        edit = e.TeachNote(articulation=f"hats/{articulation}", note=30, openness=heard.openness, beside=beside)
        kit = apply(kit, edit)
        taught.append(Taught(articulation=f"hats/{articulation}", note=30, openness=heard.openness))
    zones = [(z.articulation, z.open_from, z.open_to) for z in zones_of(kit.notes, 30)]
    assert zones == [("hats/closed", 0, 32), ("hats/half-open", 33, 89), ("hats/open", 90, 127)]
    assert on(kit, 46) == []


def test_only_articulations_of_one_piece_share_a_note_by_openness_and_only_hats_lie_along_a_pedal(kit: Kit):
    taught = e.TeachNote(articulation="hats/open", note=38, openness=100)
    with pytest.raises(OccupiedNote, match=r"^D1 plays Snare · centre; say whether to stack or replace\.$"):
        apply(kit, taught)
    assert on(apply(kit, taught.but(when_occupied="stack")), 38) == ["snare/centre", "hats/open"]
    assert on(apply(kit, taught.but(when_occupied="take_over")), 38) == ["hats/open"]
    other = (Taught(articulation="snare/centre", note=38, openness=5),)
    with pytest.raises(Refusal, match="Only articulations of Hats can share a note with open by openness"):
        apply(kit, taught.but(beside=other))
    # What was taught on another note, or without the pedal, is not beside it.
    apart = (Taught(articulation="hats/closed", note=30, openness=5), Taught(articulation="hats/closed", note=38))
    assert on(apply(kit, taught.but(beside=apart, when_occupied="stack")), 38) == ["snare/centre", "hats/open"]
    for piece in ("snare", "rack-tom"):
        with pytest.raises(
            Refusal, match="has no articulations along a pedal to spread; name them closed, half open, open"
        ):
            apply(kit, e.SpreadOpenness(piece=piece, note=50))
    for gone in ("hats/closed", "hats/half-open"):
        kit = apply(kit, e.RemoveArticulation(articulation=gone))
    with pytest.raises(Refusal, match="has no articulations along a pedal to spread"):
        apply(kit, e.SpreadOpenness(piece="hats", note=46))


def test_a_gap_along_the_pedal_is_fixed_where_it_is(kit: Kit):
    """The first two zones meet, the second and the third do not: it is the second that is let grow."""
    split = kit.but(
        notes=kit.notes.but(placed=tuple(p.but(open_from=110) if p.open_from == 96 else p for p in kit.notes.placed))
    )
    (found,) = openness_gap(split)
    assert found.sentence == "Nothing on A♯1 plays while the pedal is at 96 to 109." and len(found.fixes) == 2
    fixed = apply(split, found.fixes[0].edit)
    assert [(z.open_from, z.open_to) for z in zones_of(fixed.notes, 46)] == [(0, 47), (48, 109), (110, 127)]
    gaps = split.but(
        notes=split.notes.but(placed=tuple(p.but(open_to=46) if p.open_to == 47 else p for p in split.notes.placed))
    )
    assert next(openness_gap(gaps)).sentence.endswith("is at 47 and 96 to 109.")
    whole = split.but(notes=split.notes.but(placed=(*split.notes.placed, Placed(note=46, articulation="kick/centre"))))
    assert not [*openness_gap(kit)] and not [*openness_gap(fixed)] and not [*openness_gap(whole)]


def test_applying_a_map_loses_no_articulation_and_lists_what_it_does_not_place(kit: Kit):
    stowaway = map_of(STOWAWAY)
    said = compare(kit, stowaway)
    after = apply(kit, e.ApplyMap(map=stowaway))
    assert on(after, 37) == ["snare/centre"] and on(after, 42) == ["rack-tom/centre"] and on(after, 51) == ["hats/open"]
    before = {a.id for _, a in all_articulations(kit)}
    placed = {p.articulation for p in after.notes.placed}
    assert before - placed == {change.articulation for change in said.lost}
    assert {change.articulation for change in said.kept} == {"floor-tom/centre", "crash-left/choke"}
    assert notes_of(after, "floor-tom/centre") == notes_of(kit, "floor-tom/centre")
    assert all(notes_of(after, change.articulation) == list(change.after) for change in said.moved)
    assert [entry.articulation for entry in compare(kit, map_of(DECKHAND_5)).without_articulation] == ["tight"]
    back = apply(after, e.ApplyMap())
    assert back.notes.placed == kit.notes.placed and list(customised(back)) == []


def test_customised_notes_are_those_that_differ_from_the_map_given(kit: Kit):
    assert list(customised(kit)) == []
    assert list(customised(apply(kit, e.MoveNote(note=36, to=35)))) == [35, 36]
    mapped = apply(kit, e.ApplyMap(map=saved_map(kit, "Mine")))
    assert list(customised(mapped)) == []
    assert list(customised(apply(mapped, e.SetPlaced(note=38, articulation="snare/centre", gain_db=-3.0)))) == [38]


FAMILIES = st.sampled_from(list(Family))
ENTRIES = st.builds(
    MapEntry,
    note=st.integers(0, 127),
    family=FAMILIES,
    articulation=st.from_regex(r"[a-z][a-z ,;\"]{0,12}[a-z]", fullmatch=True),
    piece=st.from_regex(r"([A-Z][a-z\", ;]{0,10}[a-z])?", fullmatch=True),
    number=st.integers(1, 64),
    open_from=st.integers(0, 127),
    open_to=st.integers(0, 127),
    gain_db=st.integers(-240, 48).map(lambda half: half / 2.0 / 5.0),
)


@given(entries=st.lists(ENTRIES, min_size=1, max_size=12))
def test_a_map_comes_back_from_its_files(entries: list[MapEntry]):
    saved = SavedMap(name="Quayside pads", entries=tuple(entries))
    assert read_map(map_to_json(saved).encode(), "x.json").map == saved
    assert read_map(map_to_csv(saved).encode(), "Quayside pads.csv").map == saved


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"\xff\xfe\x00", "is not text"),
        (b"{", "is not valid JSON"),
        (b'{"a": 1}', "does not describe a note map"),
        (b"note,name\n36,kick\n", "has no column articulation or family"),
        (b"note,family,articulation\n200,kick,centre\n", "note '200' is not a note number from 0 to 127"),
        (b"note,family,articulation\n36,drumkit,centre\n", "family 'drumkit' is not known"),
        (b"note,family,articulation\n", "holds no notes"),
        (b"x" * (2 << 20), "too large"),
    ],
)
def test_a_bad_map_file_is_refused_with_a_sentence(data: bytes, said: str):
    with pytest.raises(Refusal, match=said):
        read_map(data, "pads.csv")


def test_the_good_lines_of_a_map_file_are_kept():
    read = read_map(b"note;family;articulation;level_db\n36;kick;centre;-1,5\n999;snare;centre;0\n", "p.csv")
    assert [(entry.note, entry.gain_db) for entry in read.map.entries] == [(36, -1.5)]
    assert read.problems == ("p.csv, entry 3: note '999' is not a note number from 0 to 127.",)


def test_silences_set_by_themselves_are_said_in_a_sentence(kit: Kit):
    hats = next(p for p in pieces_of(kit) if p.family is Family.HATS)
    assert sentence(hats) == (
        "Half open is choked when closed or pedal is hit. Open is choked when closed, half open or pedal is hit."
    )
    crash = next(p for p in pieces_of(kit) if p.family is Family.CRASH)
    assert sentence(crash) == "Edge is choked when choke is hit. A hand on the pad chokes all of it."
    bare = apply(kit, e.SetChoke(articulation="hats/closed", stopped="hats/open", fade_ms=None))
    assert apply(bare, e.ChokeAsUsual(piece="hats")) == kit
    assert sentence(next(p for p in pieces_of(kit) if p.family is Family.KICK)) == ""


def test_an_articulation_that_is_added_sets_only_what_concerns_it(kit: Kit):
    """What somebody took away between two other articulations stays away."""
    apart = apply(kit, e.SetChoke(articulation="hats/closed", stopped="hats/half-open", fade_ms=None))
    for articulation in ("closed", "half-open", "pedal"):
        apart = apply(apart, e.SetChoke(articulation=f"hats/{articulation}", stopped="hats/open", fade_ms=None))
    apart = apply(apart, e.SetHandStop(piece="hats", fade_ms=33.0))
    hats = next(p for p in pieces_of(apart) if p.family is Family.HATS)

    def stops(piece: Piece) -> dict[str, list[str]]:
        return {a.name: [s.articulation for s in a.chokes] for a in piece.articulations}

    there = {"closed": [], "half open": [], "open": [], "pedal": ["hats/half-open"]}
    assert stops(hats) == there
    added = with_usual_chokes(hats, {"hats/open"})
    assert stops(added) == {
        "closed": ["hats/open"], "half open": ["hats/open"], "open": [], "pedal": ["hats/half-open", "hats/open"],
    }  # fmt: skip
    assert added.hand_stop_ms == 33.0 and stops(with_usual_chokes(hats, {"hats/closed"}))["closed"] == [
        "hats/half-open", "hats/open",
    ]  # fmt: skip
    # What stands there already is not set twice.
    assert stops(with_usual_chokes(added, {"hats/open"})) == stops(added)


def test_without_the_pedal_a_articulation_is_taught_over_all_of_it(kit: Kit):
    beside = (Taught(articulation="hats/closed", note=30, openness=5),)
    told = e.TeachNote(articulation="hats/open", note=30, beside=beside)
    assert [(p.articulation, p.open_from, p.open_to) for p in apply(kit, told).notes.placed if p.note == 30] == [
        ("hats/open", 0, 127)
    ]
    alone = apply(kit, told.but(beside=(), openness=90))
    assert [(p.open_from, p.open_to) for p in alone.notes.placed if p.note == 30] == [(0, 127)]


def test_articulations_that_say_nothing_usual_share_the_pedal_evenly(kit: Kit):
    hats = next(p for p in pieces_of(kit) if p.family is Family.HATS)
    loose = hats.articulations[2].but(id="hats/loose", name="very loose open")
    odd = kit.but(pieces=tuple(p.but(articulations=(*p.articulations, loose)) if p is hats else p for p in kit.pieces))
    spread = apply(odd, e.SpreadOpenness(piece="hats", note=46))
    assert [(z.open_from, z.open_to) for z in zones_of(spread.notes, 46)] == [(0, 31), (32, 63), (64, 95), (96, 127)]
    # The widest articulation there is answers to the very end.
    narrow = apply(kit, e.RemoveArticulation(articulation="hats/open"))
    spread = apply(narrow, e.SpreadOpenness(piece="hats", note=90))
    assert [(z.open_from, z.open_to) for z in zones_of(spread.notes, 90)] == [(0, 47), (48, 127)]


@pytest.mark.parametrize(
    ("name", "notes"),
    [
        ("Quay tambourine", (54,)), ("Cowbell", (56,)), ("Handclap", (39,)), ("Bongos", (60, 61)), ("Conga", (63, 62, 64)),
        ("Timbale", (65, 66)), ("Agogo", (67, 68)), ("Cabasa", (69,)), ("Maracas", (70,)), ("Egg shaker", (70, 69)),
        ("Guiro", (73, 74)), ("Claves", (75,)), ("Woodblock", (76, 77)), ("Triangle", (81, 80)), ("Tin lid", ()),
    ],
)  # fmt: skip
def test_percussion_stands_where_general_midi_has_it(name: str, notes: tuple[int, ...]):
    piece = Piece(id="p", name=name, family=Family.PERCUSSION, articulations=())
    assert standard_notes(piece, "hit") == notes
    # The first note that is free: its own, else one that the map has nothing on, over it before under it, else any.
    everything = [*notes, *range(82, 128), *range(35), *(note for note in range(35, 82) if note not in notes)]
    taken: set[int] = set()
    for note in everything:
        assert free_note(piece, "hit", taken) == note
        taken.add(note)
    assert free_note(piece, "hit", taken) is None


@pytest.mark.parametrize(
    ("family", "articulation", "first"),
    [
        (Family.TOM, "centre", (50, 48, 47, 45, 43, 41, 82)),
        (Family.SNARE, "centre", (38, 40, 82)),
        (Family.SNARE, "rimshot", (40, 82)),
        (Family.KICK, "centre", (36, 35, 82)),
        (Family.TOM, "rim", (82, 83)),
    ],
)
def test_an_articulation_that_is_added_stands_among_its_kind(family: Family, articulation: str, first: tuple[int, ...]):
    piece, taken = Piece(id="p", name="P", family=family, articulations=()), set()
    for note in first:
        assert free_note(piece, articulation, taken) == note
        taken.add(note)
