"""A and B: what a kit was at can be heard, is measured as loud, is named, and is gone back to by one edit."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from drumcore.demo.grooves import demo_grooves
from drumcore.formats.midi import write_midi

SNARE = "snare-channel"


@pytest.fixture
def groove(studio, tmp_path) -> int:
    write_midi(demo_grooves()[2], tmp_path / "Tide Turn.mid")
    upload = SimpleUploadedFile("Tide Turn.mid", (tmp_path / "Tide Turn.mid").read_bytes())
    return studio.send("/grooves", file=upload)[0]["id"]


def channel(head: dict, name: str = SNARE) -> dict:
    return next(c for c in head["channels"] if c["id"] == name)


def then_of(studio, kit: dict, version: int, routing: bool = True, status: int = 200) -> dict:
    return studio.get(f"/kits/{kit['id']}/as-it-was?version={version}&routing={str(routing).lower()}", status)


def test_a_kit_is_heard_as_it_was_and_gone_back_to_by_one_edit(studio, small_session):
    dry = studio.kit_of(small_session)
    studio.post(f"/kits/{dry['id']}/moments", {"version": dry["version"], "name": "  dry  "})
    kit = dry
    for edit in (
        {"kind": "set_channel", "channel": SNARE, "level_db": -12.0},
        {"kind": "set_mic", "mic": "room", "muted": True},
        {"kind": "set_piece", "piece": "snare", "level_db": -3.0},
        {"kind": "split_evenly", "articulation": "snare/centre"},
        {"kind": "rename_kit", "name": "Renamed"},
    ):
        kit = studio.edit(kit, edit)
    snare = next(piece for piece in studio.get(f"/kits/{kit['id']}")["pieces"] if piece["id"] == "snare")
    layers = len(snare["articulations"][0]["layers"])
    listed = studio.get(f"/kits/{kit['id']}/moments")
    assert [m["said"] for m in listed][:2] == ["The kit is called Renamed", "Snare · centre split evenly"]
    assert [m["version"] for m in listed if m["name"]] == [dry["version"]] and listed[-2]["name"] == "dry"
    # Its routing alone: no piece plays anything else; all of it: the snare's layers too.
    routing, whole = (then_of(studio, kit, dry["version"], routing) for routing in (True, False))
    assert channel(routing["head"])["matrix"] == channel(dry["play_head"])["matrix"]
    assert routing["pieces"] == [] and [piece["id"] for piece in whole["pieces"]] == ["snare"]
    assert routing["head"]["feeds"] == dry["play_head"]["feeds"]
    # Listening is no edit.
    assert studio.get(f"/kits/{kit['id']}/version")["version"] == kit["version"]
    back = studio.post(
        f"/kits/{kit['id']}/back", {"base_version": kit["version"], "as_it_was": {"version": dry["version"]}}
    )
    assert back["undo"] == "Restore dry" and back["head"]["name"] == "Renamed"
    assert channel(back["play_head"]) == channel(dry["play_head"])
    snare = next(piece for piece in studio.get(f"/kits/{kit['id']}")["pieces"] if piece["id"] == "snare")
    assert snare["level_db"] == 0.0
    # What was done to its layers since is not undone.
    assert len(snare["articulations"][0]["layers"]) == layers
    undone = studio.post(f"/kits/{kit['id']}/undo", {"base_version": back["version"]})
    assert channel(undone["play_head"])["matrix"] == channel(kit["play_head"])["matrix"]
    for version, status in ((999, 422), (-1, 422)):
        assert "choose another" in then_of(studio, kit, version, status=status)["detail"]
    stale = {"base_version": dry["version"], "as_it_was": {"version": dry["version"]}}
    assert studio.post(f"/kits/{kit['id']}/back", stale, 409)["current"] == undone["version"]


def test_both_are_measured_in_the_same_groove(studio, small_session, groove):
    dry = studio.kit_of(small_session)
    kit = studio.edit(dry, {"kind": "set_channel", "channel": "main", "level_db": -6.0})
    asked = {"of": {"kind": "kit", "groove": groove}}
    now = studio.post(f"/kits/{kit['id']}/figures", asked)["figure"]["db"]
    then = studio.post(f"/kits/{kit['id']}/figures", asked | {"as_it_was": {"version": dry["version"]}})["figure"]["db"]
    assert then - now == pytest.approx(6.0, abs=0.01)


def test_what_came_since_stays_heard_when_its_routing_is_gone_back_to(studio, small_session):
    dry = studio.kit_of(small_session)
    kit = studio.edit(dry, {"kind": "duplicate_piece", "piece": "snare"})
    kit = studio.edit(kit, {"kind": "make_bus", "name": "Crush"})
    now = then_of(studio, kit, dry["version"])
    assert len(now["head"]["channels"]) == len(dry["play_head"]["channels"])
    added = next(p for p in studio.get(f"/kits/{kit['id']}")["order"] if p not in dry["order"])
    fed = next(feeds for feeds in now["head"]["feeds"] if feeds["piece"] == added)
    assert any(fed["mics"])
    # A mark is taken away and the version stays; a name of blanks is none.
    studio.post(f"/kits/{kit['id']}/moments", {"version": dry["version"], "name": "dry"})
    assert studio.client.delete(f"/api/kits/{kit['id']}/moments/{dry['version']}").status_code == 204
    assert not [m for m in studio.get(f"/kits/{kit['id']}/moments") if m["name"]]
    refused = studio.post(f"/kits/{kit['id']}/moments", {"version": dry["version"], "name": "   "}, 422)
    assert "needs a name" in refused["detail"]
