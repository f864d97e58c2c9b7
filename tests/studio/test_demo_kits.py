"""The demo is made once; a newer one comes beside an older, which stays as somebody left it."""

import shutil

from studio import demo_kits
from studio.kits.models import KitRecord
from studio.kits.versions import current_kit


def test_a_newer_demo_comes_beside_the_older_one(studio, small_session, tmp_path, settings, monkeypatch):
    settings.DATA.mkdir(parents=True, exist_ok=True)

    def write(folder):
        shutil.copytree(small_session, folder / "Sessions" / "Boathouse No. 4")
        return [folder / "Sessions" / "Boathouse No. 4"], []

    monkeypatch.setattr(demo_kits, "write_demo", write)
    (first,) = demo_kits.make_demo()
    assert demo_kits.make_demo() == []
    kit = studio.kit(first.id)
    changed = studio.edit(kit, {"kind": "split_evenly", "articulation": "snare/centre"})
    (settings.DATA / "demo-made").write_text("")  # as the first version left it
    (newer,) = demo_kits.make_demo()
    assert demo_kits.make_demo() == []
    # What was changed of the first one is a copy, and stays so; what ships is as it came.
    assert {r.name for r in KitRecord.objects.all()} == {
        "Boathouse No. 4",
        "Boathouse No. 4 copy",
        "Boathouse No. 4, recorded again",
    }
    assert studio.kit(changed["id"])["version"] == changed["version"] == 2
    assert studio.kit(first.id) == kit and kit["ships"] and not changed["ships"] and "copy" in changed["copied"]
    assert len(current_kit(newer.id).pieces) == len(current_kit(first.id).pieces) == 4
    monkeypatch.setattr(demo_kits, "DEMO_VERSION", 99)
    (again,) = demo_kits.make_demo()
    assert again.name == "Boathouse No. 4, recorded again 2"
