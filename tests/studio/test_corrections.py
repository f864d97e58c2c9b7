"""Corrections of how names are read: shown before they are made, one step to take back."""

from itertools import product

from tests.conftest import strike_sound, write_sound


def brought_in(studio, tmp_path) -> int:
    root = tmp_path / "Two kinds"
    for number, (piece, v, r) in enumerate(product(("kick", "snare rim"), (1, 2, 3), (1, 2))):
        write_sound(root / f"{piece} {v} {r}.wav", strike_sound(-8.0 * (3 - v) + 0.2 * r, number))
    return studio.bring_in(studio.post("/kits", {"name": "Two"})["id"], root)["session"]


def sizes(studio, session: int) -> dict[str, list[int]]:
    return {a["articulation_id"]: a["sizes"] for a in studio.get(f"/sessions/{session}")["articulations"]}


def test_a_correction_is_shown_before_it_is_made_and_taken_back_in_one_step(studio, tmp_path):
    session = brought_in(studio, tmp_path)
    reading = studio.get(f"/sessions/{session}")
    assert reading["can_undo"] is False
    was = sizes(studio, session)
    assert was == {"kick/centre": [2, 2, 2], "snare/rim": [2, 2, 2]}
    kicks = next(g for g in reading["groups"] if "kick" in g["example"])
    place = next(k for k, c in enumerate(kicks["columns"]) if c["meaning"] == "strength")
    elsewhere = [(g, k) for g, k in kicks["columns"][place]["elsewhere"]]
    assert len(elsewhere) == 1
    said = {"rulings": [{"group": kicks["key"], "column": place, "meaning": "repeat"}]}
    shown = studio.post(f"/sessions/{session}/guidance/preview", said)
    assert sizes(studio, session) == was, "looking changes nothing"
    kick = next(change for change in shown if change["group"] == kicks["key"])
    assert (kick["changed"], kick["files"]) == (6, 6)
    # What was said beforehand is what comes about, in the groups that were shown and in no others.
    studio.post(f"/sessions/{session}/guidance", said)
    now = studio.get(f"/sessions/{session}")
    meant = {group["key"]: [c["meaning"] for c in group["columns"]] for group in now["groups"]}
    before = {group["key"]: [c["meaning"] for c in group["columns"]] for group in reading["groups"]}
    assert meant[kicks["key"]][place] == "repeat"
    assert {key for key in meant if meant[key] != before[key]} == {change["group"] for change in shown}
    assert now["can_undo"] is True
    studio.post(f"/sessions/{session}/guidance/undo")
    assert sizes(studio, session) == was and studio.get(f"/sessions/{session}")["can_undo"] is False
    assert "nothing to undo" in studio.post(f"/sessions/{session}/guidance/undo", None, 422)["detail"]


def test_a_correction_for_all_kinds_of_names_is_one_step(studio, tmp_path):
    session = brought_in(studio, tmp_path)
    reading = studio.get(f"/sessions/{session}")
    was = sizes(studio, session)
    rulings = [
        {"group": group["key"], "column": k, "meaning": "ignored"}
        for group in reading["groups"]
        for k, column in enumerate(group["columns"])
        if column["meaning"] == "strength"
    ]
    shown = studio.post(f"/sessions/{session}/guidance/preview", {"rulings": rulings})
    assert {change["group"] for change in shown} == {group["key"] for group in reading["groups"]}
    before, after = (shown[0]["examples"][0][key] for key in ("before", "after"))
    assert ", layer 1, round robin 1" in before and "layer" not in after
    studio.post(f"/sessions/{session}/guidance", {"rulings": rulings})
    assert sizes(studio, session) != was
    studio.post(f"/sessions/{session}/guidance/undo")
    assert sizes(studio, session) == was
