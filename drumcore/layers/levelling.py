"""Making levels even: the takes of a layer alike, the layers climbing in equal steps."""

from drumcore.kit.values import Articulation
from drumcore.layers.making import enabled_takes, layer_levels_db, played_level_db
from drumcore.layers.splits import layer_level_db
from drumcore.refusals import Refusal

MOST_TRIM_DB = 24.0


def level_takes(articulation: Articulation, only_layer: int | None = None) -> Articulation:
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


def climb_evenly(articulation: Articulation) -> Articulation:
    """Layers trimmed so that each is as many dB over the one below: a straight line from the softest to the hardest.

    The softest and the hardest keep their levels. Raises Refusal where the hardest is no louder than the softest, or
    where a layer would need more than 24 dB.
    """
    levels = layer_levels_db(articulation)
    if len(levels) < 3:
        raise Refusal(
            f"{articulation.name} has {len(levels)} layers; there is nothing between the softest and the hardest."
        )
    first, last = levels[0], levels[-1]
    if last <= first:
        raise Refusal(
            f"The hardest layer of {articulation.name} is no louder than the softest; sort its layers by loudness first."
        )
    layers = list(articulation.layers)
    for number in range(1, len(levels) - 1):
        wanted = first + (last - first) * number / (len(levels) - 1)
        trim = layers[number].gain_db + wanted - levels[number]
        if abs(trim) > MOST_TRIM_DB:
            raise Refusal(
                f"Layer {number + 1} of {articulation.name} would need {trim:+.0f} dB; check the takes it holds first."
            )
        layers[number] = layers[number].but(gain_db=round(trim, 2))
    return articulation.but(layers=tuple(layers))
