"""Routing for a host: by plan in a few presses, checked line by line, fixed by the buttons offered, recorded, on a sheet."""

import io
import json
import re
import zipfile
from pathlib import Path

import numpy as np
import pytest
import soundfile
from playwright.sync_api import Page, expect

from drumcore.formats.midi import write_midi
from drumcore.grooves.values import Groove, Strike
from drumcore.routing.hosts import SKIFF
from tests.browser.conftest import fresh

DINGHY = {"name": "Long boat", "runs": [{"width": "mono", "count": 40}]}
PLANTED = [
    # Beyond: what went to a larger host's output.
    {"kind": "set_host", "host": DINGHY},
    {"kind": "set_channel", "channel": "mid-tom-channel", "output": 40},
    {"kind": "set_host", "host": SKIFF.model_dump(mode="json")},
    # One side: its bus is panned there.
    {"kind": "make_bus", "name": "Lopsided"},
    {"kind": "go_into_bus", "channels": ["rack-tom-channel"], "bus": "lopsided-bus"},
    {"kind": "set_channel", "channel": "lopsided-bus", "output": 4, "pan": -1.0},
    # Nowhere, by level and by mute.
    {"kind": "set_channel", "channel": "floor-tom-channel", "level_db": -120.0},
    {"kind": "set_channel", "channel": "ride-channel", "muted": True},
    # Twice: one microphone in two channels.
    {"kind": "set_feed", "piece": "kick", "mic": "kick-in", "channel": "snare-channel", "level_db": 0.0},
    # Elsewhere: sent dry to where nobody planned it.
    {"kind": "make_bus", "name": "Stray"},
    {"kind": "set_send", "channel": "hats-channel", "bus": "stray-bus", "level_db": 0.0},
]
NAMED = {
    "Mid tom centre": "arrives nowhere",
    "Rack tom centre": "on one side only",
    "Floor tom centre": "arrives nowhere",
    "Ride bow": "arrives nowhere",
    "Ride bell": "arrives nowhere",
    "Kick centre": "arrives twice",
    **{f"Hats {name}": "also at 1" for name in ("tight", "closed", "half open", "open", "pedal")},
}


def at_host(page: Page) -> None:
    page.get_by_role("tab", name="Host").click()
    expect(page.get_by_role("region", name="Hosts")).to_be_visible()


def check_lines(page: Page, said: str | re.Pattern[str]) -> None:
    page.get_by_role("button", name="Check lines").click()
    expect(page.get_by_role("button", name="Stop the check")).to_be_visible()
    expect(page.get_by_role("button", name="Check lines")).to_be_visible(timeout=120_000)
    expect(page.get_by_test_id("lines-said")).to_contain_text(said)


def verdicts(page: Page) -> dict[str, str]:
    """What is said of every articulation that does not arrive as planned."""
    found = {}
    for row in page.get_by_test_id("lines").locator("tbody tr").all():
        said = row.locator("td").last.inner_text().strip()
        if said != "as planned":
            found[" ".join(row.locator("th").inner_text().split())] = said
    return found


def test_a_kit_goes_to_a_host_by_plan_and_what_is_wrong_is_named_fixed_and_measured(page: Page, fetch, tmp_path: Path):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=())
    page.goto(f"/kits/{kit}/routing")
    at_host(page)
    page.get_by_role("button", name="Skiff").click()
    page.get_by_role("region", name="Plans").get_by_role("button", name="One output per piece").click()
    moves = page.get_by_test_id("plan-moves")
    expect(moves).to_contain_text("Kick main → 5 Kick")
    expect(page.get_by_role("region", name="Plan One output per piece")).to_contain_text("Ride joins Crash 1 on 4")
    # Nothing moves before it is pressed.
    expect(page.get_by_test_id("tracks").locator("li")).to_have_count(1)
    page.get_by_role("button", name="Route by this plan").click()
    tracks = page.get_by_test_id("tracks")
    expect(tracks.locator("li")).to_have_count(10)
    expect(tracks.locator("[data-output='5']")).to_contain_text("M 1")
    page.get_by_role("button", name="Copy output names to tracks").click()
    expect(tracks.get_by_role("button", name="Kick")).to_have_count(2)

    found = page.get_by_role("region", name="Found by the line check")
    check_lines(page, "19 of 20 articulations arrive as planned")
    assert verdicts(page) == {"Snare centre": "clips when struck hardest"}
    found.get_by_role("button", name="Turn Snare down").click()
    expect(found).not_to_be_attached()
    check_lines(page, "all 20 articulations arrive as planned")
    asked = {"base_version": version(fetch, kit), "edit": {"kind": "several", "said": "Mistakes", "edits": PLANTED}}
    assert page.request.post(f"/api/kits/{kit}/edits", data=asked).ok
    expect(page.get_by_test_id("lines-said")).to_contain_text("the kit was changed since")
    check_lines(page, "9 of 20 articulations arrive as planned")
    assert verdicts(page) == NAMED
    expect(found).to_contain_text("Mid tom goes to output 40, which Skiff does not have.")
    while found.is_visible():
        left = found.locator("section").count()
        found.locator("section").first.get_by_role("button").first.click()
        expect(found.locator("section")).not_to_have_count(left)
    check_lines(page, "all 20 articulations arrive as planned")
    assert verdicts(page) == {}
    stems_are_as_the_grid_says(page, fetch, kit, tmp_path)

    sheet = page.request.get(f"/api/kits/{kit}/track-sheet/html").text()
    assert "Tracks of Skiff" in sheet and "Floor tom" in sheet
    # The same plan on another kit: a track keeps its number.
    other = fresh(page, fetch, "Tin Lantern", hear=())
    page.goto(f"/kits/{other}/routing")
    at_host(page)
    page.get_by_role("button", name="Skiff").click()
    page.get_by_role("tab", name="Channels").click()
    page.get_by_role("button", name="Route by plan").click()
    page.get_by_role("button", name="One output per piece", exact=True).click()
    expect(page.locator("[data-channel='kick-channel']")).to_contain_text("→ 5 · Kick")
    expect(page.locator("[data-channel='side-snare-channel']")).to_contain_text("→ 6 · Snare")


def version(fetch, kit: str) -> int:
    return json.loads(fetch(f"/api/kits/{kit}/version"))["version"]


def stems_are_as_the_grid_says(page: Page, fetch, kit: str, tmp_path: Path) -> None:
    """What the host records of one articulation, struck as often as it has takes, peaks as the check measured."""
    line = next(x for x in json.loads(fetch(f"/api/kits/{kit}/lines"))["lines"] if x["articulation"] == "kick/centre")
    strikes = tuple(Strike(time_s=3.0 * n, note=36, velocity=100) for n in range(6))
    path = tmp_path / "Six kicks.mid"
    write_midi(Groove(name="Six kicks", bpm=120, beats_a_bar=4, events=strikes, length_s=18.0), path)
    upload = {"file": {"name": path.name, "mimeType": "audio/midi", "buffer": path.read_bytes()}}
    assert page.request.post("/api/grooves", multipart=upload).ok
    page.reload()
    at_host(page)
    page.get_by_role("button", name="Groove: ").click()
    page.get_by_role("option", name="Six kicks").click()
    page.get_by_role("button", name="Record", exact=True).click()
    expect(page.get_by_role("button", name="Stop recording")).to_be_visible()
    stems = page.get_by_role("link", name="Tracks as stems")
    expect(stems).to_be_visible(timeout=120_000)
    expect(page.locator("[data-output='5']").get_by_role("img", name="recorded")).to_be_visible()
    with page.expect_download() as download:
        stems.click()
    # Of another version it would say nothing of these tracks.
    page.get_by_role("button", name="Clear outputs").click()
    expect(page.get_by_text("recorded before the kit was changed")).to_be_visible()
    expect(page.get_by_test_id("tracks").get_by_role("img")).to_have_count(0)
    archive = zipfile.ZipFile(download.value.path())
    names = {int(name[:2]): name for name in archive.namelist() if name.endswith(".wav")}
    assert names[5] == "05 Kick.wav"
    for output in line["outputs"]:
        peak = max((p for p in output["peaks_dbfs"] if p is not None), default=-400.0)
        sound, _ = soundfile.read(io.BytesIO(archive.read(names[output["number"]])))
        measured = 20 * np.log10(max(np.abs(sound).max(), 1e-20))
        if peak > -60.0:
            assert measured == pytest.approx(peak, abs=0.1), output
        else:
            assert measured < -59.0, output


def test_hosts_and_plans_of_ones_own(page: Page, fetch):
    kit = fresh(page, fetch, "Tin Lantern", hear=())
    page.goto(f"/kits/{kit}/routing")
    at_host(page)
    page.get_by_role("button", name="Add a host of your own").click()
    form = page.get_by_role("group", name="Add a host of your own")
    form.get_by_role("textbox", name="Name").fill("Pit desk")
    form.get_by_role("button", name="Save host").click()
    page.get_by_role("button", name="Pit desk 1 stereo").click()
    expect(page.get_by_text("Pit desk says")).to_be_visible()
    expect(page.get_by_role("button", name="6 free: Ch 3 to Ch 8")).to_be_visible()
    page.get_by_role("tab", name="Channels").click()
    page.get_by_role("button", name="Kick goes to: ").click()
    page.get_by_role("option", name="→ 4 · Output 4").click()
    expect(page.locator("[data-channel='kick-channel']")).to_contain_text("→ 4")
    at_host(page)
    tracks = page.get_by_test_id("tracks")
    tracks.get_by_role("button", name="Track 4").click()
    page.get_by_role("textbox", name="Track at Ch 5").fill("BD")
    page.keyboard.press("Enter")
    expect(tracks.get_by_role("button", name="BD")).to_be_visible()
    page.get_by_role("button", name="Save this routing as a plan…").click()
    page.get_by_role("textbox", name="Name of the plan").fill("Lantern tour")
    page.keyboard.press("Enter")
    plan = page.get_by_role("region", name="Plan Lantern tour")
    expect(plan).to_contain_text("This kit is already routed this way.")
    page.get_by_role("button", name="Clear outputs").click()
    expect(plan).to_contain_text("Kick main → 4 Kick")
    rules_are_changed_as_a_list(page)
    a_plan_is_carried_as_a_file(page)


def rules_are_changed_as_a_list(page: Page) -> None:
    """A rule put on top does not take the number that was given out."""
    plan, tracks = page.get_by_role("region", name="Plan Lantern tour"), page.get_by_test_id("tracks")
    plan.get_by_role("button", name="Edit rules").click()
    rules = page.get_by_role("region", name="Rules of Lantern tour")
    rules.get_by_role("button", name="Add a rule").click()
    rules.get_by_role("textbox", name="Rule 2: track").fill("Cymbals")
    rules.get_by_role("button", name="other", exact=True).click()
    page.get_by_role("checkbox", name="splash", exact=True).check()
    page.get_by_role("checkbox", name="china", exact=True).check()
    page.keyboard.press("Escape")
    rules.get_by_role("button", name="Move Cymbals up").click()
    rules.get_by_role("button", name="Save rules").click()
    expect(plan).to_contain_text("Kick main → 4 Kick")
    expect(plan).to_contain_text("Pit desk has no stereo output left for Cymbals")
    plan.get_by_role("button", name="Route by this plan").click()
    expect(tracks.locator("[data-output='4']")).to_contain_text("Kick")


def a_plan_is_carried_as_a_file(page: Page) -> None:
    plan = page.get_by_role("region", name="Plan Lantern tour")
    with page.expect_download() as download:
        plan.get_by_role("link", name="Save as a file").click()
    saved = json.loads(Path(download.value.path()).read_text(encoding="utf-8"))
    assert [rule["track"] for rule in saved["rules"]] == ["Cymbals", "Kick"]
    assert {"host": "Pit desk", "track": "Kick", "output": 4, "side": "both"} in saved["given"]
    # Deleted, and imported again from its file.
    plan.get_by_role("button", name="Delete").click()
    plans = page.get_by_role("region", name="Plans")
    expect(page.get_by_role("status").filter(has_text="Lantern tour was deleted.")).to_be_visible()
    page.get_by_label("File of a plan").set_input_files(download.value.path())
    expect(plans.get_by_role("button", name="Lantern tour")).to_be_visible()
    page.get_by_label("File of a plan").set_input_files({"name": "x.json", "mimeType": "", "buffer": b"Buy oil."})
    expect(page.get_by_role("alert")).to_contain_text("x.json is not valid JSON")
