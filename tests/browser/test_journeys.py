"""Whole journeys in the real interface: from a user's own folder to stems and a kit file, and what goes wrong."""

import io
import re
import zipfile
from itertools import product
from pathlib import Path

import numpy as np
import pytest
import soundfile
from playwright.sync_api import Locator, Page, expect

from drumcore.kit.values import KIT_FORMAT
from drumcore.recordings.files import files_under
from tests.conftest import strike_sound, write_sound

STEPS = ["Recordings", "Layers", "Notes", "Touch", "Routing", "Rehearsal", "Delivery"]


@pytest.fixture
def own_folder(small_session: Path, tmp_path: Path) -> Path:
    """A user's folder: good recordings, and beside them what turns up in real folders."""
    root = tmp_path / "My drums"
    for name in files_under(small_session):
        (root / name).parent.mkdir(parents=True, exist_ok=True)
        (root / name).write_bytes((small_session / name).read_bytes())
    (root / "Kick mic" / "kick_09_1.wav").write_text("Buy lamp oil.")
    whole = (root / "Kick mic" / "kick_01_1.wav").read_bytes()
    (root / "Kick mic" / "kick_08_1.wav").write_bytes(whole[: len(whole) // 2])
    return root


def step(page: Page, name: str) -> None:
    page.keyboard.press(f"Alt+{STEPS.index(name) + 1}")
    steps = page.get_by_role("navigation", name="Steps")
    expect(steps.get_by_role("link", name=re.compile(name))).to_have_attribute("aria-current", "page")


def drag(page: Page, what: Locator, onto: Locator) -> None:
    """Drag as a hand does: past the threshold, then on to the target in steps."""
    begin, end = what.bounding_box(), onto.bounding_box()
    assert begin and end
    page.mouse.move(begin["x"] + begin["width"] / 2, begin["y"] + begin["height"] / 2)
    page.mouse.down()
    page.mouse.move(end["x"] + end["width"] / 2, end["y"] + end["height"] / 2, steps=12)
    expect(onto).to_have_attribute("data-over", "true")
    page.mouse.up()


def kept(page: Page) -> None:
    expect(page.get_by_test_id("kept")).to_have_text("Saved")


def bring_in(page: Page, folder: Path) -> None:
    page.goto("/")
    page.get_by_test_id("folder-input").set_input_files(str(folder))
    expect(page.get_by_role("heading", name=folder.name)).to_be_visible(timeout=30_000)
    page.get_by_role("button", name="Make 4 pieces").click(timeout=30_000)
    expect(page.get_by_role("button", name="Undo: Pieces made")).to_be_enabled()


def test_from_a_folder_to_stems_and_a_kit_file(page: Page, own_folder: Path, tmp_path: Path):
    bring_in(page, own_folder)
    expect(page.get_by_text("kick_09_1.wav is not audio that can be read").first).to_be_visible()
    expect(page.get_by_text(re.compile("kick_08_1.wav is cut short")).first).to_be_visible()
    page.get_by_role("button", name=re.compile("Snare · centre")).click()
    expect(page.get_by_test_id("recording-list").get_by_text("sn_01_1.wav")).to_be_visible()

    step(page, "Layers")
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=120_000)
    page.get_by_role("button", name=re.compile("^Snare")).first.click()
    skin = page.get_by_role("button", name="Strike Snare centre")
    skin.click(position={"x": 89, "y": 89})  # the centre is the hardest
    expect(page.get_by_test_id("last-strike")).to_contain_text("in 127 → 127")
    expect(page.get_by_test_id("last-strike")).to_contain_text(re.compile(r"layer 4 · take 4-\d, one of 3"))
    expect(page.get_by_test_id("skin-hit")).to_be_visible()
    expect(page.get_by_test_id("dynamics-hit")).to_be_attached()
    first = page.locator("[data-hit]").get_attribute("data-take")
    label = re.search(r"take (4-\d)", page.get_by_test_id("last-strike").inner_text()).group(1)
    skin.click(position={"x": 89, "y": 89})
    expect(page.get_by_test_id("last-strike")).not_to_contain_text(label)
    assert page.locator("[data-hit]").get_attribute("data-take") != first

    _move_a_boundary(page)
    _deliver(page, tmp_path)


def _move_a_boundary(page: Page) -> None:
    boundary = page.get_by_role("slider", name="Boundary between layers 1 and 2")
    before = int(boundary.get_attribute("aria-valuenow") or 0)
    boundary.focus()
    page.keyboard.press("ArrowRight")
    expect(boundary).to_have_attribute("aria-valuenow", str(before + 1))
    page.get_by_label("linked").uncheck()
    boundary.focus()
    page.keyboard.press("PageDown")
    expect(page.get_by_test_id("gap")).to_be_visible()
    page.get_by_role("button", name="Close the gap").click()
    expect(page.get_by_test_id("gap")).to_have_count(0)


def _deliver(page: Page, tmp_path: Path) -> None:
    step(page, "Routing")
    page.get_by_role("button", name="Route by plan").click()
    page.get_by_role("button", name="One output per piece", exact=True).click()
    expect(page.locator('[data-channel="snare-channel"]')).to_contain_text("→ 3 · Snare")
    kept(page)

    step(page, "Delivery")
    page.get_by_role("button", name="Groove: ").click()
    page.get_by_role("option", name=re.compile("Tide Turn")).click()
    page.get_by_role("button", name="Render stems").click()
    made = page.locator('[data-job="stems"][data-state="done"]')
    expect(made).to_be_visible(timeout=60_000)
    with page.expect_download() as download:
        made.get_by_role("link", name="Download").click()
    archive = zipfile.ZipFile(download.value.path())
    assert "03 Snare.wav" in archive.namelist() and "stems.json" in archive.namelist()
    snare, rate = soundfile.read(io.BytesIO(archive.read("03 Snare.wav")))
    assert rate == 48000 and np.abs(snare).max() > 0.01

    page.get_by_role("button", name="Save the kit file").click()
    saved = page.locator('[data-job="kit-file"][data-state="done"]')
    expect(saved).to_be_visible(timeout=60_000)
    with page.expect_download() as download:
        saved.get_by_role("link", name="Download").click()
    assert download.value.suggested_filename == "My drums.zestykit"
    download.value.save_as(tmp_path / "My drums.zestykit")
    page.goto("/")
    page.get_by_test_id("kit-file-input").set_input_files(str(tmp_path / "My drums.zestykit"))
    expect(page.get_by_test_id("skin")).to_be_visible(timeout=30_000)
    step(page, "Routing")
    expect(page.locator('[data-channel="snare-channel"]')).to_contain_text("→ 3 · Snare")
    _open_lesser_kit_files(page, tmp_path / "My drums.zestykit", tmp_path)


def _open_lesser_kit_files(page: Page, whole: Path, folder: Path) -> None:
    """One without two of its recordings opens and says so; one of a newer version does not open."""
    today = f'"format":{KIT_FORMAT}'.encode()
    with zipfile.ZipFile(whole) as old:
        names = old.namelist()
        for name, left, text in (("less", names[:-2], today), ("newer", names, b'"format":99')):
            with zipfile.ZipFile(folder / f"{name}.zestykit", "w") as new:
                for entry in left:
                    new.writestr(entry, old.read(entry).replace(today, text))
    for name, said in (("less", re.compile("2 of .* recordings are missing")), ("newer", "newer version")):
        page.goto("/")
        expect(page.get_by_role("link", name="Boathouse No. 4")).to_be_visible()
        kits = int(page.get_by_test_id("found").inner_text())
        page.get_by_test_id("kit-file-input").set_input_files(str(folder / f"{name}.zestykit"))
        expect(page.get_by_role("alert")).to_contain_text(said, timeout=30_000)
        expect(page.get_by_test_id("found")).to_have_text(str(kits + (name == "less")))


def test_notes_are_dragged_asked_about_and_undone(page: Page, own_folder: Path):
    bring_in(page, own_folder)
    step(page, "Notes")
    articulation = page.locator('[data-articulation="crash-left/edge"]')
    drag(page, articulation, page.locator('[data-note="57"]'))
    expect(page.locator('[data-note="57"]')).to_contain_text("Crash left")
    drag(page, articulation, page.locator('[data-note="38"]'))
    expect(page.get_by_role("dialog")).to_contain_text("D1 plays Snare · centre")
    page.get_by_role("button", name="Stack both").click()
    expect(page.locator('[data-note="38"]')).to_contain_text("+ Crash left")
    # By keyboard: pick an articulation up, and put it on a note; a press only looks and listens.
    articulation.focus()
    page.keyboard.press("Enter")
    page.locator('[data-note="60"]').focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="put it on C3 60")).to_be_enabled()
    expect(page.locator('[data-note="60"]')).not_to_contain_text("Crash left")
    page.keyboard.press("Shift+Enter")
    expect(page.locator('[data-note="60"]')).to_contain_text("Crash left")
    page.keyboard.press("Control+z")
    expect(page.locator('[data-note="60"]')).not_to_contain_text("Crash left")
    page.keyboard.press("Control+z")
    expect(page.locator('[data-note="38"]')).not_to_contain_text("+ Crash left")
    page.keyboard.press("Control+Shift+z")
    expect(page.locator('[data-note="38"]')).to_contain_text("+ Crash left")
    # The note that comes in is lit, and computer keys play the pads.
    page.locator("h1").click()
    page.keyboard.press("a")
    expect(page.locator('[data-note="36"]')).to_have_attribute("data-lit", re.compile(r"\d+"))
    expect(page.get_by_test_id("last-strike")).to_contain_text("Kick · centre")


def test_a_curve_is_bent_and_the_last_strike_is_on_it(page: Page, own_folder: Path):
    bring_in(page, own_folder)
    step(page, "Touch")
    page.get_by_role("button", name="Minimum velocity").click()
    kept(page)
    curve = page.get_by_test_id("curve")
    expect(curve.get_by_role("slider")).to_have_count(4)
    page.get_by_role("slider", name="Node 4: 127 plays 127").focus()
    page.keyboard.press("PageDown")
    expect(page.get_by_role("slider", name="Node 4: 127 plays 117")).to_be_visible()
    for key in ("ArrowDown", "ArrowUp"):  # faster than the studio answers, and no step is lost
        for _ in range(5):
            page.keyboard.press(key)
        kept(page)
        plays = {"ArrowDown": 112, "ArrowUp": 117}[key]
        expect(page.get_by_role("slider", name=f"Node 4: 127 plays {plays}")).to_be_visible()
    box = curve.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.15)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.2, steps=6)
    page.mouse.up()
    expect(curve.get_by_role("slider")).to_have_count(5)
    kept(page)
    page.keyboard.press("Control+z")  # the whole drag at once
    expect(curve.get_by_role("slider")).to_have_count(4)
    # Keys do all of it: a node put in after one is where the next key goes, and lines are bent.
    page.get_by_role("slider", name="Node 3: 16 plays 14").focus()
    page.keyboard.press("Insert")
    expect(page.get_by_role("slider", name="Node 4: 71 plays 65")).to_be_focused()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Alt+ArrowUp")
    expect(page.get_by_role("slider", name="Bend after the node")).to_have_attribute("aria-valuetext", "0.05")
    expect(page.get_by_role("slider", name="Node 4: 71 plays 66")).to_be_focused()
    page.keyboard.press("Delete")
    expect(curve.get_by_role("slider")).to_have_count(4)
    step(page, "Layers")
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=120_000)
    page.get_by_role("button", name=re.compile("^Strike Kick")).focus()
    page.keyboard.press("8")
    step(page, "Touch")
    expect(page.get_by_test_id("touch-last")).to_contain_text("127 → 117")
    expect(page.get_by_test_id("curve-strike")).to_be_visible()
    page.keyboard.press("a")
    expect(page.get_by_test_id("touch-last")).to_contain_text("96 → ")


def test_channels_are_moved_by_keyboard_and_typing(page: Page, own_folder: Path):
    bring_in(page, own_folder)
    step(page, "Routing")
    level = page.get_by_role("slider", name="Level of Kick")
    level.focus()
    page.keyboard.press("PageDown")
    expect(level).to_have_attribute("aria-valuetext", "−3.0 dB")
    page.keyboard.press("-")
    page.keyboard.type("12.5")
    page.keyboard.press("Enter")
    expect(level).to_have_attribute("aria-valuetext", "−12.5 dB")
    level.dblclick()
    expect(level).to_have_attribute("aria-valuetext", "0.0 dB")
    for _ in range(12):  # faster than the studio answers, and none is lost
        level.press("PageDown")
    kept(page)
    expect(level).to_have_attribute("aria-valuetext", "−36.0 dB")
    for _ in range(12):
        page.keyboard.press("Control+z")
    expect(level).to_have_attribute("aria-valuetext", "0.0 dB")
    page.get_by_role("button", name=re.compile("Kick goes to")).click()
    page.get_by_role("option", name="→ 5 · Output 5").click()
    expect(page.get_by_role("button", name="Undo: Kick to output 5 Output 5")).to_be_enabled()
    kept(page)
    page.reload()
    expect(page.locator('[data-channel="kick-channel"]')).to_contain_text("→ 5")


def test_a_stale_edit_is_refused_in_words_and_the_newer_kit_is_shown(page: Page, own_folder: Path):
    bring_in(page, own_folder)
    step(page, "Routing")
    # A tab that has not heard yet of what another one did.
    page.route("**/version", lambda route: route.fulfill(status=304))
    other = page.context.new_page()
    other.goto(page.url)
    other.get_by_role("button", name="Route by plan").click()
    other.get_by_role("button", name="One output per piece", exact=True).click()
    expect(other.locator('[data-channel="kick-channel"]')).to_contain_text("→ 2 · Kick")
    page.get_by_role("button", name="Mute Kick", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("changed elsewhere meanwhile")
    expect(page.locator('[data-channel="kick-channel"]')).to_contain_text("→ 2 · Kick")
    page.get_by_role("button", name="Close", exact=True).click()
    page.get_by_role("button", name="Mute Kick", exact=True).click()
    expect(page.get_by_role("button", name="Mute Kick", exact=True)).to_have_attribute("aria-pressed", "true")


def test_bad_files_get_their_sentence(page: Page, tmp_path: Path, own_folder: Path):
    (tmp_path / "no.zestykit").write_text("Buy lamp oil.")
    (tmp_path / "bare" / "inner").mkdir(parents=True)
    page.goto("/")
    page.get_by_test_id("kit-file-input").set_input_files(str(tmp_path / "no.zestykit"))
    expect(page.get_by_role("alert")).to_contain_text("is not a zip archive that can be read", timeout=20_000)
    with zipfile.ZipFile(tmp_path / "climbing.zip", "w") as archive:
        archive.writestr("../../climbed.wav", b"x")
        for name in files_under(own_folder):
            if "kick" in name:
                archive.write(own_folder / name, name)
    page.goto("/")
    page.get_by_test_id("files-input").set_input_files(str(tmp_path / "climbing.zip"))
    expect(page.get_by_role("button", name="Make 1 piece")).to_be_visible(timeout=30_000)
    expect(page.get_by_role("alert")).to_contain_text(
        "“../../climbed.wav” in climbing.zip would lie outside its folder"
    )
    step(page, "Rehearsal")
    (tmp_path / "song.mid").write_text("Buy lamp oil.")
    page.get_by_test_id("midi-input").set_input_files(str(tmp_path / "song.mid"))
    expect(page.get_by_role("alert")).to_contain_text("song.mid is not a MIDI file that can be read")
    page.goto("/kits/not-a-kit/layers")
    expect(page.get_by_text("There is no such kit")).to_be_visible()


def test_what_names_cannot_tell_is_asked_before_pieces_are_made(page: Page, tmp_path: Path):
    root = tmp_path / "Odd toms"
    for number, (wood, strength, repeat) in enumerate(product(("walnut", "larch"), (1, 2, 3), (1, 2))):
        sound = strike_sound(-8.0 * (3 - strength) + 0.2 * repeat, number, seconds=0.25 + 0.001 * number)
        write_sound(root / f"tom {wood} {strength} {repeat}.wav", sound)
    page.goto("/")
    page.get_by_test_id("folder-input").set_input_files(str(root))
    asked = page.get_by_role("region", name="Questions")
    expect(asked).to_contain_text("“larch” and “walnut” of Tom", timeout=30_000)
    expect(page.locator("[data-doubtful]")).to_contain_text("40 %")
    bright = re.compile(r"\bbtn-go\b")
    expect(asked.get_by_role("button", name="Round robins")).to_have_class(bright)
    expect(page.get_by_role("button", name="Make 1 piece")).not_to_have_class(bright)
    asked.get_by_role("button", name="Different pieces").click()
    expect(page.get_by_role("button", name="Make 2 pieces")).to_have_class(bright, timeout=30_000)
    expect(asked).to_have_count(0)
    page.get_by_role("button", name="Make 2 pieces").click()
    expect(page.get_by_role("button", name="Undo: Pieces made")).to_be_enabled()
    step(page, "Layers")
    for name in ("Tom Larch", "Tom Walnut"):
        expect(page.get_by_role("button", name=re.compile(f"^{name}")).first).to_be_visible()
