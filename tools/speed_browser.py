"""The browser player's share of real time: sixteen treated channels with the maximum number of sounds."""

import json
import urllib.request
from statistics import median

from playwright.sync_api import Page
from speed_said import Say
from speed_strips import CHAIN

TREATED = 16
STRIKES = 20
"""The made-up kit's sounds come eight a strike and last 0.6 s: all 160 sound all the time."""
SECONDS = 0.5
VELOCITY = 100
RUNS = 9

RENDER = """async ([head, pieces, events, seconds]) => {
  const begin = performance.now();
  const outputs = await window.zestySkin.renderOffline(head, pieces, events, seconds);
  const peak = Math.max(...outputs.flatMap((o) => o.sides.map((s) => s.reduce((m, x) => Math.max(m, Math.abs(x)), 0))));
  return [(performance.now() - begin) / 1000, peak];
}"""


def _struck_alone(piece: dict) -> dict:
    """A piece with one articulation and only the takes that are struck, so that others need not be loaded."""
    articulation = piece["articulations"][0]
    layer = next(y for y in articulation["layers"] if y["low"] <= VELOCITY <= y["high"])
    heard = {take for step in layer["steps"] for take in step}
    takes = [take if n in heard else {**take, "voices": []} for n, take in enumerate(articulation["takes"])]
    return {**piece, "articulations": [{**articulation, "takes": takes}]}


def player(page: Page, address: str, kit: str, say: Say) -> None:
    with urllib.request.urlopen(f"{address}api/kits/{kit}") as answer:
        state = json.load(answer)
    head, struck = state["play_head"], [_struck_alone(piece) for piece in state["play_pieces"][:TREATED]]
    dumped = [{**stage.model_dump(mode="json"), "kind": stage.kind} for stage in CHAIN]
    for channel in head["channels"][:TREATED]:
        channel["treatments"] = dumped
    for note, piece in enumerate(struck):
        head["notes"][note] = [{"articulation": piece["articulations"][0]["id"], "open_from": 0, "open_to": 127}]
    events = [{"kind": "strike", "time_s": 0.0, "note": k % len(struck), "velocity": VELOCITY} for k in range(STRIKES)]
    # Loading is not part of the measurement, so it is subtracted.
    page.evaluate(RENDER, [head, struck, events, 0.004])
    shares = []
    for _ in range(RUNS):
        nothing, _ = page.evaluate(RENDER, [head, struck, events, 0.004])
        took, peak = page.evaluate(RENDER, [head, struck, events, SECONDS])
        assert peak > 0.01
        shares.append((took - nothing) / SECONDS)
    say(
        f"{TREATED} treated channels and 160 sounds in the browser / real time",
        (min(shares), median(shares), max(shares)),
        at_most=0.5,
    )
