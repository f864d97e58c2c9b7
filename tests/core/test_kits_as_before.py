"""Kits from outside and kits that are kept: what is refused, what is mended and what is said of it is what it was (tests/kept)."""

import copy
import json
from collections.abc import Iterator
from typing import Any

import numpy as np

from drumcore.edits import values as e
from drumcore.edits.applying import apply
from drumcore.kit.holding import faults
from drumcore.kit.json_form import read_json, to_json
from drumcore.kit.mending import mended
from drumcore.kit.readable import readable
from drumcore.kit.values import Kit
from drumcore.refusals import Refusal
from tests.kept import same_as_kept, short, told

SPOILED = (
    None, -1, 0, 1, 3, 127, 128, 64, 1e9, -500.0, 0.5, 1.0001, "", "gone", "kick", "snare/centre", "x" * 500, [], {}, True, "main", "air-bus",
)  # fmt: skip


def places(raw: Any, at: tuple[str | int, ...] = ()) -> Iterator[tuple[str | int, ...]]:
    parts = raw.items() if isinstance(raw, dict) else enumerate(raw) if isinstance(raw, list) else ()
    for key, part in parts:
        yield (*at, key)
        yield from places(part, (*at, key))


def spoiled(raw: dict[str, Any], rng: np.random.Generator, where: list[tuple[str | int, ...]]) -> str:
    """One place of a kit's JSON spoiled: what was done."""
    *way, last = where[int(rng.integers(len(where)))]
    holder: Any = raw
    for part in way:
        if not (
            (isinstance(holder, dict) and part in holder) or (isinstance(holder, list) and int(part) < len(holder))
        ):
            return "nothing"
        holder = holder[part]
    if not ((isinstance(holder, dict) and last in holder) or (isinstance(holder, list) and int(last) < len(holder))):
        return "nothing"
    said = ".".join(str(part) for part in (*way, last))
    how = rng.random()
    if how < 0.15:
        del holder[last]
        return f"{said} taken out"
    if how < 0.3 and isinstance(holder, list):
        holder.append(copy.deepcopy(holder[last]))
        return f"{said} twice"
    if how < 0.35 and isinstance(holder, dict):
        holder["surprise"] = 1
        return f"{said} beside a surprise"
    holder[last] = SPOILED[int(rng.integers(len(SPOILED)))]
    return f"{said} as {short(holder[last])[:40]}"


def test_kits_that_are_spoiled_are_refused_or_mended_as_they_were(rich: Kit):
    kit = rich
    for gone in ("kick", "crash-left"):
        kit = apply(kit, e.RemovePiece(piece=gone))
    for stroke in ("snare/centre", "hats/closed", "hats/open"):
        kit = apply(kit, e.RemoveLayer(articulation=stroke, layer=0))
    whole = json.loads(to_json(kit))
    # Most of a kit is recordings; most of what can be wrong with one is elsewhere.
    everywhere = [*places(whole)]
    elsewhere = [place for place in everywhere if "recordings" not in place[:-1]]
    lines: list[str] = []
    for seed in range(260):
        rng = np.random.default_rng([31, seed])
        raw = copy.deepcopy(whole)
        done = [
            spoiled(raw, rng, everywhere if rng.random() < 0.2 else elsewhere) for _ in range(int(rng.integers(1, 4)))
        ]
        lines.append(f"# {seed}: {'; '.join(done)}")
        try:
            read, notes = read_json(json.dumps(raw))
            lines += [f"  read: {note}" for note in notes]
            lines += [f"  as: {line}" for line in told(whole, json.loads(to_json(read)))]
        except Refusal as refusal:
            lines.append(f"  refused: {refusal}")
        kept, left_out = readable(raw)
        better, said = mended(kept)
        lines += [f"  left out: {one}" for one in left_out] + [f"  mended: {one}" for one in said]
        lines += [f"  kept as: {line[:240]}" for line in told(whole, json.loads(to_json(better)))][:6]
        lines += [f"  faults: {one}" for one in faults(better)]
    same_as_kept("spoiled", lines)
