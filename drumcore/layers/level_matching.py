"""Making levels even: the takes of a layer alike, the layers climbing in equal steps."""

from drumcore.kit.values import Articulation
from drumcore.layers.from_takes import enabled_takes, layer_levels_db, played_level_db
from drumcore.layers.splits import layer_level_db
from drumcore.refusals import Refusal

MOST_TRIM_DB = 24.0


def match_take_levels(articulation: Articulation, only_layer: int | None = None) -> Articulation:
    """Every enabled take trimmed to the median level of its layer, in one layer or in all.

    A take that would need more than 24 dB either way (a silent recording) is left as it is.
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
    """Takes trimmed so that each layer is as many dB over the one below: a straight line from the softest to the hardest.

    All takes of a layer are moved alike, so that they keep their differences, and what the layers' own gains did goes
    into them: a layer's gain stands apart from the target its articulation follows, a take's does not. The softest and the
    hardest keep their levels. Raises Refusal where the hardest is no louder than the softest, or where a take would need
    more than 24 dB.
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
