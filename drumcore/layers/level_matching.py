"""Matching levels: of the takes in a layer, and of the layers in equal steps."""

from drumcore.kit.values import Articulation
from drumcore.layers.from_takes import enabled_takes, layer_levels_db, played_level_db
from drumcore.layers.splits import layer_level_db
from drumcore.refusals import Refusal

MOST_TRIM_DB = 24.0


def match_take_levels(articulation: Articulation, only_layer: int | None = None) -> Articulation:
    """Sets every enabled take to the median level of its layer, in one layer or in all. A take that would need more
    than 24 dB of gain (a silent recording) is left alone.
    """
    trims: dict[str, float] = {}
    for number, layer in enumerate(articulation.layers):
        takes = enabled_takes(articulation, layer)
        if only_layer not in (None, number) or not takes:
            continue
        middle = layer_level_db([played_level_db(t) for t in takes])
        for take in takes:
            trim = middle - take.level_db
            if abs(trim) <= MOST_TRIM_DB:
                trims[take.id] = round(trim, 2)
    return articulation.but(takes=tuple(t.but(gain_db=trims[t.id]) if t.id in trims else t for t in articulation.takes))


def even_out_layers(articulation: Articulation) -> Articulation:
    """Trims takes so that the layers rise in equal steps of dB from the softest to the hardest, which keep their
    levels.

    All takes of a layer move alike, so their differences stay. A layer's own gain is moved into its takes: it is not
    part of the target an articulation follows, a take's gain is. Raises Refusal if the hardest layer is not louder than
    the softest, or if a take would need more than 24 dB.
    """
    levels = [
        level + layer.gain_db for level, layer in zip(layer_levels_db(articulation), articulation.layers, strict=True)
    ]
    if len(levels) < 3:
        raise Refusal(
            f"{articulation.name} has {len(levels)} layers; there is nothing between the softest and the hardest."
        )
    first, last = levels[0], levels[-1]
    if last <= first:
        raise Refusal(
            f"The hardest layer of {articulation.name} is no louder than the softest; sort its layers by loudness first."
        )
    moves: dict[str, float] = {}
    for number, (layer, level) in enumerate(zip(articulation.layers, levels, strict=True)):
        by_db = layer.gain_db + first + (last - first) * number / (len(levels) - 1) - level
        moves |= dict.fromkeys(layer.takes, by_db)
    takes = []
    for take in articulation.takes:
        gain = round(take.gain_db + moves.get(take.id, 0.0), 2)
        if take.id in moves and abs(gain) > MOST_TRIM_DB:
            raise Refusal(f"Take {take.label} of {articulation.name} would need {gain:+.0f} dB; check it first.")
        takes.append(take.but(gain_db=gain) if take.id in moves else take)
    return articulation.but(takes=tuple(takes), layers=tuple(layer.but(gain_db=0.0) for layer in articulation.layers))
