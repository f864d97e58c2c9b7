"""A piece of another kit over HTTP: what is offered, what it would do and how it would sound, and the edit."""

import pytest
from django.db.models import Sum

from drumcore.playing.play_table import PlayHead, PlayPiece
from studio.kits.models import KitRecord
from studio.kits.versions import current_kit
from studio.storage.models import StoredFile


@pytest.fixture
def two(studio, small_session) -> tuple[dict, dict]:
    """A kit, and another of the same recordings that is treated and has kept its snare."""
    one, other = studio.kit_of(small_session, "Quay"), studio.kit_of(small_session, "Lantern")
    other = studio.edit(other, {"kind": "set_treatment", "channel": "snare-channel", "treatment": {"kind": "eq"}})
    other = studio.edit(other, {"kind": "set_piece", "piece": "snare", "level_db": -7.0})
    studio.post(f"/kits/{other['id']}/pieces/snare/keep", {"name": "Side snare"})
    return one, other


def test_pieces_of_kits_sessions_and_the_library_are_offered_and_found(studio, two):
    one, _ = two
    groups = studio.get(f"/kits/{one['id']}/bring")
    named = {group["name"]: [piece["name"] for piece in group["pieces"]] for group in groups}
    assert named == {"Kept in the library": ["Side snare"], "Lantern": ["Kick", "Snare", "Hats", "Crash left"]}
    found = studio.get(f"/kits/{one['id']}/bring?find=snare lant")
    assert [(g["name"], [p["name"] for p in g["pieces"]]) for g in found] == [("Lantern", ["Snare"])]
    session = studio.get("/library/sessions")["entries"][0]["id"]
    alone = studio.post(f"/library/sessions/{session}/duplicate", {"name": "Not a kit yet"})["id"]
    (group,) = [g for g in studio.get(f"/kits/{one['id']}/bring") if g["kind"] == "sessions"]
    assert group["name"] == "Not a kit yet" and len(group["pieces"]) == 4
    shown = studio.post(f"/kits/{one['id']}/bring", {"source": group["pieces"][1]["source"], "instead_of": "kick"})
    assert shown["name"] == "Snare" and alone


def test_what_would_be_is_said_and_compiled_and_then_is(studio, two):
    one, other = two
    asked = {"source": {"kind": "kits", "id": other["id"], "piece": "snare"}, "instead_of": "kick"}
    shown = studio.post(f"/kits/{one['id']}/bring", asked)
    assert (shown["name"], shown["of"], shown["treated"], shown["piece"]) == ("Snare", "Lantern", ["EQ"], "kick")
    assert [s["stands_for"] for s in shown["articulations"]] == ["Kick · centre"]
    assert {m["name"]: m["channel"] for m in shown["mics"]} == {
        "Snare mic": "kick-channel",
        "Overheads": "overheads-channel",
        "Room": "room-channel",
    }
    assert shown["gain_db"] == pytest.approx(shown["theirs_db"] - shown["its_db"], abs=0.051) != 0
    for climb, figure in (("theirs_climb", "theirs_db"), ("its_climb", "its_db")):
        levels = dict(shown[climb])
        assert levels[100] == pytest.approx(shown[figure], abs=0.01)
        assert sorted(levels.values()) == [levels[v] for v in sorted(levels)] and levels[127] > levels[4] + 10
    assert [piece["id"] for piece in shown["pieces"]] == ["kick"]
    assert studio.get(f"/kits/{one['id']}/version")["version"] == one["version"]
    state = studio.post(f"/kits/{one['id']}/bring-piece", {"base_version": one["version"], "asked": asked})
    assert state["undo"] == "Snare of Lantern replaces Kick"
    assert PlayHead.model_validate(state["play_head"]) == PlayHead.model_validate(shown["head"])
    played = {piece["id"]: PlayPiece.model_validate(piece) for piece in state["play_pieces"]}
    assert [played[piece["id"]] for piece in shown["pieces"]] == [PlayPiece.model_validate(p) for p in shown["pieces"]]
    version = studio.get(f"/kits/{other['id']}/version")["version"]
    # What is asked of the studio again finds the figures it knows; as loud is as loud.
    again = studio.post(f"/kits/{one['id']}/bring", {"source": asked["source"], "together_with": "kick"})
    assert again["theirs_db"] == pytest.approx(shown["theirs_db"], abs=0.06) and again["piece"] == "snare-2"
    studio.edit(studio.kit(one["id"]), {"kind": "set_piece", "piece": "kick", "level_db": -30.0})
    rules = {f["rule"]: f for f in studio.get(f"/kits/{one['id']}/findings")}
    quieter = rules["quieter_than_what_it_replaced"]
    assert quieter["title"] == "Snare 2 is much quieter than Kick was"
    fixed = studio.edit(studio.kit(one["id"]), quieter["fixes"][0]["edit"])
    assert "quieter_than_what_it_replaced" not in {f["rule"] for f in studio.get(f"/kits/{one['id']}/findings")}
    assert fixed and studio.get(f"/kits/{other['id']}/version")["version"] == version


def test_a_kit_that_ships_takes_in_a_copy_and_what_is_gone_gets_a_sentence(studio, two):
    one, other = two
    KitRecord.objects.filter(id=one["id"]).update(ships=True)
    kept = studio.get(f"/kits/{one['id']}/bring?find=side")[0]["pieces"][0]["source"]
    asked = {"source": kept, "notes": [{"articulation": "snare/centre", "note": 40}]}
    state = studio.post(f"/kits/{one['id']}/bring-piece", {"base_version": one["version"], "asked": asked})
    assert state["id"] != one["id"] and state["copied"] and len(state["order"]) == 5
    for source, said in (
        ({"kind": "kits", "id": "gone", "piece": "snare"}, "no such kit"),
        ({"kind": "kits", "id": other["id"], "piece": "gong"}, "no piece “gong”"),
        ({"kind": "pieces", "id": "77"}, "no such piece"),
        ({"kind": "sessions", "id": "x"}, "no such session"),
        ({"kind": "sessions", "id": "9" * 40}, "no such session"),
    ):
        refused = studio.post(f"/kits/{one['id']}/bring", {"source": source}, 422)["detail"]
        assert said in refused


def test_several_are_tried_and_taken_as_one_edit_and_room_is_said(studio, two):
    one, other = two
    sources = [{"kind": "kits", "id": other["id"], "piece": piece} for piece in ("snare", "crash-left")]
    shown = studio.post(f"/kits/{one['id']}/bring-several", {"sources": sources})
    assert [(each["name"], each["piece"], each["instead_of"]) for each in shown["taken"]] == [
        ("Snare", "snare-2", ""),
        ("Crash left", "crash-left-2", ""),
    ]
    # They are recordings that this kit has already: nothing comes onto the disk, and nothing is said of it.
    assert [each["said"] for each in shown["consequences"]] == ["One undo removes all of them again."]
    assert studio.get(f"/kits/{one['id']}/version")["version"] == one["version"]
    placed = studio.post(f"/kits/{one['id']}/bring-several", {"sources": sources, "in_places": True})
    assert [each["instead_of"] for each in placed["taken"]] == ["Snare", "Crash left"]
    back = "One undo removes all of them again and restores Snare and Crash left as they were."
    assert [each["said"] for each in placed["consequences"]] == [back]
    # Ours stand at their own levels: theirs is brought to them.
    assert placed["taken"][0]["gain_db"] == pytest.approx(
        studio.post(f"/kits/{one['id']}/bring", {"source": sources[0], "instead_of": "snare"})["gain_db"], abs=0.06
    )
    asked = {"base_version": one["version"], "asked": {"sources": sources}}
    state = studio.post(f"/kits/{one['id']}/bring-pieces", asked)
    assert state["undo"] == "Snare and Crash left of Lantern added"
    assert state["order"] == ["kick", "snare", "hats", "crash-left", "snare-2", "crash-left-2"]
    played = {piece["id"]: PlayPiece.model_validate(piece) for piece in state["play_pieces"]}
    assert [played[piece["id"]] for piece in shown["pieces"]] == [PlayPiece.model_validate(p) for p in shown["pieces"]]
    back = studio.post(f"/kits/{one['id']}/undo", {"base_version": state["version"]})
    assert back["order"] == one["order"]
    empty = studio.post("/kits", {"name": "Empty"})["id"]
    said, _ = studio.post(f"/kits/{empty}/bring-several", {"sources": sources})["consequences"]
    size = StoredFile.objects.filter(content__in=_contents(other["id"], "snare", "crash-left")).aggregate(Sum("size"))
    assert said["said"].startswith(f"{size['size__sum'] / 1e6:.1f} MB of recordings are in the studio already")


def _contents(kit: str, *pieces: str) -> set[str]:
    found = [piece for piece in current_kit(kit).pieces if piece.id in pieces]
    return {r.content for p in found for a in p.articulations for t in a.takes for r in t.recordings}


def test_where_a_piece_came_from_is_shown_and_what_changed_there_since(studio, two):
    one, other = two
    source = {"kind": "kits", "id": other["id"], "piece": "snare"}
    asked = {"base_version": one["version"], "asked": {"source": source}}
    one = studio.post(f"/kits/{one['id']}/bring-piece", asked)
    (shown,) = studio.get(f"/kits/{one['id']}/origins")
    assert (shown["piece"], shown["there"], shown["changed"]) == ("snare-2", True, [])
    assert (shown["origin"]["name"], shown["origin"]["piece"]) == ("Lantern", "snare")
    # What changes in others of its pieces is no newer snare; what changes in the snare is said.
    other = studio.edit(studio.kit(other["id"]), {"kind": "set_piece", "piece": "kick", "level_db": -3.0})
    assert studio.get(f"/kits/{one['id']}/origins")[0]["changed"] == []
    studio.edit(other, {"kind": "trim_takes", "articulation": "snare/centre", "takes": ["t1"], "gain_db": -3.0})
    (shown,) = studio.get(f"/kits/{one['id']}/origins")
    assert shown["changed"] == ["Snare · centre 1-1 changed"]
    KitRecord.objects.filter(id=other["id"]).delete()
    (shown,) = studio.get(f"/kits/{one['id']}/origins")
    assert (shown["there"], shown["changed"]) == (False, [])
