"""Edits and playing all the while the studio is killed, paused, starved of disk and brought back: nothing is lost, and
what is said is true at each moment."""

import os
import re
import resource
import signal
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import came, listen, loaded
from tests.conftest import strike_sound, write_sound
from tests.studio.test_process import Running
from tests.waiting import until

KEPT = 60_000
"""Back means started anew, on a machine with neighbours."""


@pytest.fixture
def studio(tmp_path: Path) -> Iterator[Running]:
    running = Running(tmp_path / "data")
    yield running
    running.process.send_signal(signal.SIGTERM)
    running.process.wait(timeout=30)


@pytest.fixture
def page(browser: Browser, studio: Running) -> Iterator[Page]:
    context = browser.new_context(base_url=f"http://127.0.0.1:{studio.port}", viewport={"width": 1280, "height": 800})
    opened = context.new_page()
    errors: list[str] = []
    opened.on("pageerror", lambda error: errors.append(str(error)))
    yield opened
    context.close()
    assert errors == []


def small(root: Path) -> Path:
    for number, name in enumerate(("kick", "snare")):
        for strength in (1, 2, 3):
            for repeat in (1, 2, 3):
                sound = strike_sound(-9.0 * (3 - strength), 100 * number + 10 * strength + repeat, seconds=0.5)
                write_sound(root / f"{name}_{strength}_{repeat}.wav", sound)
    return root


def built(page: Page, root: Path) -> None:
    page.goto("/")
    page.get_by_test_id("folder-input").set_input_files(str(small(root)))
    page.get_by_role("button", name="Make 2 pieces").click(timeout=KEPT)
    expect(page.get_by_role("button", name="Undo: Pieces made")).to_be_enabled(timeout=KEPT)
    page.keyboard.press("Alt+2")
    to_snare(page)


def to_snare(page: Page) -> None:
    page.get_by_role("complementary", name="Pieces").get_by_role("button", name=re.compile("^Snare")).first.click()
    expect(page.get_by_role("heading", name=re.compile("^Snare"))).to_be_visible()


def lowered(page: Page, times: int = 1) -> None:
    """Edits: a boundary between layers moved by the keys."""
    boundary = page.get_by_role("slider", name="Boundary between layers 1 and 2")
    for _ in range(times):
        boundary.press("ArrowLeft")


def boundary_at(page: Page) -> int:
    return int(page.get_by_role("slider", name="Boundary between layers 1 and 2").get_attribute("aria-valuenow") or 0)


def test_the_studio_may_come_and_go_while_somebody_works(page: Page, studio: Running, tmp_path: Path):
    built(page, tmp_path / "Wharf")
    loaded(page)
    away, kept = page.get_by_test_id("away"), page.get_by_test_id("kept")
    expect(away).to_have_count(0)
    stood = boundary_at(page)

    # Killed while it works: what is loaded plays on, an edit waits, a step that was never opened opens.
    server = until(lambda: studio.children().get("server"))
    os.kill(studio.process.pid, signal.SIGSTOP)  # so that it is not started again at once
    os.kill(server, signal.SIGKILL)
    expect(away).to_contain_text("is not responding", timeout=KEPT)
    lowered(page)
    expect(away).to_contain_text("1 edit will be saved")
    expect(kept).to_have_text("1 waiting")
    listen(page)
    page.keyboard.press("s")
    came(page)
    page.keyboard.press("Alt+3")
    expect(
        page.get_by_role("heading", name=re.compile("."), level=1).or_(page.locator("[data-note='38']")).first
    ).to_be_visible()
    page.keyboard.press("Alt+2")
    os.kill(studio.process.pid, signal.SIGCONT)
    expect(away).to_have_count(0, timeout=KEPT)
    expect(kept).to_have_text("Saved")
    assert boundary_at(page) == stood - 1

    # Paused: it is said within seconds; edits made meanwhile survive a reload of the page.
    server = until(lambda: studio.children().get("server"))
    os.kill(server, signal.SIGSTOP)
    lowered(page, 2)
    expect(away).to_contain_text("is not responding", timeout=KEPT)
    os.kill(server, signal.SIGCONT)
    expect(away).to_have_count(0, timeout=KEPT)
    expect(kept).to_have_text("Saved")
    assert boundary_at(page) == stood - 3

    # No room on the disk: nothing larger than what is there may be written.
    limits = resource.prlimit(server, resource.RLIMIT_FSIZE)
    resource.prlimit(server, resource.RLIMIT_FSIZE, (0, limits[1]))
    lowered(page)
    expect(away).to_contain_text("The disk is full", timeout=KEPT)
    page.evaluate("() => location.reload()")
    expect(away).to_contain_text("The disk is full", timeout=KEPT)
    resource.prlimit(server, resource.RLIMIT_FSIZE, limits)
    expect(away).to_have_count(0, timeout=KEPT)
    expect(kept).to_have_text("Saved")
    to_snare(page)
    assert boundary_at(page) == stood - 4
    expect(page.get_by_role("button", name="Undo: Boundary above layer")).to_be_enabled()


def test_two_tabs_follow_each_other_and_edits_of_other_things_meet(page: Page, studio: Running, tmp_path: Path):
    built(page, tmp_path / "Wharf")
    other = page.context.new_page()
    other.goto(page.url)
    to_snare(other)
    stood = boundary_at(page)
    expect(other.get_by_role("slider", name="Boundary between layers 1 and 2")).to_have_attribute(
        "aria-valuenow", str(stood)
    )
    lowered(page)
    other.bring_to_front()
    expect(other.get_by_role("slider", name="Boundary between layers 1 and 2")).to_have_attribute(
        "aria-valuenow", str(stood - 1)
    )
    expect(other.get_by_role("button", name="Undo: Boundary above layer")).to_be_enabled()
    page.bring_to_front()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("slider", name="Boundary between layers 1 and 2")).to_have_attribute(
        "aria-valuenow", str(stood)
    )
    expect(other.get_by_role("slider", name="Boundary between layers 1 and 2")).to_have_attribute(
        "aria-valuenow", str(stood)
    )
