"""Kits hold together: one from outside that contradicts itself is refused, one that was stored is fixed and opens."""

import json
import tracemalloc
import zipfile

import pytest

from drumcore.cli.main import main
from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.findings.rules import notice
from drumcore.formats.kit_file import read_kit_file, without_recordings, write_kit_file
from drumcore.kit.invariants import MOST_PIECES, faults
from drumcore.kit.json_form import from_json, from_parts, read_json, to_json, to_parts
from drumcore.kit.lookup import all_articulations, articulation_of, pieces_of
from drumcore.kit.repairs import fixed
from drumcore.kit.upgrades import NEW_DYNAMICS
from drumcore.kit.values import Articulation, CrossTalk, Family, Kit, Layer, Piece
from drumcore.playing.compiler import compile_kit
from drumcore.refusals import Refusal
from drumcore.treatments.drive import Drive
from tests.contradictions import CONTRADICTIONS, articulation, contradicting

each = pytest.mark.parametrize(("change", "said"), CONTRADICTIONS.values(), ids=CONTRADICTIONS.keys())


@pytest.fixture(scope="module")
def kit_file(small_kit, small_session, tmp_path_factory):
    places = {
        r.content: small_session / r.path
        for _, a in all_articulations(small_kit)
        for t in a.takes
        for r in t.recordings
    }
    path = tmp_path_factory.mktemp("whole") / "Small.zestykit"
    write_kit_file(small_kit, lambda content: places[content], path)
    return path


@each
def test_a_kit_from_outside_that_contradicts_itself_is_refused_by_file_and_command(
    kit_file, tmp_path, capsys, change, said
):
    path = tmp_path / "Odd.zestykit"
    with zipfile.ZipFile(kit_file) as old, zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            data = old.read(name)
            new.writestr(name, contradicting(data, change) if name == "kit.json" else data)
    with pytest.raises(Refusal) as refused:
        read_kit_file(path, tmp_path / "out")
    assert said in str(refused.value) and str(refused.value).startswith("kit.json in Odd.zestykit")
    assert main(["check", str(path), "--json"]) == 2
    out, err = capsys.readouterr()
    assert out == "" and said in err and err.count("\n") == 1


def test_a_small_file_that_promises_a_million_pieces_costs_next_to_nothing():
    text = contradicting(to_json(Kit(id="k", name="K")), CONTRADICTIONS["a million pieces"][0])
    tracemalloc.start()
    with pytest.raises(Refusal, match="larger than any"):
        from_json(text)
    assert tracemalloc.get_traced_memory()[1] < 1 << 20
    tracemalloc.stop()


FIXED = [(name, *c) for name, c in CONTRADICTIONS.items() if name != "a million pieces"]


@pytest.mark.parametrize(("name", "change", "said"), FIXED, ids=[name for name, *_ in FIXED])
def test_a_stored_kit_that_contradicts_itself_is_fixed_and_opens(small_kit: Kit, name, change, said):
    """What leads nowhere is left out and listed, what stands twice is kept apart, and everything else is as it was."""
    raw = json.loads(to_json(small_kit))
    change(raw)
    parts, articulations = {}, [a for p in raw["pieces"] for a in p["articulations"]]
    for number, held in enumerate(articulations):
        if not isinstance(held["takes"], str):
            parts[f"part {number}"] = json.dumps(held["takes"]).encode()
            held["takes"] = f"part {number}"
    kit, notes = from_parts(json.dumps(raw).encode(), parts)
    assert (notes or name == "half a character") and all(note.endswith(".") for note in notes)
    assert list(faults(kit)) == []
    compile_kit(kit)
    notice(kit)
    assert {p.id for p in pieces_of(kit)} >= {p.id for p in pieces_of(small_kit)} or "thousand" in name
    if "thousand" not in name:
        assert (
            sum(len(a.takes) for _, a in all_articulations(kit))
            >= sum(len(a.takes) for _, a in all_articulations(small_kit)) - 1
        )
    assert from_parts(*to_parts(kit)) == (kit, ())


def test_a_stored_kit_of_which_parts_are_lost_opens_with_the_rest(small_kit: Kit):
    head, parts = to_parts(small_kit)
    lost = json.loads(head)["pieces"][1]["articulations"][0]["takes"]
    kit, notes = from_parts(head, {h: data for h, data in parts.items() if h != lost})
    assert notes[0] == "The takes of centre could not be read."
    assert [len(a.takes) for _, a in all_articulations(kit)][:3] == [6, 0, 4]
    with pytest.raises(Refusal, match="not valid JSON"):
        from_parts(head[:50], parts)


def test_what_cannot_be_read_takes_nothing_with_it_that_can(small_kit: Kit):
    """Two values of one take that are none, one of another: those two takes go, and no neighbour of theirs."""
    head, parts = to_parts(small_kit)
    place = json.loads(head)["pieces"][1]["articulations"][0]["takes"]
    takes = json.loads(parts[place])
    takes[3] |= {"level_db": None, "start_ms": None, "label": None}
    takes[5]["recordings"] = "nothing of the kind"
    kit, notes = from_parts(head, parts | {place: json.dumps(takes).encode()})
    _, snare = articulation_of(kit, "snare/centre")
    _, whole = articulation_of(small_kit, "snare/centre")
    assert snare.takes == tuple(take for n, take in enumerate(whole.takes) if n not in (3, 5))
    assert all(note.endswith(".") for note in notes)


def test_pieces_that_stand_twice_are_kept_once_and_others_of_their_name_apart(small_kit: Kit):
    kick, snare = pieces_of(small_kit)[:2]
    other = kick.but(name="Another kick")
    odd = small_kit.but(pieces=(kick, kick, snare, other, snare, other))
    kit, _ = fixed(odd)
    assert [(p.id, p.name) for p in pieces_of(kit)] == [
        ("kick", "Kick"),
        ("snare", "Snare"),
        ("kick-2", "Another kick"),
    ]
    assert [a.id for a in pieces_of(kit)[2].articulations] == ["kick/centre-2"]


def test_older_kits_open_by_the_new_rule_and_say_so(small_kit: Kit):
    shaking = (CrossTalk(after=38, note=48, up_to=20, within_ms=9.0),)
    loud = apply(small_kit, e.SetInput(input="pads", name="Pads", cross_talk=shaking))
    raw = json.loads(to_json(loud)) | {"format": 3}
    raw["pieces"][0]["tracking"]["level"] = 1.4
    for piece in raw["pieces"]:
        for held in piece["articulations"]:
            del held["whole"]
            for recording in (r for t in held["takes"] for r in t["recordings"]):
                recording["shape"] = recording.pop("outline")
    for known in raw["inputs"]:
        known["bleeds"] = known.pop("cross_talk")
    raw["routing"]["channels"][0]["soloed"] = True  # solo is listening now
    kit, notes = read_json(json.dumps(raw))
    assert notes == (NEW_DYNAMICS,) and kit == loud
    whole = json.loads(json.dumps(raw))
    whole["pieces"][0]["tracking"]["whole"] = True
    assert pieces_of(read_json(json.dumps(whole))[0])[0].tracking.level == 1.4
    assert read_json(to_json(kit)) == (kit, ())


def test_an_empty_piece_and_a_layer_without_takes_are_as_they_may_be():
    empty = Articulation(id="a/b", name="b", takes=(), layers=(Layer(low=1, high=127, takes=()),))
    kit = Kit(id="k", name="K", pieces=(Piece(id="a", name="A", family=Family.TOM, articulations=(empty,)),))
    assert list(faults(kit)) == [] and from_json(to_json(kit)) == kit
    assert without_recordings(kit, {"x"}) == kit


def test_an_edit_that_would_break_a_kit_is_refused_at_the_end_of_its_bundle(small_kit: Kit):
    many = e.Several(said="Many", edits=(e.MakePiece(name="Tom"),) * (MOST_PIECES + 1))
    with pytest.raises(Refusal, match="holds at most 1,000 pieces"):
        apply(small_kit, many)
    piece = pieces_of(small_kit)[1]
    broken = piece.but(id="x", articulations=(piece.articulations[0].but(id="x/y", takes=()),))
    building = e.BuildPieces(mics=(), pieces=(broken,))
    with pytest.raises(Refusal, match="names a take that does not exist"):
        apply(small_kit, building)
    # Within a bundle a kit may be odd for a while.
    assert apply(small_kit, e.Several(said="x", edits=(building, e.RemovePiece(piece="x")))).pieces == small_kit.pieces


def test_recordings_that_are_lost_take_with_them_what_named_them(small_kit: Kit):
    gone = {
        r.content for _, a in all_articulations(small_kit) if a.id == "hats/open" for t in a.takes for r in t.recordings
    }
    kit = without_recordings(apply(small_kit, e.ChokeAsUsual(piece="hats")), gone)
    assert list(faults(kit)) == []
    assert "hats/open" not in {a.id for _, a in all_articulations(kit)} and articulation(json.loads(to_json(kit)))


OLDER_NAMES = {
    "chokes": "silences",
    "flipped": "turned",
    "pre_fader": "early",
    "ignored": "settled",
    "drive_db": "push_db",
    "level_matched": "made_good",
}
"""What fields were called before format 13, by what they are called now."""


def test_a_kit_with_the_names_of_before_opens_as_it_was(rich: Kit):
    """Format 13 renamed fields of kits, and with them of pieces, treatments and plans that hold the same values."""

    def older(value):
        if isinstance(value, dict):
            return {OLDER_NAMES.get(key, key): older(held) for key, held in value.items()}
        return [older(each) for each in value] if isinstance(value, list) else value

    driven = apply(rich, e.SetTreatment(channel="snare-channel", treatment=Drive(drive_db=9.0, level_matched=False)))
    now = json.loads(to_json(driven))
    raw = older(now) | {"format": 12}
    assert "silences" in json.dumps(raw) and "push_db" in json.dumps(raw) and raw != now
    assert read_json(json.dumps(raw)) == (driven, ())
