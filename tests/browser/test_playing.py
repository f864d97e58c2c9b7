"""Playing and shaping by hand: the simulated kit and its pedal, dragging, leaving out, silence, own MIDI files."""

import json
import re
from pathlib import Path

import mido
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import came, holds, listen, quiet


def struck(page: Page):
    return page.get_by_test_id("last-strike")


def test_the_pedal_of_the_simulated_kits_kit_chooses_the_hats(page: Page, kit):
    kit("layers")
    page.keyboard.press("d")
    expect(struck(page)).to_contain_text("Hats · open")
    page.keyboard.press("c")  # closing sounds the pedal's own articulation
    expect(struck(page)).to_contain_text("Hats · pedal")
    page.keyboard.press("d")
    expect(struck(page)).to_contain_text("Hats · tight")
    page.get_by_role("button", name="Deckhand 5").click()
    pedal = page.get_by_role("slider", name="Hi-hat pedal openness")
    pedal.focus()
    for _ in range(6):
        page.keyboard.press("PageUp")
    expect(pedal).to_have_attribute("aria-valuenow", "60")
    page.locator('[data-pad="Hats"]').click()
    expect(struck(page)).to_contain_text("Hats · half open")
    page.locator('[data-pad="Snare edge"]').click(position={"x": 4, "y": 43})
    expect(struck(page)).to_contain_text("Snare · rimshot")
    page.locator('[data-pad="Kick"]').click()
    expect(struck(page)).to_contain_text(re.compile(r"Kick · centre.*in 12[0-7]"))


def test_escape_silences_what_rings(page: Page, kit):
    kit("layers", "crash-left")
    listen(page, whole=True)
    page.keyboard.press("g")
    came(page, over=0.02)
    # Struck anew at once: what was looked for on a busy machine may have died away by now.
    page.keyboard.press("g")
    page.keyboard.press("Escape")
    quiet(page, within_ms=2500)


STEP_CAME = """const look = () => { if (document.querySelector('[data-take]'))
  window.toCome = window.zestySkin.player().sounds.toCome; else setTimeout(look, 20); }; look();"""


def test_a_step_is_there_before_the_sounds_are(page: Page, fetch):
    """Also on a machine that is slow, where what loads is told of more often than a view is drawn."""
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")["id"]
    page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 4})
    page.add_init_script(STEP_CAME)
    page.goto(f"/kits/{kit}/layers")
    assert holds(page, "() => window.toCome ?? false").json_value() > 500


def test_a_step_that_cannot_be_fetched_says_so_beside_the_others_and_is_tried_again(page: Page, kit):
    page.route("**/assets/Touch-*.js", lambda route: route.abort())
    kit("layers")
    page.keyboard.press("Alt+4")
    lost = page.get_by_role("heading", name="This view could not be loaded")
    expect(lost).to_be_visible()
    page.keyboard.press("Alt+2")
    expect(page.locator("[data-take]").first).to_be_visible()
    page.keyboard.press("Alt+4")
    expect(lost).to_be_visible()
    page.unroute("**/assets/Touch-*.js")
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("button", name="Fit", exact=True)).to_be_visible()


BUSY_ONCE_MISSED = """(() => {
  // What is drawn is drawn by messages the page sends itself: from the moment a step is missed, they wait; the one
  // at work ends, because by its clock its time is over.
  const waiting = [];
  window.free = () => { window.busy = false; for (const go of waiting.splice(0)) go(); };
  const receives = Object.getOwnPropertyDescriptor(MessagePort.prototype, 'onmessage');
  Object.defineProperty(MessagePort.prototype, 'onmessage', { ...receives, set(then) {
    receives.set.call(this, then && ((event) => window.busy ? waiting.push(() => then(event)) : then(event)));
  } });
  window.watch = () => {
    const now = performance.now.bind(performance);
    let later = 0;
    performance.now = () => now() + later;
    const get = Map.prototype.get;
    Map.prototype.get = function (key) {
      const found = get.call(this, key);
      if (key === 'touch' && !found && get.call(this, 'layers') instanceof Function) {
        window.busy = true;
        later = 1000;
      }
      return found;
    };
  };
})();"""


def test_a_step_is_drawn_though_it_came_while_the_page_was_drawing_its_empty_place(page: Page, kit):
    held: list[Route] = []

    def hold(route: Route) -> None:
        held.append(route)

    page.route("**/assets/Touch-*.js", hold)
    page.add_init_script(BUSY_ONCE_MISSED)
    # What is not looked at yet is fetched by itself, a little later.
    with page.expect_request("**/assets/Touch-*.js") as asked:
        kit("layers")
    page.evaluate("window.watch()")
    page.keyboard.press("Alt+4")
    holds(page, "() => window.busy")
    for route in held:
        route.continue_()
    page.unroute("**/assets/Touch-*.js")
    page.evaluate("(address) => import(address)", asked.value.url)
    page.evaluate("window.free()")
    expect(page.get_by_role("button", name="Fit", exact=True)).to_be_visible()


def test_a_boundary_dragged_by_hand_is_undone_at_once(page: Page, kit):
    kit("layers")
    page.get_by_role("button", name=re.compile("^Snare")).first.click()
    boundary = page.get_by_role("slider", name="Boundary between layers 4 and 5")
    before = boundary.get_attribute("aria-valuenow")
    box = boundary.bounding_box()
    assert box and before
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for far in range(1, 31):
        page.mouse.move(x - far, y)
    page.mouse.up()
    expect(boundary).not_to_have_attribute("aria-valuenow", before)
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    moved = int(boundary.get_attribute("aria-valuenow") or 0)
    assert moved < int(before)
    # The layer above begins where this one ends.
    expect(page.get_by_role("button", name=f"Layer 5 from: {moved + 1}. Type another")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(boundary).to_have_attribute("aria-valuenow", before)


def test_a_take_left_out_is_no_longer_played(page: Page, kit):
    kit("layers", "rack-tom")
    page.get_by_role("button", name=re.compile("^Rack tom")).first.click()
    page.get_by_role("button", name="Take 4-1").click()
    page.get_by_role("button", name="Disable take").click()
    expect(page.get_by_role("button", name="Take 4-1, disabled")).to_be_visible()
    skin = page.get_by_role("button", name="Strike Rack tom centre")
    heard = set()
    for _ in range(4):
        before = page.locator("[data-hit]").get_attribute("data-hit") if page.locator("[data-hit]").count() else ""
        skin.click(position={"x": 89, "y": 89})
        hit = page.locator("[data-hit]")
        expect(hit).not_to_have_attribute("data-hit", before or "none")
        expect(struck(page)).to_contain_text("of 2")
        heard.add(hit.locator(".sr-only").inner_text())
    assert {label.split(",")[0] for label in heard} == {"Take 4-2", "Take 4-3"}
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Take 4-1, disabled")).to_have_count(0)


HIGHEST_OF_THIRTY_FRAMES = """() => new Promise((done) => {
  let most = 0, n = 0;
  const look = () => {
    most = Math.max(most, window.zestySkin.player().heard.peak());
    n += 1;
    if (n > 30) done(most); else requestAnimationFrame(look);
  };
  look();
})"""


def test_solo_leaves_one_channel_to_be_heard(page: Page, kit):
    kit("routing", "kick")
    page.get_by_role("button", name="Route by plan").click()
    page.get_by_role("button", name="Clear outputs").click()
    page.get_by_role("button", name="Solo Floor tom").click()
    expect(page.get_by_role("button", name="Solo Floor tom")).to_have_attribute("aria-pressed", "true")
    # Gains have arrived where they go.
    listen(page)
    quiet(page, 1e-5)
    page.keyboard.press("a")
    expect(struck(page)).to_contain_text("Kick · centre")
    assert page.evaluate(HIGHEST_OF_THIRTY_FRAMES) < 1e-5
    page.get_by_role("button", name="Solo Floor tom").click()
    expect(page.get_by_role("button", name="Solo Floor tom")).to_have_attribute("aria-pressed", "false")
    # A kick is short: it is struck until it is heard, however seldom the page looks.
    again = "() => { const p = window.zestySkin.player(); if (p.heard.peak() > 0.02) return true;"
    holds(page, again + " window.zestySkin.receive(36, 96); return false; }")


def test_a_midi_file_of_ones_own_becomes_a_groove(page: Page, kit, tmp_path: Path):
    track = mido.MidiTrack([mido.MetaMessage("set_tempo", tempo=mido.bpm2tempo(90))])
    for note in (36, 38, 99, 36):
        track.append(mido.Message("note_on", note=note, velocity=100, time=240))
        track.append(mido.Message("note_off", note=note, time=240))
    mido.MidiFile(ticks_per_beat=480, tracks=[track]).save(tmp_path / "Harbour Bell.mid")
    kit("rehearsal", "kick", "snare")
    page.get_by_test_id("midi-input").set_input_files(str(tmp_path / "Harbour Bell.mid"))
    expect(page.get_by_role("heading", name="Harbour Bell")).to_be_visible()
    score = page.get_by_role("region", name="Score")
    expect(score.get_by_role("button", name="Kick · centre")).to_be_visible()
    expect(score.get_by_role("button", name=re.compile("plays nothing"))).to_have_count(1)
    tempo = page.get_by_role("slider", name="Tempo")
    expect(tempo).to_have_attribute("aria-valuetext", "90 bpm")
    tempo.focus()
    page.keyboard.press("PageUp")
    expect(tempo).to_have_attribute("aria-valuetext", "100 bpm")
    page.get_by_label("Loop").uncheck()
    page.get_by_role("button", name="Start", exact=True).click()
    expect(struck(page)).to_contain_text("Kick · centre")
    expect(page.get_by_role("button", name="Start", exact=True)).to_be_visible(timeout=10_000)  # it ends by itself


def test_the_theme_is_chosen_and_kept(page: Page, kit):
    kit("layers")
    ground = "() => getComputedStyle(document.body).backgroundColor"
    light = page.evaluate(ground)
    page.get_by_role("button", name="Dark theme").click()
    dark = page.evaluate(ground)
    assert light != dark
    page.reload()
    expect(page.get_by_role("button", name="Light theme")).to_be_visible()
    assert page.evaluate(ground) == dark


def test_what_is_done_is_marked_and_leads_on(page: Page, kit):
    """Touch has nothing to fix and leads to routing; rehearsal is done when a groove was heard, and not before."""
    kit("touch")
    steps = page.get_by_role("navigation", name="Steps")
    expect(steps.get_by_role("link", name="Touch")).to_have_accessible_name(re.compile("Touch ?done"))
    expect(steps.get_by_role("link", name="Layers")).not_to_have_accessible_name(re.compile("done"))
    page.get_by_role("link", name="Next: Routing").click()
    expect(page.get_by_role("heading", name="Routing", exact=True)).to_be_visible()
    # Everything goes to main: routing is done once somebody routes by a plan, or says that it is meant so.
    routing = steps.get_by_role("link", name="Routing")
    expect(page.get_by_text("All pieces share one output")).to_be_visible()
    expect(routing).not_to_have_accessible_name(re.compile("done"))
    page.get_by_role("button", name="Ignore", exact=True).click()
    expect(routing).to_have_accessible_name(re.compile("Routing ?done"))
    page.get_by_role("link", name="Next: Rehearsal").click()
    rehearsal = steps.get_by_role("link", name="Rehearsal")
    expect(rehearsal).to_have_attribute("aria-current", "page")
    expect(rehearsal).not_to_have_accessible_name(re.compile("done"))
    page.keyboard.press("Space")
    expect(rehearsal).to_have_accessible_name(re.compile("Rehearsal ?done"))
    page.keyboard.press("Space")
    # It is this browser's, and stays.
    page.reload()
    expect(rehearsal).to_have_accessible_name(re.compile("Rehearsal ?done"))
    expect(page.get_by_role("link", name="Next: Delivery")).to_be_visible()
