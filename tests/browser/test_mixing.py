"""What is shared in the real interface: a crushed bus, a hall, bleed, and the kit compared with what it was."""

import json
import re
from pathlib import Path

import numpy as np
import soundfile
from playwright.sync_api import Locator, Page, expect

from drumcore.grooves.values import Groove
from drumcore.playing.play_table import PlayHead, PlayPiece, PlayTable
from drumcore.playing.renderer import render
from tests.browser.conftest import came, fresh, listen, loaded, quiet
from tests.browser.test_player import ServedSounds
from tests.waiting import until

KIT = "Boathouse No. 4"
TOM_IN_SNARE = "Rack tom in Snare top"


def chosen(page: Page, label: str, option: str | re.Pattern[str]) -> None:
    page.get_by_role("button", name=re.compile(f"^{label}: ")).click()
    page.get_by_role("option", name=option).click()


def strip(page: Page, channel: str) -> Locator:
    return page.locator(f"[data-channel='{channel}']")


def state_of(fetch, kit: str) -> dict:
    return json.loads(fetch(f"/api/kits/{kit}"))


def bus_of(fetch, kit: str, name: str) -> dict:
    return next(bus for bus in state_of(fetch, kit)["head"]["buses"] if bus["name"] == name)


def add_bus(page: Page, name: str) -> None:
    page.get_by_role("button", name="Add a bus").click()
    page.get_by_label("Name of the bus").fill(name)
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name=f"Undo: New bus {name}")).to_be_enabled()


def send(page: Page, channel: str, bus: str) -> None:
    strip(page, channel).get_by_role("button").first.click()
    chosen(page, "Add send to", bus)
    expect(page.get_by_role("button", name=f"Remove the send to {bus}")).to_be_visible()


def strike(page: Page, articulation: str) -> None:
    page.evaluate(
        "(articulation) => window.zestySkin.player().strikeArticulation('test', articulation, 110)", articulation
    )


def test_a_kit_is_mixed_with_what_is_shared_compared_and_delivered(page: Page, fetch, tmp_path: Path):
    kit = fresh(page, fetch, KIT, hear=("snare", "rack-tom"))
    loaded(page, "snare", "rack-tom")
    _shared(page, fetch, kit)
    _taken_out(page)
    _compared(page, fetch, kit)
    _delivered(page, fetch, kit, tmp_path)


def _shared(page: Page, fetch, kit: str) -> None:
    """Crush under the snare, Air behind the kit."""
    add_bus(page, "Crush")
    add_bus(page, "Air")
    send(page, "snare-channel", "Crush")
    send(page, "overheads-channel", "Air")
    strip(page, "crush-bus").get_by_role("button").first.click()
    page.get_by_role("switch", name="Compressor").click()
    strip(page, "air-bus").get_by_role("button").first.click()
    page.get_by_role("radio", name="Reverb or echo").click()
    page.get_by_role("button", name="Presets", exact=True).click()
    page.get_by_role("button", name=re.compile("^Town theatre")).click()
    expect(page.get_by_role("figure", name=re.compile("^Decay: 125 Hz 1.[345]"))).to_be_visible()
    expect(strip(page, "air-bus")).to_contain_text("hall")
    page.get_by_role("slider", name="Length of the hall").press("Home")
    expect(page.get_by_role("figure", name=re.compile("^Decay: 125 Hz 0.[12]"))).to_be_visible()
    until(lambda: bus_of(fetch, kit, "Air")["space"]["length_s"] == 0.2)
    page.keyboard.press("Control+z")
    until(lambda: bus_of(fetch, kit, "Air")["space"]["length_s"] == 1.5)
    # What is struck rings on in the hall, and in nothing else of that bus.
    listen(page)
    strike(page, "snare/centre")
    came(page, "channels", "air-bus", over=0.002)
    came(page, "channels", "crush-bus", over=0.002)


def _taken_out(page: Page) -> None:
    """The rack tom rings in the snare's microphone, and is taken out of it again."""
    page.get_by_role("tab", name="Bleed").click()
    cell = page.get_by_role("slider", name=TOM_IN_SNARE, exact=True)
    expect(cell).to_have_attribute("aria-valuetext", "off, kept at 0 dB")
    cell.press("Space")
    expect(cell).to_have_attribute("aria-valuetext", "0 dB")
    cell.press("PageDown")
    cell.press("ArrowDown")
    expect(cell).to_have_attribute("aria-valuetext", "−3.5 dB")
    listen(page)
    strike(page, "rack-tom/centre")
    came(page, "channels", "snare-channel")
    page.get_by_role("button", name="A / B").click()
    page.get_by_role("button", name="Mark the current state as…").click()
    page.get_by_label("Name of this moment").fill("ringing")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Marked")).to_be_visible()
    page.keyboard.press("Escape")
    cell.press("Space")
    expect(cell).to_have_attribute("aria-valuetext", "off, kept at −3.5 dB")


def _compared(page: Page, fetch, kit: str) -> None:
    """A is compared with B: B rings in the snare's channel, A does not, and neither is an edit."""
    cell = page.get_by_role("slider", name=TOM_IN_SNARE, exact=True)
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    version = state_of(fetch, kit)["version"]
    page.get_by_role("button", name="A / B").click()
    page.get_by_role("button", name=re.compile("“ringing”")).first.click()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("equal")).to_contain_text("loudness-matched", timeout=120_000)
    for side, rings in (("B", True), ("A", False)):
        page.keyboard.press("x")
        expect(page.get_by_test_id("hearing")).to_have_text(f"hearing {side}")
        quiet(page)
        listen(page)
        strike(page, "rack-tom/centre")
        heard = came(page, "channels", "rack-tom-channel")
        if rings:
            came(page, "channels", "snare-channel")
        else:
            assert heard["channels"].get("snare-channel", 0) < 1e-3
    page.get_by_role("button", name="Blind test").click()
    expect(page.get_by_test_id("hearing")).to_have_text("hearing 1")
    page.keyboard.press("x")
    expect(page.get_by_test_id("hearing")).to_have_text("hearing 2")
    page.get_by_role("button", name="Reveal").click()
    assert state_of(fetch, kit)["version"] == version
    page.get_by_role("button", name="Restore B").click()
    expect(page.get_by_role("button", name="Undo: Restore ringing")).to_be_enabled()
    expect(cell).to_have_attribute("aria-valuetext", "−3.5 dB")
    page.keyboard.press("Control+z")
    expect(cell).to_have_attribute("aria-valuetext", "off, kept at −3.5 dB")


def _delivered(page: Page, fetch, kit: str, tmp_path: Path) -> None:
    """The stems hold exactly that."""
    state = state_of(fetch, kit)
    card = next(g for g in json.loads(fetch("/api/grooves")) if g["name"] == "Tide Turn")
    asked = {"groove": card["id"], "bits": 32}
    job = page.request.post(f"/api/kits/{kit}/exports/stems", data=asked).json()
    until(lambda: json.loads(fetch(f"/api/jobs/{job['id']}"))["state"] == "done", seconds=90)
    body = page.request.get(f"/api/jobs/{job['id']}/parts/0").body()
    (tmp_path / "main.wav").write_bytes(body)
    stem = soundfile.read(tmp_path / "main.wav", dtype="float32")[0].T
    table = PlayTable(
        head=PlayHead.model_validate(state["play_head"]),
        pieces=tuple(PlayPiece.model_validate(p) for p in state["play_pieces"]),
    )
    groove = Groove.model_validate(
        {k: v for k, v in json.loads(fetch(f"/api/grooves/{card['id']}")).items() if k != "id"}
    )
    sounds = ServedSounds(page.url.split("/kits")[0])
    whole = np.concatenate([block.outputs[1] for block in render(table, groove.events, sounds)], axis=1)
    np.testing.assert_array_equal(stem, whole[:, : stem.shape[1]])
    # Its hall is in it.
    dry = tuple(c.but(space=None) for c in table.head.channels)
    blocks = render(table.but(head=table.head.but(channels=dry)), groove.events, sounds)
    plain = np.concatenate([block.outputs[1] for block in blocks], axis=1)
    frames = min(plain.shape[1], stem.shape[1])
    assert np.abs(plain[:, :frames] - stem[:, :frames]).max() > 1e-3


def test_bleed_is_moved_by_keys_and_by_pointer(page: Page, fetch):
    fresh(page, fetch, KIT, hear=())
    page.get_by_role("tab", name="Bleed").click()
    cell = page.get_by_role("slider", name="Snare in Room", exact=True)
    before = cell.get_attribute("aria-valuetext")
    # Dragged up and down under one undo; typed; along the row and to the next by keys.
    box = cell.bounding_box()
    assert box
    page.mouse.move(box["x"] + 20, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 20, box["y"] + 40, steps=4)
    page.mouse.move(box["x"] + 20, box["y"] + 60, steps=4)
    page.mouse.up()
    expect(cell).not_to_have_attribute("aria-valuetext", str(before))
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    assert float(cell.get_attribute("aria-valuenow") or 0) < -6
    page.keyboard.press("Control+z")
    expect(cell).to_have_attribute("aria-valuetext", str(before))
    cell.press("-")
    page.keyboard.type("14")
    page.keyboard.press("Enter")
    expect(cell).to_have_attribute("aria-valuetext", "−14 dB")
    cell.press("ArrowLeft")
    expect(page.get_by_role("slider", name="Snare in Overheads", exact=True)).to_be_focused()
    page.keyboard.press("Control+ArrowDown")
    expect(page.get_by_role("slider", name="Hats in Overheads", exact=True)).to_be_focused()


def test_microphones_are_taken_out_muted_and_heard_alone(page: Page, fetch):
    kit = fresh(page, fetch, KIT, hear=("snare",))
    loaded(page, "snare")
    page.get_by_role("tab", name="Bleed").click()
    cell = page.get_by_role("slider", name="Snare in Room", exact=True)
    cell.press("-")
    page.keyboard.type("14")
    page.keyboard.press("Enter")
    expect(cell).to_have_attribute("aria-valuetext", "−14 dB")
    # Close microphones only, and back by one undo; muting a microphone is the kit's, soloing one is not.
    page.get_by_role("button", name="Close microphones only").click()
    expect(cell).to_have_attribute("aria-valuetext", "off, kept at −14 dB")
    page.keyboard.press("Control+z")
    expect(cell).to_have_attribute("aria-valuetext", "−14 dB")
    page.get_by_role("button", name="Mute Room").click()
    expect(cell).to_have_attribute("aria-valuetext", "−14 dB, microphone muted")
    page.keyboard.press("Control+z")
    expect(cell).to_have_attribute("aria-valuetext", "−14 dB")
    version = state_of(fetch, kit)["version"]
    page.get_by_role("button", name="Solo Room").click()
    quiet(page)
    listen(page)
    strike(page, "snare/centre")
    heard = came(page, "channels", "room-channel", over=0.001)
    assert heard["channels"].get("snare-channel", 0) < 1e-4 and heard["channels"].get("overheads-channel", 0) < 1e-4
    page.get_by_role("button", name="Solo Room").click()
    assert state_of(fetch, kit)["version"] == version
    # A cell alone, past the mix; and sent elsewhere from here.
    cell.focus()
    quiet(page)
    listen(page)
    page.get_by_role("button", name="Hear it alone").click()
    heard = came(page, "outputs", 1, over=0.001)
    assert all(peak < 1e-4 for peak in heard["channels"].values())
    chosen(page, "Goes to", "into Kick")
    until(lambda: "kick-channel" in where(fetch, kit, "snare", "room"))
    assert where(fetch, kit, "snare", "room") == ["kick-channel"]


def where(fetch, kit: str, piece: str, mic: str) -> list[str]:
    channels = state_of(fetch, kit)["head"]["channels"]
    return [c["id"] for c in channels for f in c["feeds"] if (f["piece"], f["mic"]) == (piece, mic)]


def test_a_response_is_brought_in_and_what_cannot_be_one_is_said(page: Page, fetch, tmp_path: Path):
    kit = fresh(page, fetch, "Tin Lantern", hear=("side-snare",))
    loaded(page, "side-snare")
    add_bus(page, "Stairs")
    send(page, "side-snare-channel", "Stairs")
    strip(page, "stairs-bus").get_by_role("button").first.click()
    page.get_by_role("radio", name="Reverb or echo").click()
    soundfile.write(tmp_path / "nothing.wav", np.zeros((4800, 1)), 48_000)
    page.get_by_test_id("response-input").set_input_files(str(tmp_path / "nothing.wav"))
    expect(page.get_by_text("nothing.wav is silent")).to_be_visible()
    assert bus_of(fetch, kit, "Stairs")["space"] is None
    late = np.zeros((48_000, 2))
    late[24_000] = 0.5
    soundfile.write(tmp_path / "stone stairs.wav", late, 48_000)
    page.get_by_test_id("response-input").set_input_files(str(tmp_path / "stone stairs.wav"))
    until(lambda: (bus_of(fetch, kit, "Stairs")["space"] or {}).get("name") == "stone stairs")
    expect(strip(page, "stairs-bus")).to_contain_text("response")
    # Half a second later it comes out of the bus, as loud as it went in.
    quiet(page)
    listen(page)
    strike(page, "side-snare/centre")
    came(page, "channels", "stairs-bus", over=0.01)
    # An echo instead, in parts of a beat; then none.
    chosen(page, "Type of reverb or echo", "Echo")
    chosen(page, "Timing", "3/4 of a beat")
    until(lambda: bus_of(fetch, kit, "Stairs")["space"].get("beats") == 0.75)
    chosen(page, "Type of reverb or echo", "None")
    until(lambda: bus_of(fetch, kit, "Stairs")["space"] is None)
