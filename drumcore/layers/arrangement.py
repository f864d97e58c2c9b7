"""Arranging takes in layers: adding, splitting, merging and removing layers, and rebuilding them by loudness."""

from collections.abc import Sequence

from drumcore.kit.values import Articulation, Layer
from drumcore.layers.breaks import natural_breaks
from drumcore.layers.from_takes import layer_levels_db, layers_from_groups, played_level_db
from drumcore.refusals import Refusal


def without_takes(layers: Sequence[Layer], gone: Sequence[str]) -> tuple[Layer, ...]:
    left = set(gone)
    return tuple(layer.but(takes=tuple(i for i in layer.takes if i not in left)) for layer in layers)


def add_layer(articulation: Articulation, above: int) -> Articulation:
    """Adds an empty layer above layer `above` (from 0), with the upper half of its velocities."""
    layer = articulation.layers[above]
    lower, upper = _halves(layer, articulation.name, above)
    new = Layer(low=upper[0], high=upper[1], takes=(), order=layer.order)
    return articulation.but(layers=_replaced(articulation, above, (layer.but(low=lower[0], high=lower[1]), new)))


def split_layer(articulation: Articulation, number: int) -> Articulation:
    """Splits a layer in two: half the velocities each, the softer takes below and the louder above."""
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
    """Merges layer `number` with the one above it, keeping all takes."""
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
    """Removes a layer: its velocities go to the layer below (for the softest, above), and its takes become unused."""
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
    """Divides all enabled takes into `count` layers at natural breaks in level (`layers.breaks`); disabled takes become
    unused.
    """
    takes = [take for take in articulation.takes if take.enabled]
    if count > len(takes):
        raise Refusal(f"{articulation.name} has {len(takes)} enabled takes; it cannot have {count} layers.")
    groups = natural_breaks([played_level_db(t) for t in takes], count)
    order = articulation.layers[0].order if articulation.layers else Layer.model_fields["order"].default
    layers = layers_from_groups([[takes[i] for i in sorted(group)] for group in groups])
    return articulation.but(layers=tuple(layer.but(order=order) for layer in layers))


def sort_layers(articulation: Articulation) -> Articulation:
    """Keeps the ranges and sorts the takes of the layers (with the layer's level and round robin) by loudness, softest
    first.
    """
    levels = layer_levels_db(articulation)
    ranked = [articulation.layers[i] for i in sorted(range(len(levels)), key=lambda i: levels[i])]
    return articulation.but(
        layers=tuple(
            layer.but(low=place.low, high=place.high, blend=place.blend)
            for layer, place in zip(ranked, articulation.layers, strict=True)
        )
    )
