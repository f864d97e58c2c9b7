"""Manners of every view: nothing serious for axe in either theme, and no page that scrolls."""

import json
from collections.abc import Callable, Iterator

import pytest
from axe_core_python.sync_playwright import Axe
from playwright.sync_api import Browser, Page, expect


@pytest.fixture
def visit(browser: Browser, address: str) -> Iterator[Callable[..., Page]]:
    """Pages with settings of their own, closed whatever happens: a page left open goes on loading sounds."""
    opened = []

    def make(**settings: object) -> Page:
        opened.append(browser.new_context(base_url=address, **settings))
        # Nothing is listened to here, and hundreds of sounds a page cost more than all that is looked at.
        opened[-1].route("**/api/sounds/**", lambda route: route.abort())
        return opened[-1].new_page()

    yield make
    for context in opened:
        context.close()


STEPS = ["recordings", "layers", "notes", "touch", "routing", "rehearsal", "delivery"]


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_every_view_is_accessible(visit, fetch, theme: str):
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    page = visit(viewport={"width": 1280, "height": 800}, color_scheme=theme)
    found = []
    for place in ["/", *(f"/kits/{kit['id']}/{step}" for step in STEPS)]:
        page.goto(place)
        expect(page.locator("h1").first).to_be_visible()
        if place.endswith("recordings"):
            expect(page.get_by_test_id("recording-list")).to_be_visible()
        for violation in Axe().run(page)["violations"]:
            if violation["impact"] in ("serious", "critical"):
                nodes = [node["html"][:160] for node in violation["nodes"][:3]]
                found.append(f"{place}: {violation['id']}: {nodes}")
    assert not found, "\n".join(found)


def test_the_panels_of_notes_and_touch_are_accessible_and_fit(visit, fetch):
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    page = visit(viewport={"width": 1024, "height": 700}, color_scheme="dark")
    found = []

    def look(where: str) -> None:
        for violation in Axe().run(page)["violations"]:
            if violation["impact"] in ("serious", "critical"):
                found.append(f"{where}: {violation['id']}: {[n['html'][:160] for n in violation['nodes'][:3]]}")
        wide = "() => [...document.querySelectorAll('aside, main, section')].filter((n) => n.scrollWidth > n.clientWidth + 1)"
        found.extend(f"{where} scrolls: {n}" for n in page.evaluate(wide + ".map((n) => n.outerHTML.slice(0, 90))"))

    page.goto(f"/kits/{kit['id']}/notes")
    page.locator("[data-note='46']").focus()
    for tab in ("Pedal", "Silences"):
        page.get_by_role("button", name=tab, exact=True).click()
        look(tab)
    page.get_by_test_id("strike-bar").get_by_role("button", name="Deckhand 5").click()
    for tab in ("Stowaway", "MIDI devices"):
        page.get_by_role("button", name=tab).click()
        look(tab)
    page.get_by_role("button", name="Close the pads").click()
    page.get_by_role("button", name="Maps…").click()
    page.get_by_role("button", name="Deckhand 5 10").click()
    expect(page.get_by_test_id("comparison")).to_be_visible()
    look("Maps")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Teach by hitting").click()
    page.get_by_role("menuitem", name="All strokes, one after another").click()
    expect(page.get_by_test_id("lesson")).to_have_text("Hit: Kick · centre")
    look("Teaching")
    page.get_by_role("button", name="Stop teaching").click()
    page.goto(f"/kits/{kit['id']}/touch")
    for tab in ("Fit", "Pads"):
        page.get_by_role("button", name=tab, exact=True).click()
        look(tab)
    assert not found, "\n".join(found)


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1024, 700), (2560, 1300)])
def test_no_view_scrolls_or_spills_over_the_page(visit, fetch, width: int, height: int):
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    page = visit(viewport={"width": width, "height": height})
    for step in STEPS:
        page.goto(f"/kits/{kit['id']}/{step}")
        expect(page.locator("h1").first).to_be_visible()
        spilled = page.evaluate(
            """() => [...document.querySelectorAll('header, header *, footer > *, aside, main')].filter((n) => {
              const r = n.getBoundingClientRect();
              return r.width > 0 && getComputedStyle(n).display !== 'none' && r.right > innerWidth + 1; })
              .map((n) => n.outerHTML.slice(0, 120))"""
        )
        assert not spilled, f"{step}: {spilled}"
        assert page.evaluate("document.documentElement.scrollHeight <= innerHeight")
        wide = page.evaluate(
            "() => [...document.querySelectorAll('aside, main')].filter((n) => n.scrollWidth > n.clientWidth + 1)"
            ".map((n) => n.getAttribute('aria-label') ?? n.tagName)"
        )
        assert not wide, f"{step}: panes that scroll sideways: {wide}"
