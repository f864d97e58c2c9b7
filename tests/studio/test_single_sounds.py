"""Single sounds over HTTP: dropped on notes, or a folder of them that becomes a kit by itself."""

from pathlib import Path

import pytest

from tests.conftest import strike_sound, write_sound


@pytest.fixture
def kitchen(tmp_path: Path) -> Path:
    folder = tmp_path / "Kitchen"
    for seed, name in enumerate(("Oven door", "Saucepan", "Egg timer")):
        write_sound(folder / f"{name}.wav", strike_sound(-6.0, 100 + seed))
    (folder / "recipe.txt").write_text("Two eggs.")
    (folder / "Spoon.wav").write_bytes(b"RIFF and nothing else")
    return folder


def brought(studio, kit: str, folder: Path, **said) -> int:
    came = studio.bring_in(kit, folder, **said)
    assert came["job"]["state"] == "done"
    return came["session"]


def test_sounds_become_pieces_on_notes_and_bad_files_beside_them_get_a_sentence(studio, small_session, kitchen):
    kit = studio.kit_of(small_session)
    session = brought(studio, kit["id"], kitchen, each_alone=True)
    asked = {"base_version": kit["version"], "kit": kit["id"], "note": 36}
    refused = studio.post(f"/sessions/{session}/sounds", {**asked, "paths": ["Oven door.wav"]}, 422)
    assert refused["occupied"] and "C1 plays Kick · centre" in refused["detail"]
    paths = ["Saucepan.wav", "Spoon.wav", "Oven door.wav"]
    state = studio.post(f"/sessions/{session}/sounds", {**asked, "paths": paths, "when_occupied": "stack"})
    assert state["undo"] == "Saucepan on 36 (C1) and 1 more next to it"
    assert [p["name"] for p in state["pieces"][-2:]] == ["Saucepan", "Oven door"]
    reading = studio.get(f"/sessions/{session}")
    assert {u["path"] for u in reading["unread"]} == {"Spoon.wav", "recipe.txt"}
    none = studio.post(f"/sessions/{session}/sounds", {**asked, "paths": ["Spoon.wav"], "note": 90}, 422)["detail"]
    assert none.startswith("Nothing was put on the note: Spoon.wav")
    many = {**asked, "note": 90, "paths": []}
    assert len(studio.post(f"/sessions/{session}/sounds", {**many, "base_version": state["version"]})["order"]) == 9
    # The same session read again knows them by the same names.
    assert sorted(s["piece"] for s in reading["articulations"]) == ["Egg timer", "Oven door", "Saucepan"]


def test_a_folder_of_household_sounds_becomes_a_kit_with_a_proposal(studio, kitchen):
    kit = studio.post("/kits", {"name": "Kitchen"})["id"]
    session = brought(studio, kit, kitchen)
    stands = studio.get(f"/sessions/{session}/single-hits?kit={kit}")
    assert (stands["by_itself"], stands["nameless"], stands["proposed"]) == (True, 3, [])
    assert studio.post(f"/sessions/{session}/each-alone", {})["state"] == "done"
    stands = studio.get(f"/sessions/{session}/single-hits?kit={kit}")
    assert stands["nameless"] == 0 and {p["name"] for p in stands["proposed"]} == {"Oven door", "Saucepan", "Egg timer"}
    state = studio.post(f"/sessions/{session}/pieces", {"base_version": 1, "kit": kit, "by_sound": True})
    assert state["undo"] == "3 pieces made, 3 placed by sound"
    assert {p["articulation"]: p["note"] for p in state["head"]["placed"]} == {
        p["articulation"]: p["note"] for p in stands["proposed"]
    }
    # A kit that has pieces takes nothing in by itself, and a session of layers is no folder of single hits.
    assert studio.get(f"/sessions/{session}/single-hits?kit={kit}")["by_itself"] is False
    assert "every name" in studio.post(f"/sessions/{session}/each-alone", {}, 422)["detail"].lower()


def test_a_session_of_layers_is_not_made_by_itself(studio, small_session):
    empty = studio.post("/kits", {"name": "Empty"})["id"]
    session = brought(studio, empty, small_session)
    assert studio.get(f"/sessions/{session}/single-hits?kit={empty}")["by_itself"] is False
