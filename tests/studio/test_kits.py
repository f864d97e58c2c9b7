"""Kits: every edit a version, a stale one refused, undo without limit, nothing acknowledged lost."""

import zlib

from pydantic import TypeAdapter

from drumcore.edits.apply import apply
from drumcore.edits.values import Edit
from studio.kits import versions
from studio.kits.models import KitVersion, Part

SPLIT = {"kind": "split_evenly", "articulation": "snare/centre"}


def ranges(state: dict) -> list[tuple[int, int]]:
    snare = next(p for p in state["pieces"] if p["id"] == "snare")
    return [(y["low"], y["high"]) for y in snare["articulations"][0]["layers"]]


def test_a_kit_is_made_from_recordings_and_edited(studio, small_session):
    kit = studio.kit_of(small_session)
    assert kit["order"] == ["kick", "snare", "hats", "crash-left"]
    before = ranges(kit)
    after = studio.edit(kit, SPLIT)
    assert after["version"] == kit["version"] + 1
    assert [p["id"] for p in after["pieces"]] == ["snare"]  # only what changed is answered
    assert [p["id"] for p in after["play_pieces"]] == ["snare"]
    assert ranges(after) == [(1, 32), (33, 64), (65, 95), (96, 127)] != before
    undone = studio.post(f"/kits/{kit['id']}/undo", {"base_version": after["version"]})
    assert (ranges(undone), undone["undo"], undone["redo"]) == (
        before,
        "Pieces made: Kick, Snare, Hats and Crash left",
        "Snare · centre split evenly",
    )
    redone = studio.post(f"/kits/{kit['id']}/redo", {"base_version": undone["version"]})
    assert ranges(redone) == ranges(after)


def test_a_stale_edit_is_refused_and_nothing_is_overwritten(studio, small_session):
    kit = studio.kit_of(small_session)
    newer = studio.edit(kit, {"kind": "rename_kit", "name": "Early"})
    said = studio.edit(kit, {"kind": "rename_kit", "name": "Late"}, status=409)
    assert said["current"] == newer["version"] and "changed elsewhere" in said["detail"]
    assert studio.kit(kit["id"])["head"]["name"] == "Early"


def test_refused_edits_say_why_and_ask_about_occupied_notes(studio, small_session):
    kit = studio.kit_of(small_session)
    put = {"kind": "put_on_note", "articulation": "kick/centre", "note": 38}
    said = studio.edit(kit, put, status=422)
    assert said["occupied"] and "stack or replace" in said["detail"]
    stacked = studio.edit(kit, {**put, "when_occupied": "stack"})
    assert len([p for p in stacked["head"]["placed"] if p["note"] == 38]) == 2
    assert not studio.edit(stacked, {"kind": "apply_plan", "plan": "x"}, status=422)["occupied"]
    assert studio.kit(kit["id"])["version"] == stacked["version"]


def test_one_undo_takes_a_whole_drag_back_and_every_version_stays(studio, small_session):
    kit = studio.kit_of(small_session)
    at = kit
    for level in (-1.0, -2.0, -3.0):
        at = studio.edit(at, {"kind": "set_channel", "channel": "kick-channel", "level_db": level}, gesture="drag 1")
    at = studio.edit(at, {"kind": "set_channel", "channel": "kick-channel", "level_db": -9.0}, gesture="drag 2")
    undone = studio.post(f"/kits/{kit['id']}/undo", {"base_version": at["version"]})
    assert undone["head"]["channels"][0]["level_db"] == -3.0
    undone = studio.post(f"/kits/{kit['id']}/undo", {"base_version": undone["version"]})
    assert undone["head"]["channels"][0]["level_db"] == 0.0
    assert KitVersion.objects.filter(kit_id=kit["id"]).count() == at["version"]


def test_a_version_is_read_back_from_the_store_as_it_was(studio, small_session):
    kit = studio.kit_of(small_session)
    remembered = versions.kit_at(kit["id"], kit["version"])
    versions._kits.clear()
    assert versions.kit_at(kit["id"], kit["version"]) == remembered


def test_a_thousand_edits_stay_small(studio, small_session):
    """Edits of layers and routing share every take: they add heads and no parts."""
    kit = studio.kit_of(small_session)
    parts = Part.objects.count()
    at = kit
    for number in range(20):
        at = studio.edit(at, {"kind": "set_channel", "channel": "kick-channel", "pan": number / 20 - 0.5})
    assert Part.objects.count() == parts
    heads = KitVersion.objects.filter(kit_id=kit["id"], number__gt=kit["version"])
    largest = max(len(v.head) for v in heads)
    assert largest < len(zlib.compress(str(versions.kit_at(kit["id"], kit["version"])).encode())) / 2


def test_findings_come_with_edits_that_fix(studio, small_session):
    kit = studio.kit_of(small_session)
    low = ranges(kit)[1]
    gap = {"kind": "move_boundary", "articulation": "snare/centre", "layer": 1, "velocity": low[1] - 2, "linked": False}
    kit = studio.edit(kit, gap)
    finding = next(f for f in studio.get(f"/kits/{kit['id']}/findings") if f["rule"] == "gap")
    studio.edit(kit, finding["fixes"][0]["edit"])
    assert "gap" not in {f["rule"] for f in studio.get(f"/kits/{kit['id']}/findings")}


def test_kits_that_are_not_there_and_other_sites_get_a_sentence(studio):
    assert "no such kit" in studio.get("/kits/nothing", 404)["detail"]
    answer = studio.client.post(
        "/api/kits", "{}", content_type="application/json", headers={"origin": "http://else.example"}
    )
    assert answer.status_code == 403 and "another site" in answer.json()["detail"]
    assert studio.post("/kits", {"name": "  "}, 422)["detail"] == "A kit needs a name."


def test_the_rules_of_the_core_are_told_once(studio):
    rules = studio.get("/rules")
    assert rules["limits"]["choke.fade_ms"] == {"least": 0.0, "most": 5000.0}
    assert rules["limits"]["layer.low"] == {"least": 1, "most": 127}
    assert rules["limits"]["cross_talk.up_to"] == {"least": 1, "most": 127}
    level = rules["trims"]["gain_db"]
    assert (level["name"], level["unit"], level["least"], level["most"]) == ("Level", "dB", -24.0, 24.0)
    assert rules["rates_hz"] == [44_100, 48_000, 96_000] and rules["bits"] == [16, 24, 32]
    assert rules["pedal"] == {"controller": 4, "closed_at": 0, "open_at": 127}
    assert rules["fades"] == {"by_articulation_ms": 12.0, "by_hand_ms": 60.0}
    assert rules["families"][:3] == ["kick", "snare", "hats"] and ".wav" in rules["recording_suffixes"]
    assert [(n["x"], n["y"]) for n in rules["straight"]["nodes"]] == [(0, 0), (127, 127)]


def edit_of(kit: str, number: int):
    kept = KitVersion.objects.get(kit_id=kit, number=number).edit
    return None if kept is None else TypeAdapter(Edit).validate_json(zlib.decompress(bytes(kept)))


def test_every_version_holds_the_edit_that_made_it(studio, small_session):
    """Made again on the version before, it makes the same kit."""
    kit = studio.kit_of(small_session)
    edits = [
        {"kind": "apply_plan", "plan": "one-output-a-piece"},
        {"kind": "split_evenly", "articulation": "snare/centre"},
        {"kind": "several", "said": "Two", "edits": [{"kind": "clear_outputs"}, {"kind": "make_bus", "name": "Crush"}]},
    ]
    for edit in edits:
        kit = studio.edit(kit, edit)
    name = kit["id"]
    numbers = range(2, kit["version"] + 1)
    for number in numbers:
        edit = edit_of(name, number)
        assert edit is not None and apply(versions.kit_at(name, number - 1), edit) == versions.kit_at(name, number)
    assert [edit_of(name, number).kind for number in numbers] == [
        "build_pieces",
        "apply_plan",
        "split_evenly",
        "several",
    ]
    assert edit_of(name, 1) is None
    back = studio.post(
        f"/kits/{name}/back", {"base_version": kit["version"], "as_it_was": {"version": 2, "routing": False}}
    )
    assert edit_of(name, back["version"]) is None
