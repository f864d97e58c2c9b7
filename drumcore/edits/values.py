"""Every change to a kit as a small typed value. `applying.apply` is what they mean.

The interface, the findings, the command line and the tests all speak in these.
"""

from typing import Annotated, Literal

from pydantic import Field, TypeAdapter, ValidationError

from drumcore.kit.values import Curve, Level, Mic, MidiNote, Order, Piece, Value, Velocity
from drumcore.refusals import Refusal

Name = Annotated[str, Field(min_length=1, max_length=120)]


class RenameKit(Value):
    kind: Literal["rename_kit"] = "rename_kit"
    name: Name


class BuildPieces(Value):
    """Add pieces read from a session, with their microphones, notes, silences and routing.

    A piece with the identifier of one already there takes its place.
    """

    kind: Literal["build_pieces"] = "build_pieces"
    mics: tuple[Mic, ...]
    pieces: tuple[Piece, ...]


class TakeOutPiece(Value):
    kind: Literal["take_out_piece"] = "take_out_piece"
    piece: str


class MoveBoundary(Value):
    """Move the boundary above layer `layer` so that it ends at `velocity`; the next layer begins above it.

    Unlinked, only this layer's end moves, which may leave a gap or an overlap.
    """

    kind: Literal["move_boundary"] = "move_boundary"
    articulation: str
    layer: Annotated[int, Field(ge=0)]
    velocity: Velocity
    linked: bool = True


class SplitByLoudness(Value):
    kind: Literal["split_by_loudness"] = "split_by_loudness"
    articulation: str


class SplitEvenly(Value):
    kind: Literal["split_evenly"] = "split_evenly"
    articulation: str


class SetOrder(Value):
    """Set how takes alternate in one layer, or in all of the articulation's where `layer` is None."""

    kind: Literal["set_order"] = "set_order"
    articulation: str
    layer: int | None = None
    order: Order


class TrimTake(Value):
    """Set a take's level trim, or leave it out of playing (`enabled` False). None leaves a field as it is."""

    kind: Literal["trim_take"] = "trim_take"
    articulation: str
    take: str
    gain_db: Level | None = None
    enabled: bool | None = None


class MoveTake(Value):
    """Move a take to another layer of its articulation."""

    kind: Literal["move_take"] = "move_take"
    articulation: str
    take: str
    layer: Annotated[int, Field(ge=0)]


class FlipPolarity(Value):
    """Turn a microphone's polarity round when it plays; its recordings stay as they are."""

    kind: Literal["flip_polarity"] = "flip_polarity"
    mic: str


class PutOnNote(Value):
    """Put an articulation on a note. On an occupied note `when_occupied` must say what to do: stack or take over.

    `from_note` moves it from there; without it any notes it has already stay.
    """

    kind: Literal["put_on_note"] = "put_on_note"
    articulation: str
    note: MidiNote
    from_note: MidiNote | None = None
    when_occupied: Literal["stack", "take_over"] | None = None


class TakeOffNote(Value):
    kind: Literal["take_off_note"] = "take_off_note"
    articulation: str
    note: MidiNote


class SetMiddleC(Value):
    kind: Literal["set_middle_c"] = "set_middle_c"
    octave: Annotated[int, Field(ge=3, le=5)]


class SetCurve(Value):
    """Set the curve of everything coming in (`target` None), of a piece or of an articulation.

    A `curve` of None takes a piece's or an articulation's own curve away.
    """

    kind: Literal["set_curve"] = "set_curve"
    target: str | None = None
    curve: Curve | None


class SetTracking(Value):
    kind: Literal["set_tracking"] = "set_tracking"
    piece: str
    level: Annotated[float, Field(ge=0.0, le=1.5)]


class SetSilence(Value):
    """Let striking `articulation` stop `stopped`, fading by `fade_ms`; None takes the rule away."""

    kind: Literal["set_silence"] = "set_silence"
    articulation: str
    stopped: str
    fade_ms: Annotated[float, Field(gt=0.0, le=5000.0)] | None


class SetChannel(Value):
    """Change some of a channel's settings; None leaves one as it is. `output` 0 sends it to main."""

    kind: Literal["set_channel"] = "set_channel"
    channel: str
    level_db: Level | None = None
    pan: Annotated[float, Field(ge=-1.0, le=1.0)] | None = None
    muted: bool | None = None
    soloed: bool | None = None
    output: Annotated[int, Field(ge=0, le=64)] | None = None


class SetMainLevel(Value):
    kind: Literal["set_main_level"] = "set_main_level"
    level_db: Level


class SetFeed(Value):
    """Let a piece's microphone enter a channel at a level; None takes the feed away."""

    kind: Literal["set_feed"] = "set_feed"
    piece: str
    mic: str
    channel: str
    level_db: Level | None


class ApplyPlan(Value):
    kind: Literal["apply_plan"] = "apply_plan"
    plan: str


Edit = Annotated[
    RenameKit
    | BuildPieces
    | TakeOutPiece
    | MoveBoundary
    | SplitByLoudness
    | SplitEvenly
    | SetOrder
    | TrimTake
    | MoveTake
    | FlipPolarity
    | PutOnNote
    | TakeOffNote
    | SetMiddleC
    | SetCurve
    | SetTracking
    | SetSilence
    | SetChannel
    | SetMainLevel
    | SetFeed
    | ApplyPlan,
    Field(discriminator="kind"),
]
EDITS: TypeAdapter[Edit] = TypeAdapter(Edit)


def edit_from(raw: object) -> Edit:
    """The edit a JSON value describes. Raises Refusal naming the field that is wrong."""
    try:
        return EDITS.validate_python(raw)
    except ValidationError as error:
        first = error.errors()[0]
        field = ".".join(str(part) for part in first["loc"][1:]) or "kind"
        raise Refusal(f"This edit is not understood at “{field}”: {first['msg'].lower()}.") from None
