"""Laying takes out in layers: adding, dividing, merging and removing layers, and making them anew from loudness."""

from collections.abc import Sequence

from drumcore.kit.values import Articulation, Layer
from drumcore.layers.breaks import natural_breaks
from drumcore.layers.from_takes import layer_levels_db, layers_from_groups, played_level_db
from drumcore.refusals import Refusal


def without_takes(layers: Sequence[Layer], gone: Sequence[str]) -> tuple[Layer, ...]:
    left = set(gone)
    return tuple(layer.but(takes=tuple(i for i in layer.takes if i not in left)) for layer in layers)


def add_layer(articulation: Articulation, above: int) -> Articulation:
    """A new, empty layer above layer `above` (counted from 0), which gives it the upper half of its velocities."""
    layer = articulation.layers[above]
    lower, upper = _halves(layer, articulation.name, above)
    new = Layer(low=upper[0], high=upper[1], takes=(), order=layer.order)
    return articulation.but(layers=_replaced(articulation, above, (layer.but(low=lower[0], high=lower[1]), new)))


def split_layer(articulation: Articulation, number: int) -> Articulation:
    """Two layers of one: half its velocities each, the softer takes below and the louder above."""
    layer = articulation.layers[number]
    by_id = {take.id: take for take in articulation.takes}
    if len(layer.takes) < 2:
        raise Refusal(f"Layer {number + 1} of {articulation.name} has {len(layer.takes)} take; splitting needs two.")
    lower, upper = _halves(layer, articulation.name, number)
    ranked = sorted(layer.takes, key=lambda i: played_level_db(by_id[i]))
    softer = set(ranked[: len(ranked) // 2])
    two = (
        layer.but(low=lower[0], high=lower[1], blend=0, takes=tuple(i for i in layer.takes if i in softer)),
        layer.but(low=upper[0], high=upper[1], takes=tuple(i for i in layer.takes if i not in softer)),
    )
    return articulation.but(layers=_replaced(articulation, number, two))


def _halves(layer: Layer, name: str, number: int) -> tuple[tuple[int, int], tuple[int, int]]:
    if layer.high == layer.low:
        raise Refusal(f"Layer {number + 1} of {name} covers one velocity only; widen it first.")
    middle = (layer.low + layer.high) // 2
    return (layer.low, middle), (middle + 1, layer.high)


def _replaced(articulation: Articulation, number: int, instead: tuple[Layer, ...]) -> tuple[Layer, ...]:
    return (*articulation.layers[:number], *instead, *articulation.layers[number + 1 :])


def merge_layers(articulation: Articulation, number: int) -> Articulation:
    """Layer `number` and the one above it as one, with the takes of both."""
    if number + 1 >= len(articulation.layers):
        raise Refusal(
            f"Layer {number + 1} of {articulation.name} is the hardest; there is none above it to merge with."
        )
    below, above = articulation.layers[number : number + 2]
    one = below.but(
        low=min(below.low, above.low),
        high=max(below.high, above.high),
        takes=below.takes + above.takes,
        blend=above.blend,
    )
    layers = (*articulation.layers[:number], one, *articulation.layers[number + 2 :])
    return articulation.but(layers=layers)


def remove_layer(articulation: Articulation, number: int) -> Articulation:
    """Without a layer: its velocities go to the layer below (to the one above where it is the softest), its takes aside."""
    layers = list(articulation.layers)
    if len(layers) == 1:
        raise Refusal(f"{articulation.name} has one layer; delete the articulation instead.")
    gone = layers.pop(number)
    if number > 0:
        below = layers[number - 1]
        layers[number - 1] = below.but(high=max(below.high, gone.high), blend=gone.blend)
    else:
        layers[0] = layers[0].but(low=min(layers[0].low, gone.low))
    return articulation.but(layers=tuple(layers))


def make_layers(articulation: Articulation, count: int) -> Articulation:
    """All enabled takes in `count` layers by natural breaks in level (`layers.breaks`); takes left out stay aside."""
    takes = [take for take in articulation.takes if take.enabled]
    if count > len(takes):
        raise Refusal(f"{articulation.name} has {len(takes)} enabled takes; it cannot have {count} layers.")
    groups = natural_breaks([played_level_db(t) for t in takes], count)
    order = articulation.layers[0].order if articulation.layers else Layer.model_fields["order"].default
    layers = layers_from_groups([[takes[i] for i in sorted(group)] for group in groups])
    return articulation.but(layers=tuple(layer.but(order=order) for layer in layers))


def sort_layers(articulation: Articulation) -> Articulation:
    """The same ranges, with the takes (and their layer's trim and order) in order of loudness, softest first."""
    levels = layer_levels_db(articulation)
    ranked = [articulation.layers[i] for i in sorted(range(len(levels)), key=lambda i: levels[i])]
    return articulation.but(
        layers=tuple(
            layer.but(low=place.low, high=place.high, blend=place.blend)
            for layer, place in zip(ranked, articulation.layers, strict=True)
        )
    )
