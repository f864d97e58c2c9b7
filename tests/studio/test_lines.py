"""The line check over HTTP: a job that strikes every articulation, and what changed since the last one."""

from urllib.parse import quote

from studio.jobs.models import Job


def test_every_line_is_checked_and_the_last_two_checks_are_told(studio, small_session):
    kit = studio.edit(studio.kit_of(small_session), {"kind": "apply_plan", "plan": "one-output-a-piece"})
    articulations = ["kick/centre", "snare/centre", "hats/closed", "hats/open", "crash-left/edge"]
    assert studio.get(f"/kits/{kit['id']}/lines") == {
        "articulations": articulations,
        "struck_at": 100,
        "version": None,
        "lines": [],
        "checked_before": False,
        "changed": [],
        "findings": [],
    }
    job = studio.post(f"/kits/{kit['id']}/lines")
    assert (job["state"], job["title"], job["export"]) == ("done", "Line check", None)
    first = studio.get(f"/kits/{kit['id']}/lines")
    assert first["version"] == kit["version"] and not first["checked_before"] and first["changed"] == []
    kick = next(line for line in first["lines"] if line["articulation"] == "kick/centre")
    assert kick["verdict"] == "as_planned" and kick["planned"] == [2, 5, 6]
    assert [line["articulation"] for line in first["lines"]] == articulations
    assert Job.objects.get(id=job["id"]).total == len(articulations)
    for channel in ("kick-channel", "overheads-channel", "room-channel"):
        kit = studio.edit(kit, {"kind": "set_channel", "channel": channel, "muted": True})
    # What was found stands for the version it was found at until it is checked again.
    assert {**studio.get(f"/kits/{kit['id']}/lines"), "findings": []} == {**first, "findings": []}
    studio.post(f"/kits/{kit['id']}/lines")
    second = studio.get(f"/kits/{kit['id']}/lines")
    assert second["version"] == kit["version"] and second["checked_before"]
    gone = {(c["articulation"], c["output"]): c["to_dbfs"] for c in second["changed"]}
    assert {(name, number) for name, number in gone if name == "kick/centre"} == {("kick/centre", n) for n in (2, 5, 6)}
    assert set(gone.values()) == {None}
    kick = next(line for line in second["lines"] if line["articulation"] == "kick/centre")
    assert kick["verdict"] == "nowhere"
    (finding,) = [f for f in second["findings"] if f["place"] == "Kick"]
    assert finding["title"] == "Kick arrives nowhere" and "Unmute Kick" in finding["fixes"][0]["label"]
    # The kit's findings have it too, and foresee what its fixes bring.
    assert finding["title"] in [f["title"] for f in studio.get(f"/kits/{kit['id']}/findings")]
    told = studio.get(f"/kits/{kit['id']}/foreseen?finding={quote(finding['key'])}")
    assert [fix["label"] for fix in told] == [fix["label"] for fix in finding["fixes"]]
    studio.edit(kit, finding["fixes"][0]["edit"])
    # What has been put right is not said any more, though nobody struck it again.
    left = studio.get(f"/kits/{kit['id']}/lines")
    assert not [f for f in left["findings"] if f["place"] == "Kick"] and left["version"] == kit["version"]
