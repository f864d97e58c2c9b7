"""A kit's JSON spoiled at random: from outside it is a kit or a sentence, from the studio's own store it always opens."""

import copy
import json
from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest

from drumcore.edits import values as e
from drumcore.edits.apply import apply
from drumcore.kit.invariants import faults
from drumcore.kit.json_form import read_json, to_json
from drumcore.kit.lenient_reading import readable
from drumcore.kit.repairs import fixed
from drumcore.kit.values import Kit
from drumcore.playing.compiler import compile_kit
from drumcore.refusals import Refusal

SPOILED = (
    None, -1, 0, 1, 3, 127, 128, 1e9, -500.0, 0.5, "", "gone", "kick", "snare/centre", "x" * 500, [], {}, True, "main", "air-bus",
)  # fmt: skip
Place = tuple[str | int, ...]


@pytest.fixture(scope="module")
def whole(rich: Kit) -> dict[str, Any]:
    """Something of everything, as small as that can be."""
    kit = rich
    for gone in ("kick", "crash-left"):
        kit = apply(kit, e.RemovePiece(piece=gone))
    for articulation in ("snare/centre", "hats/closed", "hats/open"):
        kit = apply(kit, e.RemoveLayer(articulation=articulation, layer=0))
    found: dict[str, Any] = json.loads(to_json(kit))
    return found


def places(raw: Any, at: Place = ()) -> Iterator[Place]:
    parts = raw.items() if isinstance(raw, dict) else enumerate(raw) if isinstance(raw, list) else ()
    for key, part in parts:
        yield (*at, key)
        yield from places(part, (*at, key))


def spoil(raw: dict[str, Any], rng: np.random.Generator, where: list[Place]) -> Place:
    """Spoil one place that is there: it goes, stands twice, gets company or another value."""
    *way, last = where[int(rng.integers(len(where)))]
    holder: Any = raw
    for part in way:
        holder = holder[part]
    how = rng.random()
    if how < 0.15:
        del holder[last]
    elif how < 0.3 and isinstance(holder, list):
        holder.append(copy.deepcopy(holder[last]))
    elif how < 0.35 and isinstance(holder, dict):
        holder["surprise"] = 1
    else:
        holder[last] = SPOILED[int(rng.integers(len(SPOILED)))]
    return (*way, last)


@pytest.mark.parametrize("block", range(4))
def test_a_spoiled_kit_is_refused_in_a_sentence_or_holds_together_and_a_stored_one_always_opens(whole, block: int):
    everywhere = [*places(whole)]
    # Most of a kit is recordings; most of what can be wrong with one is elsewhere.
    elsewhere = [place for place in everywhere if "recordings" not in place[:-1]]
    refused = opened = 0
    for seed in range(60):
        rng = np.random.default_rng([31, block, seed])
        raw = copy.deepcopy(whole)
        place = spoil(raw, rng, everywhere if rng.random() < 0.2 else elsewhere)
        try:
            kit, _ = read_json(json.dumps(raw), "Quay.zestykit")
        except Refusal as refusal:
            refused += 1
            assert str(refusal).startswith("Quay.zestykit ") and str(refusal).endswith((".", "…"))
        else:
            opened += 1
            assert not list(faults(kit)) and read_json(to_json(kit))[0] == kit
            compile_kit(kit)
        kept, left_out = readable(raw)
        better, said = fixed(kept)
        assert not list(faults(better)), place
        compile_kit(better)
        _untouched_is_as_it_was(whole, better, place, said=bool(left_out or said))
    assert refused > 10 and opened > 10, "both happen, or this tells nothing"


def _untouched_is_as_it_was(whole: dict[str, Any], kit: Kit, place: Place, *, said: bool) -> None:
    """Where one piece or microphone was spoiled, the others are what they were; what was left out was said."""
    after = json.loads(to_json(kit))
    if place[0] == "pieces" and len(place) > 3:
        spoiled = whole["pieces"][place[1]]["id"]
        there = {piece["id"]: piece for piece in after["pieces"]}
        for piece in whole["pieces"]:
            if piece["id"] != spoiled:
                takes = [[a["takes"] for a in each["articulations"]] for each in (there[piece["id"]], piece)]
                assert takes[0] == takes[1]
        lost = len(after["pieces"]) < len(whole["pieces"])
        assert said or not lost, "a piece that is disabled is told of"
