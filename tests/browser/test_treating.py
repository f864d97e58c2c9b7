"""Treatment in the real interface: heard while it is turned, kept when it is let go, delivered as it was heard."""

import io
import json
import re
import zipfile

import numpy as np
import pytest
import soundfile
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import came, died_away, fresh, holds, listen, loaded, opened, quiet
from tests.waiting import until


def treatments(fetch, kit: str, channel: str) -> list[dict]:
    head = json.loads(fetch(f"/api/kits/{kit}"))["head"]
    return next(c for c in head["channels"] if c["id"] == channel)["treatments"]


def share_above_3k(page: Page, groove: str) -> float:
    """How much of the snare's stem of a groove lies above 3 kHz, in dB of all of it."""
    page.keyboard.press("Alt+7")
    page.get_by_role("button", name="Groove: ").click()
    page.get_by_role("option", name=re.compile(groove)).click()
    made = page.locator('[data-job="stems"][data-state="done"]')
    before = made.count()
    page.get_by_role("button", name="Render stems").click()
    expect(made).to_have_count(before + 1, timeout=90_000)
    with page.expect_download() as download:
        made.first.get_by_role("link", name="Download").click()
    archive = zipfile.ZipFile(download.value.path())
    name = next(n for n in archive.namelist() if "Snare" in n)
    sound, rate = soundfile.read(io.BytesIO(archive.read(name)), always_2d=True)
    power = np.abs(np.fft.rfft(sound[:, 0])) ** 2
    high = np.fft.rfftfreq(len(sound), 1 / rate) > 3000
    return float(10 * np.log10(power[high].sum() / power.sum()))


def test_a_dull_snare_is_shaped_heard_kept_and_delivered(page: Page, fetch):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=("snare",))
    page.get_by_role("button", name="Route by plan").click()
    page.get_by_role("button", name="One output per piece", exact=True).click()
    expect(page.locator('[data-channel="snare-channel"]')).to_contain_text("→ 3")
    plain = share_above_3k(page, "Tide Turn")
    page.keyboard.press("Alt+5")
    page.locator("[data-channel='snare-channel'] button").first.click()
    strip = page.get_by_test_id("treatment")
    box = page.get_by_test_id("eq").bounding_box()
    assert box
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url) if "/edits" in request.url else None)
    # Pressed onto the line a band is there at once, follows the hand, and nobody is asked before it lets go.
    page.mouse.move(box["x"] + 0.8 * box["width"], box["y"] + 0.45 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + 0.8 * box["width"], box["y"] + 0.12 * box["height"], steps=6)
    band = strip.get_by_role("slider", name="Band 1, peak")
    expect(band).to_have_attribute("aria-valuetext", re.compile(r"kHz, \+1[0-9]\.[0-9] dB, Q 1\.0"))
    turned = page.evaluate("() => window.zestySkin.player().turnedOf('snare-channel').treatments")
    assert asked == [] and treatments(fetch, kit, "snare-channel") == []
    page.mouse.up()
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    (kept,) = treatments(fetch, kit, "snare-channel")
    assert kept["bands"] == turned[0]["bands"] and len(asked) == 1
    # By keys: up and down, narrower, away; one undo each.
    band.focus()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("PageUp")
    expect(band).to_have_attribute("aria-valuetext", re.compile("Q 1.1|Q 1.2"))
    page.get_by_role("switch", name="Compressor").click()
    over = strip.get_by_role("slider", name="Threshold of the compressor")
    over.focus()
    page.keyboard.press("Home")
    expect(over).to_have_attribute("aria-valuetext", "−60.0")
    page.get_by_role("switch", name="Drive").click()
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    assert [t["kind"] for t in treatments(fetch, kit, "snare-channel")] == ["eq", "compressor", "drive"]
    # It is at work: struck, the compressor reduces gain, and the chart says so.
    loaded(page, "snare")
    page.evaluate("() => window.zestySkin.player().strikeArticulation('test', 'snare/centre', 120)")
    holds(page, "() => window.zestySkin.player().reduction('snare-channel') > 6")
    expect(page.locator("[data-channel='snare-channel']")).to_contain_text("treated by EQ, compressor, drive")
    assert share_above_3k(page, "Tide Turn") > plain + 2
    page.keyboard.press("Alt+5")
    page.get_by_role("button", name="Bypass all treatment").click()
    expect(page.get_by_role("button", name="All treatment bypassed", exact=True)).to_be_visible()
    assert abs(share_above_3k(page, "Tide Turn") - plain) < 0.01


def test_a_treatment_is_kept_by_name_and_put_on_a_channel_of_another_kit(page: Page, fetch):
    opened(page, fetch, hear=())
    page.locator("[data-channel='snare-channel'] button").first.click()
    page.get_by_role("button", name="Presets", exact=True).click()
    page.get_by_role("group", name="Saved treatments").get_by_role("button", name="Snare: forward").click()
    ratio = page.get_by_role("slider", name="Ratio of the compressor")
    expect(ratio).to_have_attribute("aria-valuetext", "4.0:1")
    ratio.focus()
    page.keyboard.press("PageUp")
    page.get_by_role("button", name="Presets", exact=True).click()
    page.get_by_role("button", name="Save this one as…").click()
    page.get_by_role("textbox", name="Name of this treatment").fill("Quay snare")
    page.keyboard.press("Enter")
    kept = page.get_by_role("group", name="Saved treatments")
    expect(kept.get_by_role("button", name="Quay snare", exact=True)).to_be_visible()
    other = opened(page, fetch, "Tin Lantern", hear=())
    page.locator("[data-channel='side-snare-channel'] button").first.click()
    page.get_by_role("button", name="Presets", exact=True).click()
    kept.get_by_role("button", name="Quay snare", exact=True).click()
    expect(page.get_by_role("slider", name="Ratio of the compressor")).to_have_attribute("aria-valuetext", "5.0:1")
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    assert [t["kind"] for t in treatments(fetch, other, "side-snare-channel")] == ["eq", "compressor"]
    page.get_by_role("button", name="Presets", exact=True).click()
    page.get_by_role("button", name="Delete Quay snare").click()
    page.get_by_role("button", name="Restore").click()
    expect(kept.get_by_role("button", name="Quay snare", exact=True)).to_be_visible()


def test_treatment_is_copied_from_channel_to_channel_removed_and_undone(page: Page, fetch):
    kit = opened(page, fetch, "Tin Lantern", hear=())
    page.locator("[data-channel='side-snare-channel'] button").first.click()
    page.get_by_role("switch", name="Drive").click()
    page.get_by_role("button", name="Copy").click()
    page.locator("[data-channel='splash-channel'] button").first.click()
    expect(page.get_by_test_id("treatment").get_by_role("heading", name="Splash")).to_be_visible()
    expect(page.get_by_role("switch", name="Drive")).not_to_be_checked()
    page.get_by_role("button", name="Paste").click()
    expect(page.get_by_role("switch", name="Drive")).to_be_checked()
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    assert treatments(fetch, kit, "splash-channel") == treatments(fetch, kit, "side-snare-channel")
    page.get_by_role("button", name="Presets", exact=True).click()
    page.get_by_role("button", name="Remove all treatment from Splash").click()
    expect(page.get_by_role("switch", name="Drive")).not_to_be_checked()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("switch", name="Drive")).to_be_checked()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("switch", name="Drive")).not_to_be_checked()


def test_channels_show_what_passes_and_what_was_too_much_until_it_is_seen(page: Page, fetch):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=("kick",))
    loaded(page, "kick")
    channel = page.locator("[data-channel='kick-channel']")
    passing = channel.locator(".passing")
    place = "(node, of) => Number(node.style.getPropertyValue(of))"
    assert passing.evaluate(place, "--passes") == 0
    # Struck until it was seen: a busy machine draws seldom.
    page.evaluate(STRUCK_ON)
    holds(
        page,
        """() => { const n = document.querySelector("[data-channel='kick-channel'] .passing");
      return ['--passes', '--enters', '--held'].every((of) => Number(n.style.getPropertyValue(of)) > 0.2); }""",
    )
    page.evaluate("() => clearInterval(window.struck)")
    mark = channel.get_by_role("button", name="Kick clipped: clear")
    expect(mark).to_have_count(0)
    level = channel.get_by_role("slider", name="Level of Kick")
    level.focus()
    page.keyboard.press("End")
    expect(level).to_have_attribute("aria-valuetext", "12.0 dB")
    page.get_by_role("slider", name="Kick level, all microphones").focus()
    page.keyboard.press("End")
    until(
        lambda: next(p for p in json.loads(fetch(f"/api/kits/{kit}"))["pieces"] if p["id"] == "kick")["level_db"] == 12
    )
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    listen(page)
    page.evaluate(STRUCK_ON)
    expect(mark).to_be_visible()
    page.evaluate("() => clearInterval(window.struck)")
    # It stays until somebody has seen it, however long it has been quiet.
    quiet(page, 1e-3)
    mark.click()
    expect(mark).to_have_count(0)


STRUCK_ON = """() => { window.struck = setInterval(
  () => window.zestySkin.player().strikeArticulation('test', 'kick/centre', 127), 80); }"""


def test_sounds_come_several_at_a_time_and_the_strike_bar_stays_while_a_step_is_fetched(page: Page, fetch):
    """Every step's code comes by itself; what is open around it stays, and keeps the focus."""
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    held: list[Route] = []
    page.route("**/Routing-*.js", lambda route: held.append(route))  # noqa: PLW0108
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Tin Lantern")["id"]
    page.goto(f"/kits/{kit}/routing")
    pads = page.get_by_test_id("strike-bar").get_by_role("button", name="Deckhand 5")
    pads.click()
    handle = page.get_by_role("button", name="Move this panel with the arrow keys")
    handle.focus()
    # What the page asks for is told while something is asked of the page.
    until(lambda: page.evaluate("1") and held)
    assert page.get_by_role("heading", name="Routing").count() == 0
    for route in held:
        route.continue_()
    expect(page.get_by_role("heading", name="Routing")).to_be_visible()
    expect(handle).to_be_focused()
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=60_000)
    sounds = [url for url in asked if "/api/sounds/" in url]
    voices = page.evaluate("""() => new Set([...window.zestySkin.player().table.pieces.values()].flatMap((p) =>
      p.articulations.flatMap((a) => a.takes.flatMap((t) => t.voices.map((v) => v.sound.content + v.sound.width))))).size""")
    assert all("/together/" in url for url in sounds) and len(sounds) < voices / 3


def test_main_is_a_channel_with_level_pan_mute_and_treatment(page: Page, fetch):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=("kick", "snare"))
    loaded(page, "kick")
    channel = page.locator("[data-channel='main']")
    pan = channel.get_by_role("slider", name="Pan of Main")
    pan.focus()
    page.keyboard.press("Home")
    expect(pan).to_have_attribute("aria-valuetext", "L100")
    channel.get_by_role("button", name=re.compile("^Main")).click()
    page.get_by_role("switch", name="Drive").click()
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    main = json.loads(fetch(f"/api/kits/{kit}"))["head"]["main"]
    assert (main["pan"], [t["kind"] for t in main["treatments"]]) == (-1.0, ["drive"])
    strike = "() => window.zestySkin.player().strikeArticulation('test', 'kick/centre', 120)"
    listen(page)
    page.evaluate(strike)
    assert came(page, "sides", 0, over=0.02)["sides"][1] < 0.001
    channel.get_by_role("button", name="Mute Main").click()
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    holds(page, "() => window.zestySkin.player().outputPeaks(1)[0] < 0.0001")
    listen(page)
    page.evaluate(strike)
    expect(page.get_by_test_id("last-strike")).to_contain_text("muted")
    assert came(page, "channels", "kick-channel", over=0.02)["outputs"]["1"] < 0.0001
    expect(page.get_by_role("button", name=re.compile("finding")).first).to_be_visible()
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(pan).to_have_attribute("aria-valuetext", "C")


SAME_TAKE = """() => { const p = window.zestySkin.player(); p.listening.repeats = false;
  p.strikeArticulation('test', 'snare/centre', 110); }"""


def struck(page: Page) -> float:
    """How high the snare's channel peaks for one strike of one and the same take."""
    holds(page, "() => window.zestySkin.player().channelPeak('snare-channel') < 0.0001")
    listen(page)
    page.evaluate(SAME_TAKE)
    came(page, "channels", "snare-channel", over=0.02)
    return died_away(page, 0.001, "snare-channel")["channels"]["snare-channel"]


SLOWLY = """() => { const { prototype } = AudioBufferSourceNode; const start = prototype.start;
  prototype.start = function (...when) {
    start.apply(this, when);
    for (const then = performance.now(); performance.now() < then + 30;);
  }; }"""


def test_the_microphones_of_a_strike_begin_together_however_long_it_takes_to_start_them(page: Page, fetch):
    fresh(page, fetch, "Boathouse No. 4", hear=("snare",))
    loaded(page, "snare")
    at_once = struck(page)
    page.evaluate(SLOWLY)
    assert 20 * np.log10(struck(page) / at_once) == pytest.approx(0.0, abs=0.01)


def test_before_and_after_are_heard_equally_loud_by_one_press(page: Page, fetch):
    kit = fresh(page, fetch, "Boathouse No. 4", hear=("snare",))
    loaded(page, "snare")
    page.locator("[data-channel='snare-channel'] button").first.click()
    plain = struck(page)
    page.get_by_role("switch", name="Compressor").click()
    ratio = page.get_by_role("slider", name="Ratio of the compressor")
    ratio.focus()
    page.keyboard.press("Home")
    make_up = page.get_by_role("slider", name="Make-up of the compressor")
    make_up.focus()
    page.keyboard.press("PageUp")
    page.keyboard.press("PageUp")
    louder = page.get_by_test_id("louder")
    expect(louder).to_contain_text("Treatment makes it 6.0 dB louder in ", timeout=60_000)
    expect(louder).to_have_attribute("data-measuring", "false", timeout=60_000)
    after = struck(page)
    assert 20 * np.log10(after / plain) == pytest.approx(6.0, abs=0.2)
    version = json.loads(fetch(f"/api/kits/{kit}/version"))["version"]
    page.get_by_role("button", name="Before / after").click()
    before = page.get_by_role("button", name="Before, loudness-matched")
    expect(before).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_test_id("treatment")).to_contain_text("without treatment, +6.0 dB to match loudness")
    assert 20 * np.log10(struck(page) / after) == pytest.approx(0.0, abs=0.2)
    # It is listening: nothing of the kit changed.
    assert json.loads(fetch(f"/api/kits/{kit}/version"))["version"] == version
    make_up.focus()
    page.keyboard.press("PageUp")
    expect(before).to_have_count(0)
    expect(louder).to_contain_text("9.0 dB louder", timeout=60_000)
    # What treatment added is taken away by the level, once.
    page.get_by_role("button", name="Match loudness by level").click()
    level = page.get_by_role("slider", name="Level of Snare")
    expect(level).to_have_attribute("aria-valuetext", "−9.0 dB")
    expect(page.get_by_label("Loudness of Snare")).to_contain_text("The channel’s level compensates for it.")
    assert 20 * np.log10(struck(page) / plain) == pytest.approx(0.0, abs=0.2)
    page.keyboard.press("Control+z")
    expect(level).to_have_attribute("aria-valuetext", "0.0 dB")
    # Make-up can be set by it too.
    ratio.focus()
    page.keyboard.press("End")
    page.get_by_role("button", name="Match loudness", exact=True).click()
    expect(page.get_by_role("button", name="Measuring…")).to_have_count(0, timeout=60_000)
    expect(louder).to_contain_text(re.compile(r"does not change the loudness|makes it 0\.1 dB"), timeout=60_000)
    expect(page.get_by_test_id("piece-level")).to_have_text(re.compile(r"^−\d\d\.\d dB at 100$"), timeout=60_000)
    page.locator("[data-channel='main'] button").first.click()
    expect(page.get_by_label("Loudness of the kit")).to_contain_text(re.compile(r"−\d+\.\d LUFS"), timeout=60_000)


def test_several_channels_move_together_and_a_group_until_it_is_taken_apart(page: Page, fetch):
    kit = fresh(page, fetch, "Tin Lantern", hear=())
    channels = {
        page.locator(f"[data-channel='{c['id']}']").get_attribute("data-channel"): c["name"]
        for c in json.loads(fetch(f"/api/kits/{kit}"))["head"]["channels"]
    }
    (first, one), (second, two), (third, three), *_ = channels.items()

    def name(channel: str):
        return page.locator(f"[data-channel='{channel}'] button").first

    def kept(field: str) -> list:
        expect(page.get_by_test_id("kept")).to_have_text("Saved")
        head = json.loads(fetch(f"/api/kits/{kit}"))["head"]
        if field == "groups":
            return head["groups"]
        return [c[field] for c in head["channels"] if c["name"] in (one, two, three)]

    level = {each: page.get_by_role("slider", name=f"Level of {each}", exact=True) for each in (one, two, three)}
    level[two].focus()
    page.keyboard.press("PageDown")
    expect(level[two]).to_have_attribute("aria-valuetext", "−3.0 dB")
    # By the keyboard: one, then all up to a third.
    name(first).focus()
    page.keyboard.press("Enter")
    name(third).focus()
    page.keyboard.press("Shift+Enter")
    together = page.get_by_label("Selected channels")
    expect(together).to_contain_text("3 channels selected")
    for channel in (first, third):
        expect(name(channel)).to_have_attribute("aria-pressed", "true")
    level[three].focus()
    page.keyboard.press("PageDown")
    for each, says in ((one, "−3.0 dB"), (two, "−6.0 dB"), (three, "−3.0 dB")):
        expect(level[each]).to_have_attribute("aria-valuetext", says)
    assert kept("level_db") == [-3.0, -6.0, -3.0]
    page.get_by_role("slider", name=f"Pan of {one}", exact=True).focus()
    page.keyboard.press("Home")
    page.get_by_role("button", name=f"Mute {two}", exact=True).click()
    assert kept("pan") == [-1.0] * 3 and kept("muted") == [True] * 3
    page.get_by_label(f"{one} goes to").click()
    page.get_by_role("option", name=re.compile("^→ 5 ")).click()
    for channel in (first, third):
        expect(page.locator(f"[data-channel='{channel}']")).to_contain_text("→ 5")
    assert kept("output") == [5] * 3
    # Each is one undo.
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(page.locator(f"[data-channel='{third}']")).to_contain_text("→ main")
    assert kept("pan") == [0.0] * 3 and kept("muted") == [False] * 3 and kept("level_db") == [-3.0, -6.0, -3.0]
    # A group lasts when others are chosen.
    name(third).click(modifiers=["Control"])
    expect(together).to_contain_text("2 channels selected")
    together.get_by_role("button", name="Group channels").click()
    expect(page.locator(f"[data-channel='{first}']")).to_contain_text("group A")
    assert kept("groups") == [[first, second]]
    name(third).click()
    level[one].focus()
    page.keyboard.press("PageDown")
    expect(level[two]).to_have_attribute("aria-valuetext", "−9.0 dB")
    assert kept("level_db") == [-6.0, -9.0, -3.0]
    page.keyboard.press("Control+z")
    assert kept("level_db") == [-3.0, -6.0, -3.0]
    name(first).click()
    together.get_by_role("button", name="Ungroup channels").click()
    expect(together).to_have_count(0)
    assert kept("groups") == []


def side_snare(page: Page) -> dict:
    """What was heard of one strike of Tin Lantern's side snare, until it has died away."""
    quiet(page)
    listen(page)
    page.evaluate("() => window.zestySkin.player().strikeArticulation('test', 'side-snare/centre', 120)")
    came(page)
    return died_away(page, 1e-3)


def test_a_bus_is_made_fed_heard_alone_and_taken_away(page: Page, fetch):
    fresh(page, fetch, "Tin Lantern", hear=("side-snare",))
    page.get_by_role("button", name="Route by plan").click()
    page.get_by_role("button", name="One output per piece", exact=True).click()
    loaded(page, "side-snare")
    for name in ("Crush", "Air"):
        page.get_by_role("button", name="Add a bus").click()
        page.get_by_role("textbox", name="Name of the bus").fill(name)
        page.keyboard.press("Enter")
        expect(page.locator(f"[data-channel='{name.lower()}-bus']")).to_contain_text("bus")
    assert side_snare(page)["outputs"]["1"] < 1e-4
    page.locator("[data-channel='side-snare-channel'] button").first.click()
    page.get_by_role("button", name=re.compile("^Add send to")).click()
    page.get_by_role("option", name="Crush").click()
    level = page.get_by_role("slider", name="Side snare into Crush").first
    expect(level).to_have_attribute("aria-valuenow", "-12")
    # Turned it is heard at once; what is sent goes by main, and the snare by its own output all the same.
    level.focus()
    page.keyboard.press("PageUp")
    page.keyboard.press("PageUp")
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    heard = side_snare(page)
    assert 20 * np.log10(heard["channels"]["crush-bus"] / heard["channels"]["side-snare-channel"]) == pytest.approx(
        -6.0, abs=0.5
    )
    assert heard["outputs"]["1"] > 0.01 and heard["outputs"]["3"] > 0.01
    page.get_by_role("button", name="post-fader", exact=True).click()
    expect(page.get_by_role("button", name="pre-fader", exact=True)).to_have_attribute("aria-pressed", "true")
    # Soloed, the bus is heard with what flows into it, along that way alone.
    solo = page.get_by_role("button", name="Solo Crush")
    solo.click()
    expect(solo).to_have_attribute("aria-pressed", "true")
    alone = side_snare(page)
    assert alone["outputs"]["1"] > 0.01 and alone["outputs"]["3"] < 1e-4, alone
    solo.click()
    for bus in ("Crush", "Air"):
        page.locator(f"[data-channel='{bus.lower()}-bus'] button").first.click()
        page.get_by_role("button", name=f"Delete {bus}").first.click()
        expect(page.locator(f"[data-channel='{bus.lower()}-bus']")).to_have_count(0)


def test_buses_go_into_one_another_and_are_named_ordered_and_removed(page: Page, fetch):
    kit = fresh(page, fetch, "Tin Lantern", hear=())
    made = [{"kind": "make_bus", "name": name} for name in ("Crush", "Air")]
    made.append({"kind": "set_send", "channel": "side-snare-channel", "bus": "crush-bus", "level_db": -6.0})
    version = json.loads(fetch(f"/api/kits/{kit}/version"))["version"]
    edit = {"kind": "several", "said": "For a test", "edits": made}
    assert page.request.post(f"/api/kits/{kit}/edits", data={"base_version": version, "edit": edit}).ok
    # A bus goes into another, and that one not back into it.
    page.get_by_role("button", name=re.compile("^Crush goes to")).click()
    page.get_by_role("option", name="→ Air").click()
    expect(page.locator("[data-channel='crush-bus']")).to_contain_text("→ Air")
    page.get_by_role("button", name=re.compile("^Air goes to")).click()
    expect(page.get_by_role("option", name="→ main")).to_be_visible()
    expect(page.get_by_role("option", name="→ Crush")).to_have_count(0)
    page.keyboard.press("Escape")
    page.locator("[data-channel='crush-bus'] button").first.click()
    expect(page.get_by_label("Channel", exact=True)).to_contain_text("Side snare")
    page.get_by_role("button", name="Rename").click()
    page.get_by_role("textbox", name="Name of the bus").fill("Squash")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Move down").click()
    expect(page.get_by_test_id("kept")).to_have_text("Saved")
    head = json.loads(fetch(f"/api/kits/{kit}"))["head"]
    assert [(bus["name"], bus["bus"]) for bus in head["buses"]] == [("Air", ""), ("Squash", "air-bus")]
    page.get_by_role("button", name="Delete Squash").click()
    expect(page.locator("[data-channel='crush-bus']")).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-channel='crush-bus']")).to_contain_text("→ Air")


def test_the_standards_tone_is_as_loud_as_the_standard_says_going_in_and_coming_out(page: Page, fetch):
    fresh(page, fetch, "Boathouse No. 4", hear=())
    page.locator("[data-channel='snare-channel'] button").first.click()
    page.evaluate("""() => {
      const p = window.zestySkin.player();
      p.wake();
      const tone = new OscillatorNode(p.context, { frequency: 997 });
      const soft = new GainNode(p.context, { gain: 0.1 });
      tone.connect(soft).connect(p.entering('snare-channel'));
      tone.start();
    }""")
    # Full scale on one side is −3.01 LUFS (BS.1770-5); this is 20 dB under it.
    loudness = page.get_by_label("Loudness of Snare")
    expect(loudness).to_contain_text(re.compile("Input−23\\.0Output−23\\.0"))
    level = page.get_by_role("slider", name="Level of Snare")
    level.focus()
    page.keyboard.press("PageDown")
    page.keyboard.press("PageDown")
    expect(loudness).to_contain_text(re.compile("Input−23\\.0Output−29\\.0"))
