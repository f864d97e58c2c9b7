"""Manners of every view: nothing serious for axe in either theme, and no page that scrolls."""

import json
import re
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import hears, of_lantern


@pytest.fixture
def visit(browser: Browser, address: str) -> Iterator[Callable[..., Page]]:
    """Pages with settings of their own, closed whatever happens: a page left open goes on loading sounds."""
    opened = []

    def make(**settings: object) -> Page:
        opened.append(browser.new_context(base_url=address, **settings))
        page = opened[-1].new_page()
        hears(page)
        return page

    yield make
    for context in opened:
        context.close()


STEPS = ["recordings", "layers", "notes", "touch", "routing", "rehearsal", "delivery"]


def at(page: Page, kit: str, step: str) -> None:
    """A page at a step of a kit, by its link where the kit is open: loading it anew takes many times as long."""
    if f"/kits/{kit}/" not in page.url:
        page.goto(f"/kits/{kit}/{step}")
    else:
        page.get_by_role("navigation", name="Steps").get_by_role("link", name=step.title()).click()
    expect(page).to_have_title(re.compile(f"^{step} · ", re.IGNORECASE))
    expect(page.locator("h1").first).to_be_visible()


AXE = (Path(__file__).resolve().parents[2] / "web/node_modules/axe-core/axe.min.js").read_text()
RUN_AXE = """async ([whole, but]) => {
  const root = document.documentElement;
  // What was looked at before and looks the same is not looked at again: of a page with a menu open, the menu.
  const seen = (window.seen ??= new WeakMap());
  const look = (node) => `${node.getAttribute('class')} ${node.ariaPressed} ${node.ariaExpanded} ${node.ariaChecked}`;
  const isNew = (node) => seen.get(node) !== look(node);
  const news = [...document.body.querySelectorAll('*')].filter((n) => isNew(n) && !(n.parentElement && isNew(n.parentElement)));
  const context = whole ? document : { include: news };
  const { theme: before } = root.dataset;
  const every = { rules: { 'target-size': { enabled: true } } };
  const found = [];
  for (const [theme, asked] of [['dark', every], ['light', { runOnly: ['color-contrast'] }]]) {
    root.dataset.theme = theme;
    if (!whole && !news.length) break;
    const { violations } = await axe.run(context, { ...asked, resultTypes: ['violations'], preload: false });
    found.push(...violations.filter(({ id }) => !but.includes(id)).map(({ id, nodes }) =>
      `${theme}, ${id}: ${nodes.slice(0, 3).map(({ html }) => html.slice(0, 160)).join(' ')}`));
  }
  delete root.dataset.theme;
  if (before) root.dataset.theme = before;
  for (const node of document.body.querySelectorAll('*')) seen.set(node, look(node));
  return found;
}"""
OF_WHOLE_PAGES = ("region", "page-has-heading-one", "landmark-one-main")
"""What an open menu or dialog hides of the page behind it is there all the same."""


def violations(page: Page, where: str, *, whole: bool = False) -> list[str]:
    """What axe finds wrong on the page, or in what came since it was last looked at; targets under 24 px count, and
    colours are judged in both themes."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    return [f"{where}: {found}" for found in page.evaluate(RUN_AXE, [whole, [] if whole else OF_WHOLE_PAGES])]


def test_every_view_is_accessible(visit, fetch):
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    page = visit(viewport={"width": 1280, "height": 800})
    found = []
    page.goto("/")
    expect(page.locator("h1").first).to_be_visible()
    found += violations(page, "the library", whole=True)
    for step in STEPS:
        at(page, kit["id"], step)
        if step == "recordings":
            expect(page.get_by_test_id("recording-list")).to_be_visible()
        found += violations(page, step, whole=True)
    assert not found, "\n".join(found)


def _of_layers(page: Page) -> Iterator[str]:
    page.keyboard.press("?")
    yield "the keys"
    page.keyboard.press("Escape")
    page.get_by_role("button", name=re.compile("^[0-9]+ finding")).first.click()
    yield "findings"
    page.keyboard.press("Escape")
    for button in ("Kit:", "More for Snare", "More for layer 1", "Variation"):
        page.get_by_role("button", name=button).first.click()
        yield button
        page.keyboard.press("Escape")
    page.locator("[data-take]").first.click()
    yield "a take"
    page.get_by_title("Open waveforms: every").click()
    expect(page.get_by_test_id("channel").first).to_be_visible()
    yield "the close view"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Layer 1, its level").click()
    yield "a layer"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Add a piece from another kit").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("searchbox", name="Find a piece").fill("lantern")
    of_lantern(dialog, "Splash").click()
    expect(dialog.get_by_test_id("small-sheet")).to_be_visible()
    yield "a piece from another kit"
    dialog.get_by_role("checkbox", name="Also China of Tin Lantern").check()
    expect(dialog.get_by_role("list", name="What will happen with China")).to_be_visible()
    yield "several pieces"
    page.keyboard.press("Escape")


def _of_recordings(page: Page) -> Iterator[str]:
    expect(page.get_by_test_id("recording-list")).to_be_visible()
    for button in ("Words", "What "):
        page.get_by_role("button", name=button).first.click()
        yield button
        page.keyboard.press("Escape")
    page.get_by_role("button", name="Add recordings").click()
    yield "adding"
    page.keyboard.press("Escape")


def _of_notes(page: Page) -> Iterator[str]:
    page.locator("[data-note='46']").focus()
    for tab in ("Pedal", "Chokes"):
        page.get_by_role("button", name=tab, exact=True).click()
        yield tab
    page.get_by_test_id("strike-bar").get_by_role("button", name="Deckhand 5").click()
    for tab in ("Stowaway", "MIDI devices"):
        page.get_by_role("button", name=tab, exact=True).click()
        yield tab
    page.get_by_role("button", name="Close input devices").click()
    page.get_by_role("button", name="Maps…").click()
    page.get_by_role("button", name="Deckhand 5 10").click()
    expect(page.get_by_test_id("comparison")).to_be_visible()
    yield "maps"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Teach by hitting").click()
    page.get_by_role("menuitem", name="All articulations, one after another").click()
    expect(page.get_by_test_id("lesson")).to_have_text("Hit: Kick · centre")
    yield "teaching"
    page.get_by_role("button", name="Stop teaching").click()


def _of_touch(page: Page) -> Iterator[str]:
    for tab in ("Fit", "Pads"):
        page.get_by_role("button", name=tab, exact=True).click()
        yield tab


def _of_routing(page: Page) -> Iterator[str]:
    page.locator("[data-channel='snare-channel'] button").first.click()
    unfold = page.get_by_role("button", name="Unfold")
    if unfold.count():
        unfold.click()
    for stage in ("EQ", "Compressor", "Drive"):
        page.get_by_role("switch", name=stage).click()
    page.get_by_role("button", name="Add a band").click()
    expect(page.get_by_test_id("treatment").get_by_role("slider", name="Band 1, peak")).to_be_visible()
    yield "a channel"
    page.get_by_role("button", name="Presets", exact=True).click()
    yield "treatments kept by name"
    page.get_by_role("button", name="Remove all treatment from Snare").click()
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    page.get_by_role("button", name="Add a bus").click()
    page.get_by_label("Name of the bus").fill("Tower")
    page.keyboard.press("Enter")
    page.locator("[data-channel='tower-bus'] button").first.click()
    page.get_by_role("radio", name="Reverb or echo").click()
    page.get_by_role("button", name="Presets", exact=True).click()
    yield "spaces kept by name"
    page.get_by_role("button", name=re.compile("^Lighthouse")).click()
    expect(page.get_by_role("figure", name=re.compile("^Decay"))).to_be_visible()
    yield "a space"
    page.get_by_role("tab", name="Bleed").click()
    page.get_by_role("slider", name="Snare in Room", exact=True).focus()
    yield "bleed"
    page.get_by_role("button", name="A / B").click()
    yield "what to compare with"
    page.get_by_role("button", name=re.compile("^before “Tower through")).first.click()
    expect(page.get_by_test_id("equal")).to_contain_text("loudness-matched", timeout=120_000)
    yield "A and B"
    page.keyboard.press("Escape")
    page.get_by_role("button", name="End", exact=True).click()
    page.get_by_role("tab", name="Host").click()
    page.get_by_role("button", name="Check lines").click()
    expect(page.get_by_test_id("lines-said")).to_contain_text("as planned", timeout=120_000)
    yield "the host and the line check"
    page.get_by_role("tab", name="Channels").click()
    page.get_by_role("button", name="Delete Tower").first.click()
    expect(page.locator("[data-channel='tower-bus']")).to_have_count(0)


PANELS = {
    "layers": _of_layers,
    "recordings": _of_recordings,
    "notes": _of_notes,
    "touch": _of_touch,
    "routing": _of_routing,
}
WIDE = """() => [...document.querySelectorAll('aside, main, section')].filter((n) => n.scrollWidth > n.clientWidth + 1 &&
    getComputedStyle(n).overflowX !== 'auto').map((n) => n.outerHTML.slice(0, 90))"""

TOUCHING = """() => {
  const boxes = [...document.querySelectorAll('[role=slider], input[type=range]')]
    .filter((n) => n.checkVisibility() && !n.closest('[data-testid=bleed]'))
    .map((n) => [n.getAttribute('aria-label'), n.getBoundingClientRect(), n])
    .filter(([, box]) => box.width > 20 && box.height > 8)
    // What is scrolled out of sight or lies under a dialog touches nothing.
    .filter(([, box, n]) => n.contains(document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2)));
  const found = [];
  for (const [k, [name, a]] of boxes.entries()) for (const [other, b] of boxes.slice(k + 1)) {
    const across = Math.max(a.left, b.left) - Math.min(a.right, b.right);
    const down = Math.max(a.top, b.top) - Math.min(a.bottom, b.bottom);
    if (Math.max(across, down) < 2) found.push(`${name} touches ${other}: ${across} across, ${down} down`);
  }
  return found;
}"""


def test_panels_menus_and_dialogs_are_accessible_and_fit(visit, fetch):
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    page = visit(viewport={"width": 1024, "height": 700})
    found = []
    for step, panels in PANELS.items():
        at(page, kit["id"], step)
        for panel in panels(page):
            found += violations(page, f"{step}, {panel}")
            found.extend(f"{step}, {panel} scrolls: {n}" for n in page.evaluate(WIDE))
            found.extend(f"{step}, {panel}: {n}" for n in page.evaluate(TOUCHING))
    page.goto("/")
    for kind in ("", "library/pieces", "library/plans", "library/sessions", "library/away"):
        page.goto(f"/{kind}")
        expect(page.get_by_test_id("found")).not_to_be_empty()
        found += violations(page, f"the library, {kind or 'kits'}")
        found.extend(f"the library, {kind} scrolls: {n}" for n in page.evaluate(WIDE))
    page.goto("/?find=lantern")
    page.get_by_role("article", name="Tin Lantern", exact=True).first.click()
    page.get_by_role("button", name="Delete for good…").click()
    expect(page.get_by_role("dialog").get_by_role("button", name="Delete for good")).to_be_visible()
    found += violations(page, "removing a kit")
    assert not found, "\n".join(found)


def test_the_pads_are_moved_and_make_way_for_what_is_taught(visit, fetch):
    """They open where they hide nothing that is taught, also where little room is left; keys and the pointer move them."""
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    page = visit(viewport={"width": 1024, "height": 700})
    page.goto(f"/kits/{kit['id']}/notes")
    page.get_by_test_id("strike-bar").get_by_role("button", name="Deckhand 5").click()
    pads = page.get_by_role("region", name="Input devices")
    handle = page.get_by_role("button", name="Move this panel with the arrow keys")
    handle.focus()
    for _ in range(40):
        page.keyboard.press("ArrowRight")
    box = pads.bounding_box()
    assert box and box["x"] + box["width"] == pytest.approx(1024 - 12, abs=1)
    page.get_by_role("button", name="Teach by hitting").click()
    page.get_by_role("menuitem", name="All articulations, one after another").click()
    lesson = page.get_by_role("region", name="Teaching").locator("[data-seen]")
    expect(lesson).to_be_visible()
    here, seen = pads.bounding_box(), lesson.bounding_box()
    assert here and seen
    assert here["x"] + here["width"] <= seen["x"] or here["y"] >= seen["y"] + seen["height"]
    grip = handle.bounding_box()
    assert grip
    page.mouse.move(grip["x"] + 10, grip["y"] + 10)
    page.mouse.down()
    page.mouse.move(grip["x"] + 90, grip["y"] - 20, steps=4)
    page.mouse.up()
    after = pads.bounding_box()
    assert after and (after["x"] - here["x"], after["y"] - here["y"]) == pytest.approx((80, -30), abs=1)


SPILLED = """async () => {
  // What measures itself draws anew after it was measured.
  for (let frame = 0; frame < 3; frame += 1) await new Promise(requestAnimationFrame);
  const said = [];
  for (const n of document.querySelectorAll('header, header *, footer > *, aside, main')) {
    const { width, right } = n.getBoundingClientRect();
    if (width > 0 && getComputedStyle(n).display !== 'none' && right > innerWidth + 1)
      said.push(`spills over the page: ${n.outerHTML.slice(0, 120)}`);
    if (n.matches('aside, main') && n.scrollWidth > n.clientWidth + 1)
      said.push(`scrolls sideways: ${n.getAttribute('aria-label') ?? n.tagName}`);
  }
  const { scrollHeight } = document.documentElement;
  if (scrollHeight > innerHeight) said.push(`the page scrolls: ${scrollHeight} high`);
  return said;
}"""


def test_no_view_scrolls_or_spills_over_the_page(visit, fetch):
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    page = visit(viewport={"width": 1280, "height": 800})
    found = []
    for step in STEPS:
        at(page, kit["id"], step)
        for width, height in ((1280, 800), (1024, 700), (2560, 1300)):
            page.set_viewport_size({"width": width, "height": height})
            found += [f"{step} at {width} × {height} {said}" for said in page.evaluate(SPILLED)]
    assert not found, "\n".join(found)


REACHED = """() => {
  const controls = [...document.querySelectorAll('button, a[href], input, select, [role="slider"], [tabindex="0"]')];
  const missed = [];
  for (const one of controls) {
    const box = one.getBoundingClientRect();
    // What is only there for a screen reader, or opened by something else, has no place of its own.
    if (box.width < 2 || box.height < 2 || one.closest('[hidden], .sr-only, [aria-hidden="true"]')) continue;
    if (one.matches(':disabled')) continue;
    one.scrollIntoView({ block: 'center', inline: 'center' });
    const at = one.getBoundingClientRect();
    const inside = at.left < innerWidth && at.right > 0 && at.top < innerHeight && at.bottom > 0;
    const hit = inside && document.elementFromPoint(
      Math.min(innerWidth - 2, Math.max(1, at.left + at.width / 2)), Math.min(innerHeight - 2, at.top + at.height / 2));
    const label = one.closest('label');
    if (!hit || !(one.contains(hit) || hit.contains(one) || (label && label.contains(hit)))) {
      missed.push(`${one.getAttribute('aria-label') ?? one.textContent.trim().slice(0, 40)} (${one.tagName})`);
    }
  }
  return missed;
}"""


def test_at_twice_the_size_everything_is_reached(visit, fetch):
    """640 × 400 is a page of 1280 × 800 enlarged to 200 %: panes follow one another, the header wraps."""
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    page = visit(viewport={"width": 640, "height": 400})
    missed = {}
    for step in STEPS:
        at(page, kit["id"], step)
        expect(page.get_by_role("button", name=re.compile("finding|Nothing wrong|good to know")).first).to_be_visible()
        found = page.evaluate(REACHED)
        if found:
            missed[step] = found
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), f"{step} scrolls sideways"
    assert not missed, missed


def test_keys_titles_and_focus_go_with_the_step(visit, fetch):
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    page = visit()
    page.goto(f"/kits/{kit['id']}/layers")
    expect(page).to_have_title("Layers · Boathouse No. 4 · Zesty Skin")
    page.keyboard.press("Tab")
    expect(page.get_by_role("button", name="Skip to the step")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("main")).to_be_focused()
    # A box that is ticked takes no letters: keys work on.
    page.get_by_role("checkbox", name="linked").focus()
    page.keyboard.press("Alt+3")
    expect(page).to_have_title("Notes · Boathouse No. 4 · Zesty Skin")
    expect(page.get_by_role("main")).to_be_focused()
    page.keyboard.press("?")
    keys = page.get_by_role("dialog")
    expect(keys).to_contain_text("Put articulations on the notes")
    expect(keys).to_contain_text("Shift+Enter")
    keys.get_by_role("button", name="Glossary").click()
    expect(keys).to_contain_text("how the takes of a layer alternate")
    page.keyboard.press("Escape")
    expect(keys).to_have_count(0)
