"""Manners of every view: nothing serious for axe in either theme, and no page that scrolls."""

import json

import pytest
from axe_core_python.sync_playwright import Axe
from playwright.sync_api import Browser, expect

STEPS = ["recordings", "layers", "notes", "touch", "routing", "rehearsal", "delivery"]


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_every_view_is_accessible(browser: Browser, address: str, fetch, theme: str):
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=address, color_scheme=theme)
    page = context.new_page()
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
    context.close()
    assert not found, "\n".join(found)


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1024, 700), (2560, 1300)])
def test_no_view_scrolls_or_spills_over_the_page(browser: Browser, address: str, fetch, width: int, height: int):
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
    context = browser.new_context(viewport={"width": width, "height": height}, base_url=address)
    page = context.new_page()
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
    context.close()
