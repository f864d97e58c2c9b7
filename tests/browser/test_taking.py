"""A piece of another kit, taken in the browser: heard before it is taken, as it was said, and undone by one press."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import came, fresh, listen


def took(page: Page, name: str) -> None:
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Take it").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile(f"^Undo: {name} of Tin Lantern"))).to_be_visible()


def test_splash_and_china_are_heard_then_taken_panned_together_and_saved_as_a_kit(page: Page, fetch, studio):
    kit = fresh(page, fetch, "Boathouse No. 4")
    version = studio.get(f"/kits/{kit}/version")["version"]
    page.get_by_role("link", name=re.compile("Layers")).click()
    for name, note in (("Splash", "55"), ("China", "52")):
        page.get_by_role("button", name="A piece from another kit").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("searchbox", name="Find a piece").fill(f"{name} lantern")
        dialog.get_by_role("button", name=re.compile(f"^{name}")).last.click()
        will = dialog.get_by_role("list", name="What will happen")
        expect(will).to_contain_text(f"It plays on {note}")
        expect(will).to_contain_text("Undo takes all of it out again.")
        assert studio.get(f"/kits/{kit}/version")["version"] == version
        # Heard as it will be, before anything is changed.
        listen(page)
        page.wait_for_function(
            "() => window.zestySkin.player().striker.table.head.notes[NOTE].length > 0".replace("NOTE", note)
        )
        page.wait_for_function("() => window.zestySkin.player().sounds.toCome === 0", timeout=120_000)
        dialog.get_by_role("button", name="Strike it").click()
        came(page)
        took(page, name)
        version = studio.get(f"/kits/{kit}/version")["version"]
    page.get_by_role("link", name=re.compile("Routing")).click()
    state = studio.get(f"/kits/{kit}")
    lanes = [c["id"] for c in state["head"]["channels"] if c["name"] in ("Splash", "China")]
    assert len(lanes) == 2
    edit = {"kind": "set_channels", "channels": lanes, "pan": 0.6}
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
    kit = fresh(page, fetch, "Boathouse No. 4")
    before = studio.get(f"/kits/{kit}")
    page.get_by_role("link", name=re.compile("Layers")).click()
    page.get_by_role("button", name=re.compile("^Kick")).first.hover()
    page.get_by_role("button", name="More for Kick").click()
    page.get_by_role("menuitem", name="Put another in its place…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("searchbox", name="Find a piece").fill("kick lantern")
    dialog.get_by_role("button", name=re.compile("^Kick")).first.click()
    expect(dialog.get_by_role("radio", name=re.compile("Takes Kick’s place"))).to_have_attribute("aria-checked", "true")
    expect(dialog.get_by_role("checkbox", name=re.compile("Equally loud"))).to_be_checked(timeout=30_000)
    expect(dialog.get_by_role("list", name="What will happen")).to_contain_text("Undo brings Kick back as it was.")
    there = {"source": {"kind": "kits", "id": studio.kit("Tin Lantern"), "piece": "kick"}, "instead_of": "kick"}
    said = studio.post(f"/kits/{kit}/taking", there)
    assert abs(said["gain_db"]) > 1.0
    took(page, "Kick")
    after = studio.get(f"/kits/{kit}")

    def others(state: dict) -> list[dict]:
        return [piece for piece in state["play_pieces"] if piece["id"] != "kick"]

    assert others(after) == others(before) and after["order"] == before["order"]
    # By the figures that the dialog goes by, of what was here and of what is here now.
    assert abs(studio.post(f"/kits/{kit}/taking", there)["theirs_db"] - said["theirs_db"]) <= 0.1
    page.get_by_role("button", name=re.compile("^Undo: Kick of")).click()
    expect(page.get_by_role("button", name=re.compile("^Redo: Kick of"))).to_be_visible()
    assert studio.get(f"/kits/{kit}")["play_pieces"] == before["play_pieces"]
