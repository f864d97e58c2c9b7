"""The library: anything good is found again, what ships cannot be spoilt, and what is needed is never removed."""

import io
import json
import zipfile
from datetime import timedelta
from pathlib import Path

import pytest
import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from drumcore.kit import values as v
from studio.catalogue import needed, previews
from studio.catalogue.models import PreviewMade
from studio.catalogue.needed import clear_unneeded
from studio.kits.models import KitRecord, KitVersion, Part, RecordingInSet
from studio.kits.references import named_in
from studio.kits.versions import create_kit, current_kit, kit_at
from studio.sessions.models import Session
from studio.shelves.models import GrooveRecord, Kept
from studio.storage.files import place_of
from studio.storage.models import StoredFile
from tests.conftest import strike_sound, write_sound
from tests.studio.test_shelves import TWO

SNARE = "snare/centre"
LOUDER = {"kind": "set_channel", "channel": "snare-channel", "level_db": -3.0}


@pytest.fixture
def kit(studio, small_session):
    return studio.kit_of(small_session)


@pytest.fixture
def shipped(kit):
    KitRecord.objects.filter(id=kit["id"]).update(ships=True)
    return kit


@pytest.fixture
def march(transactional_db):
    strikes = [{"kind": "strike", "time_s": 0.25 * i, "note": (36, 38)[i % 2], "velocity": 90} for i in range(16)]
    data = {"name": "March", "bpm": 120.0, "beats_a_bar": 4.0, "length_s": 4.0, "events": strikes}
    return GrooveRecord.objects.create(name="March", data=data, ships=True)


def names(studio, kind: str, **asked) -> list[str]:
    query = "&".join(f"{key}={value}" for key, value in asked.items())
    return [entry["name"] for entry in studio.get(f"/library/{kind}?{query}")["entries"]]


def test_everything_is_found_said_copied_put_away_and_brought_back_whatever_its_kind(studio, kit, march):
    studio.post("/shelves/curves", {"name": "Soft", "value": {"nodes": [{"x": 0, "y": 0}, {"x": 127, "y": 90}]}})
    studio.post(f"/kits/{kit['id']}/pieces/snare/keep", {"name": "Side snare"})
    counts = {each["kind"]: each["count"] for each in studio.get("/library")["kinds"]}
    assert counts["kits"] == counts["pieces"] == counts["grooves"] == counts["curves"] == counts["sessions"] == 1
    mine = [("kits", kit["id"]), ("pieces", 0), ("curves", 0), ("sessions", 0)]
    mine = [(kind, str(studio.get(f"/library/{kind}")["entries"][0]["id"])) for kind, _ in mine]
    for kind, one in mine:
        before = studio.get(f"/library/{kind}/{one}")["entry"]
        said = {"name": f"Quay {kind}", "description": "Dry and near.", "tags": [" Touring ", "dry", "DRY"]}
        entry = studio.post(f"/library/{kind}/{one}/say", said)
        assert (entry["name"], entry["description"], entry["tags"]) == (
            f"Quay {kind}",
            "Dry and near.",
            ["touring", "dry"],
        )
        assert entry["figures"] == before["figures"] != ""
        copy = studio.post(f"/library/{kind}/{one}/duplicate", {"name": "Second"})
        assert copy["id"] != one and copy["tags"] == ["touring", "dry"]
        # A session says in which kits it is, and its copy is in none.
        assert copy["figures"] == entry["figures"].replace("in Quay kits, Second", "in no kit now")
        assert names(studio, kind, asked="near tour") == ["Second", f"Quay {kind}"]
        assert names(studio, kind, tags="dry", asked="quay") == [f"Quay {kind}"]
        away = {"things": [{"kind": kind, "id": one}], "put_away": True}
        assert studio.post("/library/put-away", away)["said"] == f"Quay {kind} was moved to the bin."
        assert names(studio, kind) == ["Second"] and f"Quay {kind}" in names(studio, "away")
        studio.post("/library/put-away", {**away, "put_away": False})
        assert sorted(names(studio, kind)) == [f"Quay {kind}", "Second"]
    assert studio.get("/library")["put_away"] == 0
    everything = [{"kind": kind, "id": one} for kind, one in mine]
    told = studio.post("/library/tags", {"things": everything, "add": ["Loud"], "take": ["dry"]})
    assert told == {"said": "4 things were tagged.", "refused": []}
    for kind, one in mine:
        assert studio.get(f"/library/{kind}/{one}")["entry"]["tags"] == ["touring", "loud"]
    # By what is in them: pieces, families, microphones, the kit a piece is from, the kits of a session.
    assert names(studio, "kits", asked="snare room overheads") == ["Quay kits", "Second"]
    assert names(studio, "pieces", asked="small snare") == ["Quay pieces", "Second"]
    assert "Quay sessions" in names(studio, "sessions", asked="quay")
    assert studio.kit(kit["id"])["undo"] == "The kit tagged touring and loud"


def test_what_ships_is_not_renamed_tagged_or_removed_and_what_is_not_there_is_said(studio, shipped, march):
    session = studio.get("/library/sessions")["entries"][0]["id"]
    plan = studio.get("/library/plans")["entries"][0]["id"]
    for kind, one in (("kits", shipped["id"]), ("grooves", march.id), ("sessions", session), ("plans", plan)):
        entry = studio.get(f"/library/{kind}/{one}")["entry"]
        assert entry["ships"] and entry["built_in"] == (kind == "plans")
        assert "ships with Zesty Skin" in studio.post(f"/library/{kind}/{one}/say", {"name": "Mine"}, 422)["detail"]
        removal = {"things": [{"kind": kind, "id": str(one)}]}
        assert "ships with Zesty Skin" in studio.post("/library/remove", removal, 422)["detail"]
        assert studio.post(f"/library/{kind}/{one}/duplicate", {"name": f"My {kind}"})["ships"] is False
    assert "There is no such kit" in studio.get("/library/kits/none", 422)["detail"]
    assert "The library has no kites" in studio.get("/library/kites", 422)["detail"]
    mixed = {"things": [{"kind": "kits", "id": "none"}, {"kind": "plans", "id": "x"}], "put_away": True}
    assert studio.post("/library/put-away", mixed, 422)["detail"].endswith("Nothing was moved to the bin.")


def test_the_first_change_of_a_shipped_kit_is_made_in_a_copy_and_made_once(studio, shipped):
    before = studio.kit(shipped["id"])
    body = {"base_version": before["version"], "edit": LOUDER, "mark": "once"}
    after = studio.post(f"/kits/{shipped['id']}/edits", body)
    assert after["id"] != shipped["id"] and after["head"]["name"] == "Small copy" and not after["ships"]
    assert "Small ships with Zesty Skin" in after["copied"] and len(after["pieces"]) == len(before["order"])
    # Whoever had no answer asks again and gets the same copy, and the kit that ships is as it was.
    again = studio.post(f"/kits/{shipped['id']}/edits", body)
    assert (again["id"], again["version"]) == (after["id"], after["version"]) and KitRecord.objects.count() == 2
    assert studio.kit(shipped["id"]) == before and (before["undo"], before["ships"]) == (None, True)
    assert after["undo"] == "Snare to −3.0 dB"
    undone = studio.post(f"/kits/{after['id']}/undo", {"base_version": after["version"]})
    value, mine = current_kit(shipped["id"]), current_kit(after["id"])
    assert mine == value.but(id=after["id"], name="Small copy") and undone["undo"] is None
    said = [s["said"] for part in studio.get(f"/kits/{after['id']}/versions")["stretches"] for s in part["steps"]]
    assert said == ["Copied from Small"]
    # What changes nothing copies nothing; what cannot be done neither.
    same = {"base_version": before["version"], "edit": {**LOUDER, "level_db": 0.0}}
    assert studio.post(f"/kits/{shipped['id']}/edits", same)["id"] == shipped["id"]
    studio.post(f"/kits/{shipped['id']}/edits", {**same, "edit": {**LOUDER, "channel": "none"}}, 422)
    assert KitRecord.objects.count() == 2
    assert (
        "nothing to undo"
        in studio.post(f"/kits/{shipped['id']}/undo", {"base_version": before["version"]}, 422)["detail"]
    )


def test_sessions_and_going_back_make_a_copy_of_what_ships_too(studio, shipped):
    (first,) = studio.get(f"/kits/{shipped['id']}/sessions")
    new = studio.post(f"/kits/{shipped['id']}/sessions", {"name": "More"})
    assert new["kit"] != shipped["id"]
    assert {s["name"] for s in studio.get(f"/kits/{new['kit']}/sessions")} == {first["name"], "More"}
    assert [s["name"] for s in studio.get(f"/kits/{shipped['id']}/sessions")] == [first["name"]]
    back = {"base_version": shipped["version"], "as_it_was": {"version": 1, "routing": False}}
    gone_back = studio.post(f"/kits/{shipped['id']}/back", back)
    assert gone_back["id"] not in (shipped["id"], new["kit"]) and gone_back["order"] == []
    pieces = studio.post(f"/sessions/{first['id']}/pieces", {"base_version": shipped["version"], "kit": shipped["id"]})
    # Made anew they are as they are: nothing changed, and nothing was copied.
    assert (pieces["id"], pieces["copied"]) == (shipped["id"], "") and KitRecord.objects.count() == 3
    moment = {"version": shipped["version"], "name": "As it came"}
    assert "save it under another name" in studio.post(f"/kits/{shipped['id']}/moments", moment, 422)["detail"]


def recordings_on_disk() -> set[str]:
    return {stored.sha256 for stored in StoredFile.objects.all() if place_of(stored).is_file()}


def other_session(folder: Path, shared: Path) -> Path:
    """A session with two sounds of its own and one that another has too."""
    for number in (1, 2):
        write_sound(folder / "Tom" / f"tom_{number:02d}_1.wav", strike_sound(-10.0 * number, 900 + number))
    taken = shared / "Snare mic" / "sn_01_1.wav"
    (folder / "Tom" / "tom_03_1.wav").write_bytes(taken.read_bytes())
    return folder


def test_a_kit_removed_for_good_frees_exactly_what_nothing_else_needs(studio, kit, small_session, tmp_path):
    kept_before = recordings_on_disk()
    other = studio.kit_of(other_session(tmp_path / "other", small_session), "Toms")
    copy = studio.post(f"/library/kits/{other['id']}/duplicate")["id"]
    own = recordings_on_disk() - kept_before
    assert len(own) == 2
    alone = {"things": [{"kind": "kits", "id": other["id"]}]}
    both = {"things": [*alone["things"], {"kind": "kits", "id": copy}]}
    assert studio.post("/library/freed", {**alone, "sessions": True}) == {
        "held": 3,
        "files": 0,
        "bytes": 0,
        "sessions": [],
    }
    assert studio.post("/library/freed", both) == {"held": 3, "files": 0, "bytes": 0, "sessions": ["other"]}
    frees = studio.post("/library/freed", {**both, "sessions": True})
    size = sum(StoredFile.objects.get(sha256=one).size for one in own)
    assert (frees["files"], frees["bytes"]) == (2, size)
    parts = Part.objects.count()
    told = studio.post("/library/remove", {**alone})
    assert told == {"said": "Toms was deleted for good.", "refused": []}
    assert recordings_on_disk() == kept_before | own and Part.objects.count() == parts
    told = studio.post("/library/remove", {"things": both["things"][1:], "sessions": True})
    assert told["said"].endswith(f"2 recordings cleared, {size / 1e6:,.1f} MB free.")
    assert recordings_on_disk() == kept_before and Part.objects.count() < parts
    assert studio.get("/library/sessions")["total"] == 1
    # The kit that shares a sound with it plays on, whole.
    assert {stored.content for stored in StoredFile.objects.all()} >= {
        name for name in named_in(current_kit(kit["id"]).model_dump_json().encode()) if len(name) == 40
    }


def test_removing_a_kit_opens_no_version_of_any_other(studio, kit, small_session, monkeypatch):
    studio.edit(kit, LOUDER)
    other = studio.post(f"/library/kits/{kit['id']}/duplicate", {"name": "Other"})["id"]
    asked = {"things": [{"kind": "kits", "id": other}]}

    def opened(*_args):
        raise AssertionError("a stored version was opened")

    monkeypatch.setattr("zlib.decompress", opened)
    assert studio.post("/library/freed", asked)["files"] == 0
    assert studio.post("/library/remove", asked)["said"] == "Other was deleted for good."
    assert studio.post("/library/clear") == {"files": 0, "bytes": 0}


def test_a_session_removed_leaves_its_kits_their_recordings_and_old_uploads_are_cleared_on_request(
    studio, kit, tmp_path, monkeypatch
):
    session = studio.get("/library/sessions")["entries"][0]["id"]
    before = recordings_on_disk()
    assert studio.post("/library/freed", {"things": [{"kind": "sessions", "id": session}]})["files"] == 0
    studio.post("/library/remove", {"things": [{"kind": "sessions", "id": session}]})
    assert recordings_on_disk() == before and studio.get(f"/kits/{kit['id']}/sessions") == []
    folder = tmp_path / "left"
    write_sound(folder / "a.wav", strike_sound(-3.0, 77))
    lonely = studio.post(f"/kits/{kit['id']}/sessions", {"name": "Lonely"})["id"]
    file = SimpleUploadedFile("a.wav", (folder / "a.wav").read_bytes())
    studio.send(f"/sessions/{lonely}/files", files=[file], paths=["a.wav"])
    Session.objects.filter(id=lonely).delete()
    # An hour has not gone by: somebody may be about to name it.
    assert studio.get("/library/unneeded") == {"files": 0, "bytes": 0}
    monkeypatch.setattr(needed, "YOUNG", timedelta(0))
    (one,) = recordings_on_disk() - before
    size = StoredFile.objects.get(sha256=one).size
    assert studio.get("/library/unneeded") == studio.post("/library/clear") == {"files": 1, "bytes": size}
    assert recordings_on_disk() == before
    room = studio.get("/library/room")
    assert room["recordings"] == sum(s.size for s in StoredFile.objects.all()) and room["free"] > 0


@settings(max_examples=25, suppress_health_check=list(HealthCheck))
@given(
    st.lists(
        st.tuples(
            st.sampled_from(
                ["make", "copy", "edit", "undo", "away", "back", "keep", "drop", "remove", "forget", "clear"]
            ),
            st.integers(0, 5),
        ),
        max_size=14,
    )
)
def test_whatever_happens_what_is_named_is_there_and_what_is_not_goes(studio, small_kit, tmp_path_factory, steps):
    """Random histories: kits made, copied, edited, undone, put away, removed, pieces kept and dropped, versions forgotten."""
    KitRecord.objects.all().delete()
    for model in (Kept, Part, RecordingInSet, StoredFile):
        model.objects.all().delete()
    contents = sorted(name for name in named_in(small_kit.model_dump_json().encode()) if len(name) == 40)
    files = [
        StoredFile(sha256=f"{i:064x}", suffix=".wav", size=1, content=content, came="2020-01-01T00:00:00Z")
        for i, content in enumerate(contents)
    ]
    kept_pieces = 0

    def kits(put_away: bool = False) -> list[KitRecord]:
        return list(KitRecord.objects.filter(put_away=put_away).order_by("created"))

    for what, which in steps:
        there = kits()
        record = there[which % len(there)] if there else None
        if what == "make":
            StoredFile.objects.bulk_create(files, ignore_conflicts=True)
            some = small_kit.pieces[which % len(small_kit.pieces) :]
            create_kit(f"Kit {which}", small_kit.but(pieces=some, notes=v.NoteMap(), routing=v.Routing()))
        elif what == "clear":
            clear_unneeded()
        elif what == "back":
            for away in kits(put_away=True)[:1]:
                studio.post("/library/put-away", {"things": [{"kind": "kits", "id": away.id}], "put_away": False})
        elif what == "drop":
            for kept in Kept.objects.all()[:1]:
                studio.post("/library/remove", {"things": [{"kind": "pieces", "id": str(kept.id)}]})
        elif record is None:
            continue
        elif what == "copy":
            studio.post(f"/library/kits/{record.id}/duplicate")
        elif what == "edit":
            pieces = current_kit(record.id).pieces
            if pieces:
                edit = {"kind": "remove_piece", "piece": pieces[which % len(pieces)].id}
                studio.post(f"/kits/{record.id}/edits", {"base_version": record.current, "edit": edit})
        elif what == "undo":
            studio.client.post(
                f"/api/kits/{record.id}/undo", json.dumps({"base_version": record.current}), "application/json"
            )
        elif what == "away":
            studio.post("/library/put-away", {"things": [{"kind": "kits", "id": record.id}], "put_away": True})
        elif what == "keep":
            pieces = current_kit(record.id).pieces
            if pieces:
                kept_pieces += 1
                studio.post(f"/kits/{record.id}/pieces/{pieces[0].id}/keep", {"name": f"Piece {kept_pieces}"})
        elif what == "remove":
            studio.post("/library/remove", {"things": [{"kind": "kits", "id": record.id}]})
        elif what == "forget":
            studio.post(f"/kits/{record.id}/forget", {"before": record.current})
    clear_unneeded()
    # Worked out anew, by opening everything there is.
    values = [kit_at(each.kit_id, each.number) for each in KitVersion.objects.all()]
    named = {name for value in values for name in named_in(value.model_dump_json().encode()) if len(name) == 40}
    for kept in Kept.objects.all():
        named |= {name for name in named_in(json.dumps(kept.data).encode()) if len(name) == 40}
    assert set(StoredFile.objects.values_list("content", flat=True)) == named & set(contents)


def test_versions_read_back_by_days_are_named_compared_gone_back_to_and_forgotten(studio, kit):
    edits = [
        LOUDER,
        {**LOUDER, "level_db": -4.0},
        {**LOUDER, "level_db": -5.0},
        {**LOUDER, "level_db": 0.0, "pan": 0.5},
    ]
    state = kit
    for edit, gesture in zip(edits, ("", "drag", "drag", ""), strict=True):
        state = studio.edit(state, edit, gesture=gesture)
    studio.post(f"/kits/{kit['id']}/moments", {"version": kit["version"], "name": "As built"})
    yesterday = KitVersion.objects.get(kit_id=kit["id"], number=1)
    KitVersion.objects.filter(id=yesterday.id).update(created=yesterday.created - timedelta(days=1))
    history = studio.get(f"/kits/{kit['id']}/versions")
    shown = [[(s["said"], s["name"]) for s in part["steps"]] for part in history["stretches"]]
    assert shown == [
        [("Snare to 0.0 dB and panned to right 50 %", ""), ("Snare to −5.0 dB", ""), ("Snare to −3.0 dB", "")],
        [("Pieces made: Kick, Snare, Hats and Crash left", "As built")],
        [("New kit", "")],
    ]
    assert history["current"] == state["version"]
    compared = studio.get(f"/kits/{kit['id']}/compare?earlier={kit['version']}&later={state['version']}")
    assert compared["said"] == ["Snare panned to right 50 %"]
    back = {"base_version": state["version"], "as_it_was": {"version": kit["version"], "routing": False}}
    gone_back = studio.post(f"/kits/{kit['id']}/back", back)
    assert gone_back["undo"] == "Restore As built"
    assert studio.get(f"/kits/{kit['id']}/compare?earlier={kit['version']}&later={gone_back['version']}")["said"] == []
    forgotten = studio.post(f"/kits/{kit['id']}/forget", {"before": gone_back["version"]})["versions"]
    assert forgotten == gone_back["version"] - 2
    left = studio.get(f"/kits/{kit['id']}/versions")["stretches"]
    assert [s["name"] for part in left for s in part["steps"]] == ["", "As built"]
    assert studio.kit(kit["id"])["undo"] is None


def test_a_version_an_older_program_kept_is_described_by_comparing(studio, kit):
    state = studio.edit(kit, LOUDER)
    KitVersion.objects.filter(kit_id=kit["id"], number=state["version"]).update(edit=None, said="set_channel")
    steps = studio.get(f"/kits/{kit['id']}/versions")["stretches"][0]["steps"]
    assert steps[0]["said"] == "Snare to −3.0 dB"
    assert studio.kit(kit["id"])["undo"] == "Snare to −3.0 dB"


def heard(studio, item: dict) -> dict:
    return studio.post("/library/previews", {"items": [item]})[0]


def test_a_preview_is_made_when_changes_have_settled_anew_where_it_sounds_otherwise_and_only_there(
    studio, kit, march, monkeypatch
):
    item = {"kind": "kits", "id": kit["id"]}
    assert heard(studio, item)["state"] == "settling"
    monkeypatch.setattr(previews, "SETTLES", timedelta(0))
    passing = studio.post("/library/previews", {"items": [item], "make": False})[0]
    assert passing["state"] == "making" and not PreviewMade.objects.exists()
    first = heard(studio, item)
    assert first["state"] == "ready" and max(first["outline"]) > 0.05
    sound, rate = soundfile.read(io.BytesIO(studio.download(f"/api/library/previews/{first['key']}").read()))
    assert sound.shape[1] == 2 and len(sound) == pytest.approx(first["seconds"] * rate, abs=1)
    renamed = studio.edit(studio.kit(kit["id"]), {"kind": "describe_kit", "description": "Near."})
    assert heard(studio, item)["key"] == first["key"]
    muted = studio.edit(renamed, {"kind": "set_channel", "channel": "snare-channel", "muted": True})
    second = heard(studio, item)
    assert second["state"] == "ready" and second["key"] != first["key"]
    # The one that nothing shows any more is gone, unless a version is asked for by itself.
    assert "no longer exists" in studio.get(f"/library/previews/{first['key']}", 422)["detail"]
    then = heard(studio, {**item, "version": renamed["version"]})
    now = heard(studio, {**item, "version": muted["version"]})
    assert (then["key"], now["key"]) == (first["key"], second["key"])
    piece = studio.post(f"/kits/{kit['id']}/pieces/snare/keep", {"name": "Side snare"})["id"]
    assert heard(studio, {"kind": "pieces", "id": piece})["state"] == "ready"
    assert heard(studio, {"kind": "grooves", "id": str(march.id)})["state"] == "ready"
    empty = studio.post("/kits", {"name": "Empty"})["id"]
    assert heard(studio, {"kind": "kits", "id": empty}) | {"item": 0} == {
        **{"item": 0, "state": "none", "key": "", "seconds": 0.0, "outline": [], "away": False},
        "said": "It makes no sound yet.",
    }
    # What is gone is not heard any more.
    studio.post("/library/remove", {"things": [{"kind": "kits", "id": kit["id"]}, {"kind": "kits", "id": empty}]})
    assert not PreviewMade.objects.filter(kind="kits").exists()
    assert "no longer exists" in studio.get(f"/library/previews/{first['key']}", 422)["detail"]


def test_a_preview_that_fails_is_not_tried_again_until_something_of_it_changes(studio, kit, march, monkeypatch):
    monkeypatch.setattr(previews, "SETTLES", timedelta(0))
    tried = []

    def broken(*asked):
        tried.append(asked)
        raise RuntimeError("no")

    monkeypatch.setattr(previews, "write_preview", broken)
    item = {"kind": "kits", "id": kit["id"]}
    for _ in range(3):
        shown = heard(studio, item)
        assert shown["state"] == "none" and "Something went wrong inside" in shown["said"]
    assert len(tried) == 1
    studio.edit(studio.kit(kit["id"]), LOUDER)
    heard(studio, item)
    assert len(tried) == 2


def test_a_kept_piece_goes_out_as_a_file_and_comes_in_again_with_its_recordings(studio, kit, small_session):
    kept = studio.post(f"/kits/{kit['id']}/pieces/snare/keep", {"name": "Side snare"})["id"]
    assert "already" in studio.post(f"/kits/{kit['id']}/pieces/snare/keep", {"name": "Side snare"}, 422)["detail"]
    studio.post(f"/library/pieces/{kept}/say", {"description": "Cracks.", "tags": ["dry"]})
    job = studio.post(f"/library/pieces/{kept}/file")
    file = studio.download(job["download"]).read()
    before = Kept.objects.get(id=kept).data
    session = studio.get("/library/sessions")["entries"][0]["id"]
    things = [{"kind": "kits", "id": kit["id"]}, {"kind": "pieces", "id": kept}, {"kind": "sessions", "id": session}]
    studio.post("/library/remove", {"things": things})
    assert recordings_on_disk() == set()

    def opened(data: bytes) -> dict:
        return studio.send("/kit-files", file=SimpleUploadedFile("Side snare.zestypiece", data))

    came = opened(file)
    assert came["state"] == "done" and came["kit"] is None
    found = Kept.objects.get(id=came["piece"])
    assert (found.name, found.description, found.tags) == ("Side snare", "Cracks.", ["dry"])
    same = {**found.data["kit"], "description": "", "tags": []}
    assert {**found.data, "kit": same} == before and recordings_on_disk()
    hostile = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(file)) as source, zipfile.ZipFile(hostile, "w") as target:
        for name in source.namelist():
            target.writestr(name, b'{"kept_piece": 9}' if name == "piece.json" else source.read(name))
    assert "newer version" in opened(hostile.getvalue())["message"]
    assert "not a zip" in opened(file[:200])["message"] or "damaged" in opened(file[:200])["message"]


@pytest.mark.parametrize("kind", sorted(TWO))
def test_every_kind_has_a_file_that_is_read_back_with_all_that_was_said_of_it(studio, kind):
    kept = studio.post(f"/shelves/{kind}", {"name": "Mine", "value": TWO[kind][0].model_dump(mode="json")})
    studio.post(f"/library/{kind}/{kept['id']}/say", {"description": "Near.", "tags": ["dry"]})
    file = studio.client.get(f"/api/shelves/{kind}/{kept['id']}/file").content

    def read(data: bytes, status: int = 200):
        return studio.send(f"/shelf-files/{kind}", status, file=SimpleUploadedFile("Mine.json", data))

    again = read(file)
    assert again["name"] == "Mine 2" and {**again["value"], "name": 0} == {**kept["value"], "name": 0}
    entry = studio.get(f"/library/{kind}/{again['id']}")["entry"]
    assert (entry["description"], entry["tags"]) == ("Near.", ["dry"])
    key = next(iter(json.loads(file)))
    for data, said in (
        (b"[" * 100_000, "not valid JSON"),
        (b"{}", "does not describe"),
        (file.replace(b": 1,", b": 2,", 1), "newer version"),
        (json.dumps({key: 1, "nodes": "x", "entries": 4, "treatments": 5, "space": 6}).encode(), "Mine.json"),
        (
            b" " * ((256 << 20) + 1) if kind == "maps" else b"\xff\xfe",
            "too large" if kind == "maps" else "not valid JSON",
        ),
    ):
        assert said in read(data, 422)["detail"]


def test_a_groove_goes_out_as_midi_and_comes_in_again(studio, march):
    file = studio.client.get(f"/api/grooves/{march.id}/file")
    assert "March.mid" in file["Content-Disposition"]
    (again,) = studio.send("/grooves", file=SimpleUploadedFile("March.mid", file.content))
    assert (again["strikes"], again["bpm"], again["length_s"]) == (16, 120.0, 4.0)


def test_a_space_carries_the_response_it_goes_by(studio, tmp_path):
    write_sound(tmp_path / "hall.wav", strike_sound(-3.0, 5))
    brought = studio.send(
        "/spaces/responses", file=SimpleUploadedFile("hall.wav", (tmp_path / "hall.wav").read_bytes())
    )
    kept = studio.post("/shelves/spaces", {"name": "Hall", "value": {"space": brought["space"]}})
    file = studio.client.get(f"/api/shelves/spaces/{kept['id']}/file").content
    studio.post("/library/remove", {"things": [{"kind": "spaces", "id": kept["id"]}]})
    assert recordings_on_disk() == set()
    again = studio.send("/shelf-files/spaces", file=SimpleUploadedFile("Hall.json", file))
    assert again["value"] == kept["value"] and len(recordings_on_disk()) == 1
    alone = json.loads(file)
    sound = alone.pop("sound")
    for data, said in (
        (alone, "not in it"),
        ({**alone, "sound": sound[:40]}, "Hall.json"),
        ({**alone, "sound": "§"}, "damaged"),
    ):
        file = SimpleUploadedFile("Hall.json", json.dumps(data).encode())
        assert said in studio.send("/shelf-files/spaces", 422, file=file)["detail"]


def test_what_cannot_be_kept_twice_or_is_put_away_gets_a_sentence(studio, kit):
    studio.post("/library/put-away", {"things": [{"kind": "kits", "id": kit["id"]}], "put_away": True})
    studio.get(f"/kits/{kit['id']}", 404)
    assert "is in the bin" in studio.post(f"/library/kits/{kit['id']}/say", {"name": "New"}, 422)["detail"]
    studio.post(f"/kits/{kit['id']}/edits", {"base_version": kit["version"], "edit": LOUDER}, 404)


def test_the_command_lists_what_the_folder_holds(studio, kit, march, capsys):
    from drumcore.cli.main import main

    studio.post(f"/library/kits/{kit['id']}/say", {"name": "Quay street", "tags": ["dry"]})
    assert main(["library", "--json"]) == 0
    entries = json.loads(capsys.readouterr().out)["entries"]
    assert {entry["kind"] for entry in entries} >= {"kits", "grooves", "plans", "hosts", "sessions", "treatments"}
    assert main(["library", "--kind", "kits", "--json"]) == 0
    (one,) = json.loads(capsys.readouterr().out)["entries"]
    assert (one["id"], one["name"], one["tags"], one["ships"]) == (kit["id"], "Quay street", ["dry"], False)
    assert main(["library", "--kind", "grooves"]) == 0
    assert capsys.readouterr().out == "Grooves:\n  March (120 bpm, 2 bars, 16 strikes), ships with Zesty Skin\n"
    assert main(["library", "--kind", "kites"]) == 2 and "no kites" in capsys.readouterr().err
