"""Kits hold together over HTTP: what contradicts itself is refused with a sentence, what was stored always opens."""

import json
import zipfile
import zlib

from django.core.files.uploadedfile import SimpleUploadedFile

from drumcore.kit.json_form import to_json
from studio.kits import versions
from studio.kits.models import KitRecord, KitVersion, Part
from tests.contradictions import CONTRADICTIONS, contradicting

TOLD_APART = {name: told for name, told in CONTRADICTIONS.items() if name != "a million pieces"}


def stored(kit_id: str, change, **head: object) -> None:
    """What an older or a broken program might have left in the database."""
    version = KitVersion.objects.get(kit_id=kit_id, number=KitRecord.objects.get(id=kit_id).current)
    raw = json.loads(zlib.decompress(bytes(version.head)))
    for piece in raw["pieces"]:
        for articulation in piece["articulations"]:
            part = Part.objects.get(hash=articulation["takes"])
            articulation["takes"] = json.loads(zlib.decompress(bytes(part.data)))
    change(raw)
    for number, articulation in enumerate(a for p in raw["pieces"] for a in p["articulations"]):
        if not isinstance(articulation["takes"], str):
            name = f"changed {number} of {kit_id}"
            Part.objects.create(hash=name, data=zlib.compress(json.dumps(articulation["takes"]).encode()))
            articulation["takes"] = name
    version.head = zlib.compress(json.dumps(raw | head).encode())
    version.save()
    versions._kits.clear()


def test_a_kit_file_that_contradicts_itself_is_refused_and_the_list_stands(studio, small_session):
    kit = studio.kit_of(small_session)
    whole = to_json(versions.current_kit(kit["id"]))
    file = studio.download(studio.post(f"/kits/{kit['id']}/exports/kit-file", {})["download"])
    for name, (change, said) in TOLD_APART.items():
        odd = SimpleUploadedFile("Odd.zestykit", b"")
        with zipfile.ZipFile(file) as old, zipfile.ZipFile(odd, "w") as new:
            for entry in old.namelist():
                new.writestr(entry, contradicting(whole, change) if entry == "kit.json" else old.read(entry))
        odd.seek(0)
        job = studio.send("/kit-files", file=odd)
        assert job["state"] == "failed" and said in job["message"], f"{name}: {job['message']}"
        assert [k["id"] for k in studio.get("/kits")] == [kit["id"]], name


def test_the_api_takes_no_pieces_that_contradict_themselves_and_no_numbers_that_are_none(studio, small_session):
    kit = studio.kit_of(small_session)
    piece = json.loads(to_json(versions.current_kit(kit["id"])))["pieces"][0]
    piece["articulations"][0]["layers"][0]["takes"] = ["t99"]
    said = studio.edit(kit, {"kind": "build_pieces", "mics": [], "pieces": [piece]}, status=422)
    assert "names a take that does not exist (“t99”)" in said["detail"]
    level = {"kind": "set_channel", "channel": "main", "level_db": float("nan")}
    assert studio.edit(kit, level, status=400)["detail"].startswith("This request is not JSON that can be read")
    assert studio.edit(kit, {"kind": "rename_kit", "name": "\ud800"}, status=400)["detail"].endswith("again.")
    odd = studio.edit(kit, {"kind": "set_channel", "channel": "main", "level_db": 1e300}, status=422)
    assert odd["detail"].startswith("This request is not understood at “edit.set_channel.level_db”")
    assert studio.kit(kit["id"])["version"] == kit["version"]


def test_a_stored_kit_that_contradicts_itself_opens_is_edited_and_hides_none(studio, small_session):
    kit = studio.kit_of(small_session)
    there = {kit["id"]}
    for name, (change, _) in TOLD_APART.items():
        copy = studio.post(f"/library/kits/{kit['id']}/duplicate", {"name": name})["id"]
        stored(copy, change)
        there.add(copy)
        assert {k["id"] for k in studio.get("/kits")} == there, name
        opened = studio.kit(copy)
        assert opened["notes"] or name == "half a character", name  # a mark stands in its place
        studio.get(f"/kits/{copy}/findings")
        after = studio.edit(opened, {"kind": "set_channel", "channel": "main", "level_db": -3.0})
        assert after["notes"] == studio.kit(copy)["notes"] == [], name


def test_a_kit_of_an_older_format_says_so_once(studio, small_session):
    kit = studio.kit_of(small_session)
    stored(kit["id"], lambda raw: None, format=3)
    (note,) = studio.kit(kit["id"])["notes"]
    assert "a harder strike is never softer" in note
    assert studio.client.post(f"/api/kits/{kit['id']}/told").status_code == 204
    assert studio.kit(kit["id"])["notes"] == []


def test_a_kit_of_which_nothing_can_be_read_hides_no_other(studio, small_session):
    kit = studio.kit_of(small_session)
    other = studio.post("/kits", {"name": "Beside it"})
    KitVersion.objects.filter(kit_id=kit["id"]).update(head=b"nothing of the kind")
    versions._kits.clear()
    assert {k["id"]: k["takes"] for k in studio.get("/kits")}[kit["id"]] > 0, "the list opens no kit"
    # An older program left no figures of it.
    KitRecord.objects.update(summary=None)
    cards = {k["id"]: k for k in studio.get("/kits")}
    assert "cannot be read" in cards[kit["id"]]["trouble"] and cards[other["id"]]["trouble"] == ""
    assert "cannot be read" in studio.get(f"/kits/{kit['id']}", status=422)["detail"]
