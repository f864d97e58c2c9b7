"""Layers made of takes, and their levels."""

from collections.abc import Sequence

from drumcore.kit.memoization import remembered
from drumcore.kit.values import Articulation, Layer, Take
from drumcore.layers.splits import even_split, layer_level_db, split_by_loudness


def played_level_db(take: Take) -> float:
    """The take's measured level plus its own gain."""
    return take.level_db + take.gain_db


def enabled_takes(articulation: Articulation, layer: Layer) -> list[Take]:
    """The enabled takes of a layer, in order."""
    by_id = {take.id: take for take in articulation.takes}
    return [by_id[i] for i in layer.takes if i in by_id and by_id[i].enabled]


@remembered(limit=2000)
def sounding_levels_db(articulation: Articulation) -> tuple[float | None, ...]:
    """The level of each layer, in order: the median of its enabled takes with their own gains, without the layer's own
    gain. None for a layer without an enabled take.
    """
    takes = [enabled_takes(articulation, layer) for layer in articulation.layers]
    return tuple(layer_level_db([played_level_db(t) for t in some]) if some else None for some in takes)


def layer_levels_db(articulation: Articulation) -> list[float]:
    """The level of each layer; a layer whose takes are all disabled counts as if they were enabled, one without takes
    is −120.
    """
    by_id = {take.id: take for take in articulation.takes}

    def if_all_sounded(layer: Layer) -> float:
        levels = [played_level_db(by_id[i]) for i in layer.takes]
        return layer_level_db(levels) if levels else -120.0

    levels = zip(articulation.layers, sounding_levels_db(articulation), strict=True)
    return [if_all_sounded(layer) if level is None else level for layer, level in levels]


def layers_from_groups(groups: Sequence[Sequence[Take]]) -> tuple[Layer, ...]:
    """Layers, softest first, from groups of takes, with ranges split by loudness."""
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
