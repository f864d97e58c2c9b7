"""Ways in which a kit from outside may contradict itself, each with words of the sentence that refuses it."""

import json
from collections.abc import Callable
from typing import Any

Change = Callable[[dict[str, Any]], None]


def articulation(kit: dict[str, Any]) -> dict[str, Any]:
    return next(p for p in kit["pieces"] if p["id"] == "snare")["articulations"][0]


def _set(holder: Any, **values: object) -> None:
    holder.update(values)


CONTRADICTIONS: dict[str, tuple[Change, str]] = {
    "a layer names no take": (
        lambda k: articulation(k)["layers"][0]["takes"].append("t99"),
        "names a take that does not exist",
    ),
    "a take stands in two layers": (
        lambda k: articulation(k)["layers"][1]["takes"].append(articulation(k)["layers"][0]["takes"][0]),
        "which is already in a layer",
    ),
    "two takes of one name": (
        lambda k: _set(articulation(k)["takes"][1], id="t1"),
        "Two takes of centre are both called “t1”",
    ),
    "a recording of no microphone": (
        lambda k: _set(articulation(k)["takes"][0]["recordings"][0], mic="gone"),
        "uses a microphone that the kit does not have",
    ),
    "two recordings of one microphone": (
        lambda k: _set(articulation(k)["takes"][0]["recordings"][1], mic="snare-mic"),
        "two recordings from one microphone",
    ),
    "an own microphone that is not there": (lambda k: _set(k["pieces"][0], own_mics=["gone"]), "does not have"),
    "a take without recordings": (lambda k: _set(articulation(k)["takes"][0], recordings=[]), "has no recording"),
    "a feed to no channel": (lambda k: _set(k["routing"]["feeds"][0], channel="gone"), "names a channel that does not"),
    "a feed of no piece": (lambda k: _set(k["routing"]["feeds"][0], piece="gone"), "names a piece that does not exist"),
    "a feed of no microphone": (
        lambda k: _set(k["routing"]["feeds"][0], mic="gone"),
        "a microphone that does not exist",
    ),
    "a feed twice": (
        lambda k: k["routing"]["feeds"].append(k["routing"]["feeds"][0]),
        "feeds the channel “kick-channel” twice",
    ),
    "a channel twice": (lambda k: k["routing"]["channels"].append(k["routing"]["channels"][0]), "Two channels"),
    "an output twice": (lambda k: k["routing"]["outputs"].append(k["routing"]["outputs"][0]), "Two outputs"),
    "a microphone twice": (lambda k: k["mics"].append(k["mics"][0]), "Two microphones"),
    "a piece twice": (lambda k: k["pieces"].append(k["pieces"][0]), "Two pieces are both called “kick”"),
    "an articulation twice": (
        lambda k: k["pieces"].append({**k["pieces"][0], "id": "kick-2"}),
        "Two articulations are both called “kick/centre”",
    ),
    "a note to no articulation": (
        lambda k: _set(k["notes"]["placed"][0], articulation="gone"),
        "plays an articulation that does not",
    ),
    "a note from open to shut": (lambda k: _set(k["notes"]["placed"][0], open_from=90, open_to=3), "90 down to 3"),
    "a silence of no articulation": (
        lambda k: articulation(k)["chokes"].append({"articulation": "gone", "fade_ms": 9.0}),
        "chokes an articulation that does not exist",
    ),
    "a send into no bus": (
        lambda k: _set(k["routing"]["channels"][0], sends=[{"bus": "gone"}]),
        "goes into a bus that does not exist",
    ),
    "a bus feedback loop": (
        lambda k: _set(
            k["routing"],
            buses=[{"id": "a", "name": "A", "sends": [{"bus": "b"}]}, {"id": "b", "name": "B", "bus": "a"}],
        ),
        "feedback loop",
    ),
    "a channel that goes to two places": (
        lambda k: _set(
            k["routing"],
            buses=[{"id": "a", "name": "A"}],
            channels=[{**k["routing"]["channels"][0], "bus": "a", "output": 1}, *k["routing"]["channels"][1:]],
        ),
        "it goes to one place",
    ),
    "a bus called like a channel": (
        lambda k: _set(k["routing"], buses=[{"id": "kick-channel", "name": "Kick"}]),
        "Two channels",
    ),
    "main into a bus": (
        lambda k: _set(k["routing"], buses=[{"id": "a", "name": "A"}], main={"id": "main", "name": "Main", "bus": "a"}),
        "The main mix goes into a bus",
    ),
    "two sends into one bus": (
        lambda k: _set(
            k["routing"],
            buses=[{"id": "a", "name": "A"}],
            channels=[{**c, "sends": [{"bus": "a"}, {"bus": "a"}]} for c in k["routing"]["channels"]],
        ),
        "Two sends of",
    ),
    "a channel heard through a space": (
        lambda k: _set(k["routing"], channels=[{**c, "space": {"kind": "hall"}} for c in k["routing"]["channels"]]),
        "but only buses can",
    ),
    "a rate no recorder has": (lambda k: _set(k, rate_hz=50_000), "rate_hz"),
    "a layer upside down": (
        lambda k: _set(articulation(k)["layers"][0], low=90, high=3),
        "cannot run from 90 down to 3",
    ),
    "a level without end": (lambda k: _set(articulation(k)["takes"][0], level_db=1e300), "level_db"),
    "no number": (lambda k: _set(articulation(k)["takes"][0], level_db=float("nan")), "not valid JSON"),
    "infinity": (lambda k: _set(k["routing"]["main"], level_db=float("-inf")), "not valid JSON"),
    "half a character": (lambda k: _set(k["pieces"][0], name="Kick \ud800"), "not valid JSON"),
    "a million pieces": (
        lambda k: _set(k, pieces=[{"id": "a", "name": "a", "family": "kick", "articulations": []}] * 1_000_000),
        "larger than any",
    ),
    "twenty thousand pieces": (
        lambda k: _set(k, pieces=[{"id": "a", "name": "a", "family": "kick", "articulations": []}] * 20_000),
        "at most 1,000",
    ),
}


def contradicting(kit_json: str | bytes, change: Change) -> bytes:
    kit = json.loads(kit_json)
    change(kit)
    return json.dumps(kit).encode()
