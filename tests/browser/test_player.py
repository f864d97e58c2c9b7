"""What is heard is what is delivered: the browser's player against the Python renderer, and the live sound."""

import base64
import json
import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from drumcore.formats.kit_file import read_kit_file
from drumcore.grooves.values import Groove, GrooveEvent, PedalMove, Press, Strike
from drumcore.kit.values import Width
from drumcore.playing.compiler import compile_head, compile_piece
from drumcore.playing.play_table import PlayHead, PlayPiece, PlaySound, PlayTable
from drumcore.playing.renderer import render
from drumcore.playing.sounds import cut
from drumcore.spaces.kinds import ImpulseResponse, Space
from tests.browser.conftest import came, fresh, holds, listen, quiet
from tests.waiting import until

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

        key = (sound.content, sound.width, sound.cents, sound.centred, sound.flipped)
        if key not in self.held:
            path = f"{self.address}/api/sounds/{sound.content}/{rate_hz}/{sound.width.value}"
            path += f"?cents={sound.cents}&centred={str(sound.centred).lower()}" + (
                f"&flipped={sound.flipped}" if sound.flipped else ""
            )
            with urllib.request.urlopen(path) as answer:
                samples, rate = soundfile.read(io.BytesIO(answer.read()), dtype="float32", always_2d=True)
            assert rate == rate_hz
            assert samples.shape[1] == (2 if sound.width is Width.STEREO else 1)
            self.held[key] = np.ascontiguousarray(samples.T)
        return cut(self.held[key], sound)

    def impulse_response(self, space: Space, rate_hz: int) -> ImpulseResponse:
        import urllib.parse
        import urllib.request

        said = urllib.parse.quote(space.model_dump_json())
        with urllib.request.urlopen(f"{self.address}/api/spaces/impulse-responses/{rate_hz}?space={said}") as answer:
            whole = answer.read()
        sides, middle = np.frombuffer(whole[:8], "<u4")
        return ImpulseResponse(np.frombuffer(whole[8:], "<f4").reshape(sides, -1), middle=bool(middle))


def open_kit(page: Page, fetch, name: str, step: str) -> None:
    page.goto(f"/kits/{kit_named(fetch, name)['id']}/{step}")
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=120_000)


def kit_named(fetch, name: str) -> dict:
    return next(k for k in json.loads(fetch("/api/kits")) if k["name"] == name)


def by_plan(plan: str) -> dict:
    """Routed by a plan that ships; by none, everything goes to main."""
    return {"kind": "apply_plan", "plan": plan} if plan else {"kind": "clear_outputs"}


@pytest.mark.parametrize(
    ("plan", "name", "strikes"), [("", "Tide Turn", 20), ("one-output-a-piece", "Gangway March", 200)]
)
def test_the_browser_plays_a_groove_as_the_renderer_does(
    page: Page, fetch, address: str, plan: str, name: str, strikes: int
):
    groove = Groove.model_validate(_groove(fetch, name))
    assert groove.strikes >= strikes
    with edited(page, fetch, "Boathouse No. 4", [by_plan(plan)]) as state:
        agree(page, address, state, groove)


@contextmanager
def edited(page: Page, fetch, name: str, edits: list[dict]) -> Iterator[dict]:
    """A kit with edits made, as its state; undone when done with. The page holds no kit, and loads no sounds for one."""
    page.goto("/")
    kit = kit_named(fetch, name)
    version = json.loads(fetch(f"/api/kits/{kit['id']}"))["version"]
    asked = {"base_version": version, "edit": {"kind": "several", "said": "For a test", "edits": edits}}
    answer = page.request.post(f"/api/kits/{kit['id']}/edits", data=asked)
    assert answer.ok, answer.text()
    after = answer.json()["version"]
    try:
        yield json.loads(fetch(f"/api/kits/{kit['id']}"))
    finally:
        if after != version:
            page.request.post(f"/api/kits/{kit['id']}/undo", data={"base_version": after})


def test_trims_blends_and_variation_sound_alike_in_both_players(page: Page, fetch, address: str):
    state = json.loads(fetch(f"/api/kits/{kit_named(fetch, 'Tin Lantern')['id']}"))
    edits: list[dict] = [{"kind": "apply_plan", "plan": "one-output-a-piece"}]
    for number, piece in enumerate(state["pieces"]):
        articulation = piece["articulations"][0]
        takes = [take["id"] for take in articulation["takes"]]
        here = {"articulation": articulation["id"]}
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
    notes = [36, 38, 49, 52, 55, 76, 38, 36]
    events = [Strike(time_s=0.11 * i, note=notes[i % len(notes)], velocity=20 + (i * 37) % 108) for i in range(64)]
    groove = Groove(name="Trial", bpm=120, beats_a_bar=4, events=tuple(events), length_s=8.0)
    with edited(page, fetch, "Tin Lantern", edits) as changed:
        agree(page, address, changed, groove)


def treated_lantern(plan: str) -> list[dict]:
    """Eight bands on one channel, every kind of band on the others, compressors, drives, one switched off, one bypassed, main
    treated as well."""
    peak = {"kind": "peak", "hz": 55.0, "gain_db": 15.0, "q": 12.0}
    eqs = {
        "kick-channel": [peak, {"kind": "high_shelf", "hz": 5000.0, "gain_db": -6.0}],
        "side-snare-channel": [
            {"kind": "peak", "hz": 150.0 * 1.8**n, "gain_db": (-1) ** n * 6.0, "q": 2.0} for n in range(8)
        ],
        "splash-channel": [{"kind": "low_cut", "hz": 300.0, "resonance_db": 6.0}, {"kind": "high_cut", "hz": 9000.0}],
        "overheads-channel": [{"kind": "low_shelf", "hz": 120.0, "gain_db": -9.0}],
    }
    edits: list[dict] = [by_plan(plan)]
    squeezed = {"kind": "compressor", "threshold_db": -32.0, "ratio": 5.0, "attack_ms": 2.0, "release_ms": 90.0}
    driven = {"kind": "drive", "drive_db": 14.0, "asymmetry": 0.3, "mix": 0.7}
    for channel, treatment in (
        ("kick-channel", squeezed | {"low_cut_hz": 120.0, "make_up_db": 6.0}),
        ("kick-channel", driven),
        ("side-snare-channel", squeezed | {"knee_db": 18.0, "mix": 0.6}),
        ("splash-channel", driven | {"level_matched": False, "drive_db": 8.0}),
        ("overheads-channel", squeezed | {"release_ms": 700.0}),
        ("main", squeezed | {"threshold_db": -20.0}),
        ("main", driven | {"drive_db": 3.0}),
    ):
        edits.append({"kind": "set_treatment", "channel": channel, "treatment": treatment})
    edits.append({"kind": "set_channel", "channel": "main", "pan": 0.2, "level_db": -2.0})
    edits.append({"kind": "set_treatment", "channel": "china-channel", "treatment": driven})
    edits.append({"kind": "set_channel", "channel": "china-channel", "treated": False})
    for channel, bands in eqs.items():
        edits.append({"kind": "set_treatment", "channel": channel, "treatment": {"kind": "eq", "bands": bands}})
    off = {"kind": "eq", "on": False, "bands": [peak]}
    edits.append({"kind": "set_treatment", "channel": "room-channel", "treatment": off})
    # Buses: sends taken after the level and before it, one bus into another, a channel that goes into one alone.
    edits += [{"kind": "make_bus", "name": name} for name in ("Crush", "Air")]
    for channel, bus, level_db, pre_fader in (
        ("kick-channel", "crush-bus", -4.0, False),
        ("side-snare-channel", "crush-bus", -8.0, True),
        ("side-snare-channel", "air-bus", -10.0, False),
        ("crush-bus", "air-bus", -6.0, False),
    ):
        edits.append({"kind": "set_send", "channel": channel, "bus": bus, "level_db": level_db, "pre_fader": pre_fader})
    edits.append({"kind": "go_into_bus", "channels": ["splash-channel"], "bus": "air-bus"})
    edits.append({"kind": "set_channel", "channel": "side-snare-channel", "pan": -0.4, "level_db": -3.0})
    edits.append({"kind": "set_treatments", "channel": "crush-bus", "treatments": [squeezed, driven]})
    edits.append({"kind": "set_channel", "channel": "air-bus", "pan": 0.3, "output": 12})
    # Two spaces, one heard through the other, and every microphone's bleed, some of it moved.
    hall = {"kind": "hall", "length_s": 0.9, "size_m": 12.0, "pre_delay_ms": 7.0}
    echo = {"kind": "echo", "every_ms": 110.0, "repeats": 4, "sides": 0.8}
    edits += [{"kind": "set_space", "bus": bus, "space": s} for bus, s in (("air-bus", hall), ("crush-bus", echo))]
    edits.append({"kind": "all_as_recorded"})
    edits.append({"kind": "let_in", "piece": "kick", "mic": "room", "level_db": -7.5})
    edits.append({"kind": "let_in", "piece": "side-snare", "mic": "overheads", "on": False})
    return edits


def of_six(seconds: float) -> Groove:
    """Kick, snare and cymbals in turn, softer and harder; what is treated rings on after the last."""
    notes = [36, 38, 55, 52, 76, 38]
    strikes = int(6 * seconds)
    events = [Strike(time_s=0.13 * i, note=notes[i % 6], velocity=30 + (i * 37) % 98) for i in range(strikes)]
    return Groove(name="Trial", bpm=120, beats_a_bar=4, events=tuple(events), length_s=seconds)


@pytest.mark.parametrize("plan", ["one-output-a-piece", ""])
def test_treated_channels_sound_alike_in_both_players(page: Page, fetch, address: str, plan: str):
    with edited(page, fetch, "Tin Lantern", treated_lantern(plan)) as changed:
        treated = {c["id"]: [t["kind"] for t in c["treatments"]] for c in changed["play_head"]["channels"]}
        assert treated["room-channel"] == treated["china-channel"] == []
        assert treated["kick-channel"] == ["eq", "compressor", "drive"]
        agree(page, address, changed, of_six(6.0))


@pytest.mark.parametrize("rate", [44_100, 96_000])
def test_treated_channels_sound_alike_at_other_rates(page: Page, fetch, address: str, tmp_path: Path, rate: int):
    with edited(page, fetch, "Tin Lantern", treated_lantern("one-output-a-piece")) as changed:
        job = page.request.post(f"/api/kits/{changed['id']}/exports/kit-file", data={}).json()
        until(lambda: json.loads(fetch(f"/api/jobs/{job['id']}"))["state"] == "done")
        (tmp_path / "lantern.zestykit").write_bytes(page.request.get(f"/api/jobs/{job['id']}/download").body())
        kit = read_kit_file(tmp_path / "lantern.zestykit", tmp_path / "out").kit.but(rate_hz=rate)
        state = {
            "play_head": compile_head(kit).model_dump(mode="json"),
            "play_pieces": [compile_piece(piece, kit).model_dump(mode="json") for piece in kit.pieces],
        }
        agree(page, address, state, of_six(3.0))


def test_touch_and_notes_sound_alike_in_both_players(page: Page, fetch, address: str):
    """Curves, blended openness, chokes, hand stops, tracking, variation, levels, cross-talk and doubles in one groove."""
    bent = {"nodes": [{"x": 0, "y": 0}, {"x": 12, "y": 0}, {"x": 13, "y": 20, "bend": 0.4}, {"x": 127, "y": 120}]}
    sagging = {"nodes": [{"x": 0, "y": 0, "bend": -0.3}, {"x": 127, "y": 127}]}
    talk = {"after": 38, "note": 48, "up_to": 24, "within_ms": 15.0}
    groove = {"input": "groove", "name": "Groove", "closed_at": 120, "open_at": 6}
    edits: list[dict] = [
        {"kind": "apply_plan", "plan": "one-output-a-piece"},
        {"kind": "set_curve", "curve": sagging},
        {"kind": "set_curve", "input": "groove", "input_name": "Groove", "curve": bent},
        {"kind": "set_curve", "target": "snare/centre", "curve": sagging},
        {"kind": "set_input", **groove, "cross_talk": [talk], "doubles_ms": 18.0},
        {"kind": "set_openness", "blend": 24, "pedal_sounds": True},
        {"kind": "set_placed", "note": 46, "articulation": "hats/half-open", "gain_db": -3.0},
        {"kind": "put_on_note", "articulation": "cowbell/hit", "note": 36, "when_occupied": "stack"},
        {"kind": "set_choke", "articulation": "ride/bow", "stopped": "crash-left/edge", "fade_ms": 30.0},
    ]
    for piece, soft, hard, octaves in (
        ("snare", 9.0, 0.0, 2.5),
        ("crash-left", 40.0, 3.0, 1.0),
        ("hats", 4.0, 1.0, 3.0),
    ):
        moves = {"brightness": octaves, "attack_soft_ms": soft, "attack_hard_ms": hard}
        edits.append({"kind": "set_tracking", "piece": piece, "level": 0.8, "whole": piece == "hats", **moves})
    varied = {"level_db": 1.0, "tune_cents": 6.0, "brightness": 1.5}
    edits += [
        {"kind": "set_variation", "articulation": a, "variation": varied} for a in ("snare/centre", "kick/centre")
    ]
    with edited(page, fetch, "Boathouse No. 4", edits) as state:
        agree(page, address, state, _of_everything())


def _of_everything() -> Groove:
    """A groove with a pedal that moves, cross-talk, doubles, flams, ignored strikes and a held crash."""
    events: list[GrooveEvent] = []
    for beat in range(16):
        at = 0.25 * beat
        events.append(PedalMove(time_s=at, openness=(6, 40, 63, 90, 118)[beat % 5]))
        events.append(Strike(time_s=at + 0.004, note=46, velocity=30 + 6 * beat))
        events.append(Strike(time_s=at + 0.05, note=36, velocity=127 - 6 * beat))
        events.append(Strike(time_s=at + 0.06, note=36, velocity=20))  # a double
        events.append(Strike(time_s=at + 0.12, note=38, velocity=40 + 5 * beat))
        events.append(Strike(time_s=at + 0.126, note=48, velocity=14 + beat % 3))  # cross-talk
        events.append(Strike(time_s=at + 0.2, note=48, velocity=9 + 7 * beat))  # the softest are ignored
        if beat % 4 == 1:
            events.append(Strike(time_s=at + 0.02, note=49, velocity=100))
            events.append(PedalMove(time_s=at + 0.17, openness=6))
            events.append(PedalMove(time_s=at + 0.21, openness=120))
        if beat % 8 == 2:
            events.append(Strike(time_s=at + 0.03, note=51, velocity=80))
        if beat % 8 == 6:
            events.append(Press(time_s=at + 0.03, note=49, pressure=127))
    events.sort(key=lambda event: event.time_s)
    return Groove(name="Trial", bpm=120, beats_a_bar=4, events=tuple(events), length_s=4.0)


def agree(page: Page, address: str, state: dict, groove: Groove) -> None:
    """Both players within −100 dB of the peak at every output."""
    seconds = groove.length_s + 2
    events = [event.model_dump(mode="json") for event in groove.events]
    notes = {event.note for event in groove.events if isinstance(event, Strike)}
    struck = {p["articulation"] for note in notes for p in state["play_head"]["notes"][note]}
    struck |= {closing["articulation"] for closing in state["play_head"]["closing"]}
    pieces = [p for p in state["play_pieces"] if struck & {a["id"] for a in p["articulations"]}]
    table = PlayTable(
        head=PlayHead.model_validate(state["play_head"]),
        pieces=tuple(PlayPiece.model_validate(p) for p in pieces),
    )
    sounds = ServedSounds(address)
    blocks = list(render(table, groove.events, sounds, length_s=seconds))
    # A take that ours did not play is silent in theirs: fetching hundreds for nothing takes longer than all the rest.
    played = {content for content, *_ in sounds.held}
    for take in (take for piece in pieces for a in piece["articulations"] for take in a["takes"]):
        if played.isdisjoint(voice["sound"]["content"] for voice in take["voices"]):
            take["voices"] = []
    asked = {"head": state["play_head"], "pieces": pieces, "events": events, "seconds": seconds}
    outputs = page.evaluate(RENDER, asked)
    used = sorted({channel.output or 1 for channel in table.head.channels if channel.into is None})
    assert [o["number"] for o in outputs] == used
    sounding = 0
    for place, output in enumerate(outputs):
        ours = np.concatenate([block.outputs[output["number"]] for block in blocks], axis=1)
        theirs = np.stack(
            [
                np.frombuffer(base64.b64decode(page.evaluate(SIDE, {"place": place, "side": side})), np.float32)
                for side in range(output["sides"])
            ]
        )
        peak = float(np.abs(ours).max())
        if peak == 0.0:
            assert not theirs.any(), f"output {output['number']} sounds in the browser alone"
            continue
        sounding += 1
        assert peak > 0.02, f"output {output['number']} is all but silent"
        difference = float(np.abs(ours - theirs[:, : ours.shape[1]]).max())
        assert 20 * np.log10(max(difference, 1e-12) / peak) <= -100, f"output {output['number']}"
    assert sounding * 2 >= len(used), "most outputs stayed silent"


def _groove(fetch, name: str) -> dict:
    card = next(g for g in json.loads(fetch("/api/grooves")) if g["name"] == name)
    found = json.loads(fetch(f"/api/grooves/{card['id']}"))
    return {key: value for key, value in found.items() if key != "id"}


STRUCK_UNTIL_SHOWN = """([pad, channel]) => {
  const p = window.zestySkin.player();
  if (p.channelPeak(channel) > 0.01) return true;
  const drawn = document.querySelector(`[data-pad="${pad}"]`);
  const { left, top, width, height } = drawn.getBoundingClientRect();
  const [clientX, clientY] = [left + width / 2, top + height / 2];
  for (const kind of ['pointerdown', 'pointerup'])
    drawn.dispatchEvent(new PointerEvent(kind, { bubbles: true, button: 0, clientX, clientY }));
}"""


def test_a_pad_sounds_on_its_output_and_on_no_other(page: Page, fetch):
    fresh(page, fetch, "Tin Lantern")
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=120_000)
    page.get_by_role("button", name="Route by plan").click()
    page.get_by_role("button", name="One output per piece", exact=True).click()
    for shared in ("Overheads", "Room"):
        page.get_by_role("button", name=f"Mute {shared}").click()
    expect(page.get_by_role("button", name="Mute Room")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_test_id("all-loaded")).to_be_attached(timeout=120_000)
    page.get_by_role("button", name="Deckhand 5").click()
    for pad, output in (("Kick", 2), ("Snare", 3)):
        quiet(page)
        listen(page)
        page.locator(f'[data-pad="{pad}"]').click()
        heard = came(page, "outputs", output)["outputs"]
        others = {number: peak for number, peak in heard.items() if int(number) != output and peak > 1e-4}
        assert not others, f"{pad} also sounded on {others}"
        # The channel's own meter still listens after the plan moved its channel. It looks back for less than a page may stall.
        channel = {"Kick": "kick-channel", "Snare": "side-snare-channel"}[pad]
        holds(page, STRUCK_UNTIL_SHOWN, [pad, channel], every_ms=200)


def test_the_groove_goes_on_while_the_kit_is_edited(page: Page, fetch):
    open_kit(page, fetch, "Tin Lantern", "rehearsal")
    expect(page.get_by_role("button", name="Start", exact=True)).to_be_visible()
    page.locator("body").click(position={"x": 700, "y": 700})
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Stop", exact=True)).to_be_visible()
    expect(page.get_by_test_id("came-in")).to_contain_text("Groove sent")
    page.keyboard.press("Alt+2")
    page.get_by_role("button", name="Other ways to split layers").click()
    page.get_by_role("menuitem", name="Split evenly").click()
    expect(page.get_by_role("button", name=re.compile("^Undo: .* split evenly"))).to_be_enabled()
    holds(page, "() => window.zestySkin.player().heard.peak() > 0.01")
    page.get_by_role("button", name="Stop Gangway March").click()
    page.get_by_role("button", name="Stop sound").click()
    quiet(page)
    page.get_by_role("button", name=re.compile("^Undo: .* split evenly")).click()
    expect(page.get_by_role("button", name=re.compile("^Redo: .* split evenly"))).to_be_enabled()
