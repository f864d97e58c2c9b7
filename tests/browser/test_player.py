"""What is heard is what is delivered: the browser's player against the Python renderer, and the live sound."""

import base64
import json
import time

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from drumcore.formats.midi import Groove
from drumcore.kit.values import Width
from drumcore.playing.play_table import PlayHead, PlayPiece, PlaySound, PlayTable
from drumcore.playing.rendering import GrooveEvent, render
from drumcore.playing.sounds import cut

RENDER = """async ({ head, pieces, events, seconds }) => {
  const outputs = await window.zestySkin.renderOffline(head, pieces, events, seconds);
  window.rendered = outputs;
  return outputs.map((o) => ({ number: o.number, sides: o.sides.length, frames: o.sides[0].length }));
}"""
SIDE = """({ place, side }) => {
  const bytes = new Uint8Array(window.rendered[place].sides[side].buffer);
  let text = '';
  for (let i = 0; i < bytes.length; i += 32768) text += String.fromCharCode(...bytes.subarray(i, i + 32768));
  return btoa(text);
}"""


class ServedSounds:
    """Prepared recordings as the studio serves them to the browser."""

    def __init__(self, address: str) -> None:
        self.address, self.held = address, {}

    def get(self, sound: PlaySound, rate_hz: int):
        import io
        import urllib.request

        import soundfile

        key = (sound.content, sound.width, sound.cents, sound.centred)
        if key not in self.held:
            path = f"{self.address}/api/sounds/{sound.content}/{rate_hz}/{sound.width.value}"
            path += f"?cents={sound.cents}&centred={str(sound.centred).lower()}"
            with urllib.request.urlopen(path) as answer:
                samples, rate = soundfile.read(io.BytesIO(answer.read()), dtype="float32", always_2d=True)
            assert rate == rate_hz
            assert samples.shape[1] == (2 if sound.width is Width.STEREO else 1)
            self.held[key] = np.ascontiguousarray(samples.T)
        return cut(self.held[key], sound)


def open_kit(page: Page, fetch, name: str) -> dict:
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == name)
    page.goto(f"/kits/{kit['id']}/layers")
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=60_000)
    return kit


@pytest.mark.parametrize("routed", ["Everything to main", "One output a piece"])
def test_the_browser_plays_a_groove_as_the_renderer_does(page: Page, fetch, address: str, routed: str):
    kit = open_kit(page, fetch, "Boathouse No. 4")
    page.goto(f"/kits/{kit['id']}/routing")
    page.get_by_role("button", name=routed).click()
    expect(page.get_by_test_id("kept")).to_have_text("All kept")
    groove = Groove.model_validate(_groove(fetch, "Gangway March"))
    assert groove.strikes >= 200
    agree(page, address, json.loads(fetch(f"/api/kits/{kit['id']}")), groove)


def test_trims_blends_and_variation_sound_alike_in_both_players(page: Page, fetch, address: str):
    kit = open_kit(page, fetch, "Tin Lantern")
    state = json.loads(fetch(f"/api/kits/{kit['id']}"))
    edits: list[dict] = [{"kind": "apply_plan", "plan": "one-output-a-piece"}]
    for number, piece in enumerate(state["pieces"]):
        stroke = piece["articulations"][0]
        takes = [take["id"] for take in stroke["takes"]]
        here = {"articulation": stroke["id"]}
        edits += [
            {"kind": "trim_takes", **here, "takes": takes[::2], "pan": (-0.7, 0.4)[number % 2], "gain_db": -2.5},
            {"kind": "trim_takes", **here, "takes": takes[1::3], "tune_cents": 140 - 90 * number, "inverted": True},
            {"kind": "trim_takes", **here, "takes": takes[::3], "start_trim_ms": 1.5, "end_ms": 180, "fade_out_ms": 90},
            {"kind": "trim_takes", **here, "takes": takes[:2], "fade_in_ms": 6.0},
            {"kind": "set_layer", **here, "layer": 0, "blend": 10, "gain_db": 1.5},
            {
                "kind": "set_variation",
                **here,
                "variation": {"level_db": 1.0, "tune_cents": 7.0, "brightness": 2.0},
            },
        ]
    edits.append({"kind": "set_mic", "mic": state["head"]["mics"][0]["id"], "gain_db": -3.0})
    edits.append({"kind": "centre_recording", "articulation": "kick/centre", "take": "t3"})
    asked = {
        "base_version": state["version"],
        "edit": {"kind": "several", "said": "Everything at once", "edits": edits},
    }
    answer = page.request.post(f"/api/kits/{kit['id']}/edits", data=asked)
    assert answer.ok, answer.text()
    notes = [36, 38, 49, 52, 55, 76, 38, 36]
    events = [GrooveEvent(time_s=0.11 * i, note=notes[i % len(notes)], velocity=20 + (i * 37) % 108) for i in range(64)]
    groove = Groove(name="Trial", bpm=120, beats_a_bar=4, events=tuple(events), length_s=8.0)
    try:
        agree(page, address, json.loads(fetch(f"/api/kits/{kit['id']}")), groove)
    finally:
        page.request.post(f"/api/kits/{kit['id']}/undo", data={"base_version": answer.json()["version"]})


def agree(page: Page, address: str, state: dict, groove: Groove) -> None:
    """Both players within −100 dB of the peak at every output."""
    seconds = groove.length_s + 2
    events = [event.model_dump(mode="json") for event in groove.events]
    asked = {"head": state["play_head"], "pieces": state["play_pieces"], "events": events, "seconds": seconds}
    outputs = page.evaluate(RENDER, asked)
    table = PlayTable(
        head=PlayHead.model_validate(state["play_head"]),
        pieces=tuple(PlayPiece.model_validate(p) for p in state["play_pieces"]),
    )
    blocks = list(render(table, groove.events, ServedSounds(address), length_s=seconds))
    used = sorted({channel.output or 1 for channel in table.head.channels})
    assert [o["number"] for o in outputs] == used
    for place, output in enumerate(outputs):
        ours = np.concatenate([block.outputs[output["number"]] for block in blocks], axis=1)
        theirs = np.stack(
            [
                np.frombuffer(base64.b64decode(page.evaluate(SIDE, {"place": place, "side": side})), np.float32)
                for side in range(output["sides"])
            ]
        )
        peak = float(np.abs(ours).max())
        assert peak > 0.02, f"output {output['number']} is all but silent"
        difference = float(np.abs(ours - theirs[:, : ours.shape[1]]).max())
        assert 20 * np.log10(max(difference, 1e-12) / peak) <= -100, f"output {output['number']}"


def _groove(fetch, name: str) -> dict:
    card = next(g for g in json.loads(fetch("/api/grooves")) if g["name"] == name)
    found = json.loads(fetch(f"/api/grooves/{card['id']}"))
    return {key: value for key, value in found.items() if key != "id"}


def peaks(page: Page) -> dict[int, float]:
    script = """() => { const p = window.zestySkin.player();
      return Array.from({ length: 16 }, (_, k) => [k + 1, Math.max(0, ...p.outputPeaks(k + 1))]); }"""
    return dict(page.evaluate(script))


def loudest_while(page: Page, wanted: int, seconds: float = 4.0) -> dict[int, float]:
    """The highest peak of every output from now until the wanted one has sounded, or the time is over."""
    found: dict[int, float] = {}
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        for number, peak in peaks(page).items():
            found[number] = max(found.get(number, 0.0), peak)
        if found.get(wanted, 0.0) > 0.01:
            return found
    return found


def test_a_pad_sounds_on_its_output_and_on_no_other(page: Page, fetch):
    kit = open_kit(page, fetch, "Tin Lantern")
    page.goto(f"/kits/{kit['id']}/routing")
    page.get_by_role("button", name="One output a piece").click()
    for shared in ("Overheads", "Room"):
        page.get_by_role("button", name=f"Mute {shared}").click()
    expect(page.get_by_role("button", name="Mute Room")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=60_000)
    page.get_by_role("button", name="Deckhand 5").click()
    for pad, output in (("Kick", 2), ("Snare", 3)):
        page.wait_for_function("() => window.zestySkin.player().heard.peak() < 1e-4")
        page.locator(f'[data-pad="{pad}"]').click()
        heard = loudest_while(page, output)
        assert heard[output] > 0.01, f"{pad} made no sound on output {output}: {heard}"
        others = {number: peak for number, peak in heard.items() if number != output and peak > 1e-4}
        assert not others, f"{pad} also sounded on {others}"
        # The lane's own meter still listens after the plan moved its channel.
        page.locator(f'[data-pad="{pad}"]').click()
        channel = {"Kick": "kick", "Snare": "side-snare"}[pad]
        page.wait_for_function(f"() => window.zestySkin.player().channelPeak('{channel}') > 0.01")


def test_the_groove_goes_on_while_the_kit_is_edited(page: Page, fetch):
    kit = open_kit(page, fetch, "Tin Lantern")
    page.goto(f"/kits/{kit['id']}/rehearsal")
    expect(page.get_by_role("button", name="Start", exact=True)).to_be_visible()
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=60_000)
    page.locator("body").click(position={"x": 700, "y": 700})
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Stop", exact=True)).to_be_visible()
    expect(page.get_by_test_id("last-strike")).to_contain_text("Groove")
    page.keyboard.press("Alt+2")
    page.get_by_role("button", name="Other ways to part the layers").click()
    page.get_by_role("menuitem", name="Split evenly").click()
    expect(page.get_by_role("button", name="Undo: Split evenly")).to_be_enabled()
    page.wait_for_function("() => window.zestySkin.player().heard.peak() > 0.01")
    page.get_by_role("button", name="Stop Gangway March").click()
    page.get_by_role("button", name="Silence").click()
    page.wait_for_function("() => window.zestySkin.player().heard.peak() < 1e-4")
    page.get_by_role("button", name="Undo: Split evenly").click()
    expect(page.get_by_role("button", name="Redo: Split evenly")).to_be_enabled()
