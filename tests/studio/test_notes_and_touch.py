"""Maps and curves kept, articulations taught, playing judged: over the API, as the interface does it."""

import json

from django.core.files.uploadedfile import SimpleUploadedFile

SNARE = "snare/centre"


def test_a_map_is_kept_compared_applied_elsewhere_and_carried(studio, small_session):
    kit = studio.kit_of(small_session)
    moved = studio.edit(kit, {"kind": "move_note", "note": 36, "to": 60})
    card = studio.post(f"/kits/{kit['id']}/map", {"name": "Quayside pads"})

    other = studio.kit_of(small_session, "Another")
    compared = studio.get(f"/kits/{other['id']}/maps/{card['id']}/compare")
    assert [(c["name"], c["before"], c["after"]) for c in compared["moved"]] == [("Kick · centre", [36], [60])]
    applied = studio.edit(other, {"kind": "apply_map", "map": card["value"]})
    assert applied["head"]["placed"] == moved["head"]["placed"]
    assert applied["head"]["base_name"] == "Quayside pads" and applied["head"]["customised"] == []
    assert moved["head"]["customised"] == [36, 60]

    # Out as a file, and in again under a free name; lines that are wrong are named.
    answer = studio.client.get(f"/api/maps/{card['id']}/file?form=csv")
    assert 'filename="Quayside pads.csv"' in answer["Content-Disposition"]
    damaged = answer.content + b"36,C1,kick,1,,,0,127,0\n"
    brought = studio.send("/map-files", file=SimpleUploadedFile("Quayside pads.csv", damaged))
    assert brought["card"]["name"] == "Quayside pads 2" and len(brought["problems"]) == 1
    assert brought["card"]["value"]["entries"] == card["value"]["entries"]
    whole = json.loads(studio.client.get(f"/api/kits/{kit['id']}/map-file?form=json").content)
    assert whole["entries"] == card["value"]["entries"]
    assert "is not text" in studio.send("/map-files", 422, file=SimpleUploadedFile("x.csv", b"\xff\xfe"))["detail"]

    bare = studio.post("/kits", {"name": "Bare"})
    replaced = studio.post(f"/kits/{bare['id']}/map/replaces/{card['id']}")
    assert replaced["value"]["entries"] == [] and replaced["value"]["name"] == "Quayside pads"


def test_an_articulation_is_taught_and_the_answer_says_what_it_would_do(studio, small_session):
    kit = studio.kit_of(small_session)
    heard = studio.post(
        f"/kits/{kit['id']}/teach",
        {
            "articulation": SNARE,
            "input": "midi:pads",
            "messages": [
                {"time_ms": 0, "kind": "note", "number": 41, "value": 9},
                {"time_ms": 300, "kind": "note", "number": 36, "value": 100},
            ],
        },
    )
    assert heard["said"] == "36 · C1 · velocity 100" and heard["plays"] == ["Kick · centre"]
    assert heard["ignored"] == [{"note": 41, "velocity": 9, "why": "too soft, ignored"}]
    refused = studio.edit(kit, heard["edit"], status=422)
    assert refused["occupied"] and "C1 plays Kick · centre" in refused["detail"]
    taught = studio.edit(kit, {**heard["edit"], "when_occupied": "take_over"})
    placed = [(p["note"], p["articulation"]) for p in taught["head"]["placed"] if p["note"] in (36, 38)]
    assert placed == [(36, SNARE)]
    assert studio.get(f"/kits/{kit['id']}/lessons")["without_note"] == ["Kick · centre"]


def test_playing_is_counted_fitted_and_learned_from(studio, small_session):
    kit = studio.kit_of(small_session)
    strikes = [{"input": "pads", "articulation": SNARE, "velocity": v, "times": 20} for v in (40, 60, 80)]
    found = studio.post(f"/kits/{kit['id']}/reach", {"articulation": SNARE, "strikes": strikes})
    assert found["reach"]["total"] == 60 and found["reach"]["layers"][-1] == 0
    lifted = studio.edit(kit, found["findings"][0]["fixes"][0]["edit"])
    again = studio.post(f"/kits/{kit['id']}/reach", {"articulation": SNARE, "strikes": strikes})
    assert again["reach"]["layers"][-1] == 20 and again["findings"] == []
    assert lifted["head"]["inputs"][0]["known"]["id"] == "pads"

    played = {"soft": [30, 34, 38], "medium": [60, 64, 68], "hard": [96, 100, 104]}
    asked = {"articulation": SNARE, "target": "snare", "input": "other", "strikes": played}
    fitted = studio.post(f"/kits/{kit['id']}/fit", asked)
    assert fitted["table"][104] == 127 and fitted["line"][104] == 127
    short = {**asked, "strikes": {**played, "soft": [30]}}
    assert "1 soft strikes are too few" in studio.post(f"/kits/{kit['id']}/fit", short, status=422)["detail"]

    sent = studio.get("/electronic-kits/stowaway/plays?what=beat")
    stretch = [
        {"time_ms": m["time_ms"], "note": m["number"], "velocity": m["value"]} for m in sent if m["kind"] == "note"
    ]
    learned = studio.post("/pads/learn", {"strikes": stretch})
    assert [(b["after"], b["note"]) for b in learned["cross_talk"]] == [(37, 42)]
    rules = {"strikes": stretch, "cross_talk": [], "doubles_ms": learned["doubles_ms"]}
    fewer = studio.post("/pads/learn", rules)["removed"]
    assert 0 < len(fewer) < len(learned["removed"])
    assert "no pad “Gong”" in studio.get("/electronic-kits/stowaway/plays?what=strikes&pad=Gong", 422)["detail"]
    moved = [{"time_ms": t, "controller": 4, "value": v} for t, v in enumerate((90, 4, 120))]
    assert studio.post("/pads/calibrate", {"moves": moved}) == {"controller": 4, "closed_at": 7, "open_at": 117}


def test_notes_that_the_connected_input_sends_and_that_play_nothing_are_findings(studio, small_session):
    kit = studio.kit_of(small_session)
    asked = f"/kits/{kit['id']}/findings"

    def empty(query: str = "") -> list[str]:
        return [f["title"] for f in studio.get(asked + query) if f["rule"] == "input_note_empty"]

    assert empty() == [] and empty("?input=midi:Box") == [] and empty("?input=midi:Box&sent=36&sent=38") == []
    assert empty("?input=midi:Box&sent=36&sent=3") == ["A note of Box plays nothing"]
    (title,) = empty("?input=deckhand-5")
    assert "Deckhand 5" in title
