"""A piece of another kit, taken in the browser: heard before it is taken, as it was said, and undone by one press."""

import math
import re
from pathlib import Path

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import came, died_away, fresh, holds, listen, loaded, of_lantern, quiet
from tests.waiting import until


def took(page: Page, name: str) -> None:
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Add piece").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile(f"^Undo: {name} of Tin Lantern"))).to_be_visible()


def asked_of_the_shelf(page: Page, piece: str, item: str) -> Locator:
    """The dialog, opened from a piece's menu."""
    page.get_by_role("link", name=re.compile("Layers")).click()
    page.get_by_role("button", name=re.compile(f"^{piece}")).first.hover()
    page.get_by_role("button", name=f"More for {piece}").click()
    page.get_by_role("menuitem", name=item).click()
    return page.get_by_role("dialog")


def test_splash_and_china_are_heard_then_taken_panned_together_and_saved_as_a_kit(page: Page, fetch, studio):
    kit = fresh(page, fetch, "Boathouse No. 4")
    version = studio.get(f"/kits/{kit}/version")["version"]
    page.get_by_role("link", name=re.compile("Layers")).click()
    for name, note in (("Splash", "55"), ("China", "52")):
        page.get_by_role("button", name="Add a piece from another kit").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("searchbox", name="Find a piece").fill(f"{name} lantern")
        of_lantern(dialog, name).click()
        will = dialog.get_by_role("list", name="What will happen")
        expect(will).to_contain_text(f"It plays on {note}")
        expect(will).to_contain_text("Undo removes all of it again.")
        assert studio.get(f"/kits/{kit}/version")["version"] == version
        # Heard as it will be, before anything is changed.
        listen(page)
        holds(page, "() => window.zestySkin.player().striker.table.head.notes[NOTE].length > 0".replace("NOTE", note))
        holds(page, "() => window.zestySkin.player().sounds.toCome === 0", within_ms=120_000)
        dialog.get_by_role("button", name="Strike it").click()
        came(page)
        took(page, name)
        version = studio.get(f"/kits/{kit}/version")["version"]
    page.get_by_role("link", name=re.compile("Routing")).click()
    state = studio.get(f"/kits/{kit}")
    channels = [c["id"] for c in state["head"]["channels"] if c["name"] in ("Splash", "China")]
    assert len(channels) == 2
    edit = {"kind": "set_channels", "channels": channels, "pan": 0.6}
    studio.post(f"/kits/{kit}/edits", {"base_version": version, "edit": edit})
    page.get_by_role("button", name="This kit").click()
    page.get_by_role("button", name="Save as…").click()
    page.get_by_role("textbox", name="Save as").fill("Quay with cymbals")
    page.keyboard.press("Enter")
    expect(page).not_to_have_url(re.compile(kit))
    mine = page.url.split("/")[4]
    studio.made.add(mine)
    saved = studio.get(f"/kits/{mine}")
    assert [c["pan"] for c in saved["head"]["channels"] if c["name"] in ("Splash", "China")] == [0.6, 0.6]
    assert len(saved["order"]) == 13
    studio.remove(mine)


def test_another_kick_takes_the_place_of_ours_equally_loud_and_one_undo_brings_ours_back(page: Page, fetch, studio):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=())
    before = studio.get(f"/kits/{kit}")
    dialog = asked_of_the_shelf(page, "Kick", "Replace piece…")
    dialog.get_by_role("searchbox", name="Find a piece").fill("kick lantern")
    of_lantern(dialog, "Kick").click()
    expect(dialog.get_by_role("radio", name=re.compile("Replace Kick"))).to_have_attribute("aria-checked", "true")
    expect(dialog.get_by_role("checkbox", name=re.compile("Match loudness"))).to_be_checked(timeout=30_000)
    expect(dialog.get_by_role("list", name="What will happen")).to_contain_text("Undo restores Kick as it was.")
    there = {"source": {"kind": "kits", "id": studio.kit("Tin Lantern"), "piece": "kick"}, "instead_of": "kick"}
    said = studio.post(f"/kits/{kit}/bring", there)
    assert abs(said["gain_db"]) > 1.0
    took(page, "Kick")
    after = studio.get(f"/kits/{kit}")

    def others(state: dict) -> list[dict]:
        return [piece for piece in state["play_pieces"] if piece["id"] != "kick"]

    assert others(after) == others(before) and after["order"] == before["order"]
    # By the figures that the dialog goes by, of what was here and of what is here now.
    assert abs(studio.post(f"/kits/{kit}/bring", there)["theirs_db"] - said["theirs_db"]) <= 0.1
    page.get_by_role("button", name=re.compile("^Undo: Kick of")).click()
    expect(page.get_by_role("button", name=re.compile("^Redo: Kick of"))).to_be_visible()
    assert studio.get(f"/kits/{kit}")["play_pieces"] == before["play_pieces"]


def chosen(page: Page, label: str, option: str) -> None:
    page.get_by_role("button", name=re.compile(f"^{label}: ")).click()
    page.get_by_role("option", name=option, exact=True).click()


def test_only_another_kits_room_stands_under_the_snare_moved_to_half_muted_and_compared(page: Page, fetch, studio):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=("snare", "side-snare"))
    dialog = asked_of_the_shelf(page, "Snare", "Layer with another piece…")
    dialog.get_by_role("searchbox", name="Find a piece").fill("side snare lantern")
    of_lantern(dialog, "Side snare").click()
    will = dialog.get_by_role("list", name="What will happen")
    expect(will).to_contain_text("One strike plays Snare and it")
    shown = studio.post(f"/kits/{kit}/bring", asked_of(studio, "side-snare", together_with="snare"))
    for mic in (mic["name"] for mic in shown["mics"]):
        chosen(page, f"Where {mic} goes", "its own channel" if mic == "Room" else "leave out")
    expect(will).to_contain_text("under 1 microphone are added")
    expect(will).to_contain_text("It is heard in Side snare, and goes to")
    took(page, "Side snare")
    # On every note of the snare's: one strike, both sound.
    head = studio.get(f"/kits/{kit}")["head"]
    on = {
        articulation: {p["note"] for p in head["placed"] if p["articulation"].startswith(articulation)}
        for articulation in ("snare/", "side-snare/")
    }
    assert on["snare/"] == on["side-snare/"]
    page.get_by_role("link", name=re.compile("Routing")).click()
    loaded(page, "snare", "side-snare")
    note = min(p["note"] for p in head["placed"] if p["articulation"] == "snare/centre")
    whole = struck(page, note)
    marked(page, "whole")
    fader = page.get_by_role("slider", name="Level of Side snare")
    fader.press("PageDown")
    fader.press("PageDown")
    until(lambda: channel_of(studio, kit)["level_db"] == -6.0)
    half = struck(page, note)
    assert 20 * math.log10(half / whole) == pytest.approx(-6.0, abs=0.6)
    page.get_by_role("button", name="Mute Side snare").click()
    until(lambda: channel_of(studio, kit)["muted"])
    assert struck(page, note, sounds=False) < 1e-4
    # Compared with what it was before: B sounds in it, A does not, and neither is an edit.
    version = studio.get(f"/kits/{kit}/version")["version"]
    page.get_by_role("button", name="A / B").click()
    page.get_by_role("button", name=re.compile("“whole”")).first.click()
    page.keyboard.press("Escape")
    expect(page.get_by_test_id("equal")).to_contain_text("loudness-matched", timeout=120_000)
    for side in ("B", "A"):
        page.keyboard.press("x")
        expect(page.get_by_test_id("hearing")).to_have_text(f"hearing {side}")
        heard = struck(page, note, sounds=side == "B")
        assert heard > 1e-3 if side == "B" else heard < 1e-4
    assert studio.get(f"/kits/{kit}/version")["version"] == version


def asked_of(studio, piece: str, **where: str) -> dict:
    return {"source": {"kind": "kits", "id": studio.kit("Tin Lantern"), "piece": piece}, **where}


def channel_of(studio, kit: str) -> dict:
    return next(c for c in studio.get(f"/kits/{kit}")["head"]["channels"] if c["id"] == "side-snare-channel")


def marked(page: Page, name: str) -> None:
    page.get_by_role("button", name="A / B").click()
    page.get_by_role("button", name="Mark the current state as…").click()
    page.get_by_label("Name of this moment").fill(name)
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Marked")).to_be_visible()
    page.keyboard.press("Escape")


def struck(page: Page, note: int, *, sounds: bool = True) -> float:
    """How high the other kit's room goes in its channel when our snare's note is struck."""
    quiet(page)
    listen(page)
    page.evaluate(
        "(number) => window.zestySkin.player().take({ source: 'test', kind: 'note', number, value: 110, time: 0 })",
        note,
    )
    channels = came(page, "channels", "snare-channel")["channels"]
    if not sounds:
        return channels.get("side-snare-channel", 0.0)
    came(page, "channels", "side-snare-channel", over=1e-4)
    # The highest it goes comes a while after the strike: a room answers late.
    return died_away(page, 1e-3)["channels"]["side-snare-channel"]


def test_several_are_taken_at_once_and_undone_by_one_press(page: Page, fetch, studio):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=())
    before = studio.get(f"/kits/{kit}")
    page.get_by_role("link", name=re.compile("Layers")).click()
    page.get_by_role("button", name="Add a piece from another kit").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("searchbox", name="Find a piece").fill("lantern")
    for name in ("Splash", "China"):
        dialog.get_by_role("checkbox", name=f"Also {name} of Tin Lantern").check()
    expect(dialog.get_by_role("list", name="What will happen with Splash")).to_contain_text("It plays on 55")
    expect(dialog.get_by_role("list", name="What will happen with China")).to_contain_text("It plays on 52")
    dialog.get_by_role("button", name="Add 2 pieces").click()
    expect(dialog).to_have_count(0)
    undo = page.get_by_role("button", name="Undo: Splash and China of Tin Lantern added")
    expect(undo).to_be_enabled()
    after = studio.get(f"/kits/{kit}")
    assert after["order"] == [*before["order"], "splash", "china"]
    # What heard both came once.
    assert len({m["name"] for m in after["head"]["mics"]}) == len(after["head"]["mics"])
    assert len(after["head"]["mics"]) == len(before["head"]["mics"]) + 2
    # Where it came from is said, and what changes there is offered.
    page.get_by_role("button", name=re.compile("^Splash")).first.click()
    expect(page.get_by_role("region", name="Origin")).to_contain_text("From Tin Lantern.")
    undo.click()
    expect(page.get_by_role("button", name=re.compile("^Redo: Splash and China"))).to_be_enabled()
    assert studio.get(f"/kits/{kit}")["play_pieces"] == before["play_pieces"]


def test_a_piece_is_copied_from_one_tab_and_pasted_in_another_and_in_the_library(page: Page, fetch, studio):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=())
    other = page.context.new_page()
    other.goto(f"/kits/{studio.kit('Tin Lantern')}/layers")
    other.get_by_role("button", name=re.compile("^China")).first.click()
    expect(other.get_by_role("heading", name="China", level=1)).to_be_visible()
    carried = other.evaluate(COPY)
    assert carried["text/plain"] == "China"
    other.goto("/library/pieces")
    expect(other.get_by_role("heading", name="Pieces")).to_be_visible()
    other.evaluate(PASTE, carried)
    expect(other.get_by_text("China was saved to the library.")).to_be_visible()
    kept = next(e["id"] for e in studio.get("/library/pieces")["entries"] if e["name"] == "China")
    other.close()
    page.get_by_role("link", name=re.compile("Layers")).click()
    expect(page.get_by_role("heading", name="Kick", level=1)).to_be_visible()
    page.evaluate(PASTE, carried)
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("list", name="What will happen")).to_contain_text("It plays on 52")
    took(page, "China")
    # One of this kit is duplicated where it is pasted.
    page.get_by_role("button", name=re.compile("^Cowbell")).first.click()
    expect(page.get_by_role("heading", name="Cowbell", level=1)).to_be_visible()
    page.evaluate(PASTE, page.evaluate(COPY))
    expect(page.get_by_role("button", name=re.compile("^Undo: Cowbell duplicated"))).to_be_enabled()
    assert len(studio.get(f"/kits/{kit}")["order"]) == 13
    # Dragged from another window onto a piece, it is offered that one's place.
    page.evaluate(DROPPED, [carried, "aside[aria-label=Pieces] li:first-child"])
    expect(dialog.get_by_role("radio", name=re.compile("Replace Kick"))).to_have_attribute("aria-checked", "true")
    page.keyboard.press("Escape")
    studio.post("/library/remove", {"things": [{"kind": "pieces", "id": kept}]})


def test_a_piece_comes_straight_from_its_file_and_from_the_library(page: Page, fetch, studio, tmp_path: Path):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=())
    kept = studio.post(f"/kits/{studio.kit('Tin Lantern')}/pieces/splash/keep", {"name": "Lantern splash"})["id"]
    job = studio.post(f"/library/pieces/{kept}/file")["id"]
    done = until(lambda: (found := studio.get(f"/jobs/{job}"))["state"] == "done" and found)
    file = tmp_path / "Lantern splash.zestypiece"
    file.write_bytes(page.request.get(done["download"]).body())
    studio.post("/library/remove", {"things": [{"kind": "pieces", "id": kept}]})
    page.get_by_role("link", name=re.compile("Layers")).click()
    page.get_by_role("button", name="Add a piece from another kit").click()
    dialog = page.get_by_role("dialog")
    (tmp_path / "Letter.zestypiece").write_text("Dear quay,")
    dialog.get_by_test_id("piece-file-input").set_input_files(str(tmp_path / "Letter.zestypiece"))
    expect(dialog.get_by_role("status").filter(has_text="Letter")).to_contain_text("is no")
    dialog.get_by_test_id("piece-file-input").set_input_files(str(file))
    expect(dialog.get_by_text("Lantern splash is in the library.")).to_be_visible(timeout=30_000)
    dialog.get_by_role("button", name=re.compile("^Lantern splash")).click()
    expect(dialog.get_by_role("list", name="What will happen")).to_contain_text("It plays on 55")
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)
    # From the library's own page: the kit opens, and what it does there is said first.
    page.goto("/library/pieces?find=lantern splash")
    page.get_by_role("article", name="Lantern splash").click()
    page.get_by_role("button", name="Add Lantern splash to a kit").click()
    page.get_by_role("menuitem", name="Boathouse No. 4").click()
    expect(dialog.get_by_role("list", name="What will happen")).to_contain_text("It plays on 55", timeout=30_000)
    dialog.get_by_role("button", name="Add piece").click()
    expect(page.get_by_role("button", name=re.compile("^Undo: Lantern splash of Tin Lantern"))).to_be_visible()
    assert page.url.split("/")[4] == kit
    again = [e["id"] for e in studio.get("/library/pieces")["entries"] if e["name"] == "Lantern splash"]
    studio.post("/library/remove", {"things": [{"kind": "pieces", "id": each} for each in again]})


COPY = """() => {
  const clipboardData = new DataTransfer();
  window.dispatchEvent(new ClipboardEvent('copy', { clipboardData, cancelable: true, bubbles: true }));
  return Object.fromEntries(clipboardData.types.map((type) => [type, clipboardData.getData(type)]));
}"""
PASTE = """(carried) => {
  const clipboardData = new DataTransfer();
  for (const [type, text] of Object.entries(carried)) clipboardData.setData(type, text);
  window.dispatchEvent(new ClipboardEvent('paste', { clipboardData, cancelable: true, bubbles: true }));
}"""
DROPPED = """([carried, selector]) => {
  const dataTransfer = new DataTransfer();
  for (const [type, text] of Object.entries(carried)) dataTransfer.setData(type, text);
  const target = document.querySelector(selector);
  for (const kind of ['dragover', 'drop'])
    target.dispatchEvent(new DragEvent(kind, { dataTransfer, bubbles: true, cancelable: true }));
}"""
