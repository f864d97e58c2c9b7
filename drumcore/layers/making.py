"""Making layers of takes, and keeping their ranges whole."""

from collections.abc import Sequence

from drumcore.kit.values import Articulation, Layer, Take
from drumcore.layers.splits import even_split, layer_level_db, split_by_loudness


def played_level_db(take: Take) -> float:
    """The take's measured level with its own trim added."""
    return take.level_db + take.gain_db


def enabled_takes(articulation: Articulation, layer: Layer) -> list[Take]:
    """The takes of a layer that may sound, in their order."""
    by_id = {take.id: take for take in articulation.takes}
    return [by_id[i] for i in layer.takes if i in by_id and by_id[i].enabled]


def layer_levels_db(articulation: Articulation) -> list[float]:
    """The level of each layer, in the layers' order: the median of its enabled takes with their own gains.

    A layer's own gain is apart. Without an enabled take all its takes count; without any take it is −120.
    """
    by_id = {take.id: take for take in articulation.takes}
    levels = []
    for layer in articulation.layers:
        takes = enabled_takes(articulation, layer) or [by_id[i] for i in layer.takes]
        levels.append(layer_level_db([played_level_db(t) for t in takes]) if takes else -120.0)
    return levels


def layers_from_groups(groups: Sequence[Sequence[Take]]) -> tuple[Layer, ...]:
    """Layers, softest first, from groups of takes: ranges split by loudness."""
    ranges = split_by_loudness([layer_level_db([t.level_db for t in group]) for group in groups])
    return tuple(
        Layer(low=low, high=high, takes=tuple(t.id for t in group))
        for (low, high), group in zip(ranges, groups, strict=True)
    )


def _with_ranges(articulation: Articulation, ranges: list[tuple[int, int]]) -> Articulation:
    layers = tuple(
        layer.but(low=low, high=high) for layer, (low, high) in zip(articulation.layers, ranges, strict=True)
    )
    return articulation.but(layers=layers)


def resplit_by_loudness(articulation: Articulation) -> Articulation:
    return _with_ranges(articulation, split_by_loudness(layer_levels_db(articulation)))


def resplit_evenly(articulation: Articulation) -> Articulation:
    return _with_ranges(articulation, even_split(len(articulation.layers)))
