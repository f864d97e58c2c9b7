"""What is wrong with layers: gaps, overlaps, uneven levels, takes that give the trick away."""

import itertools
from collections.abc import Iterator
from itertools import islice

from drumcore.edits.layers import (
    ClimbEvenly,
    CloseGaps,
    DivideLayer,
    EndOverlaps,
    LevelTakes,
    MergeLayers,
    RemoveLayer,
    SetLayer,
    SortLayers,
    SplitByLoudness,
)
from drumcore.edits.takes import MoveTakes, TrimTakes
from drumcore.edits.touch import FollowStrength
from drumcore.findings.finding import Finding, FindingLevel, Mend, mend, stroke_place, stroke_where, that_help
from drumcore.kit.lookup import articulation_of, articulations, full_name
from drumcore.kit.values import Articulation, Kit, Take
from drumcore.layers.dynamics import greatest_fall, layers_at, played_db
from drumcore.layers.from_takes import enabled_takes, layer_levels_db, played_level_db
from drumcore.layers.level_matching import MOST_TRIM_DB
from drumcore.layers.splits import MIN_WIDTH, layer_level_db, spread_db
from drumcore.layers.unevenness import MOST_SPREAD_DB, STANDS_OUT_DB, is_narrow, layer_spread_db, unanswered
from drumcore.touch.tracking import stroke_tracking

STEP = "layers"
OFTEN_PLAYED = 24
WRONG, LOOK, INFO = FindingLevel.WRONG, FindingLevel.WORTH_A_LOOK, FindingLevel.INFORMATION


def _range(low: int, high: int) -> str:
    return f"{low}" if low == high else f"{low} to {high}"


def gap(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        for stretch in unanswered(stroke.layers):
            low, high = stretch.low, stretch.high
            below = [n for n, layer in enumerate(stroke.layers) if layer.high == low - 1]
            mends = (
                Mend(label="Close the gap", edit=CloseGaps(articulation=stroke.id)),
                Mend(label="Split by loudness", edit=SplitByLoudness(articulation=stroke.id)),
            )
            yield Finding(
                rule="gap",
                level=WRONG,
                title=f"Nothing plays from {_range(low, high)}",
                sentence=f"{full_name(piece, stroke)} has no layer for velocities {_range(low, high)}; strikes there are "
                "silent.",
                place=stroke_place(piece, stroke, f"velocity {_range(low, high)}"),
                where=stroke_where(STEP, piece, stroke, below[0] if below else None),
                mends=mends if stroke.layers else (),
            )


def overlap(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        for number, (a, b) in enumerate(zip(stroke.layers, stroke.layers[1:], strict=False)):
            if b.low <= a.high:
                mends = (
                    Mend(label="End the overlap", edit=EndOverlaps(articulation=stroke.id)),
                    Mend(label="Split by loudness", edit=SplitByLoudness(articulation=stroke.id)),
                )
                yield Finding(
                    rule="overlap",
                    level=WRONG,
                    title=f"Two layers play from {_range(b.low, min(a.high, b.high))}",
                    sentence=f"Layers {number + 1} and {number + 2} of {full_name(piece, stroke)} overlap; strikes there "
                    "sound twice and too loud.",
                    place=stroke_place(piece, stroke, f"layer {number + 1}"),
                    where=stroke_where(STEP, piece, stroke, number),
                    mends=mends,
                )


def narrow(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        for number, layer in enumerate(stroke.layers):
            width = layer.high - layer.low + 1
            if is_narrow(layer) and len(stroke.layers) * MIN_WIDTH <= 127:
                yield Finding(
                    rule="narrow_layer",
                    level=LOOK,
                    title=f"Layer {number + 1} has {width} velocities",
                    sentence=f"Layer {number + 1} of {full_name(piece, stroke)} answers only {_range(layer.low, layer.high)}; "
                    "it will hardly ever be heard.",
                    place=stroke_place(piece, stroke, f"layer {number + 1}"),
                    where=stroke_where(STEP, piece, stroke, number),
                    mends=(
                        Mend(label="Split by loudness", edit=SplitByLoudness(articulation=stroke.id)),
                        *_merging(stroke, number),
                    ),
                )


def not_rising(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        levels = layer_levels_db(stroke)
        for number, (a, b) in enumerate(itertools.pairwise(levels)):
            if b <= a:
                yield Finding(
                    rule="not_rising",
                    level=LOOK,
                    title=f"Layer {number + 2} is no louder than layer {number + 1}",
                    sentence=f"In {full_name(piece, stroke)} layer {number + 2} measures {b:.1f} dB and layer {number + 1} "
                    f"{a:.1f} dB; hitting harder gets no louder there.",
                    place=stroke_place(piece, stroke, f"layer {number + 2}"),
                    where=stroke_where(STEP, piece, stroke, number + 1),
                    mends=_rising(stroke, levels),
                )


def _rising(stroke: Articulation, levels: list[float]) -> tuple[Mend, ...]:
    sort = Mend(label="Sort the layers by loudness", edit=SortLayers(articulation=stroke.id))
    climb = Mend(label="Trim them to climb", edit=ClimbEvenly(articulation=stroke.id))
    can_climb = len(levels) > 2 and levels[-1] > levels[0] and min(levels) > -100.0
    # Layers that are equally loud are in order already.
    return (*((sort,) if levels != sorted(levels) else ()), *((climb,) if can_climb else ()))


def harder_plays_softer(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        tracking = stroke_tracking(piece, stroke)
        fall = greatest_fall(played_db(stroke, tracking))
        if fall is None:
            continue
        falling = sorted({*layers_at(stroke, tracking, fall.at), *layers_at(stroke, tracking, fall.to)})
        layers = " and ".join(f"{number + 1}" for number in falling)
        yield Finding(
            rule="harder_plays_softer",
            level=LOOK,
            title=f"Harder plays softer, by {fall.by_db:.1f} dB",
            sentence=f"In {full_name(piece, stroke)} a strike at {fall.to} plays {fall.by_db:.1f} dB softer than one at "
            f"{fall.at}, in layer{'s' if len(falling) > 1 else ''} {layers}; a crescendo would drop there.",
            place=stroke_place(piece, stroke),
            where=stroke_where(STEP, piece, stroke, falling[-1] if falling else None),
            mends=_mending_the_fall(kit, stroke),
        )


def _mending_the_fall(kit: Kit, stroke: Articulation) -> tuple[Mend, ...]:
    """Two of what brings a stroke to rise by itself; where nothing does, what does together."""
    sort, end = SortLayers(articulation=stroke.id), EndOverlaps(articulation=stroke.id)
    inside = FollowStrength(articulation=stroke.id, whole=False)
    plain = [SetLayer(articulation=stroke.id, layer=n, gain_db=0.0) for n, x in enumerate(stroke.layers) if x.gain_db]
    singly = [
        mend("Sort the layers by loudness", sort),
        mend("End the overlap", end),
        *([mend("Take the layers’ own levels away", *plain)] if plain else []),
        mend("Trim them to climb", ClimbEvenly(articulation=stroke.id)),
        mend("Follow strength inside its layers", inside),
    ]
    together = [
        mend("End the overlap and sort the layers", end, sort),
        mend("Sort the layers and take their own levels away", *plain, sort),
        mend("End the overlap, sort the layers and take their own levels away", end, *plain, sort),
        mend("Lay its layers out anew by loudness", *plain, sort, SplitByLoudness(articulation=stroke.id), inside),
    ]

    def rises(after: Kit) -> bool:
        piece, changed = articulation_of(after, stroke.id)
        return greatest_fall(played_db(changed, stroke_tracking(piece, changed))) is None

    return tuple(islice(that_help(kit, singly, rises), 2)) or tuple(islice(that_help(kit, together, rises), 1))


def _merging(stroke: Articulation, number: int) -> tuple[Mend, ...]:
    """Merging a layer with the one above it; the hardest with the one below. How far its takes then lie apart is said."""
    if len(stroke.layers) < 2:
        return ()
    below = min(number, len(stroke.layers) - 2)
    other = below + 1 if below == number else below
    merge = MergeLayers(articulation=stroke.id, layer=below)
    together = [played_level_db(t) for n in (below, below + 1) for t in enabled_takes(stroke, stroke.layers[n])]
    spread = spread_db(together) if together else 0.0
    then = f"; its takes then spread over {spread:.1f} dB" if spread > MOST_SPREAD_DB else ""
    return (Mend(label=f"Merge it with layer {other + 1}{then}", edit=merge),)


def stands_out(kit: Kit) -> Iterator[Finding]:
    """A take far from the median of its layer's others; the layer's spread is named when no single take explains it."""
    for piece, stroke in articulations(kit):
        for number, layer in enumerate(stroke.layers):
            takes = enabled_takes(stroke, layer)
            spread = layer_spread_db(stroke, layer)
            if len(takes) < 2 or spread <= MOST_SPREAD_DB:
                continue
            outlier = None
            for take in takes:
                others = [played_level_db(t) for t in takes if t is not take]
                off = played_level_db(take) - layer_level_db(others)
                if len(others) >= 2 and abs(off) > STANDS_OUT_DB and spread_db(others) <= MOST_SPREAD_DB:
                    outlier = (take, off, spread_db(others))
            place = stroke_place(piece, stroke, f"layer {number + 1}")
            if outlier is None:
                yield Finding(
                    rule="spread",
                    level=LOOK,
                    title=f"Layer {number + 1} spreads over {spread:.1f} dB",
                    sentence=f"The takes of layer {number + 1} of {full_name(piece, stroke)} differ by {spread:.1f} dB; a roll "
                    "would jump in level.",
                    place=place,
                    where=stroke_where(STEP, piece, stroke, number),
                    mends=(
                        Mend(label="Level its takes", edit=LevelTakes(articulation=stroke.id, layer=number)),
                        Mend(label="Divide the layer", edit=DivideLayer(articulation=stroke.id, layer=number)),
                    ),
                )
                continue
            take, off, rest = outlier
            yield Finding(
                rule="stands_out",
                level=LOOK,
                title=f"Take {take.label} stands out by {abs(off):.1f} dB",
                sentence=f"The other takes of layer {number + 1} of {full_name(piece, stroke)} lie within {rest:.1f} dB; a "
                "roll would jump.",
                place=f"{place} · take {take.label}",
                where=stroke_where(STEP, piece, stroke, number, take),
                mends=(
                    *_levelled(stroke, take, take.gain_db - off, "Level it"),
                    *_moved(stroke, take, number),
                    Mend(label="Leave it out", edit=TrimTakes(articulation=stroke.id, takes=(take.id,), enabled=False)),
                ),
            )


def _levelled(stroke: Articulation, take: Take, gain_db: float, label: str) -> tuple[Mend, ...]:
    """A trim that levels a take; none where it would take more than a trim can give, as for a silent recording."""
    if abs(gain_db) > MOST_TRIM_DB:
        return ()
    return (Mend(label=label, edit=TrimTakes(articulation=stroke.id, takes=(take.id,), gain_db=round(gain_db, 2))),)


def _moved(stroke: Articulation, take: Take, number: int) -> tuple[Mend, ...]:
    """Moving a take to the layer whose level is nearest its own, where that is another."""
    apart = [abs(level - played_level_db(take)) for level in layer_levels_db(stroke)]
    nearest = apart.index(min(apart))
    if nearest == number or apart[nearest] > MOST_SPREAD_DB:
        return ()
    move = MoveTakes(articulation=stroke.id, takes=(take.id,), layer=nearest)
    return (Mend(label=f"Move it to layer {nearest + 1}", edit=move),)


def single_take(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        for number, layer in enumerate(stroke.layers):
            if len(enabled_takes(stroke, layer)) == 1 and layer.high - layer.low + 1 >= OFTEN_PLAYED:
                yield Finding(
                    rule="single_take",
                    level=INFO,
                    title=f"Layer {number + 1} has one take",
                    sentence=f"Every strike of {full_name(piece, stroke)} at {_range(layer.low, layer.high)} repeats one "
                    "recording; two or more would sound less like a machine.",
                    place=stroke_place(piece, stroke, f"layer {number + 1}"),
                    where=stroke_where(STEP, piece, stroke, number),
                    mends=_merging(stroke, number),
                )


def empty_layer(kit: Kit) -> Iterator[Finding]:
    for piece, stroke in articulations(kit):
        for number, layer in enumerate(stroke.layers):
            if not enabled_takes(stroke, layer):
                bring = TrimTakes(articulation=stroke.id, takes=layer.takes, enabled=True) if layer.takes else None
                back = (Mend(label="Bring its takes back", edit=bring),) if bring else ()
                yield Finding(
                    rule="empty_layer",
                    level=WRONG,
                    title=f"Layer {number + 1} has no take left",
                    sentence=f"{full_name(piece, stroke)} is silent at {_range(layer.low, layer.high)}: that layer has no take "
                    "in play.",
                    place=stroke_place(piece, stroke, f"layer {number + 1}"),
                    where=stroke_where(STEP, piece, stroke, number),
                    mends=(
                        *back,
                        *(
                            [Mend(label="Remove the layer", edit=RemoveLayer(articulation=stroke.id, layer=number))]
                            if len(stroke.layers) > 1
                            else []
                        ),
                    ),
                )


RULES = (gap, overlap, empty_layer, stands_out, narrow, harder_plays_softer, not_rising, single_take)
