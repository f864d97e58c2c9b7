"""Screens and edits of a full-size kit, measured in the running application as shares of the wanted times."""

import os
import re
import signal
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from statistics import median

from large_kit import ROOT, make
from playwright.sync_api import Page, sync_playwright
from shots import FLAGS
from speed_browser import player
from speed_library import library
from speed_said import Say

PORT = 8497
STRUCK = "piece-3"

FRAMES = """([act, ms]) => new Promise((done) => {
  const times = []; const begin = performance.now();
  const step = (now) => {
    times.push(now);
    window.timedAct(act, times.length);
    if (now - begin < ms) requestAnimationFrame(step);
    else { const gaps = times.slice(1).map((t, i) => t - times[i]).sort((a, b) => a - b);
      done([gaps[Math.floor(gaps.length * 0.95)], gaps.length]); }
  };
  requestAnimationFrame(step);
})"""
ACTS = """() => { window.timedAct = (act, n) => {
  if (act === 'scroll') {
    const list = document.querySelector('[data-testid="recording-list"]');
    list.scrollTop = (n * 50) % (list.scrollHeight - list.clientHeight);
  } else {
    const at = document.querySelector('[aria-label="Boundary between layers 5 and 6"]');
    const box = at.getBoundingClientRect();
    const x = (window.timedX ??= box.x + box.width / 2) + 14 * Math.sin(n / 6);
    const event = (type) => new PointerEvent(type, { bubbles: true, pointerId: 1, button: 0, clientX: x, clientY: box.y + 30 });
    if (n === 1) { at.setPointerCapture = () => {}; at.hasPointerCapture = () => true; at.dispatchEvent(event('pointerdown')); }
    at.dispatchEvent(event('pointermove'));
  }
}; }"""


def screens(folder: Path, say: Say) -> None:
    kit, _ = make(folder)
    library(folder, kit, say)
    environment = {**os.environ, "ZESTY_DATA": str(folder), "PYTHONUNBUFFERED": "1"}
    command = [sys.executable, "-m", "studio", "--port", str(PORT)]
    process = subprocess.Popen(command, cwd=ROOT, env=environment, stdout=subprocess.PIPE, text=True)
    try:
        assert process.stdout is not None
        address = next(m.group(1) for line in process.stdout if (m := re.search(r"ready at (\S+)", line)))
        edits(f"{address}api/kits/{kit}", say)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(f"{address}kits/{kit}/layers")
            page.get_by_test_id("skin").wait_for(timeout=60_000)
            layers(page, say)
            strikes(page, say)
            memory(page, say)
            player(page, address, kit, say)
            page.keyboard.press("Alt+1")
            page.get_by_test_id("recording-list").wait_for(timeout=60_000)
            page.wait_for_function("() => performance.now() > 0 && !document.querySelector('[data-testid=loading]')")
            page.wait_for_function("() => new Promise((done) => requestIdleCallback(() => done(true)))")
            page.evaluate(ACTS)
            gap, count = page.evaluate(FRAMES, ["scroll", 3000])
            say(
                f"scrolling 5,000 takes by 3,000 pixels a second / 60 frames a second ({count})",
                (gap / 16.7,) * 3,
                at_most=1.2,
            )
            browser.close()
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(timeout=30)


def edits(address: str, say: Say) -> None:
    import json

    def ask(path: str, body: object = None) -> dict:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(address + path, data, {"Content-Type": "application/json"})
        with urllib.request.urlopen(request) as answer:
            return json.loads(answer.read())

    version = ask("")["version"]
    shares = []
    for number in range(24):
        velocity = 60 + number % 5
        edit = {"kind": "move_boundary", "articulation": "piece-3/articulation-2", "layer": 4, "velocity": velocity}
        start = time.perf_counter()
        version = ask("/edits", {"base_version": version, "edit": edit})["version"]
        shares.append((time.perf_counter() - start) / 0.040)
    # What live strikes are measured with: a low-pass and a fade-in on every voice, and pads with rules.
    harder = {"brightness": 2.0, "attack_soft_ms": 8.0, "attack_hard_ms": 1.0}
    cross_talk = [{"after": 1, "note": n, "up_to": 15, "within_ms": 12.0} for n in range(2, 60)]
    for edit in (
        {"kind": "put_on_note", "articulation": f"{STRUCK}/articulation-1", "note": 100, "when_occupied": "take_over"},
        {"kind": "set_tracking", "piece": STRUCK, **harder},
        {"kind": "set_input", "input": "pointer", "name": "Pointer", "cross_talk": cross_talk},
    ):
        version = ask("/edits", {"base_version": version, "edit": edit})["version"]
    say("an edit of 5,000 takes × 8 / 40 ms, over HTTP", (min(shares), median(shares), max(shares)), at_most=1)


def layers(page: Page, say: Say) -> None:
    """From clicking a piece until its grid is painted."""
    shares = []
    for number in (5, 9, 14, 18, 12, 7):
        shares.append(
            page.evaluate(
                """(name) => new Promise((done) => {
                  const begin = performance.now();
                  [...document.querySelectorAll('[aria-label="Pieces"] li button')].find((b) => b.textContent.startsWith(`${name}10 ×`)).click();
                  const look = () => requestAnimationFrame(() => {
                    if (document.querySelector('main h1')?.textContent === name && document.querySelectorAll('[data-take]').length === 50)
                      setTimeout(() => done((performance.now() - begin) / 300));
                    else look(); });
                  look(); })""",
                f"Piece {number}",
            )
        )
    say("opening Layers for a piece / 300 ms", (min(shares), median(shares), max(shares)), at_most=1)
    page.evaluate(ACTS)
    gap, count = page.evaluate(FRAMES, ["drag", 3000])
    say(f"dragging a boundary / 50 frames a second ({count} frames)", (gap / 20.0,) * 3, at_most=1)


def strikes(page: Page, say: Say) -> None:
    """From a message until its sound is scheduled, with all voices loaded, filtered and faded in."""
    page.locator("[aria-label='Pieces'] li button", has_text=f"Piece {STRUCK.removeprefix('piece-')}10 ×").first.click()
    page.wait_for_function(
        """(id) => { const p = window.zestySkin.player(); const piece = p.table.pieces.get(id);
          return piece.articulations[0].takes.every((t) => t.voices.every((v) => p.sounds.has(v.sound))); }""",
        arg=STRUCK,
        timeout=120_000,
    )
    taken = page.evaluate(
        """async (id) => {
          const p = window.zestySkin.player();
          const first = p.table.pieces.get(id).articulations[0].id;
          const note = p.table.head.notes.findIndex((here) => here.some((one) => one.articulation === first));
          const taken = [];
          for (let n = 0; n < 300; n += 1) {
            const begin = performance.now();
            window.zestySkin.receive(note, 1 + ((n * 37) % 127));
            taken.push(performance.now() - begin);
            if (n % 10 === 9) await new Promise((done) => setTimeout(done, 40));
          }
          if (note < 0) throw new Error('no note plays it');
          return taken.slice(20).sort((a, b) => a - b);
        }""",
        STRUCK,
    )
    shares = (taken[0] / 2, median(taken) / 2, taken[int(len(taken) * 0.95)] / 2)
    say("a live strike of 8 voices, message to scheduled sound / 2 ms (95 of 100 within the last)", shares, at_most=1)


def memory(page: Page, say: Say) -> None:
    """The sounds held by the player after loading; a smaller budget fills up sooner."""
    page.evaluate("() => { window.zestySkin.player().sounds.budget = 60 * 2 ** 20; }")
    page.wait_for_function("() => window.zestySkin.player().sounds.toCome === 0", timeout=120_000)
    held = page.evaluate("() => window.zestySkin.player().sounds.size") / (60 * 2**20)
    say("sounds held by the player / a budget of 60 MB", (held,) * 3, at_most=1.05)
