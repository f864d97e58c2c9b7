"""What edits do and what is found of a kit is today what it was when somebody read it over (tests/kept)."""

from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

import numpy as np

from drumcore.edits import values as e
from drumcore.edits.applying import apply
from drumcore.edits.differing import differences
from drumcore.edits.saying import said_of
from drumcore.findings.finding import Finding
from drumcore.findings.noticing import notice
from drumcore.kit.lookup import with_piece
from drumcore.kit.values import Kit, Recording, Take
from drumcore.recordings.in_time import in_common_time, out_of_time
from drumcore.refusals import Refusal
from tests.core.clean_session import kit_of
from tests.core.test_every_rule import PLANTED
from tests.core.test_saying import ALSO, SAID
from tests.kept import same_as_kept, short, some, told

OTHERWISE: dict[str, tuple[Any, ...]] = {
    **dict.fromkeys(("piece", "articulation", "mic", "take", "other", "from_take", "stopped", "treatment"), ("nobody",)),
    **dict.fromkeys(("channel", "bus"), ("nobody", "main", "air-bus", "hats-channel")),
    "channels": (("nobody",), ("main",), ("air-bus",), ("kick-channel", "kick-channel"), ("kick-channel",)),
    "takes": ((), ("nobody",), ("t1", "t1")),
    "layer": (None, 0, 1, 3, 4),
    "above": (0, 3, 4),
    "place": (None, 0, 1, 2, 99),
    "to": (0, 1, 99, "hats/closed", "nobody", 38),
    "count": (1, 2, 5, 12, 32),
    "velocity": (1, 4, 20, 70, 120, 127),
    "low": (1, 70, 127),
    "high": (1, 30, 70, 127),
    "linked": (True, False),
    "note": (0, 36, 46, 127),
    "limit": (1, 2, 16),
    "openness": (0, 46, 126),
    "when_occupied": ("stack", "take_over", "change_places"),
    "from_note": (36, 38),
    "order": ("in_turn", "shuffled", "random", "together"),
    "name": ("Kick", "Main", "  Much   room  "),
    "output": (0, 1, 2, 17, 64),
    "plan": ("nobody", "mono-for-close", "pairs", "one-output-a-piece"),
    "level_db": (None, -120.0, 6.0),
    "early": (None, True, False),
    "on": (None, True, False),
    "side": ("left", "right", "both"),
    "by_ms": (0.0, 5.0, -500.0),
    "end_ms": (0.5, 20.0),
    "start_trim_ms": (-100.0, 200.0),
    "closed_at": (0, 127),
    "open_at": (0, 5),
    "fade_ms": (None, 5.0),
    "settled": (True, False),
    "whole": (None, True, False),
}  # fmt: skip
"""What else a field of an edit may say: names of nothing, the first and the last of some, one too many."""


def otherwise(edit: e.Edit) -> Iterator[e.Edit]:
    for field in type(edit).model_fields:
        for value in OTHERWISE.get(field, ()):
            try:
                changed = type(edit).model_validate({**edit.model_dump(), field: value})
            except ValueError:
                continue
            if changed != edit:
                yield changed


def outcomes(kit: Kit, edits: Iterable[e.Edit]) -> Iterator[str]:
    before, seen = kit.model_dump(mode="json"), set()
    for edit in edits:
        asked = ", ".join(
            f"{key} {value}" for key, value in edit.model_dump(exclude_defaults=True, mode="json").items()
        )
        if (asked, type(edit)) in seen:
            continue
        seen.add((asked, type(edit)))
        yield f"# {edit.kind}: {asked if len(asked) < 200 else '…'}"
        yield f"  {said_of(kit, edit)}"
        try:
            after = apply(kit, edit)
        except Refusal as refusal:
            yield f"  refused: {refusal}"
            continue
        yield f"  told: {' | '.join(some(differences(kit, after)))}"
        yield from some(f"    {line}" for line in told(before, after.model_dump(mode="json")))


def test_every_edit_does_what_it_did(rich: Kit):
    asked = [*SAID.values(), *(edit(rich) for _, edit in ALSO)]
    same_as_kept("edits", outcomes(rich, [*asked, *(other for edit in asked for other in otherwise(edit))]))


def shown(finding: Finding) -> Iterator[str]:
    yield f"  {finding.level.value}: {finding.title} | {finding.place}"
    yield f"    {finding.sentence}"
    yield f"    where: {short(finding.where.model_dump(mode='json', exclude_defaults=True))}"
    for mend in finding.mends:
        yield f"    mend: {mend.label} | {short(mend.edit.model_dump(mode='json', exclude_defaults=True))}"


def test_every_planted_fault_is_told_as_it_was(clean_recordings: Path):
    clean = kit_of(clean_recordings)
    lines = (
        [f"# {rule}", *(line for finding in notice(plant(clean)) for line in shown(finding))]
        for rule, plant in PLANTED.items()
    )
    same_as_kept("findings", (line for some in lines for line in some))


def test_what_edits_bring_is_found_as_it_was(rich: Kit):
    asked = [*SAID.values(), *(edit(rich) for _, edit in ALSO)]
    before = {finding.key for finding in notice(rich)}
    lines = [line for finding in notice(rich) for line in shown(finding)]
    seen: set[str] = set()
    for edit in (*asked, *(other for each in asked for other in otherwise(each))):
        try:
            found = notice(apply(rich, edit))
        except Refusal:
            continue
        for finding in found:
            told_of = "\n".join(shown(finding))
            if finding.key not in before and told_of not in seen:
                seen.add(told_of)
                lines += [f"# {said_of(rich, edit)}", *shown(finding)]
    same_as_kept("found", lines)


def perturbed(kit: Kit, seed: int) -> Kit:
    """A kit of which one piece's takes measure otherwise, each a little or a lot, in one thing or in several."""
    rng = np.random.default_rng([41, seed])
    piece = kit.pieces[seed % len(kit.pieces)]
    wild = rng.choice([0.5, 2.0, 8.0])

    def off(chance: float, spread: float) -> float:
        return float(rng.normal(0.0, spread * wild)) if rng.random() < chance else 0.0

    def recording(r: Recording) -> Recording:
        against = tuple(
            a.but(
                delay_ms=a.delay_ms + off(0.2, 1.5),
                polarity=int(rng.choice([a.polarity, -a.polarity, 0], p=[0.7, 0.2, 0.1])),
                sure=float(rng.choice([a.sure, 0.1, 0.16, 0.5])),
            )
            for a in r.against
        )
        return r.but(
            start_ms=max(0.0, r.start_ms + off(0.2, 4.0)), length_ms=max(1.0, r.length_ms * 2 ** off(0.15, 0.6)),
            level_db=r.level_db + off(0.3, 1.0), peak_dbfs=min(0.0, r.peak_dbfs + off(0.1, 12.0)),
            clipped_runs=int(rng.integers(0, 4)) if rng.random() < 0.05 else 0, dc_offset=abs(off(0.1, 0.004)),
            label_note=int(rng.integers(35, 60)) if rng.random() < 0.1 else None,
            against=against if r.mic not in piece.own_mics[:1] else r.against,
        )  # fmt: skip

    def take(t: Take) -> Take:
        recordings = tuple(recording(r) for r in t.recordings if rng.random() > 0.02)
        level = t.level_db + off(0.4, 0.8)
        return t.but(level_db=level, enabled=rng.random() > 0.05, recordings=recordings or t.recordings)

    strokes = tuple(s.but(takes=tuple(take(t) for t in s.takes)) for s in piece.articulations)
    return with_piece(kit, piece.id, lambda p: p.but(articulations=strokes))


def test_what_strays_is_found_as_it_was(clean_recordings: Path):
    clean, lines = kit_of(clean_recordings), []
    for seed in range(40):
        kit = perturbed(clean, seed)
        lines.append(f"# {seed}")
        for finding in notice(kit):
            lines += [f"  {finding.title} | {finding.sentence}", f"    {[mend.label for mend in finding.mends]}"]
        for piece, there in zip(kit.pieces, clean.pieces, strict=True):
            if piece != there:
                lines += [f"  late: {short([*where])} {late}" for where, late in out_of_time(piece).items()]
                cuts = [take.start_ms for stroke in in_common_time(piece).articulations for take in stroke.takes]
                lines.append(f"  cut at {short(cuts)}")
    same_as_kept("strayed", lines)
