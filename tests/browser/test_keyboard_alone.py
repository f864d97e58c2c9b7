"""A whole kit without a pointer, on a page at 200 % (640 × 400): everything is come to by Tab and answered by keys."""

import re
from pathlib import Path

from playwright.sync_api import Locator, Page, expect

MOST_TABS = 260


def tab_to(page: Page, what: Locator, key: str = "Tab") -> Locator:
    """Press Tab until something has the focus, as somebody without a pointer does; it must be in sight then."""
    expect(what).to_be_attached(timeout=30_000)
    # Looked up once and again where it was drawn anew: a look by its name goes through the whole page.
    node = what.element_handle()
    for _ in range(MOST_TABS):
        if not node.evaluate("node => node.isConnected"):
            node = what.element_handle()
        if node.evaluate("node => node === document.activeElement"):
            break
        page.keyboard.press(key)
    expect(what).to_be_focused()
    expect(what).to_be_in_viewport()
    return what


def press(page: Page, what: Locator, key: str = "Enter") -> None:
    tab_to(page, what)
    page.keyboard.press(key)


def test_a_whole_kit_is_built_by_keyboard_alone(page: Page, small_session: Path):
    page.set_viewport_size({"width": 640, "height": 400})
    page.goto("/")
    press(page, page.get_by_role("button", name="New from recordings"))
    with page.expect_file_chooser() as chooser:
        press(page, page.get_by_role("button", name="Choose a folder"))
    chooser.value.set_files(str(small_session))
    press(page, page.get_by_role("button", name="Make 4 pieces"))
    expect(page.get_by_role("button", name="Undo: Pieces made")).to_be_attached()

    _layers(page)
    _a_note(page)
    _touch_and_routing(page)
    _deliver(page)


def _layers(page: Page) -> None:
    page.keyboard.press("Alt+2")
    # Takes are one stop, at the first that is drawn; arrows walk among them.
    tab_to(page, page.locator("[data-take]").first)
    softest = page.get_by_role("button", name=re.compile("^Take 1-1"))
    for _ in range(page.locator("[data-layer]").count() - 1):
        expect(softest).not_to_be_focused()
        page.keyboard.press("ArrowDown")
    expect(softest).to_be_focused()
    page.keyboard.press("Delete")
    expect(page.get_by_role("button", name=re.compile("^Take 1-1, disabled"))).to_be_focused()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name=re.compile("^Take .*disabled"))).to_have_count(0)
    boundary = page.get_by_role("slider", name="Boundary between layers 1 and 2")
    tab_to(page, boundary)
    before = int(boundary.get_attribute("aria-valuenow") or 0)
    page.keyboard.press("ArrowRight")
    expect(boundary).to_have_attribute("aria-valuenow", str(before + 1))


def _a_note(page: Page) -> None:
    page.keyboard.press("Alt+3")
    articulation = page.locator("[data-articulation='kick/centre']")
    press(page, articulation)
    expect(articulation).to_have_attribute("aria-pressed", "true")
    sheet = page.get_by_test_id("sheet")
    for _ in range(MOST_TABS):
        page.keyboard.press("Tab")
        if sheet.evaluate("node => node.contains(document.activeElement)"):
            break
    note = page.evaluate("Number(document.activeElement.dataset.note)")
    free = next(n for n in range(note, 128) if "kick" not in sheet.locator(f"[data-note='{n}']").inner_text().lower())
    for _ in range(free - note):
        page.keyboard.press("ArrowRight")
    cell = sheet.locator(f"[data-note='{free}']")
    expect(cell).to_be_focused()
    page.keyboard.press("Shift+Enter")
    question = page.get_by_role("button", name="Stack both")
    expect(cell.get_by_text(re.compile("kick", re.I)).or_(question).first).to_be_visible()
    if question.count():
        press(page, question)
    expect(cell).to_contain_text(re.compile("kick", re.I))


def _touch_and_routing(page: Page) -> None:
    page.keyboard.press("Alt+4")
    node = page.locator("[data-node='0']").first
    tab_to(page, node)
    page.keyboard.press("ArrowUp")
    expect(page.get_by_role("button", name=re.compile("Undo: (Set|Bend|Curve|Change)"))).to_be_attached()

    page.keyboard.press("Alt+5")
    level = page.get_by_role("slider", name="Level of Kick")
    tab_to(page, level)
    page.keyboard.press("PageDown")
    expect(level).not_to_have_attribute("aria-valuenow", "0")
    press(page, page.get_by_role("button", name="Route by plan"))
    press(page, page.get_by_role("button", name="One output per piece", exact=True))
    expect(page.locator('[data-channel="kick-channel"]')).to_contain_text("→ 2 · Kick")


def _deliver(page: Page) -> None:
    page.keyboard.press("Alt+6")
    expect(page.get_by_role("main")).to_be_focused()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name=re.compile("^Stop (?!sound)")).first).to_be_attached()
    page.keyboard.press("Space")

    page.keyboard.press("Alt+7")
    press(page, page.get_by_role("button", name="Render stems"))
    made = page.locator('[data-job="stems"][data-state="done"]')
    expect(made).to_be_attached(timeout=60_000)
    with page.expect_download() as download:
        press(page, made.get_by_role("link", name="Download"))
    assert download.value.suggested_filename.endswith(".zip")
