"""`make shots`: one picture of each main view, from the demo data, into docs/screenshots."""

import os
import re
import signal
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parents[1]
TARGET = ROOT / "docs" / "screenshots"
PORT = 8499
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--autoplay-policy=no-user-gesture-required",
]


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix="zesty-shots-") as data:
        command = [sys.executable, "-m", "studio", "--demo", "--port", str(PORT)]
        environment = {**os.environ, "ZESTY_DATA": data, "PYTHONUNBUFFERED": "1"}
        process = subprocess.Popen(command, cwd=ROOT, env=environment, stdout=subprocess.PIPE, text=True)
        try:
            assert process.stdout is not None
            address = next(m.group(1) for line in process.stdout if (m := re.search(r"ready at (\S+)", line)))
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
                for theme in ("light", "dark"):
                    viewport = {"width": 1280, "height": 800}
                    context = browser.new_context(viewport=viewport, color_scheme=theme, base_url=address)
                    take_all(context.new_page(), address, theme)
                browser.close()
        finally:
            process.send_signal(signal.SIGINT)
            process.wait(timeout=30)


def take_all(page: Page, address: str, theme: str) -> None:
    def keep(name: str) -> None:
        path = TARGET / f"{name}-{theme}.png"
        page.screenshot(path=path)
        print(path.relative_to(ROOT))

    page.goto(address)
    if theme == "light":
        furnish(page)
        the_library(page, keep)
    page.get_by_role("link", name="Quay street").click()
    page.get_by_test_id("all-loaded").wait_for(state="attached", timeout=120_000)
    page.get_by_role("button", name=re.compile("^Snare")).first.click()
    skin = page.get_by_test_id("skin")
    for x, y in ((150, 60), (100, 70), (140, 130)):
        skin.click(position={"x": x, "y": y})
    page.get_by_test_id("skin-hit").wait_for()
    keep("layers")
    if theme == "light":
        taking(page, keep)
    page.locator('[data-layer="5"] [data-take]').nth(2).click()
    page.get_by_role("button", name=re.compile("Open waveforms")).click()
    page.get_by_role("button", name="Start", exact=True).click()
    page.get_by_test_id("channel").first.wait_for()
    page.wait_for_function(
        "() => document.querySelectorAll('[data-testid=channel][data-drawn]').length === "
        "document.querySelectorAll('[data-testid=channel]').length"
    )
    if theme == "light":
        keep("waveforms")
    page.keyboard.press("Escape")
    page.keyboard.press("Alt+1")
    page.get_by_test_id("recording-list").wait_for()
    keep("recordings")
    page.keyboard.press("Alt+6")
    page.get_by_role("button", name="Start", exact=True).click()
    page.wait_for_function("() => document.querySelectorAll('[data-testid=\"strike-bar\"] svg rect').length > 30")
    if theme == "light":
        keep("rehearsal")
    page.keyboard.press("Alt+5")
    page.get_by_role("button", name="Route by plan").click()
    page.get_by_role("button", name="One output per piece", exact=True).click()
    page.locator('[data-channel="snare-channel"] button').first.click()
    page.get_by_role("button", name="Presets", exact=True).click()
    page.get_by_role("button", name="Snare: forward").click()
    page.get_by_role("switch", name="Drive").click()
    page.get_by_test_id("kept").get_by_text("Saved").wait_for()
    page.wait_for_function("() => window.zestySkin.player().outputPeaks(3)[0] > 0.02")
    keep("routing")
    shared(page, theme, keep)
    notes_and_touch(page, theme, keep)
    page.keyboard.press("Alt+7")
    page.get_by_role("button", name="Render stems").click()
    page.locator('[data-job="stems"][data-state="done"]').first.wait_for(timeout=60_000)
    if theme == "light":
        keep("delivery")


def furnish(page: Page) -> None:
    """A library in use: kits with descriptions, tags and versions, and saved pieces."""

    def ask(path: str, body: object = None):
        answer = page.request.post(f"/api{path}", data=body or {})
        assert answer.ok, answer.text()
        return answer.json()

    kits = {kit["name"]: kit["id"] for kit in page.request.get("/api/kits").json()}
    for of, name, said, tags in (
        ("Tin Lantern", "Matinee, brushes", "Soft articulations only, for the afternoon show.", ["brushes"]),
        ("Tin Lantern", "Kitchen", "The woodblock and the splash, as dry as the room was.", ["kitchen", "dry"]),
        ("Boathouse No. 4", "Quay street", "Close microphones forward, one room.", ["dry", "touring"]),
    ):
        kit = ask(f"/library/kits/{kits[of]}/duplicate", {"name": name})["id"]
        ask(f"/library/kits/{kit}/say", {"description": said, "tags": tags})
    version = page.request.get(f"/api/kits/{kit}").json()["version"]
    for number in range(24):
        edit = {"kind": "set_channel", "channel": "room-channel", "level_db": -number / 10 - 0.1}
        version = ask(f"/kits/{kit}/edits", {"base_version": version, "edit": edit})["version"]
        if number in (5, 21):
            name = "Sent to the pit desk" if number == 5 else "Before the second night"
            ask(f"/kits/{kit}/moments", {"version": version, "name": name})
    for piece in ("snare", "kick"):
        ask(f"/kits/{kits['Boathouse No. 4']}/pieces/{piece}/keep", {"name": f"{piece.capitalize()} of the boathouse"})


def the_library(page: Page, keep: Callable[[str], None]) -> None:
    page.reload()
    page.get_by_role("article", name="Quay street").click()
    looked = page.get_by_role("complementary", name="Details")
    looked.get_by_role("button", name="Hear Quay street").click(timeout=60_000)
    page.wait_for_function("() => document.querySelectorAll('[data-preview=ready]').length > 5", timeout=120_000)
    keep("library")
    page.get_by_role("button", name="Stop sound").click()
    page.get_by_role("link", name="Storage").click()
    page.get_by_text("Every file is used by a kit").wait_for()
    with tempfile.TemporaryDirectory(prefix="zesty-backup-") as folder:
        page.get_by_label("Folder on this machine").fill(f"{folder}/zesty-backup")
        page.get_by_role("button", name="Back up now").click()
        page.get_by_text("Last backup:").wait_for()
        page.get_by_role("button", name="Check now").click()
        page.get_by_text("Everything is intact").wait_for()
        keep("storage")
    page.get_by_role("link", name="Kits").click()


def taking(page: Page, keep: Callable[[str], None]) -> None:
    """Bringing another kit's snare in, in place of ours."""
    page.get_by_role("button", name=re.compile("^Snare")).first.hover()
    page.get_by_role("button", name="More for Snare", exact=True).click()
    page.get_by_role("menuitem", name="Replace piece…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("searchbox", name="Find a piece").fill("snare")
    dialog.get_by_role("button", name=re.compile("^Side snare")).first.click()
    dialog.get_by_role("figure", name=re.compile("^Played from soft to hard,")).wait_for(timeout=60_000)
    keep("add-piece")
    page.keyboard.press("Escape")


def shared(page: Page, theme: str, keep: Callable[[str], None]) -> None:
    """A bus with its reverb, and the bleed panel."""
    page.locator('[data-channel="air-bus"] button').first.click()
    page.get_by_role("figure", name=re.compile("^Decay")).wait_for()
    if theme == "dark":
        keep("reverb")
    page.get_by_role("tab", name="Bleed").click()
    page.get_by_role("slider", name="Rack tom in Snare top", exact=True).press("Space")
    page.get_by_test_id("kept").get_by_text("Saved").wait_for()
    if theme == "light":
        keep("bleed")
    if theme == "light":
        at_the_host(page, keep)
    page.get_by_role("tab", name="Channels").click()


def at_the_host(page: Page, keep: Callable[[str], None]) -> None:
    """Routed by a plan for a host with other output names, with named tracks, recorded and checked."""
    page.get_by_role("tab", name="Host").click()
    page.get_by_role("button", name="Skiff").click()
    page.get_by_role("region", name="Plans").get_by_role("button", name="One output per piece").click()
    page.get_by_role("button", name="Route by this plan").click()
    page.get_by_role("button", name="Copy output names to tracks").click()
    page.get_by_role("button", name="Record", exact=True).click()
    page.get_by_role("link", name="Tracks as stems").wait_for(timeout=60_000)
    page.get_by_role("button", name="Check lines").click()
    page.get_by_test_id("lines").wait_for(timeout=60_000)
    page.get_by_role("button", name="Check lines").wait_for(timeout=60_000)
    keep("host")


def notes_and_touch(page: Page, theme: str, keep: Callable[[str], None]) -> None:
    page.keyboard.press("Alt+3")
    page.locator('[data-note="46"]').click()
    page.get_by_role("button", name="Pedal", exact=True).click()
    keep("notes")
    if theme == "light":
        page.get_by_test_id("strike-bar").get_by_role("button", name="Deckhand 5").click()
        page.get_by_role("region", name="Input devices").get_by_role("button", name="Stowaway").click()
        page.get_by_role("button", name="Teach by hitting").click()
        page.get_by_role("menuitem", name="All articulations, one after another").click()
        page.get_by_text("Hit: Kick · centre").wait_for()
        for key, lesson in (("a", "Snare · centre"), ("s", "Snare · rimshot")):
            page.keyboard.press(key)
            page.get_by_text(f"Hit: {lesson}").wait_for()
            page.get_by_text("Waiting for the pad…").wait_for()
        keep("teaching")
        page.get_by_role("button", name="Stop teaching").click()
        page.keyboard.press("Control+z")
        page.get_by_role("button", name="Close input devices").click()
        page.locator("[data-articulation='snare/centre']").click()
        page.keyboard.press("Escape")
    page.keyboard.press("Alt+4")
    page.get_by_role("complementary", name="Pieces").get_by_role("button", name="Snare").first.click()
    page.get_by_role("button", name="Strikes of: my playing").click()
    page.get_by_role("option", name="Last Boat").click()
    page.get_by_role("button", name="Soft", exact=True).click()
    page.keyboard.press("s")
    page.get_by_test_id("curve-strike").wait_for()
    page.get_by_text("strikes of Snare").wait_for()
    # A snare strike after the curve was raised, so that all figures belong to one strike.
    page.wait_for_function("""() => {
      const [said, of] = [...document.querySelectorAll('[data-testid="touch-last"] p')].map((p) => p.textContent);
      const [from, to] = said.split(' → '); return of.startsWith('Snare · centre') && from < 110 && from !== to; }""")
    if theme == "light":
        keep("touch")
    page.get_by_role("button", name="Remove curve").click()
    page.get_by_role("button", name="Remove curve").wait_for(state="detached")


if __name__ == "__main__":
    main()
