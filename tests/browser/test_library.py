"""The library as somebody uses it: a kit found among a thousand and heard, what ships kept whole, versions, and removal."""

import re
from pathlib import Path

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import came, listen, opened
from tests.conftest import strike_sound, write_sound

# Every sound that a page makes by itself is at hand, to be listened to.
EARS = """const made = window.Audio; window.sounds = [];
window.Audio = function (...of) { const sound = new made(...of); window.sounds.push(sound); return sound; };"""
HEARD = """async () => {
  const [sound] = window.sounds.slice(-1);
  const context = new AudioContext();
  const look = new AnalyserNode(context, { fftSize: 16384 });
  context.createMediaElementSource(sound).connect(look).connect(context.destination);
  const samples = new Float32Array(16384);
  for (let peak = 0; ; ) {
    look.getFloatTimeDomainData(samples);
    peak = samples.reduce((most, x) => Math.max(most, Math.abs(x)), peak);
    if (peak > 0.02) return peak;
    await new Promise((again) => setTimeout(again, 30));
  }
}"""


def card(page: Page, name: str) -> Locator:
    return page.get_by_role("article", name=name, exact=True)


def looked(page: Page) -> Locator:
    return page.get_by_role("complementary", name="Details")


def test_a_kit_is_found_among_many_by_a_tag_and_heard_before_it_is_opened(page: Page, studio):
    many = [studio.new(f"Kit {number:04d}") for number in range(150)]
    wanted = studio.copy("Tin Lantern", "Lantern on the quay")
    studio.post(f"/library/kits/{wanted}/say", {"tags": ["touring", "dry"], "description": "Small and near."})
    studio.post(f"/library/kits/{many[7]}/say", {"tags": ["dry"]})
    page.add_init_script(EARS)
    page.goto("/")
    expect(page.get_by_test_id("found")).to_have_text(re.compile("^1[5-9][0-9]$"))
    # Of them all, those that are seen are drawn; the last is walked to.
    assert page.get_by_role("article").count() < 60
    page.locator("[data-place='0']").focus()
    page.keyboard.press("End")
    expect(page.locator(":focus")).to_have_attribute("data-place", re.compile("^1[5-9]"))
    tag = page.get_by_role("region", name="Tags").get_by_role("button", name="dry")
    tag.click()
    expect(page.get_by_test_id("found")).to_have_text("2")
    page.get_by_role("searchbox", name="Find").fill("splash tour")
    expect(page.get_by_test_id("found")).to_have_text("1")
    expect(page).to_have_url(re.compile("find=splash"))
    page.get_by_role("searchbox", name="Find").press("ArrowDown")
    expect(card(page, "Lantern on the quay").get_by_role("link")).to_be_focused()
    expect(looked(page).get_by_role("button", name="Hear Lantern on the quay")).to_be_enabled(timeout=60_000)
    page.keyboard.press(" ")
    expect(page.get_by_test_id("preview-bar")).to_contain_text("Lantern on the quay")
    assert page.evaluate(HEARD) > 0.02
    page.get_by_role("button", name="Stop sound").click()
    expect(page.get_by_test_id("preview-bar")).to_contain_text("Press play")
    # A reload finds the same; Enter opens it, and the way back leads to it again.
    page.reload()
    expect(page.get_by_test_id("found")).to_have_text("1")
    page.locator("[data-place='0']").focus()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(f"/kits/{wanted}/layers"))
    page.go_back()
    expect(card(page, "Lantern on the quay")).to_be_visible()
    studio.remove(wanted, *many)


def test_a_change_of_a_kit_that_ships_goes_on_in_a_copy_while_it_plays_and_both_are_found(page: Page, studio, fetch):
    ships = next(
        entry["id"]
        for entry in studio.get("/library/away")["entries"]
        if entry["ships"] and entry["name"] == "Tin Lantern"
    )
    things = [{"kind": "kits", "id": ships}]
    studio.post("/library/put-away", {"things": things, "put_away": False})
    before = studio.get(f"/kits/{ships}")
    page.goto("/?find=lantern")
    page.get_by_role("article").filter(has_text="ships with Zesty Skin").filter(has_text="Tin Lantern").click()
    expect(looked(page)).to_contain_text("your first change makes a copy of your own")
    expect(looked(page).get_by_role("button", name="Delete for good…")).to_have_count(0)
    looked(page).get_by_role("link", name="Open").click()
    page.get_by_role("link", name=re.compile("Routing")).click()
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=120_000)
    page.get_by_role("button", name=re.compile("^Play ")).click()
    listen(page)
    came(page)
    # A drag on the fader: more than one edit on its way to a kit that is not changed.
    fader = (
        page.locator('[data-channel="side-snare-channel"]').get_by_role("slider", name=re.compile("level", re.I)).first
    )
    fader.focus()
    for _ in range(6):
        page.keyboard.press("ArrowDown")
    expect(page.get_by_test_id("copied")).to_contain_text("Tin Lantern ships with Zesty Skin and never changes")
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    expect(page).not_to_have_url(re.compile(ships))
    mine = page.url.split("/")[4]
    studio.made.add(mine)
    expect(page.get_by_role("button", name=re.compile("^Stop (?!sound)"))).to_be_visible()
    listen(page)
    came(page)
    level = next(c for c in studio.get(f"/kits/{mine}")["head"]["channels"] if c["id"] == "side-snare-channel")[
        "level_db"
    ]
    assert level < 0.0 and studio.get(f"/kits/{ships}") == before
    page.get_by_role("button", name=re.compile("^Stop (?!sound)")).click()
    expect(page.get_by_role("button", name=re.compile("^Undo: Side snare"))).to_be_enabled()
    for _ in range(6):
        page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Undo", exact=True)).to_be_disabled()
    page.goto("/?find=lantern")
    expect(card(page, "Tin Lantern copy")).to_be_visible()
    expect(
        page.get_by_role("article").filter(has_text="ships with Zesty Skin").filter(has_text="Tin Lantern")
    ).to_be_visible()
    studio.remove(mine)
    studio.post("/library/put-away", {"things": things, "put_away": True})


def test_a_version_is_named_compared_after_forty_edits_and_gone_back_to(page: Page, studio):
    kit = studio.copy("Tin Lantern", "Many edits")
    page.goto("/")
    card(page, "Many edits").click()
    versions = page.get_by_role("region", name="Versions", exact=True)
    versions.get_by_role("button", name=re.compile("Copied from Tin Lantern")).click()
    compared = page.get_by_role("region", name="Two versions compared")
    compared.get_by_role("button", name="Name A").click()
    compared.get_by_role("textbox").fill("Sent to the pit desk")
    page.keyboard.press("Enter")
    expect(versions).to_contain_text("Sent to the pit desk")
    version = studio.get(f"/kits/{kit}")["version"]
    for number in range(40):
        edit = {"kind": "set_channel", "channel": "side-snare-channel", "level_db": -number / 4 - 1}
        version = studio.post(f"/kits/{kit}/edits", {"base_version": version, "edit": edit})["version"]
    expect(versions).to_contain_text("39 edits before", timeout=20_000)
    versions.get_by_role("button", name=re.compile("Sent to the pit desk")).click()
    expect(compared.get_by_role("list", name="What changed")).to_have_text("Side snare to −10.8 dB")
    for which in ("A, Sent to the pit desk", "B, Side snare to −10.8 dB"):
        hear = compared.get_by_role("button", name=re.compile(f"Hear {which}"))
        expect(hear).to_be_visible(timeout=60_000)
        hear.click()
        expect(page.get_by_test_id("preview-bar")).to_contain_text(which)
    compared.get_by_role("button", name="Restore A").click()
    expect(versions.get_by_role("button", name=re.compile("^Restore Sent to the pit desk"))).to_be_visible()
    head = studio.get(f"/kits/{kit}")
    assert head["undo"] == "Restore Sent to the pit desk"
    assert next(c for c in head["head"]["channels"] if c["id"] == "side-snare-channel")["level_db"] == 0.0
    studio.remove(kit)


def test_a_kit_removed_for_good_frees_exactly_its_own_recordings(page: Page, studio, tmp_path: Path):
    root = tmp_path / "Two tins"
    for number in range(8):
        write_sound(
            root / f"tin_{number // 2 + 1:02d}_{number % 2 + 1}.wav", strike_sound(-4.0 * number, 7000 + number)
        )
    own = sum(path.stat().st_size for path in root.iterdir())
    before = studio.get("/library/room")["recordings"]
    page.goto("/")
    page.get_by_test_id("folder-input").set_input_files(str(root))
    page.get_by_role("button", name="Make 1 piece").click(timeout=30_000)
    expect(page.get_by_role("button", name="Undo: Pieces made")).to_be_enabled()
    assert studio.get("/library/room")["recordings"] == before + own
    page.goto("/")
    card(page, "Two tins").click()
    page.get_by_role("button", name="Delete for good…").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("status")).to_have_text(
        "That frees no space: all of its 8 recordings are used elsewhere."
    )
    dialog.get_by_role("checkbox").check()
    expect(dialog.get_by_role("status")).to_contain_text("That frees 8 recordings")
    dialog.get_by_role("button", name="Delete for good").click()
    expect(page.get_by_role("main").get_by_role("status").filter(has_text="8 recordings cleared")).to_be_visible()
    expect(card(page, "Two tins")).to_have_count(0)
    assert studio.get("/library/room")["recordings"] == before
    assert studio.get("/library/unneeded") == {"files": 0, "bytes": 0}


def test_a_piece_is_kept_from_the_shelf_heard_carried_and_opened_again(page: Page, fetch, tmp_path: Path):
    opened(page, fetch, "Tin Lantern")
    page.get_by_role("link", name=re.compile("Layers")).click()
    page.get_by_role("button", name=re.compile("^Splash")).first.hover()
    page.get_by_role("button", name="More for Splash").click()
    page.get_by_role("menuitem", name="Save to library…").click()
    page.get_by_role("textbox", name="Save Splash to the library as").fill("Lantern splash")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Saved to the library as Lantern splash.")).to_be_visible()
    page.goto("/library/pieces")
    expect(card(page, "Lantern splash")).to_contain_text("9 takes")
    expect(looked(page).get_by_role("button", name="Hear Lantern splash")).to_be_visible(timeout=60_000)
    description = looked(page).get_by_role("textbox", name="Description of Lantern splash")
    description.fill("Thin and short.")
    description.press("Enter")
    expect(card(page, "Lantern splash")).to_contain_text("Thin and short.")
    with page.expect_download() as download:
        looked(page).get_by_role("button", name="Save as a file").click()
    assert download.value.suggested_filename == "Lantern splash.zestypiece"
    download.value.save_as(tmp_path / "Lantern splash.zestypiece")
    looked(page).get_by_role("button", name="Delete for good…").click()
    page.get_by_role("dialog").get_by_role("button", name="Delete for good").click()
    expect(page.get_by_text("No saved pieces yet.")).to_be_visible()
    page.get_by_test_id("kit-file-input").set_input_files(str(tmp_path / "Lantern splash.zestypiece"))
    expect(card(page, "Lantern splash")).to_contain_text("Thin and short.", timeout=30_000)
    card(page, "Lantern splash").click()
    looked(page).get_by_role("button", name="Delete for good…").click()
    page.get_by_role("dialog").get_by_role("button", name="Delete for good").click()
    expect(card(page, "Lantern splash")).to_have_count(0)


def test_what_one_tab_changes_another_sees(page: Page, studio):
    kit = studio.copy("Tin Lantern", "Seen twice")
    other = page.context.new_page()
    for tab in (page, other):
        tab.goto("/")
        expect(card(tab, "Seen twice")).to_be_visible()
    card(other, "Seen twice").click()
    other.get_by_role("button", name="Rename").click()
    other.get_by_role("textbox", name="Name of Seen twice").fill("Seen by both")
    other.keyboard.press("Enter")
    expect(card(page, "Seen by both")).to_be_visible()
    other.close()
    studio.remove(kit)
