"""Treatment over the API: kept, undone, refused in sentences, delivered in stems and kit files, put on from the shelf."""

import io
import math
import zipfile

import numpy as np
import pytest
import soundfile
from django.core.files.uploadedfile import SimpleUploadedFile

PEAK = {"kind": "peak", "hz": 900.0, "gain_db": 6.0, "q": 1.5, "resonance_db": -3.01}
EQ = {"kind": "eq", "on": True, "bands": [PEAK]}
SQUEEZED = {"kind": "compressor", "threshold_db": -34.0, "ratio": 6.0, "attack_ms": 1.0}
DRIVEN = {"kind": "drive", "drive_db": 12.0}


@pytest.fixture
def kit(studio, small_session) -> dict:
    kit = studio.kit_of(small_session)
    return studio.edit(kit, {"kind": "apply_plan", "plan": "one-output-a-piece"})


def channel(kit: dict, id_: str) -> dict:
    return kit["head"]["main"] if id_ == "main" else next(c for c in kit["head"]["channels"] if c["id"] == id_)


def played(kit: dict, id_: str) -> list[str]:
    head = kit["play_head"]
    found = head["main"] if id_ == "main" else next(c for c in head["channels"] if c["id"] == id_)
    return [t["kind"] for t in found.get("treatments", [])]


@pytest.mark.parametrize("where", ["snare-channel", "main"])
def test_what_is_set_is_shown_played_bypassed_and_undone(studio, kit, where):
    after = studio.edit(kit, {"kind": "set_treatments", "channel": where, "treatments": [DRIVEN, EQ, SQUEEZED]})
    shown = channel(after, where)["treatments"]
    assert [t["kind"] for t in shown] == played(after, where) == ["eq", "compressor", "drive"]
    assert shown[0] == EQ and shown[1]["ratio"] == 6.0 and shown[2]["level_matched"] is True
    assert after["undo"] == f"Treatment of {where.removesuffix('-channel').capitalize()}"
    off = studio.edit(after, {"kind": "set_treatment", "channel": where, "treatment": SQUEEZED | {"on": False}})
    assert played(off, where) == ["eq", "drive"] and len(channel(off, where)["treatments"]) == 3
    bypassed = studio.edit(off, {"kind": "set_channel", "channel": where, "treated": False})
    assert played(bypassed, where) == [] and channel(bypassed, where)["treated"] is False
    everywhere = studio.edit(bypassed, {"kind": "set_channel", "channel": where, "treated": True})
    everywhere = studio.edit(everywhere, {"kind": "bypass_treatment", "bypassed": True})
    assert played(everywhere, where) == [] and everywhere["head"]["treated"] is False
    for expected in (["eq", "drive"], [], ["eq", "drive"], ["eq", "compressor", "drive"], []):
        everywhere = studio.post(f"/kits/{kit['id']}/undo", {"base_version": everywhere["version"]})
        assert played(everywhere, where) == expected
    assert channel(everywhere, where)["treatments"] == []


NO_TREATMENTS = (
    (EQ | {"bands": [PEAK | {"q": 0}]}, "q"),
    (EQ | {"bands": [PEAK | {"hz": 30_000}]}, "hz"),
    (EQ | {"bands": [PEAK | {"gain_db": 1e9}]}, "gain_db"),
    (EQ | {"bands": [PEAK | {"kind": "notch"}]}, "kind"),
    (EQ | {"bands": [PEAK] * 200}, "bands"),
    (SQUEEZED | {"threshold_db": 40}, "threshold_db"),
    (SQUEEZED | {"ratio": 0.5}, "ratio"),
    (SQUEEZED | {"attack_ms": 0}, "attack_ms"),
    (SQUEEZED | {"low_cut_hz": -1}, "low_cut_hz"),
    (DRIVEN | {"drive_db": "loud"}, "drive_db"),
    (DRIVEN | {"mix": 1.5}, "mix"),
    ({"kind": "echo"}, "treatment"),
)


def test_values_that_cannot_be_are_refused_with_the_field_they_simulated_kits(studio, kit):
    for treatment, field in NO_TREATMENTS:
        edit = {"kind": "set_treatment", "channel": "snare-channel", "treatment": treatment}
        said = studio.edit(kit, edit, status=422)["detail"]
        assert said.startswith("This request is not understood at “edit.") and field in said, said
        assert studio.kit(kit["id"])["version"] == kit["version"]


def test_no_number_is_not_a_number_and_two_of_a_kind_are_one_too_many(studio, kit):
    odd = {"kind": "set_treatment", "channel": "snare-channel", "treatment": DRIVEN | {"drive_db": math.nan}}
    assert "not JSON that can be read" in studio.edit(kit, odd, status=400)["detail"]
    twice = {"kind": "set_treatments", "channel": "snare-channel", "treatments": [DRIVEN, EQ, DRIVEN]}
    assert studio.edit(kit, twice, status=422)["detail"] == "Snare takes one treatment of each kind."
    nowhere = {"kind": "set_treatments", "channel": "triangle-channel", "treatments": []}
    assert "no channel “triangle-channel”" in studio.edit(kit, nowhere, status=422)["detail"]
    for main in ({"output": 3}, {"side": "left"}):
        said = studio.edit(kit, {"kind": "set_channel", "channel": "main", **main}, status=422)["detail"]
        assert said == "The main mix always goes to output 1; channels can go to others."


def stems(studio, kit: dict) -> dict[str, np.ndarray]:
    groove = next(g["id"] for g in studio.get("/grooves"))
    job = studio.post(f"/kits/{kit['id']}/exports/stems", {"groove": groove})
    assert job["state"] == "done", job
    archive = zipfile.ZipFile(studio.download(job["download"]))
    return {
        name: soundfile.read(io.BytesIO(archive.read(name)), always_2d=True)[0]
        for name in archive.namelist()
        if name.endswith(".wav")
    }


def test_stems_are_treated_as_the_kit_is_heard(studio, kit):
    bring = SimpleUploadedFile("one.mid", _one_snare())
    studio.send("/grooves", file=bring)
    plain = stems(studio, kit)
    snare = next(name for name in plain if "Snare" in name)
    driven = studio.edit(kit, {"kind": "set_treatment", "channel": "snare-channel", "treatment": DRIVEN})
    treated = stems(studio, driven)
    assert treated.keys() == plain.keys()
    before, after = plain[snare], treated[snare][: len(plain[snare])]
    # It is driven before its pan: a mono drum stands in the middle of a stereo output, at equal power.
    push, middle = 10 ** (12 / 20), 0.5**0.5
    np.testing.assert_allclose(after, middle * np.tanh(push * before / middle) / push, atol=2e-6)
    for name in plain.keys() - {snare}:
        np.testing.assert_array_equal(treated[name][: len(plain[name])], plain[name])
        assert not treated[name][len(plain[name]) :].any()
    bypassed = studio.edit(driven, {"kind": "bypass_treatment", "bypassed": True})
    np.testing.assert_array_equal(stems(studio, bypassed)[snare], plain[snare])


def _one_snare() -> bytes:
    import mido

    file = mido.MidiFile(ticks_per_beat=480)
    track = mido.MidiTrack()
    track.append(mido.Message("note_on", note=38, velocity=110, channel=9, time=0))
    track.append(mido.Message("note_off", note=38, channel=9, time=480))
    file.tracks.append(track)
    written = io.BytesIO()
    file.save(file=written)
    return written.getvalue()


def test_treatments_travel_in_a_kit_file_and_from_the_shelf(studio, kit):
    shipped = {card["name"]: card for card in studio.get("/shelves/treatments")}
    forward = shipped["Snare: forward"]
    assert not forward["ours"] and forward["value"]["says"]
    chain = forward["value"]["treatments"]
    after = studio.edit(kit, {"kind": "set_treatments", "channel": "snare-channel", "treatments": chain})
    after = studio.edit(after, {"kind": "set_treatments", "channel": "main", "treatments": [DRIVEN]})
    job = studio.post(f"/kits/{kit['id']}/exports/kit-file", {})
    assert job["state"] == "done", job
    opened = studio.send("/kit-files", file=SimpleUploadedFile("a.zestykit", studio.download(job["download"]).read()))
    other = studio.kit(opened["kit"])
    assert other["id"] != kit["id"]
    for where in ("snare-channel", "main"):
        assert channel(other, where)["treatments"] == channel(after, where)["treatments"]
    assert other["head"]["made"] == ["recordings", "layers", "notes", "touch", "routing"]


def test_edits_of_two_channels_meet_and_of_one_do_not(studio, kit):
    mine = {"kind": "set_treatment", "channel": "snare-channel", "treatment": EQ}
    theirs = {"kind": "set_treatment", "channel": "main", "treatment": DRIVEN}
    studio.edit(kit, theirs)
    both = studio.edit(kit, mine)
    assert played(both, "snare-channel") == ["eq"] and played(both, "main") == ["drive"]
    again = studio.edit(kit, theirs | {"treatment": SQUEEZED}, status=409)
    assert again["current"] == both["version"]
