"""Where a kit's sound leaves: plans are shown before they move anything, kept, carried; the host records by its names."""

import json
import zipfile

from django.core.files.uploadedfile import SimpleUploadedFile

from drumcore.demo.grooves import demo_grooves
from drumcore.formats.midi import write_midi

SKIFF_STEREO = {"name": "Dinghy", "runs": [{"width": "stereo", "count": 3, "called": "St"}]}


def test_a_plan_is_shown_before_it_moves_anything_and_remembers_its_numbers(studio, small_session):
    kit = studio.kit_of(small_session)
    shown = studio.post(f"/kits/{kit['id']}/plan-preview", {"plan": "one-output-a-piece", "host": SKIFF_STEREO})
    assert ("Kick", "main", "2 Kick") in {(m["name"], m["before"], m["after"]) for m in shown["moves"]}
    assert "Dinghy has no stereo output left for Room; Room goes to main." in " ".join(shown["misfits"])
    assert [(g["track"], g["output"]) for g in shown["plan"]["given"]] == [("Kick", 2), ("Snare", 3)]
    assert studio.get(f"/kits/{kit['id']}")["version"] == kit["version"]
    assert "no plan “x”" in studio.post(f"/kits/{kit['id']}/plan-preview", {"plan": "x"}, 422)["detail"]
    assert shown["learned"]
    kit = studio.edit(kit, {"kind": "set_host", "host": SKIFF_STEREO})
    assert not studio.post(f"/kits/{kit['id']}/plan-preview", {"plan": shown["plan"]})["learned"]
    kit = studio.edit(kit, {"kind": "apply_plan", "plan": shown["plan"]})
    assert {c["name"]: c["output"] for c in kit["head"]["channels"] if c["output"]} == {"Kick": 2, "Snare": 3}
    assert [(o["called"], o["name"]) for o in kit["head"]["outputs"]] == [
        ("St 1", "Main"),
        ("St 2", "Kick"),
        ("St 3", "Snare"),
    ]
    made = studio.get(f"/kits/{kit['id']}/plan")
    assert [rule["track"] for rule in made["rules"]] == ["Kick", "Snare"]


def test_plans_and_hosts_are_carried_as_files(studio):
    for shelf, shipped in (("plans", "pairs"), ("hosts", "skiff")):
        text = studio.client.get(f"/api/shelves/{shelf}/{shipped}/file")
        assert text["Content-Disposition"].endswith('.json"')
        file = SimpleUploadedFile("x.json", text.content)
        kept = studio.client.post(f"/api/shelf-files/{shelf}", {"file": file}).json()
        value = next(card for card in studio.get(f"/shelves/{shelf}") if card["id"] == shipped)
        assert kept["ours"] and kept["name"] == f"{value['name']} 2"
        assert {**kept["value"], "name": ""} == {**value["value"], "name": ""}
    bad = SimpleUploadedFile("x.json", b'{"routing_plan": 1, "rules": [{"track": "A"}]}')
    refused = studio.client.post("/api/shelf-files/plans", {"file": bad})
    assert refused.status_code == 422 and "matches nothing" in refused.json()["detail"]


def test_the_track_sheet_is_a_page_and_two_files_and_names_are_no_markup(studio, small_session):
    kit = studio.edit(studio.kit_of(small_session), {"kind": "apply_plan", "plan": "one-output-a-piece"})
    kit = studio.edit(kit, {"kind": "name_output", "output": 2, "track": "<b>Boom</b>"})
    page = studio.client.get(f"/api/kits/{kit['id']}/track-sheet/html")
    text = page.content.decode()
    assert page["Content-Type"].startswith("text/html") and "<b>Boom" not in text and "&lt;b&gt;Boom" in text
    sheet = json.loads(studio.client.get(f"/api/kits/{kit['id']}/track-sheet/json").content)
    kick = next(piece for piece in sheet["pieces"] if piece["name"] == "Kick")
    assert kick["own"] == {"number": 2, "called": "3/4", "track": "<b>Boom</b>", "side": "both"}
    assert [other["number"] for other in kick["others"]] == [5, 6] and kick["articulations"][0]["notes"] == [36]
    csv = studio.client.get(f"/api/kits/{kit['id']}/track-sheet/csv").content.decode()
    assert csv.splitlines()[1].startswith("Kick,centre,36,C1,2,3/4,,<b>Boom</b>,5 6")


def test_the_host_records_a_groove_by_the_names_of_its_tracks(studio, small_session, tmp_path):
    write_midi(demo_grooves()[2], tmp_path / "Tide Turn.mid")
    (groove,) = studio.send(
        "/grooves", file=SimpleUploadedFile("Tide Turn.mid", (tmp_path / "Tide Turn.mid").read_bytes())
    )
    kit = studio.edit(studio.kit_of(small_session), {"kind": "apply_plan", "plan": "one-output-a-piece"})
    kit = studio.edit(kit, {"kind": "name_output", "output": 2, "track": "Boom"})
    job = studio.post(f"/kits/{kit['id']}/exports/host-take", {"groove": groove["id"]})
    assert job["state"] == "done" and job["title"].startswith("Ferry 16 records ")
    parts = {part["output"]: part for part in job["parts"]}
    assert parts[2]["file"] == "02 Boom.wav" and parts[3]["file"] == "03 Track 3.wav"
    outline = parts[2]["outline"]
    assert 10 < len(outline) <= 160 and 0.0 < max(outline) <= 1.0
    archive = zipfile.ZipFile(studio.download(job["download"]))
    assert "02 Boom.wav" in archive.namelist()
