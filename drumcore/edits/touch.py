"""Edits of touch: curves, input settings and tracking."""

from typing import Annotated, Literal

from pydantic import Field

from drumcore.edits.registry import Meanings
from drumcore.kit.lookup import input_of, pieces_of, with_articulation, with_piece
from drumcore.kit.values import CrossTalk, Curve, Input, Kit, Openness, Piece
from drumcore.refusals import Refusal
from drumcore.touch.tracking import articulation_tracking
from drumcore.value import Value

InputId = Annotated[str, Field(min_length=1, max_length=120)]


class SetCurve(Value):
    """Sets a velocity curve: of all inputs (`target` and `input` None), of one input, of a piece or of an articulation.
    A `curve` of None removes an input's, piece's or articulation's own curve. `input_name` names an input that the kit
    does not know yet.
    """

    kind: Literal["set_curve"] = "set_curve"
    target: str | None = None
    input: InputId | None = None
    input_name: InputId | None = None
    curve: Curve | None


class SetInput(Value):
    """Sets what is known of an input; None leaves a field as it is. `name` names a new input."""

    kind: Literal["set_input"] = "set_input"
    input: InputId
    name: InputId
    cross_talk: Annotated[tuple[CrossTalk, ...], Field(max_length=200)] | None = None
    doubles_ms: Annotated[float, Field(ge=0.0, le=200.0)] | None = None
    controller: Annotated[int, Field(ge=0, le=127)] | None = None
    closed_at: Openness | None = None
    open_at: Openness | None = None


class SetTracking(Value):
    """Sets how velocity moves a piece's level, brightness and attack; None leaves one as it is. With `whole` it holds
    for all its articulations, also for those with settings of their own.
    """

    kind: Literal["set_tracking"] = "set_tracking"
    piece: str
    level: Annotated[float, Field(ge=0.0, le=1.5)] | None = None
    whole: bool | None = None
    brightness: Annotated[float, Field(ge=0.0, le=5.0)] | None = None
    attack_soft_ms: Annotated[float, Field(ge=0.0, le=60.0)] | None = None
    attack_hard_ms: Annotated[float, Field(ge=0.0, le=60.0)] | None = None


class FollowStrength(Value):
    """Lets an articulation's level follow velocity over the `whole` range or inside its layers; None: as its piece
    does.
    """

    kind: Literal["follow_strength"] = "follow_strength"
    articulation: str
    whole: bool | None


def _set_curve(kit: Kit, edit: SetCurve) -> Kit:
    if edit.input is not None:
        known = input_of(kit, edit.input) or Input(id=edit.input, name=edit.input_name or edit.input)
        return with_input(kit, known.but(curve=edit.curve))
    if edit.target is None:
        if edit.curve is None:
            raise Refusal("The curve of all inputs cannot be removed; choose a straight one.")
        return kit.but(curve=edit.curve)
    if any(piece.id == edit.target for piece in pieces_of(kit)):
        return with_piece(kit, edit.target, lambda p: p.but(curve=edit.curve))
    return with_articulation(kit, edit.target, lambda a: a.but(curve=edit.curve))


def _changes(edit: Value, *besides: str) -> dict[str, object]:
    """The fields an edit sets."""
    left_out = {"kind", *besides}
    return {
        name: getattr(edit, name)
        for name in type(edit).model_fields
        if name not in left_out and getattr(edit, name) is not None
    }


def _set_input(kit: Kit, edit: SetInput) -> Kit:
    known = input_of(kit, edit.input) or Input(id=edit.input, name=edit.name)
    changed = known.but(**_changes(edit, "input", "name"))
    if changed.closed_at == changed.open_at:
        raise Refusal(
            f"The pedal of {changed.name} sends {changed.closed_at} for both closed and open; move it all the way once."
        )
    return with_input(kit, changed)


def with_input(kit: Kit, known: Input) -> Kit:
    """The kit with these input settings; an input with only default settings is removed."""
    plain = known == Input(id=known.id, name=known.name)
    if not any(each.id == known.id for each in kit.inputs):
        return kit if plain else kit.but(inputs=(*kit.inputs, known))
    if plain:
        return kit.but(inputs=tuple(each for each in kit.inputs if each.id != known.id))
    return kit.but(inputs=tuple(known if each.id == known.id else each for each in kit.inputs))


def _set_tracking(kit: Kit, edit: SetTracking) -> Kit:
    def changed(piece: Piece) -> Piece:
        tracking = piece.tracking.but(**_changes(edit, "piece"))
        articulations = piece.articulations
        if edit.whole is not None:
            articulations = tuple(a if a.whole is None else a.but(whole=None) for a in articulations)
        followed = any(articulation_tracking(piece.but(tracking=tracking), a).whole for a in articulations)
        # Inside layers a range above 1 acts as 1, so it is kept only if some articulation follows the whole range.
        level = tracking.level if tracking.whole or followed else min(1.0, tracking.level)
        return piece.but(tracking=tracking.but(level=level), articulations=articulations)

    return with_piece(kit, edit.piece, changed)


MEANINGS = Meanings()
MEANINGS.add(SetCurve, _set_curve)
MEANINGS.add(SetInput, _set_input)
MEANINGS.add(SetTracking, _set_tracking)
MEANINGS.add(
    FollowStrength, lambda kit, edit: with_articulation(kit, edit.articulation, lambda a: a.but(whole=edit.whole))
)
