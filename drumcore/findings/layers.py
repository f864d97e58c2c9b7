"""Findings about layers: gaps, overlaps, uneven levels, and takes that stand out."""

import itertools
from collections.abc import Iterator
from itertools import islice

from drumcore.edits.layers import (
    CloseGaps,
    EndOverlaps,
    EvenOutLayers,
    MatchTakeLevels,
    MergeLayers,
    RemoveLayer,
    SetLayer,
    SortLayers,
    SplitByLoudness,
    SplitLayer,
)
from drumcore.edits.takes import MoveTakes, TrimTakes
from drumcore.edits.touch import FollowStrength
from drumcore.findings.finding import Finding, FindingLevel, Fix, articulation_place, articulation_where, fix, that_help
from drumcore.kit.lookup import all_articulations, articulation_of, full_name
from drumcore.kit.memoization import remembered
from drumcore.kit.values import Articulation, Kit, Mic, Piece, Take
from drumcore.layers.dynamics import greatest_fall, layers_at, played_db
from drumcore.layers.from_takes import enabled_takes, layer_levels_db, played_level_db
from drumcore.layers.level_matching import MOST_TRIM_DB
from drumcore.layers.splits import MIN_WIDTH, layer_level_db, spread_db
from drumcore.layers.unevenness import MOST_SPREAD_DB, STANDS_OUT_DB, is_narrow, layer_spread_db, unanswered
from drumcore.touch.tracking import articulation_tracking

STEP = "layers"
OFTEN_PLAYED = 24
WRONG, LOOK, INFO = FindingLevel.WRONG, FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION


def _range(low: int, high: int) -> str:
    return f"{low}" if low == high else f"{low} to {high}"


def gap(kit: Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        for stretch in unanswered(articulation.layers):
            low, high = stretch.low, stretch.high
            below = [n for n, layer in enumerate(articulation.layers) if layer.high == low - 1]
            fixes = (
                Fix(label="Close the gap", edit=CloseGaps(articulation=articulation.id)),
                Fix(label="Split by loudness", edit=SplitByLoudness(articulation=articulation.id)),
            )
            yield Finding(
                rule="gap",
                level=WRONG,
                title=f"Nothing plays from {_range(low, high)}",
                sentence=f"{full_name(piece, articulation)} has no layer for velocities {_range(low, high)}; strikes there are "
                "silent.",
                place=articulation_place(piece, articulation, f"velocity {_range(low, high)}"),
                where=articulation_where(STEP, piece, articulation, below[0] if below else None),
                fixes=fixes if articulation.layers else (),
            )


def overlap(kit: Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        for number, (a, b) in enumerate(zip(articulation.layers, articulation.layers[1:], strict=False)):
            if b.low <= a.high:
                fixes = (
                    Fix(label="End the overlap", edit=EndOverlaps(articulation=articulation.id)),
                    Fix(label="Split by loudness", edit=SplitByLoudness(articulation=articulation.id)),
                )
                yield Finding(
                    rule="overlap",
                    level=WRONG,
                    title=f"Two layers play from {_range(b.low, min(a.high, b.high))}",
                    sentence=f"Layers {number + 1} and {number + 2} of {full_name(piece, articulation)} overlap; strikes there play both layers and are too loud.",
                    place=articulation_place(piece, articulation, f"layer {number + 1}"),
                    where=articulation_where(STEP, piece, articulation, number),
                    fixes=fixes,
                )


def narrow(kit: Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        for number, layer in enumerate(articulation.layers):
            width = layer.high - layer.low + 1
            if is_narrow(layer) and len(articulation.layers) * MIN_WIDTH <= 127:
                yield Finding(
                    rule="narrow_layer",
                    level=LOOK,
                    title=f"Layer {number + 1} has {width} {'velocity' if width == 1 else 'velocities'}",
                    sentence=f"Layer {number + 1} of {full_name(piece, articulation)} covers only {_range(layer.low, layer.high)}; "
                    "it is hardly ever heard.",
                    place=articulation_place(piece, articulation, f"layer {number + 1}"),
                    where=articulation_where(STEP, piece, articulation, number),
                    fixes=(
                        Fix(label="Split by loudness", edit=SplitByLoudness(articulation=articulation.id)),
                        *_merging(articulation, number),
                    ),
                )


def not_rising(kit: Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        levels = layer_levels_db(articulation)
        for number, (a, b) in enumerate(itertools.pairwise(levels)):
            if b <= a:
                yield Finding(
                    rule="not_rising",
                    level=LOOK,
                    title=f"Layer {number + 2} is no louder than layer {number + 1}",
                    sentence=f"In {full_name(piece, articulation)} layer {number + 2} measures {b:.1f} dB and layer {number + 1} "
                    f"{a:.1f} dB; a harder strike is no louder there.",
                    place=articulation_place(piece, articulation, f"layer {number + 2}"),
                    where=articulation_where(STEP, piece, articulation, number + 1),
                    fixes=_rising(articulation, levels),
                )


def _rising(articulation: Articulation, levels: list[float]) -> tuple[Fix, ...]:
    sort = Fix(label="Sort the layers by loudness", edit=SortLayers(articulation=articulation.id))
    climb = Fix(label="Adjust take levels so that layers get louder", edit=EvenOutLayers(articulation=articulation.id))
    can_climb = len(levels) > 2 and levels[-1] > levels[0] and min(levels) > -100.0
    # Layers of equal loudness count as in order.
    return (*((sort,) if levels != sorted(levels) else ()), *((climb,) if can_climb else ()))


def harder_plays_softer(kit: Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        tracking = articulation_tracking(piece, articulation)
        fall = greatest_fall(played_db(articulation, tracking))
        if fall is None:
            continue
        falling = sorted({*layers_at(articulation, tracking, fall.at), *layers_at(articulation, tracking, fall.to)})
        layers = " and ".join(f"{number + 1}" for number in falling)
        yield Finding(
            rule="harder_plays_softer",
            level=LOOK,
            title=f"Harder plays softer, by {fall.by_db:.1f} dB",
            sentence=f"In {full_name(piece, articulation)} a strike at {fall.to} plays {fall.by_db:.1f} dB softer than one at "
            f"{fall.at}, in layer{'s' if len(falling) > 1 else ''} {layers}; a crescendo drops there.",
            place=articulation_place(piece, articulation),
            where=articulation_where(STEP, piece, articulation, falling[-1] if falling else None),
            fixes=_fixing_the_fall(piece, articulation.id, kit.mics),
        )


@remembered(limit=2000)
def _fixing_the_fall(piece: Piece, articulation_id: str, mics: tuple[Mic, ...]) -> tuple[Fix, ...]:
    """Fixes that make an articulation rise with velocity: two that work alone, or if none does, one that combines
    several edits. They are tried on a kit of this piece alone, and again only when it has changed.
    """
    alone = Kit(id="alone", name="Alone", mics=mics, pieces=(piece,))
    articulation = articulation_of(alone, articulation_id)[1]
    sort, end = SortLayers(articulation=articulation.id), EndOverlaps(articulation=articulation.id)
    inside = FollowStrength(articulation=articulation.id, whole=False)
    plain = [
        SetLayer(articulation=articulation.id, layer=n, gain_db=0.0)
        for n, x in enumerate(articulation.layers)
        if x.gain_db
    ]
    singly = [
        fix("Sort the layers by loudness", sort),
        fix("End the overlap", end),
        *([fix("Reset the layers’ levels", *plain)] if plain else []),
        fix("Adjust take levels so that layers get louder", EvenOutLayers(articulation=articulation.id)),
        fix("Let level follow velocity inside its layers", inside),
    ]
    together = [
        fix("End the overlap and sort the layers", end, sort),
        fix("Sort the layers and reset their levels", *plain, sort),
        fix("End the overlap, sort the layers and reset their levels", end, *plain, sort),
        fix("Rebuild its layers by loudness", *plain, sort, SplitByLoudness(articulation=articulation.id), inside),
    ]

    def rises(after: Kit) -> bool:
        piece, changed = articulation_of(after, articulation.id)
        return greatest_fall(played_db(changed, articulation_tracking(piece, changed))) is None

    return tuple(islice(that_help(alone, singly, rises), 2)) or tuple(islice(that_help(alone, together, rises), 1))


def _merging(articulation: Articulation, number: int) -> tuple[Fix, ...]:
    """Merges a layer with the one above it (the hardest with the one below) and says how far apart the takes then are."""
    if len(articulation.layers) < 2:
        return ()
    below = min(number, len(articulation.layers) - 2)
    other = below + 1 if below == number else below
    merge = MergeLayers(articulation=articulation.id, layer=below)
    together = [
        played_level_db(t) for n in (below, below + 1) for t in enabled_takes(articulation, articulation.layers[n])
    ]
    spread = spread_db(together) if together else 0.0
    then = f"; the level spread is then {spread:.1f} dB" if spread > MOST_SPREAD_DB else ""
    return (Fix(label=f"Merge it with layer {other + 1}{then}", edit=merge),)


def stands_out(kit: Kit) -> Iterator[Finding]:
    """A take far from the median of the other takes in its layer. If no single take explains the layer's spread, the
    spread itself is named.
    """
    for piece, articulation in all_articulations(kit):
        for number, layer in enumerate(articulation.layers):
            takes = enabled_takes(articulation, layer)
            spread = layer_spread_db(articulation, layer)
            if len(takes) < 2 or spread <= MOST_SPREAD_DB:
                continue
            outlier = None
            for take in takes:
                others = [played_level_db(t) for t in takes if t is not take]
                off = played_level_db(take) - layer_level_db(others)
                if len(others) >= 2 and abs(off) > STANDS_OUT_DB and spread_db(others) <= MOST_SPREAD_DB:
                    outlier = (take, off, spread_db(others))
            place = articulation_place(piece, articulation, f"layer {number + 1}")
            if outlier is None:
                yield Finding(
                    rule="spread",
                    level=LOOK,
                    title=f"Layer {number + 1} has a level spread of {spread:.1f} dB",
                    sentence=f"The takes of layer {number + 1} of {full_name(piece, articulation)} differ by {spread:.1f} dB; a roll "
                    "would jump in level.",
                    place=place,
                    where=articulation_where(STEP, piece, articulation, number),
                    fixes=(
                        Fix(
                            label="Match take levels", edit=MatchTakeLevels(articulation=articulation.id, layer=number)
                        ),
                        Fix(label="Split the layer", edit=SplitLayer(articulation=articulation.id, layer=number)),
                    ),
                )
                continue
            take, off, rest = outlier
            yield Finding(
                rule="stands_out",
                level=LOOK,
                title=f"Take {take.label} stands out by {abs(off):.1f} dB",
                sentence=f"The other takes of layer {number + 1} of {full_name(piece, articulation)} lie within {rest:.1f} dB; a "
                "roll would jump.",
                place=f"{place} · take {take.label}",
                where=articulation_where(STEP, piece, articulation, number, take),
                fixes=(
                    *_levelled(articulation, take, take.gain_db - off, "Match its level"),
                    *_moved(articulation, take, number),
                    Fix(
                        label="Disable take",
                        edit=TrimTakes(articulation=articulation.id, takes=(take.id,), enabled=False),
                    ),
                ),
            )


def _levelled(articulation: Articulation, take: Take, gain_db: float, label: str) -> tuple[Fix, ...]:
    """Trims a take to the layer's level; no fix if that needs more than a trim can give, as for a silent recording."""
    if abs(gain_db) > MOST_TRIM_DB:
        return ()
    return (
        Fix(label=label, edit=TrimTakes(articulation=articulation.id, takes=(take.id,), gain_db=round(gain_db, 2))),
    )


def _moved(articulation: Articulation, take: Take, number: int) -> tuple[Fix, ...]:
    """Moves a take to the layer nearest in level, if that is another one."""
    apart = [abs(level - played_level_db(take)) for level in layer_levels_db(articulation)]
    nearest = apart.index(min(apart))
    if nearest == number or apart[nearest] > MOST_SPREAD_DB:
        return ()
    move = MoveTakes(articulation=articulation.id, takes=(take.id,), layer=nearest)
    return (Fix(label=f"Move it to layer {nearest + 1}", edit=move),)


def single_take(kit: Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        for number, layer in enumerate(articulation.layers):
            if len(enabled_takes(articulation, layer)) == 1 and layer.high - layer.low + 1 >= OFTEN_PLAYED:
                yield Finding(
                    rule="single_take",
                    level=INFO,
                    title=f"Layer {number + 1} has one take",
                    sentence=f"Every strike of {full_name(piece, articulation)} at {_range(layer.low, layer.high)} repeats one "
                    "recording; two or more sound less mechanical.",
                    place=articulation_place(piece, articulation, f"layer {number + 1}"),
                    where=articulation_where(STEP, piece, articulation, number),
                    fixes=_merging(articulation, number),
                )


def empty_layer(kit: Kit) -> Iterator[Finding]:
    for piece, articulation in all_articulations(kit):
        for number, layer in enumerate(articulation.layers):
            if not enabled_takes(articulation, layer):
                bring = (
                    TrimTakes(articulation=articulation.id, takes=layer.takes, enabled=True) if layer.takes else None
                )
                back = (Fix(label="Enable its takes", edit=bring),) if bring else ()
                yield Finding(
                    rule="empty_layer",
                    level=WRONG,
                    title=f"Layer {number + 1} has no enabled take",
                    sentence=f"{full_name(piece, articulation)} is silent at {_range(layer.low, layer.high)}: all takes of that layer are disabled.",
                    place=articulation_place(piece, articulation, f"layer {number + 1}"),
                    where=articulation_where(STEP, piece, articulation, number),
                    fixes=(
                        *back,
                        *(
                            [
                                Fix(
                                    label="Delete the layer",
                                    edit=RemoveLayer(articulation=articulation.id, layer=number),
                                )
                            ]
                            if len(articulation.layers) > 1
                            else []
                        ),
                    ),
                )


RULES = (gap, overlap, empty_layer, stands_out, narrow, harder_plays_softer, not_rising, single_take)
