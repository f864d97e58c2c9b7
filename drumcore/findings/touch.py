"""Findings about curves and tracking, by themselves and against recorded playing."""

import itertools
from collections.abc import Iterator, Sequence

from drumcore.edits.touch import FollowStrength, SetCurve
from drumcore.edits.values import Several
from drumcore.findings.finding import Finding, FindingLevel, Fix, Where, articulation_place, articulation_where
from drumcore.kit import values as v
from drumcore.kit.lookup import all_articulations, articulation_of, full_name, input_of, pieces_of
from drumcore.layers.dynamics import FLAT_DB, FLAT_FROM, target_of
from drumcore.layers.from_takes import layer_levels_db
from drumcore.touch.curve_changes import heard_from, lifted_to_reach, never_falling
from drumcore.touch.curves import curve_table
from drumcore.touch.layer_reach import Reach, StrikeCount, entering_curve, own_curve, reach
from drumcore.touch.tracking import articulation_tracking

WRONG, LOOK, INFO = FindingLevel.WRONG, FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION
DEAF_ABOVE = 40
"""A curve that ignores strikes harder than this ignores strikes somebody meant."""
ENOUGH_STRIKES = 40
"""From here on a layer nobody reached says something of the curve rather than of the moment."""


def _played(everything: v.Curve, own: v.Curve) -> set[int]:
    """The velocities that can result from the curve of all inputs followed by an articulation's own."""
    first, second = curve_table(everything), curve_table(own)
    return {second[first[velocity]] for velocity in range(1, 128) if first[velocity]} - {0}


def layer_never_reached(kit: v.Kit) -> Iterator[Finding]:
    """A layer that no velocity reaches through the curve of all inputs, or through one input's curve although others
    reach it.
    """
    for piece, articulation in all_articulations(kit):
        own = own_curve(piece, articulation)
        everything = _played(kit.curve, own)
        inputs = [(known, _played(known.curve, own)) for known in kit.inputs if known.curve is not None]
        for number, layer in enumerate(articulation.layers):
            if everything and not _is_reached(layer, everything):
                yield _out_of_reach(piece, articulation, number, "", _reaching(piece, articulation, kit, layer))
                continue
            for known, played in inputs:
                if played and not _is_reached(layer, played):
                    fixes = _reaching_from(known, own, layer)
                    yield _out_of_reach(piece, articulation, number, f" from {known.name}", fixes)


def _is_reached(layer: v.Layer, played: set[int]) -> bool:
    return any(layer.low <= velocity <= layer.high for velocity in played)


def _out_of_reach(
    piece: v.Piece, articulation: v.Articulation, number: int, whence: str, fixes: tuple[Fix, ...]
) -> Finding:
    layer = articulation.layers[number]
    return Finding(
        rule="layer_never_reached",
        level=LOOK,
        title=f"Layer {number + 1} is never reached{whence}",
        sentence=f"The curves of {full_name(piece, articulation)} never put out a velocity from {layer.low} to {layer.high}{whence}; "
        f"its {len(layer.takes)} takes never play.",
        place=articulation_place(piece, articulation, f"layer {number + 1}{whence}"),
        where=articulation_where("touch", piece, articulation, number),
        fixes=fixes,
    )


def _top_lifted(curve: v.Curve) -> v.Curve:
    table = curve_table(curve)
    return lifted_to_reach(curve, max(table.index(max(table)), 100))


def _reaching_from(known: v.Input, own: v.Curve, layer: v.Layer) -> tuple[Fix, ...]:
    """Fixes that let an input reach a layer: raise the top of its curve, or make the curve straight."""
    tries = (
        (f"Raise the top of the curve of input {known.name}", _top_lifted(known.curve or v.STRAIGHT)),
        (f"Make the curve of input {known.name} straight", v.STRAIGHT),
    )
    return tuple(
        Fix(label=label, edit=SetCurve(input=known.id, input_name=known.name, curve=curve))
        for label, curve in tries
        if _is_reached(layer, _played(curve, own))
    )


def _reaching(piece: v.Piece, articulation: v.Articulation, kit: v.Kit, layer: v.Layer) -> tuple[Fix, ...]:
    """Fixes that make a layer reachable: raise the top of its own curve, make that curve straight, the curve of all
    inputs, or both.
    """
    own = own_curve(piece, articulation)
    everything = SetCurve(curve=v.STRAIGHT)
    fixes = []

    def offer(label: str, comes_in: v.Curve, plays: v.Curve, edit: SetCurve | Several) -> None:
        if _is_reached(layer, _played(comes_in, plays)):
            fixes.append(Fix(label=label, edit=edit))

    if articulation.curve is not None or piece.curve is not None:
        owner, name = (articulation.id, articulation.name) if articulation.curve is not None else (piece.id, piece.name)
        lifted = _top_lifted(own)
        if max(curve_table(own)) < layer.low and lifted != own:
            offer("Raise the top of the curve to reach it", kit.curve, lifted, SetCurve(target=owner, curve=lifted))
        straight = SetCurve(target=owner, curve=v.STRAIGHT)
        offer(f"Make the curve of {name} straight", kit.curve, v.STRAIGHT, straight)
        if not fixes:
            both = Several(said=f"Make the curves of {name} and of all inputs straight", edits=(straight, everything))
            offer(f"Make the curves of {name} and of all inputs straight", v.STRAIGHT, v.STRAIGHT, both)
    if kit.curve != v.STRAIGHT:
        offer("Make the curve of all inputs straight", v.STRAIGHT, own, everything)
    return tuple(fixes)


def everything_ignored(kit: v.Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        if not _played(kit.curve, own_curve(piece, articulation)):
            target = (
                None if not any(curve_table(kit.curve)) else piece.id if articulation.curve is None else articulation.id
            )
            yield Finding(
                rule="everything_ignored",
                level=WRONG,
                title=f"{full_name(piece, articulation)} ignores every strike",
                sentence="Its curve puts out 0 for every velocity, so nothing plays.",
                place=articulation_place(piece, articulation),
                where=articulation_where("touch", piece, articulation),
                fixes=(Fix(label="Make the curve straight", edit=SetCurve(target=target, curve=v.STRAIGHT)),),
            )


def _curves(kit: v.Kit) -> Iterator[tuple[str, Where, v.Curve, SetCurve]]:
    """Every curve of a kit: its owner, where it is edited, and the edit that would set it."""
    yield "all inputs", Where(step="touch"), kit.curve, SetCurve(curve=kit.curve)
    for known in kit.inputs:
        if known.curve:
            edit = SetCurve(input=known.id, input_name=known.name, curve=known.curve)
            yield f"input {known.name}", Where(step="touch"), known.curve, edit
    for piece in pieces_of(kit):
        where = Where(step="touch", piece=piece.id)
        if piece.curve:
            yield piece.name, where, piece.curve, SetCurve(target=piece.id, curve=piece.curve)
        for articulation in piece.articulations:
            if articulation.curve:
                edit = SetCurve(target=articulation.id, curve=articulation.curve)
                yield (
                    full_name(piece, articulation),
                    articulation_where("touch", piece, articulation),
                    articulation.curve,
                    edit,
                )


def curve_falls(kit: v.Kit) -> Iterator[Finding]:
    for name, where, curve, edit in _curves(kit):
        table = curve_table(curve)
        if any(b < a for a, b in itertools.pairwise(table)):
            yield Finding(
                rule="curve_falls",
                level=LOOK,
                title=f"The curve of {name} falls",
                sentence="In part of it a harder strike plays softer.",
                place=name,
                where=where,
                fixes=(Fix(label="Raise the part that falls", edit=edit.but(curve=never_falling(curve))),),
            )


def curve_is_deaf(kit: v.Kit) -> Iterator[Finding]:
    for name, where, curve, edit in _curves(kit):
        first = next((velocity for velocity in range(1, 128) if curve_table(curve)[velocity]), None)
        if first is not None and first > DEAF_ABOVE:
            yield Finding(
                rule="curve_is_deaf",
                level=LOOK,
                title=f"The curve of {name} ignores velocities under {first}",
                sentence="Soft strikes are lost; cross-talk seldom exceeds 30.",
                place=name,
                where=where,
                fixes=(Fix(label="Set the minimum velocity to 16", edit=edit.but(curve=heard_from(curve, 16))),),
            )


def dynamics_doubled(kit: v.Kit) -> Iterator[Finding]:
    """Level follows velocity over the whole range although the layers were recorded at different levels."""
    for piece, articulation in all_articulations(kit):
        tracking, levels = articulation_tracking(piece, articulation), layer_levels_db(articulation)
        if tracking.whole and tracking.level > 0.2 and len(levels) >= 3 and max(levels) - min(levels) >= FLAT_DB:
            yield Finding(
                rule="dynamics_doubled",
                level=LOOK,
                title=f"{full_name(piece, articulation)} applies velocity twice",
                sentence=f"Its level follows velocity over the whole range, but its {len(levels)} layers were already recorded from soft to loud: soft strikes are almost inaudible.",
                place=articulation_place(piece, articulation),
                where=articulation_where("touch", piece, articulation),
                fixes=(
                    Fix(
                        label="Let level follow velocity inside layers only", edit=_following(articulation, whole=False)
                    ),
                ),
            )


def _following(articulation: v.Articulation, *, whole: bool) -> FollowStrength:
    return FollowStrength(articulation=articulation.id, whole=whole)


def hardly_louder(kit: v.Kit) -> Iterator[Finding]:
    """An articulation whose layers differ little in level, and whose level does not follow velocity."""
    for piece, articulation, rise in _nearly_flat(kit):
        if not articulation_tracking(piece, articulation).whole:
            yield Finding(
                rule="hardly_louder",
                level=LOOK,
                title=f"{full_name(piece, articulation)} hardly gets louder",
                sentence=f"Its layers are recorded about equally loud: from velocity {FLAT_FROM} to 127 it rises by "
                f"{rise:.1f} dB, where a drum rises by about 24.",
                place=articulation_place(piece, articulation),
                where=articulation_where("touch", piece, articulation),
                fixes=(
                    Fix(
                        label="Let level follow velocity over the whole range; listed as good to know",
                        edit=_following(articulation, whole=True),
                    ),
                ),
            )


def follows_the_whole_range(kit: v.Kit) -> Iterator[Finding]:
    """The same articulation when it is new: its level follows velocity because its recordings do not."""
    for piece, articulation, rise in _nearly_flat(kit):
        if articulation_tracking(piece, articulation).whole:
            yield Finding(
                rule="follows_the_whole_range",
                level=INFO,
                title=f"{full_name(piece, articulation)} has its level follow velocity over the whole range",
                sentence="Its layers are recorded about equally loud, so this was set automatically; inside its "
                f"layers it would rise by only {rise:.1f} dB.",
                place=articulation_place(piece, articulation),
                where=articulation_where("touch", piece, articulation),
                fixes=(
                    Fix(
                        label="Let level follow velocity inside its layers; it then hardly gets louder",
                        edit=_following(articulation, whole=False),
                    ),
                ),
            )


def _nearly_flat(kit: v.Kit) -> Iterator[tuple[v.Piece, v.Articulation, float]]:
    for piece, articulation in all_articulations(kit):
        target = target_of(articulation)
        if target is not None and target.is_flat():
            yield piece, articulation, target.rise_db()


def noticed_of_strikes(kit: v.Kit, shown_id: str, strikes: Sequence[StrikeCount]) -> tuple[Reach, tuple[Finding, ...]]:
    """Where recorded strikes on an articulation's piece landed (other strikes are ignored), and what that says about
    the curves.
    """
    piece, articulation = articulation_of(kit, shown_id)
    of_piece = {a.id for a in piece.articulations}
    found = reach(kit, [s for s in strikes if s.articulation in of_piece], articulation)
    own = {s.input for s in strikes if s.articulation == shown_id}
    ours = reach(kit, [s for s in strikes if s.articulation == shown_id], articulation)
    if ours.total < ENOUGH_STRIKES:
        return found, ()
    highest = max((n for n, times in enumerate(ours.layers) if times), default=None)
    findings = []
    for number, layer in enumerate(articulation.layers):
        if highest is None or number <= highest:
            continue
        findings.append(
            Finding(
                rule="strikes_never_reach",
                level=LOOK,
                title=f"Layer {number + 1} was never reached",
                sentence=f"Your hardest of {ours.total} strikes came in at {ours.hardest_in} and plays at "
                f"{ours.hardest_plays}; layer {number + 1} begins at {layer.low}.",
                place=articulation_place(piece, articulation, f"layer {number + 1}"),
                where=articulation_where("touch", piece, articulation, number),
                fixes=_lifting(piece, articulation, kit, own, ours.hardest_in),
            )
        )
        break
    return found, tuple(findings)


def _lifting(
    piece: v.Piece, articulation: v.Articulation, kit: v.Kit, inputs: set[str], hardest: int
) -> tuple[Fix, ...]:
    fixes = []
    entering = hardest
    if len(inputs) == 1:
        input_id = next(iter(inputs))
        known = input_of(kit, input_id)
        comes_in = entering_curve(kit, input_id)
        entering = curve_table(comes_in)[hardest]
        edit = SetCurve(
            input=input_id, input_name=known.name if known else None, curve=lifted_to_reach(comes_in, hardest)
        )
        fixes.append(Fix(label="Raise the top of this input’s curve", edit=edit))
    owner = articulation.id if articulation.curve else piece.id
    own = lifted_to_reach(own_curve(piece, articulation), max(1, entering))
    fixes.append(Fix(label=f"Raise the top of the curve of {piece.name}", edit=SetCurve(target=owner, curve=own)))
    return tuple(fixes)


RULES = (
    everything_ignored,
    layer_never_reached,
    curve_falls,
    curve_is_deaf,
    dynamics_doubled,
    hardly_louder,
    follows_the_whole_range,
)
