"""Single sounds in the real interface: dropped on notes and played by a groove, or a folder of them that becomes a kit."""

import base64
import json
import re
from pathlib import Path

import numpy as np
import pytest
import soundfile
from playwright.sync_api import Page, expect

from tests.browser.conftest import holds, listen
from tests.browser.test_building import DROP

RATE = 48000
KITCHEN = {
    # Height in Hz and ringing in ms: what each sounds like.
    "Oven door": (85, 220),
    "Chopping board": (1150, 100),
    "Cutlery drawer": (2600, 320),
    "Tea towel": (1900, 240),
    "Mixing bowl": (240, 900),
    "Bread tin": (190, 1700),
    "Egg timer": (8300, 220),
    "Stock pot": (205, 1400),
    "Salt mill": (5300, 130),
    "Saucepan": (230, 1100),
    "Biscuit lid": (6900, 1500),
    "Baking sheet": (5900, 2700),
}


@pytest.fixture
def kitchen(tmp_path: Path) -> list[Path]:
    """Twelve sounds of a kitchen, each a file named by what was struck."""
    made = []
    for seed, (name, (hz, ms)) in enumerate(KITCHEN.items()):
        at = np.arange(round(RATE * (ms + 150) / 1000)) / RATE
        grain = np.random.default_rng(seed).uniform(0.9, 1.1, len(at))
        struck = 0.4 * np.sin(2 * np.pi * hz * at) * grain * np.exp(-at * 6900 / ms)
        made.append(tmp_path / "Kitchen" / f"{name}.wav")
        made[-1].parent.mkdir(exist_ok=True)
        soundfile.write(made[-1], np.concatenate([np.zeros(240), struck]), RATE, subtype="PCM_24")
    return made


def drop(page: Page, note: int, files: list[Path]) -> None:
    sent = [[file.name, base64.b64encode(file.read_bytes()).decode()] for file in files]
    page.evaluate(DROP, [f"[data-note='{note}']", sent])


def cell(page: Page, note: int):
    return page.locator(f"[data-note='{note}']")


def test_twelve_kitchen_sounds_on_notes_are_a_kit_that_gangway_march_plays(page: Page, fetch, studio, kitchen):
    kit = studio.new("Kitchen")
    page.goto(f"/kits/{kit}/notes")
    expect(cell(page, 36)).to_be_visible()
    broken = kitchen[0].parent / "Spoon.wav"
    broken.write_bytes(b"RIFF and nothing else")
    # One by itself, two with a file that is none, then all that are left.
    drop(page, 36, kitchen[:1])
    said = page.get_by_test_id("landed")
    expect(said).to_contain_text("Oven door on 36 (C1).", timeout=60_000)
    drop(page, 37, [kitchen[1], broken, kitchen[2]])
    expect(said).to_contain_text("Chopping board on 37 (C♯1) and 1 more next to it.", timeout=60_000)
    expect(said).to_contain_text("Spoon.wav is not audio that can be read")
    drop(page, 39, kitchen[3:])
    expect(said).to_contain_text("Tea towel on 39 (D♯1) and 8 more next to it.", timeout=60_000)
    for note, name in zip(range(36, 48), KITCHEN, strict=True):
        expect(cell(page, note)).to_contain_text(name.split()[0][:4])
    state = studio.get(f"/kits/{kit}")
    families = {piece["name"]: piece["family"] for piece in state["pieces"]}
    assert (families["Oven door"], families["Cutlery drawer"], families["Egg timer"]) == ("kick", "snare", "hats")
    # On a note that plays something it is asked what becomes of both; leaving it leaves everything.
    drop(page, 36, kitchen[1:2])
    asked = page.get_by_role("dialog")
    expect(asked).to_contain_text("C1 plays Oven door centre.")
    asked.get_by_role("button", name="Cancel").click()
    expect(asked).to_have_count(0)
    assert studio.get(f"/kits/{kit}/version")["version"] == state["version"]
    # The march plays it at once: every channel whose note it strikes is heard.
    grooves = {g["name"]: g["id"] for g in json.loads(fetch("/api/grooves"))}
    march = studio.get(f"/grooves/{grooves['Gangway March']}")
    struck = {event["note"] for event in march["events"] if event.get("note") is not None} & set(range(36, 48))
    channels = {c["name"]: c["id"] for c in state["head"]["channels"]}
    expected = {channels[name] for note, name in zip(range(36, 48), KITCHEN, strict=True) if note in struck}
    assert len(expected) >= 4
    listen(page)
    said.get_by_role("button", name="Play Gangway March").click()
    holds(page, "(channels) => channels.every((id) => window.ear.channels[id] > 0.005)", arg=sorted(expected))
    said.get_by_role("button", name="Stop Gangway March").click()
    # Kept as a kit of its own.
    page.get_by_role("button", name="This kit").click()
    page.get_by_role("button", name="Save as…").click()
    page.get_by_role("textbox", name="Save as").fill("Kitchen at night")
    page.keyboard.press("Enter")
    expect(page).not_to_have_url(re.compile(f"/{kit}/"))
    mine = page.url.split("/")[4]
    studio.made.add(mine)
    assert [p["name"] for p in studio.get(f"/kits/{mine}")["pieces"]] == list(KITCHEN)
    # One undo for each time something was dropped.
    page.goto(f"/kits/{kit}/notes")
    page.get_by_role("button", name=re.compile("^Undo: Tea towel on 39")).click()
    expect(cell(page, 39)).not_to_contain_text("Tea")
    assert len(studio.get(f"/kits/{kit}")["order"]) == 3


def test_a_folder_of_household_sounds_becomes_a_kit_by_itself_as_a_proposal(page: Page, studio, kitchen):
    kit = studio.new("Household")
    page.goto(f"/kits/{kit}/recordings")
    page.get_by_test_id("folder-input").set_input_files(str(kitchen[0].parent))
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("this is a guess", timeout=60_000)
    rows = dialog.get_by_role("list", name="Notes of the sounds").get_by_role("listitem")
    expect(rows).to_have_count(12)
    expect(rows.filter(has_text="Oven door")).to_contain_text("low and short, like the bass drum")
    expect(rows.filter(has_text="Bread tin")).to_contain_text(re.compile("low and long, like the .* tom"))
    expect(rows.filter(has_text="Egg timer")).to_contain_text("bright and short, like the closed hat")
    state = studio.get(f"/kits/{kit}")
    assert state["undo"] == "12 pieces made, 12 placed by sound"
    listen(page)
    dialog.get_by_role("button", name="Strike Oven door").click()
    holds(page, "() => window.ear.all.heard > 0.01")
    dialog.get_by_role("button", name="Undo").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("^Redo: 12 pieces made"))).to_be_enabled()
    assert studio.get(f"/kits/{kit}")["order"] == []
