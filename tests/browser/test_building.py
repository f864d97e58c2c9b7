"""Recordings and Layers as a designer uses them: a session with mistakes put right, names overruled, takes laid out."""

import base64
import os
import re
import shutil
from pathlib import Path

from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import came, holds, listen, loaded, quiet
from tests.browser.test_journeys import drag, kept, step
from tests.conftest import strike_sound, write_sound


def card(page: Page, title: str | re.Pattern[str]) -> Locator:
    findings = page.get_by_role("complementary", name="Findings")
    return findings.locator("section").filter(has_text=title).first


def fix(page: Page, title: str | re.Pattern[str], button: str | re.Pattern[str]) -> None:
    """Press the button a finding offers, and see the finding go."""
    finding = card(page, title)
    expect(finding).to_be_visible()
    finding.get_by_role("button", name=button).first.click()
    expect(page.get_by_role("complementary", name="Findings").locator("section").filter(has_text=title)).to_have_count(
        0
    )


def test_every_planted_mistake_is_found_and_fixed(page: Page, demo_sessions: Path, tmp_path: Path):
    """The whole weekend not flipped, sent as somebody sends a folder of theirs."""
    weekend = tmp_path / "Wet weekend"
    shutil.copytree(demo_sessions / "Boathouse No. 4", weekend, copy_function=os.link)
    page.goto("/")
    page.get_by_test_id("folder-input").set_input_files(str(weekend))
    expect(page.get_by_role("alert")).to_contain_text("added", timeout=120_000)
    page.get_by_role("button", name="Make 11 pieces").click(timeout=60_000)
    expect(page.get_by_role("button", name="Undo: Pieces made")).to_be_enabled(timeout=20_000)

    fix(page, "Snare bottom has the opposite polarity of Snare top", "Flip polarity")
    fix(page, "Snare · centre 6-3 is clipped", "Disable take")
    fix(page, "Floor tom · centre 3-2 starts 40 ms late", "Got it")
    fix(page, "Hats · open 2-1 has no Room", re.compile("Borrow Room from"))
    fix(page, "Two names, one sound", "Disable take")
    fix(page, "tamb_01_3_D#2.wav names another note", "Ignore the label")
    fix(page, "rack_tom_02_1.wav is stereo", "Got it")
    fix(page, "ride_02_3.wav is at 44.1 kHz", "Got it")
    fix(page, "Take 2-2 stands out by", "Match its level")
    expect(page.get_by_text("Nothing wrong was noticed.")).to_be_visible()

    # The two that no name could place: one put where it belongs, the other ignored.
    page.get_by_role("button", name="Place by hand").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name=re.compile("Articulation of")).click()
    page.get_by_role("option", name="Snare · centre").click()
    dialog.get_by_role("button", name="Place it").click()
    expect(dialog).to_have_count(0, timeout=20_000)
    expect(page.get_by_text("1 file not read")).to_be_visible(timeout=20_000)
    page.get_by_role("button", name="Ignore it").click()
    expect(page.get_by_text("Every name is read, 1 file ignored")).to_be_visible(timeout=20_000)
    expect(page.get_by_text("794 of 795 files read")).to_be_visible()

    # Uneven repeats are no mistake: they are shown as they are.
    step(page, "Layers")
    page.get_by_role("button", name=re.compile("^Snare")).first.click()
    page.get_by_role("button", name=re.compile("^rimshot")).click()
    sizes = [page.locator(f'[data-layer="{n}"] [data-take]').count() for n in range(4)]
    assert sizes == [4, 4, 3, 2]
    # What is left is the kit's: everything goes to main, until a plan gives each piece its output.
    page.get_by_role("button", name="1 finding", exact=True).click()
    expect(page.get_by_text("All pieces share one output")).to_be_visible()
    page.get_by_role("button", name="Route by “One output per piece”").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Nothing wrong")).to_be_visible()


def odd_words(folder: Path) -> Path:
    for strength, word in enumerate(("feather", "walk", "storm")):
        for repeat in (1, 2):
            sound = strike_sound(-9.0 * (2 - strength), strength * 10 + repeat)
            write_sound(folder / "Snare" / f"sn_{word}_{repeat}.wav", sound)
    return folder


def test_a_column_is_overruled_for_every_name_at_once(page: Page, tmp_path: Path):
    page.goto("/")
    page.get_by_test_id("folder-input").set_input_files(str(odd_words(tmp_path / "Words")))
    articulations = page.get_by_test_id("articulations")
    names = page.get_by_role("region", name="How the names read")
    column = names.get_by_role("button", name=re.compile("What (feather|walk|storm) means"))
    # Sound speaks for strengths; that is a guess until somebody says so.
    expect(column).to_contain_text("velocity layer", timeout=30_000)
    expect(names).to_contain_text("a guess: they sound alike and each has its own level")
    expect(articulations).to_contain_text("3 × up to 2 takes", timeout=20_000)
    column.click()
    page.get_by_role("option", name="not used").click()
    # What would change is shown first, and nothing has changed yet.
    change = page.get_by_role("region", name="What this would change")
    expect(change).to_contain_text("names would read differently")
    expect(change).to_contain_text("sn_feather_1.wav")
    expect(change.get_by_role("listitem").filter(has_text="sn_feather_1.wav").last).to_contain_text(
        "Snare · centre, layer 1"
    )
    expect(articulations).to_contain_text("3 × up to 2 takes")
    page.keyboard.press("Escape")
    expect(change).to_have_count(0)
    column.click()
    page.get_by_role("option", name="not used").click()
    change.get_by_role("button", name=re.compile("^Change ")).click()
    expect(column).to_contain_text("not used", timeout=20_000)
    expect(names).to_contain_text("you said so")
    page.get_by_role("button", name="Undo correction").click()
    expect(column).to_contain_text("velocity layer", timeout=20_000)
    expect(articulations).to_contain_text("3 × up to 2 takes", timeout=20_000)
    column.click()
    page.get_by_role("option", name="not used").click()
    change.get_by_role("button", name=re.compile("^Change ")).click()
    expect(column).to_contain_text("not used", timeout=20_000)
    names.get_by_role("button", name="Save this reading").click()
    page.get_by_label("Name of this reading").fill("Weather")
    page.keyboard.press("Enter")
    column.click()
    page.get_by_role("option", name="automatic").click()
    change.get_by_role("button", name=re.compile("^Change ")).click()
    expect(column).to_contain_text("velocity layer", timeout=20_000)
    names.get_by_role("button", name="Read as “Weather”").click()
    expect(column).to_contain_text("not used", timeout=20_000)
    column.click()
    page.get_by_role("option", name="velocity layer").click()
    change.get_by_role("button", name=re.compile("^Change ")).click()
    expect(names).to_contain_text("you said so", timeout=20_000)
    names.get_by_role("button", name=re.compile("^Words")).click()
    page.get_by_label("The word").fill("sn")
    page.get_by_label("What it stands for").fill("Cowbell")
    page.get_by_role("button", name="Add word").click()
    expect(articulations).to_contain_text("Cowbell", timeout=20_000)
    page.get_by_role("button", name="Delete sn").click()
    expect(articulations).to_contain_text("Snare", timeout=20_000)


def test_sending_is_stopped_and_goes_on_where_it_was(page: Page, tmp_path: Path):
    folder = tmp_path / "Long night"
    for strength in (1, 2, 3, 4):
        for repeat in range(1, 16):
            sound = strike_sound(-7.0 * (4 - strength), 5000 + strength * 100 + repeat)
            write_sound(folder / f"kick_{strength}_{repeat:02d}.wav", sound)
    page.goto("/")
    # The second batch waits until Stop was pressed.
    held, stopped = [], []

    def hold(route) -> None:
        held.append(route)
        if len(held) != 2 or stopped:
            route.continue_()

    page.route(re.compile(r"/api/sessions/\d+/files$"), hold)
    page.get_by_test_id("folder-input").set_input_files(str(folder))
    expect(page.get_by_test_id("sending")).to_contain_text("24 of 60", timeout=20_000)
    page.get_by_test_id("sending").get_by_role("button", name="Stop").click()
    stopped.append(True)
    if len(held) == 2:
        held[1].continue_()
    expect(page.get_by_role("alert")).to_contain_text(
        "stopped at 48 of 60: choose the folder again to continue", timeout=20_000
    )
    expect(page.get_by_text("48 files of “Long night” were added")).to_be_visible()
    page.get_by_role("button", name="Add recordings").click()
    page.get_by_test_id("folder-input").set_input_files(str(folder))
    expect(page.get_by_role("alert")).to_contain_text(
        "12 files of “Long night” added, 48 were already here", timeout=20_000
    )
    expect(page.get_by_text("60 of 60 files read")).to_be_visible(timeout=20_000)


DROP = """([selector, files]) => {
  const carried = new DataTransfer();
  for (const [name, text] of files) {
    const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
    carried.items.add(new File([bytes], name, { type: 'audio/wav' }));
  }
  const target = document.querySelector(selector);
  for (const kind of ['dragover', 'drop']) {
    target.dispatchEvent(new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: carried }));
  }
}"""


def test_recordings_dropped_on_a_piece_join_it(page: Page, tmp_path: Path, small_session: Path):
    page.goto("/")
    page.get_by_test_id("folder-input").set_input_files(str(small_session))
    page.get_by_role("button", name="Make 4 pieces").click(timeout=30_000)
    step(page, "Layers")
    page.get_by_role("button", name=re.compile("^Snare")).first.click()
    expect(page.locator('[data-layer="3"] [data-take]')).to_have_count(3)
    made = [write_sound(tmp_path / f"more {n}.wav", strike_sound(0.1, 9000 + n)) for n in (1, 2)]
    files = [[p.name, base64.b64encode(p.read_bytes()).decode()] for p in made]
    page.locator('[aria-label="Pieces"] li').nth(1).evaluate("(n) => { n.id = 'target'; }")
    page.evaluate(DROP, ["#target", files])
    expect(page.locator('[data-layer="3"] [data-take]')).to_have_count(5, timeout=30_000)
    page.keyboard.press("Control+z")
    expect(page.locator('[data-layer="3"] [data-take]')).to_have_count(3)
    # A piece of one's own, named, moved, copied and taken out again.
    page.get_by_role("button", name="New piece").click()
    page.get_by_label("Name of the new piece").fill("Tea tray")
    page.keyboard.press("Enter")
    shelf = page.get_by_role("complementary", name="Pieces")
    tray = shelf.get_by_role("button", name=re.compile("^Tea tray"))
    tray.click()
    expect(page.get_by_text("Nothing in Tea tray yet")).to_be_visible()
    page.keyboard.press("Alt+ArrowUp")
    expect(shelf.locator("li").nth(3)).to_contain_text("Tea tray")
    shelf.get_by_role("button", name="More for Tea tray").focus()
    page.keyboard.press("Enter")
    page.get_by_role("menuitem", name="Delete Tea tray").click()
    expect(tray).to_have_count(0)


def row(page: Page, number: int) -> list[str]:
    return page.locator(f'[data-layer="{number}"] [data-take]').evaluate_all("(all) => all.map((n) => n.dataset.take)")


def test_takes_are_dragged_chosen_levelled_and_trimmed(page: Page, kit):
    kit("layers")
    page.get_by_role("button", name=re.compile("^Mid tom")).first.click()
    expect(page.get_by_role("heading", name="Mid tom")).to_be_visible()
    soft, hard = row(page, 0), row(page, 3)

    def cell(take: str) -> Locator:
        return page.locator(f'[data-take="{take}"]')

    drag(page, cell(soft[0]), cell(hard[1]))  # onto a take: they change places
    expect(page.locator('[data-layer="3"] [data-take]').nth(1)).to_have_attribute("data-take", soft[0])
    page.keyboard.press("Control+z")
    expect(page.locator('[data-layer="3"] [data-take]').nth(1)).to_have_attribute("data-take", hard[1])
    cell(soft[0]).click()
    cell(soft[1]).click(modifiers=["Shift"])
    expect(page.get_by_role("heading", name="2 takes")).to_be_visible()
    cell(soft[1]).press("Alt+ArrowUp")
    expect(page.locator('[data-layer="1"] [data-take]')).to_have_count(5)
    cell(soft[1]).press("Delete")
    expect(page.get_by_role("button", name=re.compile(r"Take 1-[12], disabled"))).to_have_count(2)
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    expect(page.locator('[data-layer="1"] [data-take]')).to_have_count(3)

    # Levelling is shown on the chart before it is made.
    page.get_by_role("button", name="Match levels").click()
    page.get_by_role("menuitem", name="Match take levels in every layer").click()
    expect(page.get_by_test_id("ghost")).to_be_visible()
    spread = page.locator('[data-layer="1"]').get_by_text(re.compile(r"^\d\.\d dB$"))
    before = spread.inner_text()
    page.get_by_role("button", name="Cancel", exact=True).click()
    expect(spread).to_have_text(before)
    page.get_by_role("button", name="Match levels").click()
    page.get_by_role("menuitem", name="Match take levels in every layer").click()
    page.get_by_role("button", name="Apply").click()
    expect(spread).to_have_text("0.0 dB")
    page.keyboard.press("Control+z")
    expect(spread).to_have_text(before)

    # Numbers are typed; a boundary may be moved on one side alone, and what is wrong with it is marked.
    page.get_by_role("button", name="Layer 2 to:").click()
    page.keyboard.type("70")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Layer 3 from: 71")).to_be_visible()
    page.get_by_role("slider", name="Boundary between layers 2 and 3").press("Alt+ArrowLeft")
    expect(page.get_by_test_id("gap")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("gap")).to_have_count(0)
    page.keyboard.press("Control+z")
    kept(page)


def test_what_a_fix_brings_is_said_before_it_is_made(page: Page, kit):
    kit("layers", "snare")
    page.get_by_role("button", name=re.compile("^Snare")).first.click()
    boundary = page.get_by_role("slider", name="Boundary between layers 1 and 2")
    boundary.press("Home")
    expect(boundary).to_have_attribute("aria-valuenow", boundary.get_attribute("aria-valuemin") or "")
    for _ in range(3):
        boundary.press("Alt+ArrowLeft")
    page.get_by_role("button", name=re.compile("finding")).first.click()
    finding = page.get_by_role("group", name="Findings").locator("section").filter(has_text="Layer 1 has").first
    merge = finding.get_by_role("button", name=re.compile("Merge it with layer 2"))
    expect(finding.get_by_role("status")).to_have_count(0)
    merge.hover()
    expect(finding.get_by_role("status")).to_contain_text("brings “Layer 1 has a level spread of")


def test_a_pan_and_a_polarity_are_heard(page: Page, kit):
    """What is set on takes comes out: hard left leaves the right side silent."""
    kit("layers", "cowbell")
    page.get_by_role("button", name=re.compile("^Cowbell")).first.click()
    first = row(page, 0)[0]
    page.locator(f'[data-take="{first}"]').click()
    page.locator(f'[data-take="{first}"]').press("Control+a")
    pan = page.get_by_role("slider", name="Pan of the selected takes")
    pan.press("Home")
    expect(pan).to_have_attribute("aria-valuetext", "L100")
    expect(page.get_by_role("button", name=re.compile("Undo: .* panned to left 100 %"))).to_be_enabled()
    for name in ("Mute Overheads", "Mute Room"):
        step(page, "Routing")
        page.get_by_role("button", name=name).click()
    kept(page)
    step(page, "Layers")
    loaded(page, "cowbell")
    quiet(page)
    listen(page)
    roll = page.get_by_role("button", name="Roll", exact=True)
    roll.click()
    left, right = came(page, "sides", 0, over=0.02)["sides"]
    assert right < left * 1e-3
    page.get_by_role("region", name="Strike").get_by_role("button", name="Stop").click()
    for _ in range(3):
        page.keyboard.press("Control+z")
        kept(page)


def test_a_take_is_looked_at_closely_down_to_its_samples(page: Page, kit):
    kit("layers", "snare")
    page.get_by_role("button", name=re.compile("^Snare")).first.click()
    page.locator('[data-layer="5"] [data-take]').nth(1).click()
    page.get_by_role("button", name=re.compile("Open waveforms")).click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_test_id("channel")).to_have_count(5)
    expect(dialog.get_by_role("region", name="Snare bottom")).to_contain_text("against")
    over = dialog.get_by_role("button", name="Polarity of Snare bottom in this take")
    over.click()
    expect(over).to_have_attribute("aria-pressed", "true")
    over.click()
    expect(over).to_have_attribute("aria-pressed", "false")
    dialog.get_by_role("button", name="Samples").click()
    start = dialog.get_by_role("slider", name=re.compile("^Start of take"))
    start.press("PageUp")
    expect(start).to_have_attribute("aria-valuetext", "+0.2 ms")
    listen(page)
    dialog.get_by_role("button", name="Play with settings").click()
    came(page)
    quiet(page)
    listen(page)
    dialog.get_by_role("button", name="Play as recorded").click()
    came(page)
    page.keyboard.press("Control+z")  # undo works in here too
    expect(start).to_have_attribute("aria-valuetext", "0.0 ms")
    dialog.get_by_role("button", name="Polarity of Snare bottom", exact=True).click()
    expect(dialog.get_by_role("button", name="Polarity of Snare bottom", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    dialog.get_by_role("button", name="Next take").click()
    expect(dialog.get_by_role("heading", level=1)).to_contain_text("6-3")
    page.keyboard.press("Control+z")
    kept(page)
    page.keyboard.press("Escape")
    expect(dialog).to_have_count(0)


def test_an_articulation_is_rolled_held_and_heard_through_one_microphone(page: Page, kit):
    kit("layers", "rack-tom")
    page.get_by_role("button", name=re.compile("^Rack tom")).first.click()
    strip = page.get_by_role("slider", name="Velocity of the strike")
    strip.press("PageUp")
    expect(strip).to_have_attribute("aria-valuenow", "104")
    expect(page.get_by_test_id("last-strike")).to_contain_text("in 104")
    page.get_by_role("switch", name="Round robin on").click()
    page.get_by_role("button", name="Roll", exact=True).click()
    holds(page, "() => document.querySelectorAll('[data-testid=\"strike-bar\"] svg rect').length > 6")
    hits, hit = set(), page.locator("[data-hit]")
    for _ in range(5):
        before = hit.get_attribute("data-hit") or ""
        expect(hit).not_to_have_attribute("data-hit", before)
        hits.add(hit.get_attribute("data-take"))
    assert len(hits) == 1, "with one take, a roll repeats it"
    page.get_by_role("region", name="Strike").get_by_role("button", name="Stop").click()
    page.get_by_role("switch", name="Round robin off").click()
    page.get_by_role("button", name="Microphone").click()
    page.get_by_role("option", name="Room").click()
    quiet(page)
    listen(page)
    strip.press("PageUp")
    assert came(page, over=1e-3)["channels"]["rack-tom-channel"] < 1e-4, "past its own channel"


def test_the_list_is_searched_sorted_filtered_and_walked(page: Page, kit):
    kit("recordings")
    listed = page.get_by_test_id("recording-list")
    count = page.get_by_test_id("row-count")
    expect(count).to_have_text("224 of 793")
    page.get_by_role("searchbox", name="Search recordings").fill("snare rim 04")
    expect(count).to_have_text("2 of 793")
    page.get_by_role("searchbox", name="Search recordings").fill("")
    page.get_by_role("button", name="Microphone: One row a take").click()
    page.get_by_role("option", name="Every microphone").click()
    expect(count).to_have_text("793 of 793")
    page.get_by_role("button", name="Peak", exact=True).click()
    expect(listed.get_by_role("option").first).to_contain_text("sn_06_3_R.wav")
    page.get_by_role("button", name=re.compile("Findings: ")).click()
    page.get_by_role("option", name="other rate").click()
    expect(count).to_have_text("1 of 793")
    page.get_by_role("button", name=re.compile("Findings: ")).click()
    page.get_by_role("option", name="With or without findings").click()
    listed.focus()
    listed.press("ArrowDown")
    expect(page.get_by_test_id("last-strike")).to_contain_text("take")
    listed.press("Shift+ArrowDown")
    listed.press("Shift+ArrowDown")
    expect(page.get_by_text("3 recordings selected")).to_be_visible()
    listed.press("Enter")
    expect(page.get_by_role("dialog").get_by_role("heading", level=1)).to_be_visible()


DRAG_FILE = """([from, to]) => {
  const carried = new DataTransfer();
  document.querySelector(from).dispatchEvent(new DragEvent('dragstart', { bubbles: true, dataTransfer: carried }));
  for (const kind of ['dragover', 'drop']) {
    document.querySelector(to).dispatchEvent(
      new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: carried }));
  }
}"""


def test_unread_files_are_dragged_onto_a_articulation_or_put_beside_a_take(page: Page, tmp_path: Path):
    folder = tmp_path / "Loose ends"
    for mic, down in (("Top", 0.0), ("Room", -9.0)):
        for strength in (1, 2, 3):
            for repeat in (1, 2):
                sound = strike_sound(-9.0 * (3 - strength) + down, 700 + strength * 10 + repeat + int(down))
                write_sound(folder / mic / f"snare_{strength}_{repeat}.wav", sound)
    (folder / "Room" / "snare_2_1.wav").rename(folder / "Room" / "maybe this.wav")
    write_sound(folder / "Top" / "one more.wav", strike_sound(0.0, 990))
    for repeat in (3, 4):
        write_sound(folder / "Top" / f"snare_1_{repeat}.wav", 0.0 * strike_sound(0.0, 1))
    page.goto("/")
    page.get_by_test_id("folder-input").set_input_files(str(folder))
    findings = page.get_by_role("complementary", name="Findings")
    expect(findings).to_contain_text("2 files not read", timeout=30_000)
    findings.locator("[draggable=true]").filter(has_text="one more").evaluate("(n) => { n.id = 'loose'; }")
    page.evaluate(DRAG_FILE, ["#loose", "[data-testid=articulations] button"])
    expect(findings).to_contain_text("1 file not read", timeout=20_000)
    page.get_by_role("button", name="Place by hand").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name=re.compile("^Take of")).click()
    page.get_by_role("option", name="with 2-1").click()
    dialog.get_by_role("button", name="Place it").click()
    expect(findings).to_contain_text("Every name is read", timeout=20_000)
    page.get_by_role("button", name="Make 1 piece").click()
    # Two silent takes: fixed together, and back together.
    findings.get_by_role("button", name="All 2: disable take").first.click()
    expect(findings.get_by_text("is silent")).to_have_count(0)
    page.get_by_role("button", name="Undo: Disable take, 2 times").click()
    expect(findings.get_by_text("is silent").first).to_be_visible()
    step(page, "Layers")
    page.locator('[data-layer="1"] [data-take]').first.click()
    expect(page.get_by_role("region", name="Take").get_by_role("listitem")).to_have_count(2)
