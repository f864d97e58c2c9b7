"""Edits of layers: ranges, round robins, levels, and how many there are."""

from collections.abc import Callable
from typing import Annotated, Any, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.lookup import articulation_of, layer_of, with_articulation
from drumcore.kit.values import Articulation, Kit, Layer, Level, Order, Variation, Velocity
from drumcore.layers import arrangement, level_matching, ranges
from drumcore.layers.from_takes import resplit_by_loudness, resplit_evenly
from drumcore.refusals import Refusal
from drumcore.value import Value

LayerNumber = Annotated[int, Field(ge=0)]


class MoveBoundary(Value):
    """Moves the boundary above layer `layer`: it ends at `velocity` and the next layer begins above. Unlinked, only
    this layer's end moves, which may leave a gap or an overlap.
    """

    kind: Literal["move_boundary"] = "move_boundary"
    articulation: str
    layer: LayerNumber
    velocity: Velocity
    linked: bool = True


class SetRange(Value):
    """Gives one layer exactly the range `low`..`high`. Linked, its neighbours are cut or extended to meet it; unlinked
    they stay, which may leave a gap or an overlap.
    """

    kind: Literal["set_range"] = "set_range"
    articulation: str
    layer: LayerNumber
    low: Velocity
    high: Velocity
    linked: bool = False


class CloseGaps(Value):
    kind: Literal["close_gaps"] = "close_gaps"
    articulation: str


class EndOverlaps(Value):
    kind: Literal["end_overlaps"] = "end_overlaps"
    articulation: str


class SplitByLoudness(Value):
    kind: Literal["split_by_loudness"] = "split_by_loudness"
    articulation: str


class SplitEvenly(Value):
    kind: Literal["split_evenly"] = "split_evenly"
    articulation: str


class SetOrder(Value):
    """Sets the round robin of one layer, or of all layers where `layer` is None."""

    kind: Literal["set_order"] = "set_order"
    articulation: str
    layer: int | None = None
    order: Order


class SetLayer(Value):
    """Sets a layer's level, or the number of velocities over which it blends into the next. None leaves a field as it
    is.
    """

    kind: Literal["set_layer"] = "set_layer"
    articulation: str
    layer: LayerNumber
    gain_db: Level | None = None
    blend: Annotated[int, Field(ge=0, le=64)] | None = None


class AddLayer(Value):
    """Adds an empty layer above layer `above`, with the upper half of its velocities."""

    kind: Literal["add_layer"] = "add_layer"
    articulation: str
    above: LayerNumber


class SplitLayer(Value):
    kind: Literal["split_layer"] = "split_layer"
    articulation: str
    layer: LayerNumber


class MergeLayers(Value):
    """Merges layer `layer` with the one above it."""

    kind: Literal["merge_layers"] = "merge_layers"
    articulation: str
    layer: LayerNumber


class RemoveLayer(Value):
    """Removes a layer; its takes become unused."""

    kind: Literal["remove_layer"] = "remove_layer"
    articulation: str
    layer: LayerNumber


class MakeLayers(Value):
    """Rebuilds the layers: divides all takes in use into `count` layers at the largest gaps in level."""

    kind: Literal["make_layers"] = "make_layers"
    articulation: str
    count: Annotated[int, Field(ge=1, le=32)]


class SortLayers(Value):
    """Sorts the layers by the loudness of their takes; the ranges stay."""

    kind: Literal["sort_layers"] = "sort_layers"
    articulation: str


class MatchTakeLevels(Value):
    """Sets every take to the median level of its layer, in one layer or (None) in all."""

    kind: Literal["match_take_levels"] = "match_take_levels"
    articulation: str
    layer: LayerNumber | None = None


class EvenOutLayers(Value):
    """Adjusts the layers' levels so that they rise in equal steps from the softest to the hardest."""

    kind: Literal["even_out_layers"] = "even_out_layers"
    articulation: str


class SetVariation(Value):
    kind: Literal["set_variation"] = "set_variation"
    articulation: str
    variation: Variation


def _with_layers(kit: Kit, articulation: str, layers: tuple[Layer, ...] | list[Layer]) -> Kit:
    return with_articulation(kit, articulation, lambda a: a.but(layers=tuple(layers)))


def _of_layer(change: Callable[[Articulation, int], Articulation]) -> Callable[[Kit, Any], Kit]:
    """Wraps the function of an edit of one layer, which must exist."""

    def meaning(kit: Kit, edit: Any) -> Kit:
        number = edit.above if isinstance(edit, AddLayer) else edit.layer
        layer_of(articulation_of(kit, edit.articulation)[1], number)
        return with_articulation(kit, edit.articulation, lambda a: change(a, number))

    return meaning


def _of_all(change: Callable[[Articulation], Articulation]) -> Callable[[Kit, Any], Kit]:
    return lambda kit, edit: with_articulation(kit, edit.articulation, change)


def _move_boundary(kit: Kit, edit: MoveBoundary) -> Kit:
    _, articulation = articulation_of(kit, edit.articulation)
    layer = layer_of(articulation, edit.layer)
    layers = list(articulation.layers)
    last = edit.layer == len(layers) - 1
    if edit.velocity < layer.low:
        raise Refusal(f"Layer {edit.layer + 1} begins at {layer.low}; it cannot end below that.")
    layers[edit.layer] = layer.but(high=edit.velocity)
    if edit.linked and not last:
        above = layers[edit.layer + 1]
        if edit.velocity >= above.high:
            raise Refusal(f"Layer {edit.layer + 2} ends at {above.high}; the boundary must stay below that.")
        layers[edit.layer + 1] = above.but(low=edit.velocity + 1)
    return _with_layers(kit, edit.articulation, layers)


def _set_range(kit: Kit, edit: SetRange) -> Kit:
    _, articulation = articulation_of(kit, edit.articulation)
    layer = layer_of(articulation, edit.layer)
    if edit.low > edit.high:
        raise Refusal(f"A layer cannot run from {edit.low} down to {edit.high}; type the lower velocity first.")
    layers = list(articulation.layers)
    below = layers[edit.layer - 1] if edit.layer > 0 else None
    above = layers[edit.layer + 1] if edit.layer + 1 < len(layers) else None
    room = 1 if edit.linked else 0
    if (below and edit.low < below.low + room) or (above and edit.high > above.high - room):
        raise Refusal(f"Layer {edit.layer + 1} would overlap its neighbour; move the neighbour first.")
    if edit.linked and below and edit.low != layer.low:
        layers[edit.layer - 1] = below.but(high=edit.low - 1)
    if edit.linked and above and edit.high != layer.high:
        layers[edit.layer + 1] = above.but(low=edit.high + 1)
    layers[edit.layer] = layer.but(low=edit.low, high=edit.high)
    return _with_layers(kit, edit.articulation, layers)


def _set_order(kit: Kit, edit: SetOrder) -> Kit:
    _, articulation = articulation_of(kit, edit.articulation)
    if edit.layer is not None:
        layer_of(articulation, edit.layer)
    layers = tuple(
        layer.but(order=edit.order) if edit.layer in (None, number) else layer
        for number, layer in enumerate(articulation.layers)
    )
    return _with_layers(kit, edit.articulation, layers)


def _set_layer(kit: Kit, edit: SetLayer) -> Kit:
    _, articulation = articulation_of(kit, edit.articulation)
    layer = layer_of(articulation, edit.layer)
    asked = {"gain_db": edit.gain_db, "blend": edit.blend}
    layers = list(articulation.layers)
    layers[edit.layer] = layer.but(**{name: value for name, value in asked.items() if value is not None})
    return _with_layers(kit, edit.articulation, layers)


def _level_takes(kit: Kit, edit: MatchTakeLevels) -> Kit:
    if edit.layer is not None:
        layer_of(articulation_of(kit, edit.articulation)[1], edit.layer)
    return with_articulation(kit, edit.articulation, lambda a: level_matching.match_take_levels(a, edit.layer))


MEANINGS = Meanings()
MEANINGS.add(MoveBoundary, _move_boundary)
MEANINGS.add(SetRange, _set_range)
MEANINGS.add(CloseGaps, _of_all(lambda a: a.but(layers=ranges.close_gaps(a.layers))))
MEANINGS.add(EndOverlaps, _of_all(lambda a: a.but(layers=ranges.end_overlaps(a.layers))))
MEANINGS.add(SplitByLoudness, _of_all(resplit_by_loudness))
MEANINGS.add(SplitEvenly, _of_all(resplit_evenly))
MEANINGS.add(SetOrder, _set_order)
MEANINGS.add(SetLayer, _set_layer)
MEANINGS.add(AddLayer, _of_layer(arrangement.add_layer))
MEANINGS.add(SplitLayer, _of_layer(arrangement.split_layer))
MEANINGS.add(MergeLayers, _of_layer(arrangement.merge_layers))
MEANINGS.add(RemoveLayer, _of_layer(arrangement.remove_layer))
MEANINGS.add(
    MakeLayers,
    lambda kit, edit: with_articulation(kit, edit.articulation, lambda a: arrangement.make_layers(a, edit.count)),
)
MEANINGS.add(SortLayers, _of_all(arrangement.sort_layers))
MEANINGS.add(MatchTakeLevels, _level_takes)
MEANINGS.add(EvenOutLayers, _of_all(level_matching.even_out_layers))
MEANINGS.add(
    SetVariation, lambda kit, edit: with_articulation(kit, edit.articulation, lambda a: a.but(variation=edit.variation))
)
